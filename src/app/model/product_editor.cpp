#include "app/model/product_editor.h"

#include "app/model/spoken.h"
#include "core/facts/other_versions.h"
#include "core/tasks/crop_task.h"
#include "core/tasks/frame_files.h"
#include "core/tasks/serve_task.h"
#include "core/words/frame_words.h"

#include <algorithm>
#include <map>

namespace wavechroma::app {

static const QString kProbeQueue = "probes";
static constexpr int kMostThirds = 12;

ProductEditor::ProductEditor(JobDocument *job, TaskRunner *tasks, FrameEditor *frames, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks), m_frames(frames)
{
    connect(frames, &FrameEditor::factsChanged, this, &ProductEditor::refresh);
    connect(frames, &FrameEditor::pictureChanged, this, [this] {
        followProposed();
        readProbes();
        readDoubted();
        readOutside();
    });
    refresh();
}

void ProductEditor::setFacts(ProductFacts facts)
{
    m_facts = std::make_shared<const ProductFacts>(std::move(facts));
    emit factsChanged();
}

void ProductEditor::refresh()
{
    const auto &state = m_job->state();
    const auto *frame = m_job->isOpen() ? state.frame(m_job->currentFrame()) : nullptr;
    const bool isProduct = frame && (frame->part == FramePart::Product || frame->part == FramePart::Check);
    if (!isProduct)
        return setFacts({});
    ProductFacts out;
    const auto &stations = m_job->stations();
    out.frame = *frame;
    out.serving = m_job->job().serving(frame->id);
    out.serves = *m_job->job().serves(*frame);
    if (out.serves.doubtOfLevel && !state.probesOf(frame->id).empty()) // which are at the chart's level
        out.serving.doubts.push_back(*out.serves.doubtOfLevel);
    if (const auto *chart = state.frame(out.serving.chart)) {
        out.chartAt = chart->camera.capturedAt;
        out.answer = stations.answerOf(state, chart->id).state;
    }
    if (const auto *row = m_job->job().calibrationFor(frame->id))
        out.unseen = row->brief.unseen;
    if (const auto *station = stations.of(frame->id)) {
        out.charts = station->speaking;
        out.charts.insert(out.charts.end(), station->refused.begin(), station->refused.end());
    }
    for (const auto *row : state.probesOf(frame->id))
        if (row->isProposed)
            out.proposed.push_back(row->place);
    out.targets = targetsOf(state);
    out.limit = sheetOf(state).proof.patch;
    out.run = stations.runOf(state, frame->id);
    const auto at = std::find(out.run.begin(), out.run.end(), frame->id);
    out.place = at == out.run.end() ? 0 : int(at - out.run.begin());
    if (m_facts->frame && m_facts->frame->id == frame->id) { // until they are read anew
        out.probes = m_facts->probes;
        out.doubted = m_facts->doubted;
        out.outside = m_facts->outside;
        out.outsideOf = m_facts->outsideOf;
        out.trendOf = m_facts->trendOf;
        out.trend = m_facts->trend;
        out.clipped = m_facts->clipped;
        if (m_followed == frame->id && m_facts->proposed.size() == out.proposed.size())
            out.proposed = m_facts->proposed;
    } else {
        m_followed = 0;
    }
    setFacts(std::move(out));
    followProposed();
    readProbes();
    readDoubted();
    readOutside();
}

/// Off the interface thread: a large frame with many probes takes a while.
void ProductEditor::readProbes()
{
    const auto &open = m_frames->picture();
    if (!isHere() || !open || !open->frame || open->id != m_facts->frame->id)
        return;
    const auto places = placesOn(m_job->state(), open->id);
    const auto work = [frame = open->frame, serves = m_facts->serves, places, targets = m_facts->targets,
                       limit = m_facts->limit](const Progress &) -> Result<FrameProbes> {
        return probeFrame(*frame, serves, places, targets, limit, true);
    };
    TaskSpec spec{kProbeQueue, {}, true};
    spec.stillWanted = [this, id = open->id] { return isHere() && m_facts->frame->id == id; };
    m_tasks->run<FrameProbes>(spec, work, this, [this, open](const Result<FrameProbes> &read) {
        if (!read)
            return;
        auto facts = *m_facts;
        facts.probes = *read;
        const auto &levels = open->exposure;
        facts.clipped = *std::max_element(levels.clipped.begin(), levels.clipped.end());
        if (facts.probes == m_facts->probes && facts.clipped == m_facts->clipped)
            return;
        setFacts(std::move(facts));
    });
}

void ProductEditor::askTrend(const std::string &name)
{
    auto facts = *m_facts;
    facts.trendOf = name;
    facts.trend.clear();
    m_tasks->stop("trend");
    setFacts(std::move(facts));
    if (name.empty() || !m_job->isOpen())
        return;
    const auto work = [rows = m_job->state(), folder = m_job->store()->folder(),
                       name](const Progress &progress) -> Result<std::vector<ProbeAtTime>> {
        return overTheDay(PictureSource::of(Job(rows, folder)), name, progress);
    };
    TaskSpec spec{"trend", {}, true};
    spec.stillWanted = [this, name] { return m_facts->trendOf == name; };
    m_tasks->run<std::vector<ProbeAtTime>>(spec, work, this,
                                           [this](const Result<std::vector<ProbeAtTime>> &read) {
                                               if (!read)
                                                   return;
                                               auto now = *m_facts;
                                               now.trend = *read;
                                               setFacts(std::move(now));
                                           });
}

void ProductEditor::setDoubted(bool shown)
{
    m_showsDoubted = shown;
    readDoubted();
    if (!shown && isHere()) {
        auto facts = *m_facts;
        facts.doubted = {};
        setFacts(std::move(facts));
    }
}

void ProductEditor::readDoubted()
{
    const auto &open = m_frames->picture();
    if (!m_showsDoubted || !isHere() || !open || !open->opened || open->id != m_facts->frame->id)
        return;
    const auto work = [open, serves = m_facts->serves,
                       limit = m_facts->limit](const Progress &progress) -> Result<DoubtedColours> {
        const auto &levels = open->opened->levels; // a small one says it as well
        const auto at = std::find_if(levels.begin(), levels.end(),
                                     [](const Overview &l) { return std::max(l.width, l.height) <= 420; });
        const auto &level = at == levels.end() ? levels.back() : *at;
        return doubtedColours(*open->frame, level, serves, limit, progress);
    };
    TaskSpec spec{"doubted", {}, true};
    spec.stillWanted = [this, id = open->id] {
        return m_showsDoubted && isHere() && m_facts->frame->id == id;
    };
    m_tasks->run<DoubtedColours>(spec, work, this, [this](const Result<DoubtedColours> &read) {
        if (!read || read->isOver == m_facts->doubted.isOver)
            return;
        auto facts = *m_facts;
        facts.doubted = *read;
        setFacts(std::move(facts));
    });
}

void ProductEditor::setOutside(int space)
{
    m_outsideOf = space;
    if (isHere() && (space < 0 || m_facts->outside)) {
        auto facts = *m_facts;
        facts.outsideOf = space;
        if (space < 0)
            facts.outside.reset();
        setFacts(std::move(facts));
    }
    readOutside();
}

void ProductEditor::readOutside()
{
    const auto &open = m_frames->picture();
    if (m_outsideOf < 0 || !isHere() || !open || !open->opened || open->id != m_facts->frame->id)
        return;
    const auto work = [open, serves = m_facts->serves](const Progress &progress) -> Result<OutsideColours> {
        const auto &levels = open->opened->levels;
        const auto at = std::find_if(levels.begin(), levels.end(),
                                     [](const Overview &l) { return std::max(l.width, l.height) <= 420; });
        return outsideColours(*open->frame, at == levels.end() ? levels.back() : *at, serves, progress);
    };
    TaskSpec spec{"outside", {}, true};
    spec.stillWanted = [this, id = open->id] {
        return m_outsideOf >= 0 && isHere() && m_facts->frame->id == id;
    };
    m_tasks->run<OutsideColours>(spec, work, this, [this](const Result<OutsideColours> &read) {
        if (!read || (m_facts->outside && *read == *m_facts->outside && m_facts->outsideOf == m_outsideOf))
            return;
        auto facts = *m_facts;
        facts.outside = *read;
        facts.outsideOf = m_outsideOf;
        setFacts(std::move(facts));
    });
}

/// Proposals come from the frame before in the run: where its picture has them in this one.
void ProductEditor::followProposed()
{
    const auto &open = m_frames->picture();
    if (!isHere() || m_facts->proposed.empty() || !open || !open->frame || open->id != m_facts->frame->id ||
        m_followed == open->id)
        return;
    const JobFrame *before = nullptr; // the nearest one of the run whose probes were looked at
    for (int i = m_facts->place - 1; i >= 0 && !before; --i)
        if (const auto id = m_facts->run[size_t(i)]; !placesOn(m_job->state(), id).empty())
            before = m_job->state().frame(id);
    m_followed = open->id;
    if (!before)
        return;
    const auto file = m_job->store()->fullPath(*before);
    const auto work = [file, frame = open->frame,
                       proposed = m_facts->proposed](const Progress &) -> Result<std::vector<ProbePlace>> {
        return followedPlaces(file, *frame, proposed);
    };
    TaskSpec spec{"follow", {}, true};
    spec.stillWanted = [this, id = open->id] { return isHere() && m_facts->frame->id == id; };
    m_tasks->run<std::vector<ProbePlace>>(spec, work, this,
                                          [this](const Result<std::vector<ProbePlace>> &found) {
                                              if (!found || found->size() != m_facts->proposed.size())
                                                  return;
                                              auto facts = *m_facts;
                                              facts.proposed = *found;
                                              setFacts(std::move(facts));
                                          });
}

void ProductEditor::push(const QString &undoText, const JobChange &change, int mergeKey)
{
    if (canEdit() && !change.isEmpty())
        m_job->push(undoText, change, mergeKey);
}

void ProductEditor::levelBy(int thirds)
{
    if (!canEdit())
        return;
    const auto &row = *m_facts->frame;
    auto after = row;
    after.levelThirds = std::clamp(row.levelThirds + thirds, -kMostThirds, kMostThirds);
    if (after == row)
        return;
    JobChange change;
    change.frames.push_back({row, after});
    push(tr("Level"), change);
}

void ProductEditor::crop(const std::optional<PictureCrop> &crop)
{
    if (!canEdit() || m_facts->frame->crop == crop)
        return;
    auto after = *m_facts->frame;
    after.crop = crop;
    JobChange change;
    change.frames.push_back({*m_facts->frame, after});
    push(crop ? tr("Crop") : tr("No Crop"), change);
}

void ProductEditor::cropTo(const PixelPoint &from, const PixelPoint &to)
{
    if (!canEdit())
        return;
    const auto drawn = cropBetween(*m_facts->frame, from, to);
    drawn ? crop(drawn) : emit problem(tr("A crop needs two corners that lie apart."));
}

void ProductEditor::turnToLine(const PixelPoint &from, const PixelPoint &to)
{
    if (!canEdit())
        return;
    const auto levelled = cropLevelled(*m_facts->frame, from, to);
    levelled ? crop(levelled) : emit problem(tr("A line needs two points that lie apart."));
}

void ProductEditor::squareBy(const std::vector<PixelPoint> &corners)
{
    if (!canEdit() || corners.size() != 4)
        return;
    const auto squared = cropByCorners(*m_facts->frame, {corners[0], corners[1], corners[2], corners[3]});
    squared ? crop(squared)
            : emit problem(tr("Four corners are needed, clockwise from the thing's own top left one."));
}

std::vector<RowId> ProductEditor::framesToCarryCropTo() const
{
    std::vector<RowId> out;
    if (!isHere())
        return out;
    const auto &here = *m_facts->frame;
    for (const auto id : m_facts->run) {
        const auto *other = m_job->state().frame(id);
        if (!other || id == here.id || other->camera.capturedAt < here.camera.capturedAt)
            continue;
        const bool isAlike = other->width == here.width && other->height == here.height &&
                             other->orientation == here.orientation;
        if (!isAlike || other->setup != here.setup)
            continue;
        if (other->crop && !(other->crop == here.crop))
            break;
        out.push_back(id);
    }
    return out;
}

void ProductEditor::carryCrop()
{
    if (!canEdit())
        return;
    JobChange change;
    for (const auto id : framesToCarryCropTo()) {
        const auto &before = *m_job->state().frame(id);
        auto after = before;
        after.crop = m_facts->frame->crop;
        if (!(after == before))
            change.frames.push_back({before, after});
    }
    if (!change.isEmpty())
        push(tr("Carry the Crop Over the Run"), change);
}

void ProductEditor::serveBy(RowId chart)
{
    if (!canEdit() || (m_facts->frame->servedBy == chart && !m_facts->frame->calibration))
        return;
    JobChange change;
    auto after = *m_facts->frame;
    after.servedBy = chart;
    after.calibration = 0;
    change.frames.push_back({*m_facts->frame, after});
    push(chart ? tr("Calibrate from Another Chart") : tr("Calibrate from the Usual Chart"), change);
}

void ProductEditor::serveByCalibration(RowId calibration)
{
    if (!canEdit() || m_facts->frame->calibration == calibration)
        return;
    JobChange change;
    auto after = *m_facts->frame;
    after.calibration = calibration;
    change.frames.push_back({*m_facts->frame, after});
    push(tr("Another Calibration"), change);
}

void ProductEditor::serveByCalibration(const Calibration &calibration)
{
    if (canEdit())
        push(tr("Another Calibration"),
             servedByCalibration(m_job->state(), {m_facts->frame->id}, calibration));
}

const JobProbe *ProductEditor::probe(const std::string &name) const
{
    if (isHere())
        for (const auto *row : m_job->state().probesOf(m_facts->frame->id))
            if (row->place.name == name && !row->isProposed)
                return row;
    return nullptr;
}

std::string ProductEditor::freeName() const
{
    for (int number = 1;; ++number)
        if (const auto name = tr("probe %1").arg(number).toStdString(); !probe(name))
            return name;
}

void ProductEditor::lay(const ProbePlace &place, bool finished)
{
    if (!canEdit())
        return;
    auto inside = place;
    const double w = m_facts->frame->width, h = m_facts->frame->height;
    inside.radius = std::clamp(place.radius, 2.0, 0.2 * std::min(w, h));
    inside.x = std::clamp(place.x, inside.radius, w - inside.radius);
    inside.y = std::clamp(place.y, inside.radius, h - inside.radius);
    if (m_dragKey == 0)
        m_dragKey = JobDocument::newMergeKey();
    push(tr("Probe %1").arg(text(place.name)), probesInto(m_job->state(), {{m_facts->frame->id, inside}}, {}),
         m_dragKey);
    if (finished)
        m_dragKey = 0;
}

void ProductEditor::rename(const std::string &name, const std::string &to)
{
    const auto *row = probe(name);
    if (!row || to.empty() || to == name || !canEdit())
        return;
    if (probe(to)) {
        emit problem(tr("This frame already has a probe called %1.").arg(text(to)));
        return;
    }
    JobChange change;
    auto after = *row;
    after.place.name = to;
    change.probes.push_back({*row, after});
    push(tr("Name of a Probe"), change);
}

void ProductEditor::remove(const std::string &name)
{
    const auto *row = probe(name);
    if (!row)
        return;
    JobChange change;
    change.probes.push_back({*row, std::nullopt});
    push(tr("Remove Probe"), change);
}

void ProductEditor::confirm()
{
    if (!canEdit())
        return;
    JobChange change;
    for (const auto *row : m_job->state().probesOf(m_facts->frame->id))
        for (const auto &place : m_facts->proposed)
            if (row->isProposed && row->place.name == place.name)
                change.probes.push_back({*row, JobProbe{row->id, row->frame, place, false}});
    push(tr("Confirm Probes"), change);
}

void ProductEditor::dropProposed()
{
    if (!canEdit())
        return;
    JobChange change;
    for (const auto *row : m_job->state().probesOf(m_facts->frame->id))
        if (row->isProposed)
            change.probes.push_back({*row, std::nullopt});
    push(tr("Remove Proposed Probes"), change);
}

void ProductEditor::setTarget(const std::string &name, const std::optional<ProbeTarget> &target)
{
    JobChange change;
    if (target) {
        change = probesInto(m_job->state(), {}, {*target});
    } else {
        for (const auto &row : m_job->state().targets)
            if (targetNamed({row.target}, name))
                change.targets.push_back({row, std::nullopt});
    }
    push(target ? tr("Target of %1").arg(text(name)) : tr("No Target for %1").arg(text(name)), change);
}

void ProductEditor::loadTargets(const QString &file)
{
    const auto targets = wavechroma::loadTargets(file.toStdString());
    if (!targets) {
        emit problem(text(targets.error()));
        return;
    }
    push(tr("Targets from a File"), probesInto(m_job->state(), {}, *targets));
}

void ProductEditor::takeAsTarget(const std::string &name)
{
    const auto facts = m_facts; // other ones take their place once the target is set
    const auto &probes = facts->probes.probes;
    const auto one = std::find_if(probes.begin(), probes.end(),
                                  [&](const auto &p) { return p.place.name == name && p.lab; });
    if (one == probes.end())
        return;
    ProbeTarget target{name, *one->lab};
    if (const auto *had = targetNamed(facts->targets, name))
        target.tolerance = had->tolerance;
    setTarget(name, target);
}

std::vector<RowId> ProductEditor::framesToCarryTo() const
{
    if (!isHere() || m_facts->run.empty())
        return {};
    return {m_facts->run.begin() + m_facts->place + 1, m_facts->run.end()};
}

void ProductEditor::carryOn()
{
    carry(framesToCarryTo(), tr("Copy to Later Frames"), true);
}

void ProductEditor::carryToStation()
{
    const auto *station = isHere() ? m_job->stations().of(m_facts->frame->id) : nullptr;
    std::vector<RowId> frames;
    for (const auto id : station ? station->frames : std::vector<RowId>())
        if (id != m_facts->frame->id && m_job->state().frame(id)->part == FramePart::Product)
            frames.push_back(id);
    const auto crossed = otherLights(frames);
    carry(frames, tr("Copy to the Station"), false);
    if (!crossed.isEmpty())
        emit problem(
            tr("Some frames of this station are calibrated from another chart, or under another light. This "
               "balance may not suit them:\n%1")
                .arg(crossed.join('\n')));
}

QStringList ProductEditor::otherLights(const std::vector<RowId> &frames) const
{
    const auto &state = m_job->state();
    std::map<RowId, int> counts; // by chart
    for (const auto id : frames)
        ++counts[m_job->job().serving(id).chart];
    counts.erase(m_facts->serving.chart);
    QStringList out;
    for (const auto &[chart, count] : counts) {
        const auto *here = state.readingOf(m_facts->serving.chart), *there = state.readingOf(chart);
        const auto change = here && there ? lightChange(*here->reading, *there->reading) : std::nullopt;
        const auto differs = change ? text(words::lightChange(*change, spoken())) : QString();
        const auto many = text(words::filled("{n} {n|frame|frames}", {{"n", double(count)}}, spoken()));
        const auto *row = state.frame(chart);
        if (!row)
            out << tr("%1 without a chart").arg(many);
        else
            out << tr("%1 from the chart of %2: %3")
                       .arg(many, text(row->camera.capturedAt).mid(11, 5),
                            differs.isEmpty() ? change ? tr("the same light") : tr("its light is unknown")
                                              : differs);
    }
    const auto inDoubt = [&](RowId id) {
        const auto &doubts = m_job->job().serving(id).doubts;
        return std::any_of(doubts.begin(), doubts.end(),
                           [](const Doubt &d) { return d.code == "other-light"; });
    };
    const auto count = std::count_if(frames.begin(), frames.end(),
                                     [&](RowId id) { return inDoubt(id) != inDoubt(m_facts->frame->id); });
    if (count)
        out << text(
            words::filled("{n} {n|frame|frames} under another light, by what stands still in the picture",
                          {{"n", double(count)}}, spoken()));
    return out;
}

void ProductEditor::carry(const std::vector<RowId> &frames, const QString &undoText, bool withProbes)
{
    if (!canEdit())
        return;
    const auto &state = m_job->state();
    const auto places = placesOn(state, m_facts->frame->id);
    JobChange change;
    RowId next = nextId(state);
    for (const auto id : frames) {
        const auto &row = *state.frame(id);
        auto after = row;
        after.balance = m_facts->frame->balance;
        after.levelThirds = m_facts->frame->levelThirds;
        if (withProbes) {
            after.servedBy = m_facts->frame->servedBy;
            after.calibration = m_facts->frame->calibration;
        }
        if (!(after == row))
            change.frames.push_back({row, after});
        const auto own = state.probesOf(id);
        for (const auto &place : places) {
            const bool has = std::any_of(own.begin(), own.end(),
                                         [&](const JobProbe *p) { return p->place.name == place.name; });
            if (withProbes && !has)
                change.probes.push_back({std::nullopt, JobProbe{next++, id, place, true}});
        }
    }
    push(undoText, change);
}

RowId ProductEditor::neighbour(int by) const
{
    const int at = m_facts->place + by;
    return at >= 0 && at < int(m_facts->run.size()) ? m_facts->run[size_t(at)] : 0;
}

QString nameOf(const OtherVersion &version)
{
    using Kind = OtherVersion::Kind;
    switch (version.kind) {
    case Kind::BalanceAlone:
        return ProductEditor::tr("white balance alone");
    case Kind::OtherChart:
        return ProductEditor::tr("chart of %1").arg(text(version.what).mid(11, 5));
    case Kind::OtherColour:
        return ProductEditor::tr("colour by %1").arg(text(version.what));
    case Kind::OtherBody:
        return ProductEditor::tr("colours of %1").arg(text(version.what));
    case Kind::OtherSetup:
        return ProductEditor::tr("calibration of %1").arg(text(version.what));
    default:
        return ProductEditor::tr("the file's own picture");
    }
}

std::vector<NamedVersion> ProductEditor::others() const
{
    std::vector<NamedVersion> out;
    if (isHere())
        for (const auto &version : otherVersions(m_job->job(), m_facts->frame->id))
            out.push_back({nameOf(version), version.calibration});
    return out;
}

} // namespace wavechroma::app
