// Jobs made and opened, and deliveries.
#include "app/view/window/job_actions.h"
#include "app/model/spoken.h"
#include "app/view/handover/handover.h"
#include "app/view/handover/report_dialog.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/job_task.h"
#include "core/words/record_words.h"

#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <algorithm>

namespace wavechroma::app {

JobActions::JobActions(Desk *desk) : ActionGroup(desk) {}

MenuRows JobActions::rows()
{
    const auto open = needs(&Availability::open);
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Job"),
        {{"newJob",
          tr("New Job…"),
          "Ctrl+N",
          tr("A folder for a client or a shoot"),
          {},
          [this] { newJob(); }},
         {"openJob", tr("Open Job…"), "", tr("A folder with a job in it"), {}, [this] { chooseJob(); }},
         {"demo",
          tr("Make Demo Day…"),
          "",
          tr("A day at a dye house, to try things with"),
          {},
          [this] { makeDemoJob(); }},
         {"closeJob", tr("Close Job"), "Ctrl+W", tr("Everything is already saved"), open,
          [this] {
              if (m_desk->holdsBack())
                  return;
              editor()->finishWork();
              m_job.close();
          },
          NewGroup},
         {"quit", tr("Quit"), "Ctrl+Q", tr("Everything is already saved"), {}, [this] {
              window()->close();
          }}}};
    const auto leaving = handoverRows();
    const auto close = std::find_if(out.rows.begin(), out.rows.end(),
                                    [](const ActionRow &row) { return std::string(row.id) == "closeJob"; });
    out.rows.insert(close, leaving.begin(), leaving.end());
    return out;
}

std::vector<ActionRow> JobActions::handoverRows()
{
    auto *place = m_desk->handoverPlace();
    const auto here = needs(&Availability::handover);
    using enum ActionRow::Place;
    return {{"report", tr("Report…"), "",
             tr("The evidence as pages: what was held, to what limits, with every figure's source"),
             needs(&Availability::open), [this] { askForReport(); }, NewGroup},
            {"newDelivery", tr("New Delivery…"), "",
             tr("Another delivery of this job; it starts with the same forms"), here,
             [place] { place->addDelivery(); }, NewGroup},
            {"addForm", tr("Add a Form…"), "", tr("Pictures, DNG copies, profiles, presets or values"), here,
             [place] { place->addForm(); }},
            {"changeForm", tr("Change the Form…"), "", tr("The selected form"), here,
             [place] { place->changeForm(); }},
            {"removeForm", tr("Remove the Form"), "", tr("The selected form"), here,
             [place] { place->removeForm(); }},
            {"deliveryFolder", tr("Folder of the Delivery…"), "",
             tr("Deliver to another folder than the job's own"), here, [place] { place->chooseFolder(); }},
            {"write", tr("Write the Delivery"), "Ctrl+Return",
             tr("Files that are there are not written again; a stopped delivery continues"), here,
             [place] { place->editor()->write(); }}};
}

void JobActions::askForReport()
{
    QStringList stations;
    for (const auto *station : m_job.stations().all())
        if (!station->frames.empty())
            stations << text(station->name);
    const auto folder = text((m_job.store()->folder() / "handover").string());
    auto *dialog = new ReportDialog(stations, m_job.isReadOnly() ? QDir::homePath() : folder, window());
    connect(dialog, &QDialog::accepted, this, [this, dialog] { writeReport(dialog->request()); });
    dialog->open();
}

void JobActions::writeReport(ReportRequest request)
{
    request.record.madeAt = QDateTime::currentDateTime().toString(Qt::ISODate).toStdString();
    m_tasks.run<JobRecord>(
        {"report", tr("writing the report")},
        [job = m_job.job(), request](const Progress &progress) {
            return makeReport(PictureSource::of(job), request, progress);
        },
        this,
        [this, request](const Result<JobRecord> &record) {
            if (!record)
                return showMessage(text(record.error()));
            const auto &file = request.files.empty() ? request.recordFile : request.files.front();
            showMessage(
                tr("%1. The report is %2").arg(text(words::verdict(*record, spoken())), text(file.string())));
        });
}

void JobActions::newJob()
{
    const auto folder =
        QFileDialog::getExistingDirectory(window(), tr("Folder for the New Job"), QDir::homePath());
    if (folder.isEmpty())
        return;
    editor()->finishWork();
    if (const auto made = m_job.create(folder, QDir(folder).dirName()); !made)
        return showMessage(text(made.error()));
    m_desk->showDaySheet();
}

void JobActions::chooseJob()
{
    const auto folder = QFileDialog::getExistingDirectory(window(), tr("Open Job"), QDir::homePath());
    if (!folder.isEmpty())
        m_desk->openJob(folder);
}

void JobActions::makeDemoJob()
{
    if (m_tasks.isBusy("demo"))
        return;
    const auto parent =
        QFileDialog::getExistingDirectory(window(), tr("Folder for the Demo Day"), QDir::homePath());
    if (parent.isEmpty())
        return;
    const auto folder = QDir(parent).filePath("wavechroma-demo");
    if (holdsJob(folder.toStdString())) {
        m_desk->openJob(folder); // made before
        return;
    }
    TaskSpec spec{"demo", tr("making the demo day")};
    spec.outlivesJob = true;
    m_tasks.run<Done>(
        spec,
        [folder = folder.toStdString()](const Progress &progress) { return makeDemo(folder, {}, progress); },
        this,
        [this, folder](const Result<Done> &done) {
            if (done)
                m_desk->openJob(folder);
            else
                showMessage(text(done.error()));
        });
}

} // namespace wavechroma::app
