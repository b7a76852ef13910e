#include "core/station/stations.h"

#include "core/base/iso_time.h"
#include "core/base/number_text.h"
#include "core/capture/compare_frames.h"
#include "core/proof/proof.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace wavechroma {

namespace {

constexpr double kBracketSeconds = 90; ///< from one frame of a bracket to the next
constexpr double kOtherSettings = 0.1; ///< stops

/// Frames at one setting, as fast as a held shutter makes them: times are told to the second.
bool isNextOfBurst(const JobFrame &a, const JobFrame &b)
{
    constexpr double kBurstSeconds = 1;
    const auto then = secondsOf(a.camera.capturedAt), now = secondsOf(b.camera.capturedAt);
    const auto stops = settingStops(b.camera, a.camera);
    return b.part == FramePart::Chart && then && now && *now >= *then && *now - *then <= kBurstSeconds &&
           stops && std::abs(*stops) < kOtherSettings && b.camera.iso == a.camera.iso;
}

bool isNextOfBracket(const JobFrame &a, const JobFrame &b)
{
    const auto then = secondsOf(a.camera.capturedAt), now = secondsOf(b.camera.capturedAt);
    const auto stops = settingStops(b.camera, a.camera);
    return b.part == FramePart::Chart && then && now && *now >= *then && *now - *then <= kBracketSeconds &&
           stops && std::abs(*stops) > kOtherSettings && b.camera.iso == a.camera.iso;
}

/// Is something wrong with the shot that changes levels, so that they say nothing of the lamp?
bool hasOtherLevels(const Reading &reading)
{
    return std::any_of(reading.checks.begin(), reading.checks.end(), [](const Check &check) {
        return check.severity != Severity::Ok && rowOf(check.id).spoilsLevels;
    });
}

std::optional<LightChange> visibleChange(const JobReading *before, const JobReading *after)
{
    if (!before || !after || before->brief.chart != after->brief.chart || hasOtherLevels(before->brief) ||
        hasOtherLevels(after->brief))
        return std::nullopt;
    const auto change = lightChange(before->brief, after->brief);
    return change && change->visible.any() ? change : std::nullopt;
}

std::string nameOf(const JobState &state, const Station &station)
{
    std::string name;
    for (const auto &setup : state.setups)
        if (setup.id == station.setup)
            name = setup.title;
    const auto &c = station.camera;
    const auto lens = c.lens.empty() && c.focalMm > 0 ? shortestText(c.focalMm) + " mm" : c.lens;
    for (const auto &part : {c.model, lens, std::string(c.isRendered ? "pictures" : "")})
        if (!part.empty())
            name += (name.empty() ? "" : ", ") + part;
    return name;
}

/// What fails in a measure beside ΔE2000, where the sheet sets limits in one.
std::optional<HeldErrors> overInAnother(const ProofLimits &limits, const JobCalibration &row)
{
    const bool isAsked = limits.de94.areSet() || limits.de94Textiles.areSet() || limits.de76.areSet();
    if (!isAsked || row.calibration.fault())
        return {};
    for (const auto &held : heldTo(limits, *row.calibration))
        if (held.measure != DifferenceMeasure::De2000 && !held.hold())
            return held;
    return {};
}

} // namespace

const Check *mainCheck(const std::vector<Check> &checks, Severity severity, const std::string &worstPatch)
{
    const Check *most = nullptr;
    double best = -1;
    for (const auto &check : checks) {
        if (check.severity != severity)
            continue;
        const bool namesWorst =
            std::find(check.patches.begin(), check.patches.end(), worstPatch) != check.patches.end();
        const double over = (check.limit > 0 ? check.value / check.limit : 1) * (namesWorst ? 3 : 1);
        if (over > best) {
            best = over;
            most = &check;
        }
    }
    return most;
}

Parts partsFor(const JobState &state, RowId frame)
{
    const auto rows = state.calibrationsOf(frame);
    for (const auto *row : rows)
        if (row->brief.isWhiteAlone()) // has no others, whatever the job asks for
            return row->brief.parts;
    if (!isAuto(state.title.parts))
        return state.title.parts;
    const auto common = commonPartsFor(state, frame);
    const JobCalibration *own = nullptr, *shared = nullptr;
    for (const auto *row : rows) {
        own = row->brief.recommended ? row : own;
        shared = common && row->brief.parts == *common && row->brief.isSound ? row : shared;
    }
    if (shared && !(own && isMuchBetter(own->brief.parts, own->brief.unseen, shared->brief.parts,
                                        shared->brief.unseen)))
        return *common;
    return own ? own->brief.parts : plainParts();
}

std::optional<Parts> commonPartsFor(const JobState &state, RowId frame)
{
    const auto *row = state.frame(frame);
    return row ? state.common[row->camera.isRendered ? 1 : 0] : std::nullopt;
}

ToleranceSheet sheetOf(const JobState &state)
{
    if (state.title.tolerance.empty())
        return {};
    const auto sheet = toleranceFrom(state.title.tolerance, "tolerance sheet");
    return sheet ? *sheet : ToleranceSheet{};
}

Stations::Stations(const JobState &state)
{
    build(state);
}

Stations::Stations(const Stations &other)
    : m_readingOf(other.m_readingOf), m_sheet(other.m_sheet), m_common(other.m_common)
{
    std::unordered_map<const Station *, const Station *> own;
    for (const auto &[key, member] : other.m_members) {
        m_members[key] = std::make_shared<Member>(*member);
        own[&member->station] = &m_members[key]->station;
    }
    for (const auto *station : other.m_order)
        m_order.push_back(own.at(station));
    for (const auto &[frame, member] : other.m_ofFrame)
        m_ofFrame[frame] = m_members.at(member->key);
}

Stations &Stations::operator=(const Stations &other)
{
    return *this = Stations(other);
}

Stations::Key Stations::keyOf(const JobFrame &frame)
{
    const auto &c = frame.camera;
    std::string pair = c.make + '\n' + c.model + '\n' + c.serial + '\n' + c.lens;
    if (c.isRendered)
        pair += "\npicture"; // whose colours are not the sensor's any more
    if (c.lens.empty()) {
        pair += '\n' + std::to_string(tellingFocalLength(c));
        const auto [less, more] = std::minmax(frame.width, frame.height);
        pair += '\n' + std::to_string(less) + '\n' + std::to_string(more);
    }
    return {frame.setup, pair};
}

void Stations::build(const JobState &state)
{
    *this = {};
    m_sheet = sheetOf(state);
    m_common = state.common;
    for (const auto &row : state.readings)
        m_readingOf[row.frame] = row.id;
    for (const auto &frame : state.frames) {
        auto &member = m_members[keyOf(frame)];
        if (!member)
            member = std::make_shared<Member>(Member{keyOf(frame), frame.id, {}});
        member->station.frames.push_back(frame.id);
        m_ofFrame[frame.id] = member;
    }
    for (auto &[key, member] : m_members)
        rebuild(state, *member);
    order(state);
}

void Stations::update(const JobState &state, const JobChange &change)
{
    // Limits, the job's parts and the setups concern all of them.
    if (!change.titles.empty() || !change.setups.empty() || m_common != state.common)
        return build(state);
    std::set<Key> touched;
    for (const auto &row : change.readings) {
        if (row.after)
            m_readingOf[row.after->frame] = row.after->id;
        else
            m_readingOf.erase(row.before->frame);
        if (const auto at = m_ofFrame.find((row.after ? *row.after : *row.before).frame);
            at != m_ofFrame.end())
            touched.insert(at->second->key);
    }
    for (const auto &row : change.calibrations)
        if (const auto at = m_ofFrame.find((row.after ? *row.after : *row.before).frame);
            at != m_ofFrame.end())
            touched.insert(at->second->key);
    for (const auto &row : change.frames) {
        if (row.before)
            if (const auto at = m_ofFrame.find(row.before->id); at != m_ofFrame.end()) {
                std::erase(at->second->station.frames, row.before->id);
                touched.insert(at->second->key);
                m_ofFrame.erase(at);
            }
        if (!row.after)
            continue;
        const auto key = keyOf(*row.after);
        auto &member = m_members[key];
        if (!member)
            member = std::make_shared<Member>(Member{key, row.after->id, {}});
        member->station.frames.push_back(row.after->id);
        m_ofFrame[row.after->id] = member;
        touched.insert(key);
    }
    for (const auto &key : touched) {
        const auto at = m_members.find(key);
        if (at->second->station.frames.empty())
            m_members.erase(at);
        else
            rebuild(state, *at->second);
    }
    order(state);
}

/// All of a station from the ids of its frames.
void Stations::rebuild(const JobState &state, Member &member)
{
    std::vector<const JobFrame *> frames;
    for (const auto id : member.station.frames)
        if (const auto *frame = state.frame(id))
            frames.push_back(frame);
    std::sort(frames.begin(), frames.end(), [](const auto *a, const auto *b) { return a->id < b->id; });
    member.first = frames.front()->id;
    Station station;
    station.setup = member.key.setup;
    station.camera = frames.front()->camera;
    for (const auto *frame : frames)
        station.clock.add(frame->camera.capturedAt);
    std::stable_sort(frames.begin(), frames.end(), [&](const auto *a, const auto *b) {
        return station.clock.isBefore(a->camera.capturedAt, b->camera.capturedAt);
    });
    for (const auto *frame : frames)
        station.frames.push_back(frame->id);
    findBrackets(state, station);
    findSpeaking(state, station);
    findShownTime(state, station);
    answer(state, station);
    member.station = std::move(station);
}

const JobReading *Stations::readingOf(const JobState &state, RowId frame) const
{
    const auto id = m_readingOf.find(frame);
    if (id == m_readingOf.end())
        return nullptr;
    const auto at = std::lower_bound(state.readings.begin(), state.readings.end(), id->second,
                                     [](const JobReading &row, RowId wanted) { return row.id < wanted; });
    return at == state.readings.end() || at->id != id->second ? nullptr : &*at;
}

void Stations::addBracket(const JobState &state, Station &station, size_t from, size_t to) const
{
    Bracket bracket;
    std::vector<const Reading *> readings;
    for (size_t k = from; k < to; ++k) {
        // one that was set aside by hand, though nothing is wrong with it, is no longer to be chosen
        const auto *row = readingOf(state, station.frames[k]);
        if (row && (!state.frame(station.frames[k])->setAside || row->brief.worst() == Severity::Stop)) {
            bracket.frames.push_back(station.frames[k]);
            readings.push_back(&row->brief);
        }
    }
    if (readings.size() < 2)
        return;
    bracket.choice = chooseFromBracket(readings);
    bracket.chosen = bracket.frames[bracket.choice.index];
    station.brackets.push_back(bracket);
}

void Stations::findBrackets(const JobState &state, Station &station) const
{
    const auto frameAt = [&](size_t i) -> const JobFrame & { return *state.frame(station.frames[i]); };
    for (size_t i = 0; i < station.frames.size();) {
        size_t end = i + 1;
        for (const auto isNext : {isNextOfBracket, isNextOfBurst})
            while (end < station.frames.size() && frameAt(i).part == FramePart::Chart &&
                   (end == i + 1 || isNext(frameAt(i), frameAt(i + 1))) && // a bracket or a burst, not both
                   isNext(frameAt(end - 1), frameAt(end)))
                ++end;
        if (end > i + 1)
            addBracket(state, station, i, end);
        i = end;
    }
}

bool Stations::isSource(const JobFrame &frame) const
{
    return frame.part == FramePart::Chart || (frame.part == FramePart::Grey && m_readingOf.count(frame.id));
}

/// The charts and greys that speak for the station: not set aside, and of a bracket only the chosen one.
void Stations::findSpeaking(const JobState &state, Station &station) const
{
    std::set<RowId> passedOver;
    for (const auto &bracket : station.brackets)
        for (const auto frame : bracket.frames)
            if (frame != bracket.chosen)
                passedOver.insert(frame);
    for (const auto id : station.frames) {
        const auto *frame = state.frame(id);
        if (isSource(*frame) && !frame->setAside && !passedOver.count(id))
            station.speaking.push_back(id);
        const auto all = isSource(*frame) ? state.calibrationsOf(id) : std::vector<const JobCalibration *>();
        if (std::any_of(all.begin(), all.end(), [](const auto *row) { return row->brief.isWhiteAlone(); }))
            station.greys.push_back(id);
        const auto *reading = isSource(*frame) && frame->setAside ? readingOf(state, id) : nullptr;
        if (reading && reading->brief.worst() == Severity::Stop && !passedOver.count(id) &&
            state.calibrationOf(id, partsFor(state, id)))
            station.refused.push_back(id);
    }
    if (station.speaking.empty() && station.refused.empty())
        station.speaking = station.greys = fieldsOf(state, station);
    for (const auto id : station.frames)
        if (const auto *frame = state.frame(id);
            isSource(*frame) && (!frame->setAside || !station.newestChart || station.isNewestSetAside)) {
            station.newestChart = id;
            station.isNewestSetAside = frame->setAside;
        }
    for (size_t i = 1; i < station.speaking.size(); ++i)
        station.changes.push_back(
            visibleChange(readingOf(state, station.speaking[i - 1]), readingOf(state, station.speaking[i])));
}

/// Even fields that say what white is: a disc before the lens, or a flat. Where nothing else does, they do.
std::vector<RowId> Stations::fieldsOf(const JobState &state, const Station &station) const
{
    std::vector<RowId> out;
    for (const auto id : station.frames)
        if (const auto *frame = state.frame(id); frame->part == FramePart::Flat && !frame->setAside &&
                                                 m_readingOf.count(id) &&
                                                 state.calibrationOf(id, partsFor(state, id)))
            out.push_back(id);
    return out;
}

const JobReading *Stations::readingToShow(const JobState &state, RowId frame) const
{
    const auto *row = state.frame(frame);
    const auto *station = of(frame);
    const bool isFlat = row && row->part == FramePart::Flat;
    const bool speaks =
        station && std::find(station->greys.begin(), station->greys.end(), frame) != station->greys.end();
    return isFlat && !speaks ? nullptr : readingOf(state, frame);
}

/// From each of its charts to the next, those of a bracket that were not chosen too.
void Stations::findShownTime(const JobState &state, Station &station) const
{
    const Reading *before = nullptr;
    for (const auto id : station.frames) {
        const auto *row = state.frame(id)->part == FramePart::Chart ? readingOf(state, id) : nullptr;
        if (!row || hasOtherLevels(row->brief))
            continue;
        if (before)
            station.shownTime = together(station.shownTime, shown(shownBy(*before, row->brief)));
        before = &row->brief;
    }
}

ExposureTime Stations::exposureTimeUnder(const JobState &state, RowId setup) const
{
    for (const auto &row : state.setups)
        if (const auto time = wavechroma::exposureTimeUnder(row.lampKind);
            row.id == setup && time != ExposureTime::Unknown)
            return time;
    return shownTime(setup);
}

ExposureTime Stations::shownTime(RowId setup) const
{
    ShownTime out;
    for (const auto *station : m_order)
        if (station->setup == setup)
            out = together(out, station->shownTime);
    return exposureTimeBy(out);
}

std::optional<Doubt> Stations::doubtOfLevel(const JobState &state, RowId id) const
{
    const auto *frame = state.frame(id), *chart = state.frame(servingOf(state, id).chart);
    if (!frame || !chart || exposureTimeUnder(state, frame->setup) != ExposureTime::Unknown)
        return std::nullopt;
    const double ratio = frame->camera.exposureSeconds / chart->camera.exposureSeconds;
    constexpr double kSameTime = 0.02; // steps of a dial are a third of a stop
    const bool areKnown = frame->camera.exposureSeconds > 0 && chart->camera.exposureSeconds > 0;
    return areKnown && std::abs(ratio - 1) > kSameTime ? std::optional(Doubt{"lamp-unknown"}) : std::nullopt;
}

void Stations::answer(const JobState &state, Station &station) const
{
    auto &out = station.answer;
    if (station.speaking.empty()) {
        for (const auto id : station.frames) {
            const auto part = state.frame(id)->part;
            out.waiting += part == FramePart::Product;
            if (part == FramePart::Chart) { // a spoilt one answers only when there is no other
                const int waiting = out.waiting;
                out = answerOf(state, id);
                out.waiting = waiting;
            }
        }
        return;
    }
    out = answerOf(state, candidatesOf(station).back());
    for (const auto &bracket : station.brackets)
        if (bracket.chosen == out.frame)
            out.bestOf = int(bracket.frames.size());
    if (!station.changes.empty() && station.changes.back() && out.state != Answer::State::ShootAgain) {
        out.state = Answer::State::LookAgain;
        out.why = Answer::Why::LightMoved;
        out.change = station.changes.back();
        out.since = state.frame(station.speaking[station.speaking.size() - 2])->camera.capturedAt;
    }
}

void Stations::order(const JobState &state)
{
    std::map<RowId, std::vector<Member *>> bySetup;
    for (const auto &[key, member] : m_members)
        if (!member->station.frames.empty())
            bySetup[key.setup].push_back(member.get());
    m_order.clear();
    std::map<std::string, int> named;
    const auto add = [&](Station &station) {
        station.name = nameOf(state, station);
        if (const int times = ++named[station.name]; times > 1)
            station.name += " (" + std::to_string(times) + ")";
        m_order.push_back(&station);
    };
    for (const auto &setup : state.setups) {
        auto &members = bySetup[setup.id];
        std::sort(members.begin(), members.end(),
                  [](const auto *a, const auto *b) { return a->first < b->first; });
        for (auto *member : members)
            add(member->station);
        if (!members.empty())
            continue;
        auto &empty = m_members[{setup.id, ""}]; // an empty setup still has its band
        if (!empty)
            empty = std::make_shared<Member>(Member{{setup.id, ""}, 0, {}});
        empty->station.setup = setup.id;
        add(empty->station);
    }
}

const Station *Stations::of(RowId frame) const
{
    const auto at = m_ofFrame.find(frame);
    return at == m_ofFrame.end() ? nullptr : &at->second->station;
}

Answer Stations::answerOf(const JobState &state, RowId frame) const
{
    Answer out;
    out.frame = frame;
    const auto *reading = readingOf(state, frame);
    if (!reading)
        return out;
    const auto &checks = reading->brief.checks;
    if (const auto *stop = mainCheck(checks, Severity::Stop)) {
        out.state = Answer::State::ShootAgain;
        out.why = Answer::Why::Stopped;
        out.stop = *stop;
        return out;
    }
    const auto *row = state.calibrationOf(frame, partsFor(state, frame));
    if (row && row->brief.isWhiteAlone()) {
        out.why = Answer::Why::WhiteAlone;
        if (const auto *warning = mainCheck(checks, Severity::Warn))
            out.warning = *warning;
        out.state = out.warning ? Answer::State::LookAgain : Answer::State::Good;
        return out;
    }
    if (!row || row->brief.worstPatch.empty()) {
        out.state = Answer::State::ShootAgain;
        out.why = Answer::Why::NoCalibration;
        return out;
    }
    out.mean = row->brief.unseen > 0 ? row->brief.unseen : row->brief.mean;
    out.worst = row->brief.worst;
    out.patch = row->brief.worstPatch;
    if (const auto *warning = mainCheck(checks, Severity::Warn, out.patch))
        out.warning = *warning;
    out.over = overInAnother(m_sheet.proof, *row);
    const bool good = !out.over && out.mean <= m_sheet.proof.mean && out.worst <= m_sheet.proof.patch;
    out.state = good ? Answer::State::Good : Answer::State::LookAgain;
    out.why = good ? Answer::Why::WithinLimits : Answer::Why::OverLimits;
    return out;
}

std::vector<RowId> Stations::runOf(const JobState &state, RowId id) const
{
    const auto *station = of(id);
    const auto isProduct = [&](RowId frame) { return state.frame(frame)->part == FramePart::Product; };
    if (!station || !isProduct(id))
        return {};
    const auto &frames = station->frames;
    const auto at = std::find(frames.begin(), frames.end(), id);
    auto from = at, to = at;
    while (from != frames.begin() && isProduct(*std::prev(from)))
        --from;
    while (to != frames.end() && isProduct(*to))
        ++to;
    return {from, to};
}

const JobCalibration *Stations::calibrationFor(const JobState &state, RowId frame) const
{
    return calibrationBy(state, servingOf(state, frame), frame);
}

const JobCalibration *calibrationBy(const JobState &state, const Serving &serving, RowId frame)
{
    if (serving.calibration)
        return state.calibration(serving.calibration);
    const auto speaks = serving.chart ? serving.chart : frame;
    return state.calibrationOf(speaks, partsFor(state, speaks));
}

RowId Stations::frameToOpen() const
{
    RowId any = 0, good = 0;
    for (const auto *station : m_order)
        if (station->newestChart)
            (station->isNewestSetAside ? any : good) = station->newestChart;
    return good ? good : any;
}

} // namespace wavechroma
