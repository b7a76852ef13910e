#pragma once
#include "core/tasks/report_task.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace wavechroma::app {

/// What the evidence is to be: stations, paper, files and their folder.
class ReportDialog : public QDialog
{
    Q_OBJECT
public:
    /// `stations`: names; `folder`: where the files go unless another one is chosen.
    ReportDialog(const QStringList &stations, const QString &folder, QWidget *parent);

    /// Without the time, which is the writer's.
    [[nodiscard]] ReportRequest request() const;
    [[nodiscard]] QStringList files() const; ///< that will be written

private:
    void adapt();
    void chooseFolder();

    QListWidget *m_stations;
    QComboBox *m_paper;
    QCheckBox *m_pdf, *m_html, *m_record;
    QLabel *m_files;
    QPushButton *m_write;
    QString m_folder;
};

} // namespace wavechroma::app
