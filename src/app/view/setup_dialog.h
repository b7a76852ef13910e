#pragma once
#include "core/jobstore/job_rows.h"

#include <QDialog>

class QLineEdit;
class QPlainTextEdit;

namespace wavechroma::app {

/// What the lights were, and the job's name.
class SetupDialog : public QDialog
{
    Q_OBJECT
public:
    SetupDialog(const JobSetup &setup, const QString &jobTitle, QWidget *parent = nullptr);
    [[nodiscard]] JobSetup setup() const;
    [[nodiscard]] QString jobTitle() const;

private:
    JobSetup m_setup;
    QLineEdit *m_job, *m_title;
    QPlainTextEdit *m_notes;
};

} // namespace wavechroma::app
