#include "app/view/export_dialog.h"

#include "app/view/look.h"
#include "core/formats/names.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace wavechroma::app {

ExportDialog::ExportDialog(const Calibration &calibration, const QString &folder, QWidget *parent)
    : QDialog(parent), m_calibration(calibration), m_folder(new QLineEdit(folder)), m_name(new QLineEdit(QString::fromStdString(calibration.name))),
      m_copyright(new QLineEdit), m_dcp(new QCheckBox(tr("DNG camera profile (.dcp)"))), m_icc(new QCheckBox(tr("ICC input profile (.icc)"))),
      m_csv(new QCheckBox(tr("Matrix and patches as CSV"))), m_cgats(new QCheckBox(tr("Patches as CGATS.17 text"))),
      m_linearTone(new QCheckBox(tr("Straight tone curve in the camera profile, for reproduction"))), m_encoding(new QComboBox), m_preview(new QLabel)
{
    setWindowTitle(tr("Export Calibration"));
    setMinimumWidth(640);
    m_name->setToolTip(tr("Goes into the profiles. Composed from camera, lens, setup, light and date; change it only if you want another."));
    m_encoding->addItem(tr("linear camera RGB"), "linear");
    m_encoding->addItem(tr("sRGB-coded camera RGB"), "srgb");
    m_encoding->setToolTip(tr("What the ICC profile expects: camera RGB, balanced and scaled, in this coding"));
    m_folder->setObjectName("folder");
    m_name->setObjectName("name");
    m_dcp->setObjectName("dcp");
    m_icc->setObjectName("icc");
    for (auto *box : {m_dcp, m_icc, m_csv})
        box->setChecked(true);
    auto *choose = new QPushButton(tr("Choose…"));
    auto *folderLine = new QHBoxLayout;
    folderLine->addWidget(m_folder, 1);
    folderLine->addWidget(choose);
    auto *form = new QFormLayout;
    form->addRow(tr("Name"), m_name);
    form->addRow(tr("Folder"), folderLine);
    form->addRow(tr("Files"), m_dcp);
    form->addRow({}, m_linearTone);
    form->addRow({}, m_icc);
    form->addRow(tr("ICC expects"), m_encoding);
    form->addRow({}, m_csv);
    form->addRow({}, m_cgats);
    form->addRow(tr("Copyright"), m_copyright);
    m_preview->setWordWrap(true);
    m_preview->setObjectName("preview");
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    m_write = buttons->addButton(tr("Write Files"), QDialogButtonBox::AcceptRole);
    m_write->setObjectName("write");
    auto *layout = new QVBoxLayout(this);
    layout->addLayout(form);
    layout->addWidget(m_preview);
    layout->addWidget(buttons);
    connect(choose, &QPushButton::clicked, this, [this] {
        const auto chosen = QFileDialog::getExistingDirectory(this, tr("Folder for the Exported Files"), m_folder->text());
        if (!chosen.isEmpty())
            m_folder->setText(chosen);
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &ExportDialog::write);
    for (auto *edit : {m_folder, m_name})
        connect(edit, &QLineEdit::textChanged, this, &ExportDialog::preview);
    for (auto *box : {m_dcp, m_icc, m_csv, m_cgats})
        connect(box, &QCheckBox::toggled, this, &ExportDialog::preview);
    connect(m_dcp, &QCheckBox::toggled, m_linearTone, &QWidget::setEnabled);
    connect(m_icc, &QCheckBox::toggled, m_encoding, &QWidget::setEnabled);
    preview();
}

ExportRequest ExportDialog::request() const
{
    const std::filesystem::path base = m_folder->text().toStdString() + "/" + fileNameOf(m_name->text().toStdString());
    ExportRequest request;
    if (m_dcp->isChecked())
        request.dcp = base.string() + ".dcp";
    if (m_icc->isChecked())
        request.icc = base.string() + ".icc";
    if (m_csv->isChecked())
        request.csv = base.string() + ".csv";
    if (m_cgats->isChecked())
        request.cgats = base.string() + ".txt";
    request.encoding = m_encoding->currentData().toString().toStdString();
    request.linearTone = m_linearTone->isChecked();
    request.copyright = m_copyright->text().toStdString();
    return request;
}

void ExportDialog::preview()
{
    const auto r = request();
    QStringList lines;
    for (const auto &path : {r.dcp, r.icc, r.csv, r.cgats})
        if (path) {
            const auto file = QString::fromStdString(path->string());
            lines << QFileInfo(file).fileName() + (QFileInfo::exists(file) ? tr("   replaces the one there") : QString());
        }
    m_preview->setText(lines.isEmpty() ? tr("Nothing is chosen.") : tr("Will be written:\n") + lines.join('\n'));
    m_write->setEnabled(!lines.isEmpty() && !m_folder->text().isEmpty());
}

void ExportDialog::write()
{
    auto named = m_calibration;
    if (!m_name->text().trimmed().isEmpty())
        named.name = m_name->text().trimmed().toStdString();
    const auto written = exportCalibration(named, request());
    if (!written) {
        m_preview->setText(tr("Not written. ") + QString::fromStdString(written.error().message));
        return;
    }
    QStringList names;
    for (const auto &file : *written)
        names << QString::fromStdString(file.path.filename().string());
    m_summary = tr("Written and read back: %1").arg(names.join(", "));
    accept();
}

} // namespace wavechroma::app
