#pragma once
#include "core/tasks/reference_task.h"

#include <QDialog>

class QComboBox;
class QDoubleSpinBox;
class QLineEdit;
class QTableWidget;

namespace wavechroma::app {

/// What is good enough in this job: a sheet of limits and aims, chosen or edited, and the intended scale.
class ToleranceDialog : public QDialog
{
    Q_OBJECT
public:
    ToleranceDialog(const ToleranceSheet &sheet, double intendedPpi, QWidget *parent = nullptr);
    [[nodiscard]] ToleranceSheet sheet() const; ///< with the limits as edited
    [[nodiscard]] double intendedPpi() const;

private:
    struct LimitBox
    {
        std::string question, key;
        QDoubleSpinBox *box;
        double shown, factor; ///< what stood in it at first; shown is this times the sheet's
    };
    void show(const ToleranceSheet &sheet);
    void addQuestion(const std::string &question);
    void confirm(); ///< closes, unless the aims cannot be read
    void openFile();
    void saveFile();

    ToleranceSheet m_sheet;
    QComboBox *m_names;
    QTableWidget *m_limits;
    std::vector<LimitBox> m_boxes;
    QDoubleSpinBox *m_ppi;
    QLineEdit *m_aims;
};

} // namespace wavechroma::app
