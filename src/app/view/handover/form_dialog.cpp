#include "app/view/handover/form_dialog.h"

#include "app/model/spoken.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <algorithm>

namespace wavechroma::app {

namespace {

struct Choice
{
    const char *id;
    QString said;
};

std::vector<Choice> kinds()
{
    return {{"picture", FormDialog::tr("Finished pictures")},
            {"dng", FormDialog::tr("DNG copies, calibration and balance inside")},
            {"profile", FormDialog::tr("Profiles of what serves the frames")},
            {"balance", FormDialog::tr("White balance presets")},
            {"values", FormDialog::tr("Measured values as tables")}};
}
std::vector<Choice> formats()
{
    return {{"jpeg", "JPEG"},
            {"tiff16", FormDialog::tr("TIFF, 16 bits")},
            {"png16", FormDialog::tr("PNG, 16 bits")}};
}
std::vector<Choice> spaces()
{
    return {{"srgb", "sRGB"}, {"display-p3", "Display P3"}, {"oprgb", "opRGB"}, {"romm", "ROMM RGB"}};
}
std::vector<Choice> levels()
{
    return {{"as-shot", FormDialog::tr("as shot")}, {"chart", FormDialog::tr("each at its chart's")}};
}

QString saidOf(const std::vector<Choice> &choices, const std::string &id)
{
    for (const auto &choice : choices)
        if (id == choice.id)
            return choice.said;
    return text(id);
}

QComboBox *boxOf(const std::vector<Choice> &choices, const std::string &now, const char *name)
{
    auto *box = new QComboBox;
    box->setObjectName(name);
    for (const auto &choice : choices)
        box->addItem(choice.said, QString(choice.id));
    box->setCurrentIndex(std::max(0, box->findData(text(now))));
    return box;
}

QSpinBox *numberBox(int value, int most, const QString &none, const char *name)
{
    auto *box = new QSpinBox;
    box->setObjectName(name);
    box->setRange(0, most);
    box->setSpecialValueText(none);
    box->setValue(value);
    return box;
}

} // namespace

QString wordsOf(const DeliveryForm &form)
{
    if (form.kind == "profile")
        return form.files.empty() ? FormDialog::tr("DNG and ICC profiles")
                                  : text(words::joined(form.files, ", "));
    if (form.kind != "picture")
        return saidOf(kinds(), form.kind);
    QStringList out{saidOf(formats(), form.format), saidOf(spaces(), form.space)};
    if (form.longSide > 0)
        out << FormDialog::tr("%1 px long side").arg(QLocale().toString(form.longSide));
    if (form.pixelsPerInch > 0)
        out << FormDialog::tr("%1 ppi").arg(form.pixelsPerInch);
    if (form.level == "chart")
        out << FormDialog::tr("at the chart's level");
    if (form.sharpen)
        out << FormDialog::tr("sharpened");
    if (form.straighten)
        out << FormDialog::tr("straightened");
    return out.join(", ");
}

FormDialog::FormDialog(const DeliveryForm &form, const QStringList &taken, QWidget *parent)
    : QDialog(parent), m_form(form), m_taken(taken), m_name(new QLineEdit(text(form.name))),
      m_kind(boxOf(kinds(), form.kind, "kind")), m_format(boxOf(formats(), form.format, "format")),
      m_space(boxOf(spaces(), form.space, "space")), m_level(boxOf(levels(), form.level, "level")),
      m_longSide(numberBox(form.longSide, 100000, tr("every pixel"), "longSide")),
      m_ppi(numberBox(int(form.pixelsPerInch), 100000, tr("by the chart's scale"), "ppi")),
      m_quality(numberBox(form.quality, 100, {}, "quality")),
      m_deflate(new QCheckBox(tr("Pack TIFF without loss"))),
      m_sharpen(new QCheckBox(tr("Sharpen by what the chart's focus check measured"))),
      m_calm(new QCheckBox(tr("Smooth colour noise away"))),
      m_straighten(new QCheckBox(tr("Take out the lens' distortion, as its charts show it"))),
      m_dcp(new QCheckBox(tr("DNG camera profile"))), m_icc(new QCheckBox(tr("ICC input profile"))),
      m_cube(new QCheckBox(tr("3D table (.cube)"))), m_fault(new QLabel)
{
    setWindowTitle(tr("Form of the Delivery"));
    m_name->setObjectName("name");
    m_quality->setMinimum(1);
    m_deflate->setChecked(form.deflate);
    m_sharpen->setChecked(form.sharpen);
    m_calm->setChecked(form.calmColour);
    m_straighten->setChecked(form.straighten);
    const auto has = [&](const char *file) {
        return form.files.empty() ? std::string(file) != "cube"
                                  : std::find(form.files.begin(), form.files.end(), file) != form.files.end();
    };
    m_dcp->setChecked(has("dcp"));
    m_icc->setChecked(has("icc"));
    m_cube->setChecked(has("cube"));
    m_fault->setWordWrap(true);
    auto *layout = new QFormLayout(this);
    layout->addRow(tr("Name:"), m_name);
    layout->addRow(tr("What:"), m_kind);
    layout->addRow(tr("File:"), m_format);
    layout->addRow(tr("Colours:"), m_space);
    layout->addRow(tr("Long side, pixels:"), m_longSide);
    layout->addRow(tr("Pixels per inch:"), m_ppi);
    layout->addRow(tr("JPEG quality:"), m_quality);
    layout->addRow(tr("Level:"), m_level);
    for (auto *box : {m_deflate, m_sharpen, m_calm, m_straighten, m_dcp, m_icc, m_cube})
        layout->addRow(box);
    layout->addRow(m_fault);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    layout->addRow(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &FormDialog::finish);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_kind, &QComboBox::currentIndexChanged, this, &FormDialog::adapt);
    connect(m_format, &QComboBox::currentIndexChanged, this, &FormDialog::adapt);
    adapt();
}

void FormDialog::adapt()
{
    const auto kind = m_kind->currentData().toString();
    const bool isPicture = kind == "picture";
    auto *rows = static_cast<QFormLayout *>(layout());
    for (QWidget *row : std::initializer_list<QWidget *>{m_format, m_space, m_longSide, m_ppi, m_level,
                                                         m_sharpen, m_calm, m_straighten})
        rows->setRowVisible(row, isPicture);
    rows->setRowVisible(m_quality, isPicture && m_format->currentData() == "jpeg");
    rows->setRowVisible(m_deflate, isPicture && m_format->currentData() == "tiff16");
    for (auto *box : {m_dcp, m_icc, m_cube})
        rows->setRowVisible(box, kind == "profile");
    adjustSize();
}

void FormDialog::finish()
{
    const auto name = m_name->text().trimmed();
    if (name.isEmpty() || name.contains('/'))
        return m_fault->setText(tr("A form needs a name, without slashes."));
    if (m_taken.contains(name))
        return m_fault->setText(tr("Another form is called that."));
    if (m_kind->currentData() == "profile" && !m_dcp->isChecked() && !m_icc->isChecked() &&
        !m_cube->isChecked())
        return m_fault->setText(tr("Choose at least one kind of profile."));
    accept();
}

DeliveryForm FormDialog::form() const
{
    DeliveryForm out;
    const auto chosen = [](const QComboBox *box) { return box->currentData().toString().toStdString(); };
    out.name = m_name->text().trimmed().toStdString();
    out.kind = chosen(m_kind);
    out.format = chosen(m_format);
    out.space = chosen(m_space);
    out.level = chosen(m_level);
    out.longSide = m_longSide->value();
    out.pixelsPerInch = m_ppi->value();
    out.quality = m_quality->value();
    out.deflate = m_deflate->isChecked();
    out.sharpen = m_sharpen->isChecked();
    out.calmColour = m_calm->isChecked();
    out.straighten = m_straighten->isChecked();
    const std::pair<const QCheckBox *, const char *> files[] = {
        {m_dcp, "dcp"}, {m_icc, "icc"}, {m_cube, "cube"}};
    for (const auto &[box, file] : files)
        if (out.kind == "profile" && box->isChecked())
            out.files.push_back(file);
    return out;
}

} // namespace wavechroma::app
