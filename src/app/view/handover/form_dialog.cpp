#include "app/view/handover/form_dialog.h"

#include "app/model/spoken.h"
#include "core/words/setting_words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScreen>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>
#include <memory>

namespace wavechroma::app {

FormDialog::FormDialog(const DeliveryForm &form, const QStringList &taken, QWidget *parent)
    : QDialog(parent), m_form(form), m_taken(taken), m_lines(new QWidget), m_scroll(new QScrollArea),
      m_layout(new QFormLayout(m_lines)), m_name(new QLineEdit(text(form.name))),
      m_folder(new QLineEdit(text(form.folder))), m_kind(new QComboBox), m_files(new QWidget),
      m_fault(new QLabel)
{
    setWindowTitle(tr("Form of the Delivery"));
    m_name->setObjectName("name");
    m_kind->setObjectName("kind");
    for (const auto &row : kFormKinds)
        m_kind->addItem(text(words::said(row.label, spoken())));
    m_kind->setCurrentIndex(int(form.kind));
    m_layout->addRow(tr("Name:"), m_name);
    m_layout->addRow(tr("Contents:"), m_kind);
    m_folder->setObjectName("folder");
    m_folder->setPlaceholderText(tr("where the delivery goes"));
    m_folder->setToolTip(
        tr("A folder of this form's own, from the job's folder on: where another program looks for "
           "profiles, for example. It is kept."));
    m_layout->addRow(tr("Folder:"), m_folder);
    layFiles();
    const auto add = [this](SettingEditor *editor, const Setting &row) { layLine(editor, row); };
    m_picture = std::make_unique<SettingLines<PictureSettings>>(pictureSettings(), form.picture, add);
    m_profile = std::make_unique<SettingLines<ProfileSettings>>(profileSettings(), form.profile, add);
    m_colour = std::make_unique<SettingLines<FormColour>>(formColourSettings(), form.colour, add);
    m_lean = std::make_unique<SettingLines<FormColour>>(formLeanSettings(), form.colour, add);
    m_fault->setWordWrap(true);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setWidgetResizable(true);
    m_scroll->setWidget(m_lines);
    m_lines->setAutoFillBackground(false);
    m_scroll->viewport()->setAutoFillBackground(false);
    auto *column = new QVBoxLayout(this);
    column->addWidget(m_scroll, 1);
    column->addWidget(m_fault);
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &FormDialog::finish);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_kind, &QComboBox::currentIndexChanged, this, &FormDialog::adapt);
    adapt();
}

void FormDialog::layFiles()
{
    auto *grid = new QGridLayout(m_files);
    grid->setContentsMargins(0, 0, 0, 0);
    for (const auto &row : profileFiles()) {
        auto *box = new QCheckBox(text(words::said(row.label, spoken())));
        box->setObjectName(row.id);
        box->setChecked(m_form.profile.has(row.file));
        const int index = int(m_fileBoxes.size());
        grid->addWidget(box, index / 2, index % 2);
        m_fileBoxes.push_back(box);
        connect(box, &QCheckBox::toggled, this, &FormDialog::adapt);
    }
    m_layout->addRow(tr("Files:"), m_files);
}

void FormDialog::layLine(QWidget *editor, const Setting &row)
{
    if (row.kind == Setting::Kind::Switch) // which says its label itself
        m_layout->addRow(QString(), editor);
    else
        m_layout->addRow(text(words::said(row.label, spoken())) + ":", editor);
    connect(static_cast<SettingEditor *>(editor), &SettingEditor::changed, this, &FormDialog::adapt);
}

/// Shows the lines that mean something for what is chosen.
void FormDialog::adapt()
{
    const auto now = form();
    m_layout->setRowVisible(m_files, now.kind == FormKind::Profile);
    const auto showIn = [this, &now](FormKind kind) {
        return [this, isOfKind = now.kind == kind](SettingEditor *editor, bool applies) {
            m_layout->setRowVisible(editor, isOfKind && applies);
        };
    };
    m_picture->forEach(now.picture, showIn(FormKind::Picture));
    m_profile->forEach(now.profile, showIn(FormKind::Profile));
    const auto showColour = [this, &now](SettingEditor *editor, bool) {
        m_layout->setRowVisible(editor, now.kind != FormKind::Values);
    };
    m_colour->forEach(now.colour, showColour);
    m_lean->forEach(now.colour, showColour);
    fitToScreen();
}

/// As high as its lines, or as the screen allows: then they are scrolled.
void FormDialog::fitToScreen()
{
    constexpr int kAround = 140; // buttons, and the window's own frame
    const auto wanted = m_layout->totalSizeHint();
    const int room = (screen() ? screen()->availableGeometry().height() : 800) - kAround;
    const int bar = wanted.height() > room ? m_scroll->verticalScrollBar()->sizeHint().width() : 0;
    m_scroll->setMinimumSize(wanted.width() + bar, std::min(wanted.height(), room));
    m_scroll->setMaximumHeight(std::min(wanted.height(), room));
    adjustSize();
}

void FormDialog::finish()
{
    const auto now = form();
    const auto name = text(now.name);
    if (name.isEmpty() || name.contains('/'))
        return m_fault->setText(tr("A form needs a name, without slashes."));
    if (m_taken.contains(name))
        return m_fault->setText(tr("Another form has that name."));
    if (now.kind == FormKind::Profile && now.profile.files.empty())
        return m_fault->setText(tr("Choose at least one file."));
    accept();
}

DeliveryForm FormDialog::form() const
{
    DeliveryForm out;
    out.name = m_name->text().trimmed().toStdString();
    out.kind = FormKind(m_kind->currentIndex());
    out.folder = m_folder->text().trimmed().toStdString();
    if (out.kind == FormKind::Picture)
        out.crops = m_form.crops;
    out.picture = m_picture->read({});
    out.profile.files.clear();
    for (size_t i = 0; i < m_fileBoxes.size(); ++i)
        if (m_fileBoxes[i]->isChecked())
            out.profile.files.push_back(ProfileFile(i));
    out.profile = m_profile->read(out.profile);
    if (out.kind != FormKind::Values)
        out.colour = colour();
    return out;
}

/// Multipliers that a plan gave stay until a preset is chosen.
FormColour FormDialog::colour() const
{
    auto out = m_lean->read(m_colour->read(m_form.colour));
    if (!out.balance.empty())
        out.multipliers.reset();
    return out;
}

} // namespace wavechroma::app
