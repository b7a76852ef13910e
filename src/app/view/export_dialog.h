#pragma once
#include "core/tasks/export_task.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace wavechroma::app {

/// Which files, where, and what would be written; then it writes them.
class ExportDialog : public QDialog
{
    Q_OBJECT
public:
    ExportDialog(const Calibration &calibration, const QString &folder, QWidget *parent = nullptr);
    [[nodiscard]] ExportRequest request() const;
    [[nodiscard]] QString summary() const { return m_summary; } ///< what was written, after acceptance

private:
    void preview();
    void write();
    Calibration m_calibration;
    QLineEdit *m_folder, *m_name, *m_copyright;
    QCheckBox *m_dcp, *m_icc, *m_csv, *m_cgats, *m_linearTone;
    QComboBox *m_encoding;
    QLabel *m_preview;
    QPushButton *m_write;
    QString m_summary;
};

} // namespace wavechroma::app
