#pragma once
#include "app/view/handover/setting_editor.h"
#include "core/values/delivery.h"

#include <QDialog>
#include <memory>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QScrollArea;

namespace wavechroma::app {

/// One form of a delivery. Its lines are those of the tables of settings.
class FormDialog : public QDialog
{
    Q_OBJECT
public:
    /// `taken`: names that other forms have.
    FormDialog(const DeliveryForm &form, const QStringList &taken, QWidget *parent = nullptr);
    [[nodiscard]] DeliveryForm form() const;

private:
    void layFiles();
    void layLine(QWidget *editor, const Setting &row);
    void adapt();
    void fitToScreen();
    [[nodiscard]] FormColour colour() const;
    void finish();

    DeliveryForm m_form;
    QStringList m_taken;
    QWidget *m_lines;
    QScrollArea *m_scroll;
    QFormLayout *m_layout;
    QLineEdit *m_name, *m_folder;
    QComboBox *m_kind;
    QWidget *m_files;
    std::vector<QCheckBox *> m_fileBoxes; ///< in the order of profileFiles()
    std::unique_ptr<SettingLines<PictureSettings>> m_picture;
    std::unique_ptr<SettingLines<ProfileSettings>> m_profile;
    std::unique_ptr<SettingLines<FormColour>> m_colour, m_lean;
    QLabel *m_fault;
};

} // namespace wavechroma::app
