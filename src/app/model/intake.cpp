#include "app/model/intake.h"

#include "app/model/spoken.h"
#include "core/words/frame_words.h"

#include <QFileInfo>

namespace wavechroma::app {

static const QString kIntakeQueue = "intake";

Intake::Intake(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks)
{
    connect(tasks, &TaskRunner::progressed, this,
            [this](const QString &queue, double fraction, const QString &step) {
                if (queue != kIntakeQueue || !isRunning())
                    return;
                const double from = double(m_total - m_queue.size() - 1) / m_total;
                emit progress(from + std::max(0.0, fraction) / m_total, step);
            });
    connect(job, &JobDocument::opened, this, [this] { // the job before has kept its own
        m_queue.clear();
        m_current.clear();
        m_total = 0;
        m_waiting = m_job->waiting();
        emit waitingChanged();
    });
}

QStringList Intake::framesIn(const QStringList &paths)
{
    std::vector<std::filesystem::path> given;
    for (const auto &path : paths)
        given.emplace_back(path.toStdString());
    QStringList out;
    for (const auto &file : wavechroma::framesIn(given))
        out << QString::fromStdString(file.string());
    return out;
}

void Intake::keepWaiting(const QStringList &files)
{
    m_waiting = files;
    m_job->setWaiting(files);
    emit waitingChanged();
}

void Intake::add(const QStringList &paths)
{
    if (!m_job->isOpen())
        return;
    const auto files = framesIn(paths);
    if (files.isEmpty()) {
        emit problem(tr("No frames were found there."));
        return;
    }
    m_queue += files;
    m_total += int(files.size());
    m_job->setWaiting(m_waiting + (m_current.isEmpty() ? QStringList() : QStringList{m_current}) + m_queue);
    if (isRunning())
        return;
    m_mergeKey = JobDocument::newMergeKey();
    next();
}

void Intake::addWaiting()
{
    if (!m_waiting.isEmpty())
        add(std::exchange(m_waiting, {}));
    emit waitingChanged();
}

void Intake::stop()
{
    if (!isRunning())
        return;
    m_tasks->stop(kIntakeQueue);
    m_queue.prepend(m_current);
    end();
}

void Intake::end()
{
    m_current.clear();
    m_total = 0;
    keepWaiting(m_waiting + std::exchange(m_queue, {}));
    emit finished();
}

void Intake::next()
{
    if (m_queue.isEmpty() || !m_job->isOpen()) {
        end();
        return;
    }
    m_current = m_queue.takeFirst();
    const auto around =
        surroundingsOf(m_job->state(), m_job->store()->folder()); // a copy: the thread may outlive the state
    m_tasks->run<TakenFrame>(
        {kIntakeQueue, tr("opening %1").arg(QFileInfo(m_current).fileName())},
        [around, file = m_current.toStdString()](const Progress &progress) {
            return takeFrame(around, file, progress);
        },
        this,
        [this](const Result<TakenFrame> &taken) {
            take(taken);
            next();
        });
}

void Intake::take(const Result<TakenFrame> &taken)
{
    const auto &state = m_job->state();
    const auto isKnown = [&](const std::string &hash) {
        return std::any_of(state.frames.begin(), state.frames.end(),
                           [&](const auto &f) { return f.sha256 == hash; });
    };
    if (!taken) {
        emit problem(text(taken.error()));
        return;
    }
    if (isKnown(taken->frame.sha256)) {
        emit problem(tr("%1 is already in the job.").arg(QFileInfo(m_current).fileName()));
        return;
    }
    if (state.setups.empty())
        return;
    const RowId id = nextId(state);
    m_job->push(m_total == 1 ? tr("Add %1").arg(QFileInfo(m_current).fileName()) : tr("Add Frames"),
                changeFor(state, {*taken}), m_mergeKey);
    m_job->setWaiting(m_waiting + m_queue);
    if (!taken->warning.empty())
        emit problem(text(taken->warning));
    if (taken->flat && !taken->flat->serves)
        emit problem(text(words::flat(*taken->flat, spoken())));
    if (taken->pass && m_job->state().frame(id))
        emit chartArrived(id);
}

} // namespace wavechroma::app
