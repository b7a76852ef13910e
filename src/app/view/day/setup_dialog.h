#pragma once
#include "core/jobstore/job_rows.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;

namespace wavechroma::app {

/// What the lights were, and the job's name.
class SetupDialog : public QDialog
{
    Q_OBJECT
public:
    /// `folder` is the job's, for the picture of the set; `shown` is what the setup's frames show of its
    /// lamps.
    SetupDialog(const JobSetup &setup, const QString &jobTitle, const QString &folder,
                ExposureTime shown = ExposureTime::Unknown, QWidget *parent = nullptr);
    [[nodiscard]] JobSetup setup() const;
    [[nodiscard]] QString jobTitle() const;

private:
    void choosePicture();
    void showPicture();

    JobSetup m_setup;
    QString m_folder;
    QLineEdit *m_job, *m_title, *m_lamps, *m_modifiers, *m_power, *m_backdrop;
    QComboBox *m_kind;
    QLabel *m_picture;
    QPlainTextEdit *m_notes;
};

} // namespace wavechroma::app
