#include "app/view/setup_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLineEdit>
#include <QPlainTextEdit>

namespace wavechroma::app {

SetupDialog::SetupDialog(const JobSetup &setup, const QString &jobTitle, QWidget *parent)
    : QDialog(parent), m_setup(setup), m_job(new QLineEdit(jobTitle)), m_title(new QLineEdit(QString::fromStdString(setup.title))),
      m_notes(new QPlainTextEdit(QString::fromStdString(setup.notes)))
{
    setWindowTitle(tr("Name the Setup"));
    setMinimumWidth(520);
    m_title->setObjectName("title");
    m_notes->setTabChangesFocus(true);
    m_notes->setMaximumHeight(110);
    m_notes->setPlaceholderText(tr("Lamps, modifiers, power, backdrop"));
    auto *form = new QFormLayout(this);
    form->addRow(tr("Setup"), m_title);
    form->addRow(tr("Lights"), m_notes);
    form->addRow(tr("Job"), m_job);
    form->setRowVisible(m_job, !jobTitle.isEmpty()); // a new setup is not the place to rename the job
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    m_title->selectAll();
}

JobSetup SetupDialog::setup() const
{
    JobSetup out = m_setup;
    out.title = m_title->text().trimmed().toStdString();
    out.notes = m_notes->toPlainText().trimmed().toStdString();
    return out;
}

QString SetupDialog::jobTitle() const
{
    return m_job->text().trimmed();
}

} // namespace wavechroma::app
