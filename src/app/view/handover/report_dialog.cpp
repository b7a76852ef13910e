#include "app/view/handover/report_dialog.h"

#include "app/view/widgets/look.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QFormLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace wavechroma::app {

ReportDialog::ReportDialog(const QStringList &stations, const QString &folder, QWidget *parent)
    : QDialog(parent), m_stations(new QListWidget), m_paper(new QComboBox),
      m_pdf(new QCheckBox(tr("Pages to print or send (PDF)"))),
      m_html(new QCheckBox(tr("One page for a browser (HTML)"))),
      m_record(new QCheckBox(tr("Record: every figure with its source, so that it can be computed again"))),
      m_files(new QLabel), m_folder(folder)
{
    setWindowTitle(tr("Report"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto *form = new QFormLayout;
    m_stations->setAccessibleName(tr("Stations in the report"));
    for (const auto &name : stations) {
        auto *item = new QListWidgetItem(name, m_stations);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsUserCheckable | Qt::ItemIsSelectable);
        item->setCheckState(Qt::Checked);
    }
    m_stations->setMinimumSize(560, 160);
    form->addRow(tr("Stations"), m_stations);
    m_paper->addItems({tr("A4"), tr("Letter")});
    form->addRow(tr("Paper"), m_paper);
    for (auto *box : {m_pdf, m_html, m_record})
        form->addRow(QString(), box);
    m_pdf->setChecked(true);
    m_record->setChecked(true);
    m_files->setTextFormat(Qt::PlainText);
    m_files->setWordWrap(true);
    auto *folderButton = new QPushButton(tr("Folder…"));
    form->addRow(tr("Writes"), m_files);
    form->addRow(QString(), folderButton);
    auto *buttons = new QDialogButtonBox;
    m_write = buttons->addButton(tr("Write Report"), QDialogButtonBox::AcceptRole);
    buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
    auto *column = new QVBoxLayout(this);
    column->addLayout(form);
    column->addWidget(buttons);
    connect(folderButton, &QPushButton::clicked, this, &ReportDialog::chooseFolder);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_stations, &QListWidget::itemChanged, this, &ReportDialog::adapt);
    for (auto *box : {m_pdf, m_html, m_record})
        connect(box, &QCheckBox::toggled, this, &ReportDialog::adapt);
    adapt();
}

void ReportDialog::chooseFolder()
{
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Folder of the Report"), m_folder);
    if (!folder.isEmpty())
        m_folder = folder;
    adapt();
}

QStringList ReportDialog::files() const
{
    const QDir folder(m_folder);
    QStringList out;
    if (m_pdf->isChecked())
        out << folder.filePath("evidence.pdf");
    if (m_html->isChecked())
        out << folder.filePath("evidence.html");
    if (m_record->isChecked())
        out << folder.filePath("record.json");
    return out;
}

void ReportDialog::adapt()
{
    const auto names = files();
    bool isAny = false;
    for (int i = 0; i < m_stations->count(); ++i)
        isAny = isAny || m_stations->item(i)->checkState() == Qt::Checked;
    m_files->setText(names.isEmpty() ? tr("Nothing: choose a form.")
                     : !isAny        ? tr("Nothing: choose a station.")
                                     : names.join('\n'));
    m_write->setEnabled(!names.isEmpty() && isAny);
}

ReportRequest ReportDialog::request() const
{
    ReportRequest out;
    out.paper = m_paper->currentIndex() == 1 ? Paper::Letter : Paper::A4;
    bool isAll = true;
    for (int i = 0; i < m_stations->count(); ++i)
        if (m_stations->item(i)->checkState() == Qt::Checked)
            out.record.stations.push_back(m_stations->item(i)->text().toStdString());
        else
            isAll = false;
    if (isAll)
        out.record.stations.clear();
    const QDir folder(m_folder);
    if (m_pdf->isChecked())
        out.files.emplace_back(folder.filePath("evidence.pdf").toStdString());
    if (m_html->isChecked())
        out.files.emplace_back(folder.filePath("evidence.html").toStdString());
    if (m_record->isChecked())
        out.recordFile = folder.filePath("record.json").toStdString();
    return out;
}

} // namespace wavechroma::app
