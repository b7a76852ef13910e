#include "app/view/export/export_dialog.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/tasks/fit_task.h"

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

namespace {

QComboBox *choices(const std::vector<std::pair<QString, QString>> &items, const QString &why)
{
    auto *box = new QComboBox;
    for (const auto &[words, value] : items)
        box->addItem(words, value);
    box->setToolTip(why);
    return box;
}

QWidget *row(const std::vector<QWidget *> &widgets)
{
    auto *holder = new QWidget;
    auto *line = new QHBoxLayout(holder);
    line->setContentsMargins(0, 0, 0, 0);
    for (auto *widget : widgets)
        line->addWidget(widget);
    line->addStretch(1);
    return holder;
}

} // namespace

ExportDialog::ExportDialog(const ExportSubject &subject, const QString &folder, TaskRunner *tasks,
                           QWidget *parent)
    : QDialog(parent), m_subject(subject), m_folder(new QLineEdit(folder)),
      m_name(new QLineEdit(QString::fromStdString(subject.calibration.name))), m_copyright(new QLineEdit),
      m_dcp(new QCheckBox(tr("DNG camera profile (.dcp)"))),
      m_icc(new QCheckBox(tr("ICC input profile (.icc)"))), m_iccTable(new QCheckBox(tr("as a table"))),
      m_cube(new QCheckBox(tr("3D table (.cube)"))), m_csv(new QCheckBox(tr("Matrix and patches as CSV"))),
      m_cgats(new QCheckBox(tr("Patches as CGATS.17 text"))),
      m_sectors(new QCheckBox(tr("Eight hue sectors as CSV"))),
      m_embed(new QCheckBox(tr("A copy of the chart's DNG with profile and balance in it"))),
      m_linearTone(new QCheckBox(tr("Straight tone curve in the camera profile, for reproduction"))),
      m_encoding(
          choices({{tr("linear camera RGB"), "linear"}, {tr("sRGB-coded camera RGB"), "srgb"}},
                  tr("What the ICC profile expects: camera RGB, balanced and scaled, in this coding"))),
      m_iccVersion(choices({{tr("version 4"), "4"}, {tr("version 2"), "2"}},
                           tr("Older programs read version 2 only"))),
      m_cubeInput(choices({{tr("sRGB-coded"), "srgb"},
                           {tr("opRGB-coded"), "oprgb"},
                           {tr("linear"), "linear"},
                           {tr("log"), "log"}},
                          tr("What the table expects: camera RGB, balanced and scaled, in this coding"))),
      m_cubeSize(
          choices({{tr("33 or 65"), "0"}, {"17", "17"}, {"33", "33"}, {"65", "65"}}, tr("Points a side"))),
      m_cubeSpace(
          choices({{"sRGB", "srgb"}, {"Display P3", "display-p3"}, {"opRGB", "oprgb"}, {"ROMM RGB", "romm"}},
                  tr("The space that comes out"))),
      m_cubeOutput(choices({{tr("its own curve"), ""}, {tr("linear"), "linear"}, {tr("log"), "log"}},
                           tr("How what comes out is coded"))),
      m_second(new QComboBox), m_third(new QComboBox), m_light(new QComboBox), m_preview(new QLabel),
      m_tasks(tasks)
{
    setWindowTitle(tr("Export Calibration"));
    setMinimumWidth(700);
    layLights();
    m_embed->setEnabled(!subject.dng.isEmpty());
    m_name->setToolTip(tr("Goes into the profiles. Composed from camera, lens, setup, light and date; change "
                          "it only if you want another."));
    const std::pair<QWidget *, const char *> names[] = {
        {m_folder, "folder"},    {m_name, "name"},   {m_dcp, "dcp"},
        {m_icc, "icc"},          {m_cube, "cube"},   {m_second, "secondLight"},
        {m_third, "thirdLight"}, {m_embed, "embed"}, {m_preview, "preview"}};
    for (const auto &[widget, name] : names)
        widget->setObjectName(name);
    for (auto *box : {m_dcp, m_icc, m_csv})
        box->setChecked(true);
    lay();
    for (auto *edit : {m_folder, m_name})
        connect(edit, &QLineEdit::textChanged, this, &ExportDialog::preview);
    for (auto *box : {m_dcp, m_icc, m_cube, m_csv, m_cgats, m_sectors, m_embed})
        connect(box, &QCheckBox::toggled, this, &ExportDialog::preview);
    preview();
}

void ExportDialog::layLights()
{
    for (auto *box : {m_second, m_third}) {
        box->addItem(tr("none"));
        for (const auto &partner : m_subject.partners)
            box->addItem(partner.title);
        box->setToolTip(tr("Joins lights in one camera profile, which then serves the lights between them"));
        connect(box, &QComboBox::currentIndexChanged, this, &ExportDialog::preview);
    }
    for (auto *box : {m_second, m_third})
        connect(box, &QComboBox::currentIndexChanged, this, &ExportDialog::nameLights);
    m_light->setToolTip(tr("An ICC profile and a .cube hold one light"));
    m_light->setObjectName("oneLight");
    nameLights();
    m_second->setEnabled(!m_subject.partners.empty());
    m_third->setEnabled(false);
    connect(m_second, &QComboBox::currentIndexChanged, this, [this](int index) {
        m_third->setEnabled(index > 0 && m_subject.partners.size() > 1);
        if (index == 0)
            m_third->setCurrentIndex(0);
    });
}

/// Those that are joined, of which ICC profile and .cube hold one.
void ExportDialog::nameLights()
{
    const auto before = m_light->currentText();
    m_light->clear();
    m_light->addItem(text(m_subject.calibration.light.name));
    for (const auto *box : {m_second, m_third})
        if (const int index = box->currentIndex() - 1; index >= 0)
            m_light->addItem(text(m_subject.partners[size_t(index)].calibration.light.name));
    m_light->setCurrentText(before);
    m_light->setEnabled(m_light->count() > 1);
}

void ExportDialog::lay()
{
    auto *choose = new QPushButton(tr("Choose…"));
    auto *folderLine = new QHBoxLayout;
    folderLine->addWidget(m_folder, 1);
    folderLine->addWidget(choose);
    auto *form = new QFormLayout;
    form->addRow(tr("Name"), m_name);
    form->addRow(tr("Folder"), folderLine);
    form->addRow(tr("Other lights"), row({m_second, m_third}));
    form->addRow(tr("ICC and .cube for"), row({m_light}));
    form->addRow(tr("Files"), m_dcp);
    form->addRow({}, m_linearTone);
    form->addRow({}, row({m_icc, m_encoding, m_iccVersion, m_iccTable}));
    form->addRow({}, row({m_cube, m_cubeInput, new QLabel(tr("to")), m_cubeSpace, m_cubeOutput, m_cubeSize}));
    form->addRow({}, row({m_csv, m_cgats, m_sectors}));
    form->addRow({}, m_embed);
    form->addRow(tr("Copyright"), m_copyright);
    m_preview->setWordWrap(true);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    m_write = buttons->addButton(tr("Write Files"), QDialogButtonBox::AcceptRole);
    m_write->setObjectName("write");
    auto *layout = new QVBoxLayout(this);
    layout->addLayout(form);
    layout->addWidget(m_preview);
    layout->addWidget(buttons);
    connect(choose, &QPushButton::clicked, this, [this] {
        const auto chosenFolder =
            QFileDialog::getExistingDirectory(this, tr("Folder for the Exported Files"), m_folder->text());
        if (!chosenFolder.isEmpty())
            m_folder->setText(chosenFolder);
    });
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, &ExportDialog::write);
    connect(m_dcp, &QCheckBox::toggled, m_linearTone, &QWidget::setEnabled);
    for (auto *widget : std::initializer_list<QWidget *>{m_encoding, m_iccVersion, m_iccTable})
        connect(m_icc, &QCheckBox::toggled, widget, &QWidget::setEnabled);
    for (auto *widget : {m_cubeInput, m_cubeSpace, m_cubeOutput, m_cubeSize}) {
        widget->setEnabled(false);
        connect(m_cube, &QCheckBox::toggled, widget, &QWidget::setEnabled);
    }
}

/// Under the name, or with a number after it where one of the files is there: names that the program makes up
/// never replace anything.
ExportRequest ExportDialog::request() const
{
    const std::string base = m_folder->text().toStdString() + "/" + fileNameOf(m_name->text().toStdString());
    for (int number = 2;; ++number) {
        const auto asked = requestUnder(number == 2 ? base : base + " " + std::to_string(number - 1));
        const auto files = filesOf(asked);
        if (number > 999 || std::none_of(files.begin(), files.end(), [](const auto &file) {
                std::error_code code;
                return std::filesystem::exists(file, code);
            }))
            return asked;
    }
}

ExportRequest ExportDialog::requestUnder(const std::string &base) const
{
    ExportRequest request;
    const auto path = [&](const QCheckBox *box, const char *ending) {
        return box->isChecked() ? std::optional<std::filesystem::path>(base + ending) : std::nullopt;
    };
    request.dcp = path(m_dcp, ".dcp");
    request.icc = path(m_icc, ".icc");
    request.cube = path(m_cube, ".cube");
    request.csv = path(m_csv, ".csv");
    request.cgats = path(m_cgats, ".txt");
    request.sectors = path(m_sectors, "-sectors.csv");
    if (m_embed->isChecked())
        request.embed = {m_subject.dng.toStdString(), base + ".dng"};
    request.neutral = m_subject.balance;
    request.iccEncoding = m_encoding->currentData().toString().toStdString();
    request.cubeEncoding = m_cubeInput->currentData().toString().toStdString();
    request.iccVersion = m_iccVersion->currentData().toInt();
    request.iccTable = m_iccTable->isChecked();
    request.space = m_cubeSpace->currentData().toString().toStdString();
    request.cubeOutput = m_cubeOutput->currentData().toString().toStdString();
    request.cubeSize = m_cubeSize->currentData().toInt();
    request.linearTone = m_linearTone->isChecked();
    request.copyright = m_copyright->text().toStdString();
    request.light = m_light->currentText().toStdString();
    return request;
}

void ExportDialog::preview()
{
    QStringList lines;
    for (const auto &path : filesOf(request()))
        lines << text(path.filename().string());
    m_preview->setText(lines.isEmpty() ? tr("Nothing is chosen.")
                                       : tr("Will be written:\n") + lines.join('\n'));
    m_write->setEnabled(!lines.isEmpty() && !m_folder->text().isEmpty());
}

Result<Calibration> ExportDialog::chosen() const
{
    std::vector<Calibration> lights{m_subject.calibration};
    std::vector<Vector3> neutrals{m_subject.neutral};
    for (const auto *box : {m_second, m_third})
        if (const int index = box->currentIndex() - 1; index >= 0) {
            lights.push_back(m_subject.partners[size_t(index)].calibration);
            neutrals.push_back(m_subject.partners[size_t(index)].neutral);
        }
    auto out = lights.size() == 1 ? Result<Calibration>(m_subject.calibration) : joinLights(lights, neutrals);
    if (out && !m_name->text().trimmed().isEmpty())
        out->name = m_name->text().trimmed().toStdString();
    return out;
}

void ExportDialog::write()
{
    const auto calibration = chosen();
    if (!calibration) {
        m_preview->setText(tr("Not written. ") + text(calibration.error()));
        return;
    }
    m_write->setEnabled(false);
    m_preview->setText(tr("Writing, and reading back what was written."));
    m_tasks->run<std::vector<ExportedFile>>(
        {"export", tr("writing the exported files")},
        [calibration = *calibration, asked = request()](const Progress &) {
            return exportCalibration(calibration, asked);
        },
        this, [this](const Result<std::vector<ExportedFile>> &files) { written(files); });
}

void ExportDialog::written(const Result<std::vector<ExportedFile>> &result)
{
    if (!result) {
        m_preview->setText(tr("Not written. ") + text(result.error()));
        m_write->setEnabled(true);
        return;
    }
    QStringList names;
    for (const auto &file : *result)
        names << QString::fromStdString(file.path.filename().string());
    m_summary = tr("Written and read back: %1").arg(names.join(", "));
    accept();
}

} // namespace wavechroma::app
