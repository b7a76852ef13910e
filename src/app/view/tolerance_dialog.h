#pragma once
#include "core/formats/tolerance_sheet.h"

#include <QDialog>

class QComboBox;
class QDoubleSpinBox;
class QTableWidget;

namespace wavechroma::app {

/// What is good enough in this job: a sheet of limits, chosen or edited, and the intended scale.
class ToleranceDialog : public QDialog
{
    Q_OBJECT
public:
    ToleranceDialog(const ToleranceSheet &sheet, double intendedPpi, QWidget *parent = nullptr);
    [[nodiscard]] ToleranceSheet sheet() const; ///< with the limits as edited
    [[nodiscard]] double intendedPpi() const;

private:
    void show(const ToleranceSheet &sheet);
    void openFile();
    void saveFile();

    ToleranceSheet m_sheet;
    QComboBox *m_names;
    QTableWidget *m_limits;
    QDoubleSpinBox *m_ppi;
};

} // namespace wavechroma::app
