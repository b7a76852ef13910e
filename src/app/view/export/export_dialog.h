#pragma once
#include "app/model/task_runner.h"
#include "core/tasks/export_task.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace wavechroma::app {

/// What can be exported together with a calibration.
struct ExportSubject
{
    Calibration calibration;
    Vector3 neutral{1, 1, 1}; ///< of its reading
    struct Partner
    {
        QString title; ///< "LED panel, 5 330 K"
        Calibration calibration;
        Vector3 neutral{1, 1, 1};
    };
    std::vector<Partner>
        partners; ///< the same camera and lens under other lights: joined to one calibration on demand
    QString dng;  ///< the chart's own frame where it is a DNG: a copy can carry the profile
    std::optional<Vector3> balance; ///< camera RGB of the neutral chosen for that frame
};

/// Which files, where, and what would be written; then it writes them, off the interface thread.
class ExportDialog : public QDialog
{
    Q_OBJECT
public:
    ExportDialog(const ExportSubject &subject, const QString &folder, TaskRunner *tasks,
                 QWidget *parent = nullptr);
    [[nodiscard]] ExportRequest request() const;
    [[nodiscard]] ExportRequest requestUnder(const std::string &base) const; ///< a path without ending
    [[nodiscard]] QString summary() const { return m_summary; } ///< what was written, after acceptance

private:
    void layLights();
    void nameLights();
    void lay();
    void preview();
    void write();
    void written(const Result<std::vector<ExportedFile>> &files);
    [[nodiscard]] Result<Calibration> chosen() const; ///< named, and joined with the other lights
    ExportSubject m_subject;
    QLineEdit *m_folder, *m_name, *m_copyright;
    QCheckBox *m_dcp, *m_icc, *m_iccTable, *m_cube, *m_csv, *m_cgats, *m_sectors, *m_embed, *m_linearTone;
    QComboBox *m_encoding, *m_iccVersion, *m_cubeInput, *m_cubeSize, *m_cubeSpace, *m_cubeOutput, *m_second,
        *m_third, *m_light;
    QLabel *m_preview;
    QPushButton *m_write;
    QString m_summary;
    TaskRunner *m_tasks;
};

} // namespace wavechroma::app
