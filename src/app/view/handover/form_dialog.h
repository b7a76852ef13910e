#pragma once
#include "core/values/delivery.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QSpinBox;

namespace wavechroma::app {

/// One form of a delivery.
class FormDialog : public QDialog
{
    Q_OBJECT
public:
    /// `taken`: names that other forms have.
    FormDialog(const DeliveryForm &form, const QStringList &taken, QWidget *parent = nullptr);
    [[nodiscard]] DeliveryForm form() const;

private:
    void adapt();
    void finish();

    DeliveryForm m_form;
    QStringList m_taken;
    QLineEdit *m_name;
    QComboBox *m_kind, *m_format, *m_space, *m_level;
    QSpinBox *m_longSide, *m_ppi, *m_quality;
    QCheckBox *m_deflate, *m_sharpen, *m_calm, *m_straighten, *m_dcp, *m_icc, *m_cube;
    QLabel *m_fault;
};

/// "JPEG, sRGB, 2 400 px long side": a form in a line.
[[nodiscard]] QString wordsOf(const DeliveryForm &form);

} // namespace wavechroma::app
