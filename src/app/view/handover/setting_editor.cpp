#include "app/view/handover/setting_editor.h"

#include "app/model/spoken.h"
#include "core/words/setting_words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <algorithm>

namespace wavechroma::app {

static QString saidOf(const char *words)
{
    return text(words::said(words, spoken()));
}

SettingEditor::SettingEditor(const Setting &row, const std::string &text)
{
    auto *line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    setToolTip(saidOf(row.help));
    switch (row.kind) {
    case Setting::Kind::Switch:
        makeSwitch(row, text);
        break;
    case Setting::Kind::Choice:
        makeChoice(row, text);
        break;
    case Setting::Kind::Whole:
    case Setting::Kind::Number:
        makeNumber(row, text);
        break;
    case Setting::Kind::Amount:
        makeAmount(row, text);
        break;
    case Setting::Kind::Text:
        makeText(row, text);
        break;
    }
    line->addStretch(1);
}

void SettingEditor::makeSwitch(const Setting &row, const std::string &text)
{
    auto *box = new QCheckBox(saidOf(row.label));
    box->setObjectName(row.key);
    box->setChecked(text == "on");
    layout()->addWidget(box);
    connect(box, &QCheckBox::toggled, this, &SettingEditor::changed);
    m_text = [box] { return std::string(box->isChecked() ? "on" : ""); };
}

void SettingEditor::makeChoice(const Setting &row, const std::string &text)
{
    auto *box = new QComboBox;
    box->setObjectName(row.key);
    box->setAccessibleName(saidOf(row.label));
    for (const auto &choice : row.choices)
        box->addItem(saidOf(choice.said), QString(choice.id));
    box->setCurrentIndex(std::max(0, box->findData(QString::fromStdString(text))));
    layout()->addWidget(box);
    connect(box, &QComboBox::currentIndexChanged, this, &SettingEditor::changed);
    m_text = [box] { return box->currentData().toString().toStdString(); };
}

/// A value below the least stands for "not given" where the setting has that.
void SettingEditor::makeNumber(const Setting &row, const std::string &text)
{
    auto *box = new QDoubleSpinBox;
    box->setObjectName(row.key);
    box->setAccessibleName(saidOf(row.label));
    box->setDecimals(row.kind == Setting::Kind::Whole ? 0 : 2);
    box->setRange(row.unset ? row.least - 1 : row.least, row.most);
    if (row.unset)
        box->setSpecialValueText(saidOf(row.unset));
    box->setValue(numberFrom(text).value_or(row.least - 1));
    box->setMinimumWidth(160);
    layout()->addWidget(box);
    connect(box, &QDoubleSpinBox::valueChanged, this, &SettingEditor::changed);
    m_text = [box, least = row.least] {
        return box->value() < least ? std::string() : setting_detail::textOfNumber(box->value());
    };
}

void SettingEditor::makeAmount(const Setting &row, const std::string &text)
{
    auto *how = new QComboBox;
    auto *number = new QDoubleSpinBox;
    how->setObjectName(row.key);
    how->setAccessibleName(saidOf(row.label));
    how->addItems({tr("no"), tr("as the chart shows"), tr("by this amount:")});
    number->setObjectName(QString(row.key) + "_number");
    number->setAccessibleName(tr("Amount"));
    number->setDecimals(row.most < 1 ? 3 : 1);
    number->setSingleStep(row.most < 1 ? 0.01 : 0.1);
    number->setRange(row.least, row.most);
    const auto given = numberFrom(text);
    number->setValue(given.value_or(std::max(row.least, 0.0)));
    how->setCurrentIndex(text.empty() ? 0 : given ? 2 : 1);
    number->setEnabled(given.has_value());
    layout()->addWidget(how);
    layout()->addWidget(number);
    connect(how, &QComboBox::currentIndexChanged, this, [this, number](int index) {
        number->setEnabled(index == 2);
        emit changed();
    });
    connect(number, &QDoubleSpinBox::valueChanged, this, &SettingEditor::changed);
    m_text = [how, number] {
        return how->currentIndex() == 0   ? std::string()
               : how->currentIndex() == 1 ? std::string(kByChart)
                                          : setting_detail::textOfNumber(number->value());
    };
}

void SettingEditor::makeText(const Setting &row, const std::string &text)
{
    auto *edit = new QLineEdit(QString::fromStdString(text));
    edit->setObjectName(row.key);
    edit->setAccessibleName(saidOf(row.label));
    edit->setMinimumWidth(280);
    if (row.unset)
        edit->setPlaceholderText(saidOf(row.unset));
    layout()->addWidget(edit);
    if (row.extension)
        addChooser(row, edit);
    connect(edit, &QLineEdit::textChanged, this, &SettingEditor::changed);
    m_text = [edit] { return edit->text().trimmed().toStdString(); };
}

void SettingEditor::addChooser(const Setting &row, QLineEdit *edit)
{
    auto *button = new QPushButton(tr("Choose…"));
    button->setAutoDefault(false);
    layout()->addWidget(button);
    connect(button, &QPushButton::clicked, this,
            [this, edit, title = saidOf(row.label), extension = QString(row.extension)] {
                const auto file = QFileDialog::getOpenFileName(
                    this, title, edit->text(), QString("%1 (*.%2)").arg(extension.toUpper(), extension));
                if (!file.isEmpty())
                    edit->setText(file);
            });
}

} // namespace wavechroma::app
