#include "app/model/delivery_editor.h"

#include "app/model/spoken.h"
#include "core/tasks/export_task.h"
#include "core/words/answer_words.h"

#include <QSettings>
#include <algorithm>
#include <chrono>
#include <thread>

namespace wavechroma::app {

static constexpr int kQuietMs = 2000; // somebody who still changes things is not written after
static const QString kOwnList = "delivery/written by themselves";
static const QString kDeliveryQueue = "delivery", kPlanQueue = "delivery plan";

std::vector<DeliveryForm> usualForms()
{
    DeliveryForm client{"client"}, archive{"archive"};
    client.picture.format = PictureFormat::Jpeg;
    client.picture.longSide = 2400;
    archive.picture.space = RgbSpaceId::Romm;
    return {client, archive, {"profiles", FormKind::Profile}};
}

DeliveryEditor::DeliveryEditor(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks)
{
    m_soon.setSingleShot(true);
    m_soon.setInterval(kQuietMs);
    connect(&m_soon, &QTimer::timeout, this, &DeliveryEditor::writeWhatIsStale);
    connect(job, &JobDocument::changed, this, [this](const JobChange &change) {
        m_triedLast.clear();
        const bool isOfPictures = !keepsServings(change) || !change.frames.empty() || !change.probes.empty();
        if (!change.deliveries.empty() || (isFollowed() && isOfPictures))
            refresh();
    });
    connect(job, &JobDocument::opened, this, [this] {
        m_current = 0;
        m_folder.clear();
        m_plan = std::make_shared<const DeliveryPlan>();
        refresh();
    });
    refresh();
}

QStringList DeliveryEditor::titles() const
{
    QStringList out;
    for (const auto &row : m_job->state().deliveries)
        out << text(row.title);
    return out.isEmpty() ? QStringList{tr("First delivery")} : out;
}

void DeliveryEditor::open(int delivery)
{
    m_current = delivery;
    m_folder.clear();
    m_keptLast.clear();
    m_triedLast.clear();
    refresh();
}

/// What is asked for as the job has it.
void DeliveryEditor::refresh()
{
    if (!m_job->isOpen())
        return;
    const auto &rows = m_job->state().deliveries;
    m_current = std::clamp(m_current, 0, std::max(0, int(rows.size()) - 1));
    m_asked = {};
    m_asked.forms = usualForms();
    if (!rows.empty())
        if (const auto kept = deliveryFrom(rows[size_t(m_current)].plan, rows[size_t(m_current)].title))
            m_asked = *kept;
    m_named.clear();
    if (m_asked.frames)
        m_named = {m_asked.frames->begin(), m_asked.frames->end()};
    m_without = {m_asked.without.begin(), m_asked.without.end()};
    planAgain();
    emit changed();
}

void DeliveryEditor::keep(const Delivery &asked, const QString &undoText)
{
    if (!m_job->isOpen() || m_job->isReadOnly())
        return;
    const auto &rows = m_job->state().deliveries;
    RowChange<JobDelivery> row;
    if (!rows.empty())
        row.before = rows[size_t(m_current)];
    row.after = JobDelivery{row.before ? row.before->id : nextId(m_job->state()),
                            titles()[m_current].toStdString(), documentOf(asked)};
    JobChange change;
    change.deliveries.push_back(row);
    m_job->push(undoText, change);
}

void DeliveryEditor::add(const QString &title)
{
    if (!m_job->isOpen() || m_job->isReadOnly() || title.trimmed().isEmpty())
        return;
    Delivery fresh;
    fresh.forms = m_asked.forms;
    fresh.names = m_asked.names;
    addRow(title.trimmed(), fresh);
}

void DeliveryEditor::addRow(const QString &title, const Delivery &fresh)
{
    JobChange change;
    RowId next = nextId(m_job->state());
    if (m_job->state().deliveries.empty()) // the one that was open becomes a row, too
        change.deliveries.push_back(
            {std::nullopt, JobDelivery{next++, titles()[0].toStdString(), documentOf(m_asked)}});
    change.deliveries.push_back({std::nullopt, JobDelivery{next, title.toStdString(), documentOf(fresh)}});
    m_current = int(m_job->state().deliveries.size() + change.deliveries.size()) - 1;
    m_folder.clear();
    m_job->push(tr("New Delivery"), change);
}

void DeliveryEditor::openProfilesOf(RowId chart)
{
    const auto *frame = m_job->state().frame(chart);
    const auto *station = m_job->stations().of(chart);
    if (!frame || !station)
        return;
    Delivery fresh;
    fresh.frames = {frame->path};
    openOrAdd(tr("Profiles, %1").arg(text(station->name)), fresh);
    if (m_asked.frames && !leaves(chart)) // it was made for another chart of the station
        setLeaving({chart}, true);
}

void DeliveryEditor::openProfilesOf(const QString &calibration, const QString &file)
{
    Delivery fresh;
    fresh.frames.emplace();
    fresh.calibrations = {file.toStdString()};
    openOrAdd(tr("Profiles, %1").arg(calibration), fresh);
}

/// A small delivery of profiles alone, once for each title.
void DeliveryEditor::openOrAdd(const QString &title, Delivery fresh)
{
    if (const auto known = titles().indexOf(title); known >= 0 && !m_job->state().deliveries.empty())
        return open(int(known));
    if (!m_job->isOpen() || m_job->isReadOnly())
        return;
    DeliveryForm form{"profiles", FormKind::Profile};
    form.profile.files.push_back(ProfileFile::Csv);
    fresh.forms = {form};
    addRow(title, fresh);
}

void DeliveryEditor::setForms(const std::vector<DeliveryForm> &forms, const QString &undoText)
{
    auto asked = m_asked;
    asked.forms = forms;
    keep(asked, undoText);
}

void DeliveryEditor::setNames(const QString &names)
{
    auto asked = m_asked;
    asked.names = names.trimmed().toStdString();
    if (!(asked == m_asked))
        keep(asked, tr("Names of Files"));
}

std::vector<RowId> DeliveryEditor::products() const
{
    std::vector<RowId> out;
    for (const auto *station : m_job->stations().all())
        for (const auto id : station->frames) {
            const auto *frame = m_job->state().frame(id);
            const bool isProduct = frame->part == FramePart::Product;
            const bool isChart = m_asked.frames && frame->part == FramePart::Chart;
            if ((isProduct || isChart) && !frame->setAside)
                out.push_back(id);
        }
    return out;
}

bool DeliveryEditor::leaves(RowId id) const
{
    const auto *frame = m_job->state().frame(id);
    return frame && (!m_asked.frames || m_named.contains(frame->path)) && !m_without.contains(frame->path);
}

void DeliveryEditor::setLeaving(const std::vector<RowId> &frames, bool leave)
{
    auto asked = m_asked;
    asked.without.clear();
    if (asked.frames)
        asked.frames->clear();
    const std::unordered_set<RowId> meant(frames.begin(), frames.end());
    for (const auto id : products()) {
        const bool goes = meant.contains(id) ? leave : leaves(id);
        const auto &path = m_job->state().frame(id)->path;
        if (asked.frames && goes)
            asked.frames->push_back(path);
        else if (!asked.frames && !goes)
            asked.without.push_back(path);
    }
    if (!(asked == m_asked))
        keep(asked, leave ? tr("Deliver Frames") : tr("Do Not Deliver Frames"));
}

QString DeliveryEditor::folder() const
{
    if (!m_folder.isEmpty() || !m_job->isOpen())
        return m_folder;
    return text(
        (m_job->store()->folder() / "handover" / fileNameOf(titles()[m_current].toStdString())).string());
}

void DeliveryEditor::setFolder(const QString &folder)
{
    m_folder = folder;
    m_keptLast.clear();
    planAgain();
    emit changed();
}

void DeliveryEditor::setWatched(bool on)
{
    m_isWatched = on;
    if (on)
        refresh();
}

void DeliveryEditor::planAgain()
{
    if (!m_job->isOpen() || !isFollowed())
        return;
    const int round = ++m_round;
    using Plan = std::shared_ptr<const DeliveryPlan>; // large: made and copied where it keeps nobody waiting
    const auto work = [rows = m_job->state(), job = m_job->store()->folder(), asked = m_asked,
                       folder = folder().toStdString()](const Progress &) -> Result<Plan> {
        auto plan = planDelivery(PictureSource::of(Job(rows, job)), asked, folder, false);
        return plan ? Result<Plan>(std::make_shared<const DeliveryPlan>(std::move(*plan))) : plan.error();
    };
    TaskSpec spec{kPlanQueue, {}, true};
    spec.stillWanted = [this, round] { return round == m_round; };
    m_tasks->run<Plan>(spec, work, this, [this](const Result<Plan> &plan) {
        m_planFault = plan ? QString() : text(plan.error());
        m_plan = plan ? *plan : std::make_shared<const DeliveryPlan>();
        if (writesItself())
            m_soon.start();
        emit changed();
    });
}

QString DeliveryEditor::ownKey() const
{
    return m_job->isOpen() ? text(m_job->store()->folder().string()) + '\n' + titles().value(m_current)
                           : QString();
}

bool DeliveryEditor::writesItself() const
{
    return m_job->isOpen() && QSettings().value(kOwnList).toStringList().contains(ownKey());
}

void DeliveryEditor::setWritesItself(bool on)
{
    if (!m_job->isOpen() || on == writesItself())
        return;
    QSettings settings;
    auto all = settings.value(kOwnList).toStringList();
    all.removeAll(ownKey());
    if (on)
        all << ownKey();
    settings.setValue(kOwnList, all);
    m_triedLast.clear();
    planAgain();
    emit changed();
}

/// Only where something that was written before is stale: a delivery that nobody has begun stays unwritten.
void DeliveryEditor::writeWhatIsStale()
{
    if (!writesItself() || m_job->isReadOnly() || isWriting())
        return;
    std::set<std::string> stale;
    for (const auto &item : m_plan->items)
        if (item.isStale())
            stale.insert(item.planned.path);
    if (stale.empty() || stale == m_triedLast)
        return;
    m_triedLast = stale;
    write();
}

bool DeliveryEditor::isWriting() const
{
    return m_tasks->isBusy(kDeliveryQueue);
}

QString DeliveryEditor::finishedWords(const Delivery &done) const
{
    auto out = text(words::filled("{n} {n|file is|files are} written to {folder}.",
                                  {{"n", double(done.receipts.size())}, {"folder", folder().toStdString()}},
                                  spoken()));
    for (const auto &one : done.leftOut)
        if (one.why == "in-the-way" || one.why == "source-changed")
            out += "\n" + text(one.path) + ": " + text(words::leftOut(one.why, spoken()));
    return out;
}

std::vector<std::string> DeliveryEditor::inTheWay() const
{
    std::vector<std::string> out;
    for (const auto &item : m_plan->items)
        if (item.isInTheWay || m_keptLast.contains(item.planned.path))
            out.push_back(item.planned.path);
    return out;
}

void DeliveryEditor::write(const std::vector<std::string> &replaced)
{
    if (!m_job->isOpen() || isWriting())
        return;
    m_keptLast.clear();
    *m_paused = false;
    const auto work = [this, rows = m_job->state(), job = m_job->store()->folder(), asked = m_asked,
                       folder = folder().toStdString(), replaced,
                       paused = m_paused](const Progress &task) -> Result<Delivery> {
        const auto source = PictureSource::of(Job(rows, job));
        Progress progress;
        progress.cancelled = task.cancelled;
        progress.report = [&](double fraction, const words::Phrase &step) {
            const auto said = text(step);
            QMetaObject::invokeMethod(this, [this, fraction, said] { emit progressed(fraction, said); });
            while (*paused && !task.stopped()) // between files and bands; nothing is half meanwhile
                std::this_thread::sleep_for(std::chrono::milliseconds(20));
        };
        const DeliverOptions options{.replaced = {replaced.begin(), replaced.end()}};
        return deliver(source, asked, folder, options, progress);
    };
    m_tasks->run<Delivery>({kDeliveryQueue}, work, this, [this](const Result<Delivery> &done) {
        if (done)
            for (const auto &one : done->leftOut)
                if (one.why == "in-the-way")
                    m_keptLast.insert(one.path);
        emit finished(done ? finishedWords(*done) : text(done.error()), bool(done));
        planAgain();
    });
    emit changed();
}

void DeliveryEditor::pause(bool on)
{
    *m_paused = on;
    emit changed();
}

void DeliveryEditor::stop()
{
    *m_paused = false;
    m_tasks->stop(kDeliveryQueue);
    emit finished(tr("Stopped. Files that were written stay. Write continues."), true);
    planAgain();
}

} // namespace wavechroma::app
