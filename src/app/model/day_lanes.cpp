#include "app/model/day_lanes.h"

#include "core/base/number_text.h"
#include "core/capture/compare_frames.h"
#include "core/tasks/job_tasks.h"

#include <QDateTime>
#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace wavechroma::app {

namespace {

constexpr qint64 kBracketSeconds = 90; ///< from one frame of a bracket to the next

/// Where a body hides two modules whose lens has no name, their sizes tell them apart.
bool sameStation(const JobFrame &a, const JobFrame &b)
{
    const auto sides = [](const JobFrame &f) { return std::minmax(f.width, f.height); };
    return samePair(a.camera, b.camera) && (!a.camera.lens.empty() || sides(a) == sides(b));
}

QDateTime timeOf(const JobFrame &frame)
{
    return QDateTime::fromString(QString::fromStdString(frame.camera.capturedAt), Qt::ISODate);
}

std::string clockOf(const JobFrame &frame)
{
    const auto &at = frame.camera.capturedAt;
    return at.size() >= 16 ? at.substr(11, 5) : at;
}

std::string stopMessage(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.severity == Severity::Stop)
            return check.message;
    return {};
}

std::vector<Bracket> bracketsOf(const JobState &state, const Lane &lane)
{
    std::vector<Bracket> out;
    for (size_t i = 0; i < lane.frames.size();) {
        size_t end = i + 1;
        const auto isNext = [&](const JobFrame &a, const JobFrame &b) {
            const auto apart = timeOf(a).secsTo(timeOf(b));
            const auto stops = settingStops(b.camera, a.camera);
            return b.part == FramePart::Chart && apart >= 0 && apart <= kBracketSeconds && stops &&
                   std::abs(*stops) > 0.1;
        };
        if (lane.frames[i]->part == FramePart::Chart)
            while (end < lane.frames.size() && isNext(*lane.frames[end - 1], *lane.frames[end]))
                ++end;
        Bracket bracket;
        std::vector<const Reading *> readings;
        for (size_t k = i; k < end; ++k)
            // one that was set aside by hand, though nothing is wrong with it, is no longer to be chosen
            if (const auto *row = state.readingOf(lane.frames[k]->id);
                row && (!lane.frames[k]->setAside || row->reading.worst() == Severity::Stop)) {
                bracket.frames.push_back(lane.frames[k]->id);
                readings.push_back(&row->reading);
            }
        if (readings.size() > 1) {
            const auto choice = chooseFromBracket(readings);
            bracket.chosen = bracket.frames[choice.index];
            bracket.reason = choice.reason;
            out.push_back(bracket);
        }
        i = end;
    }
    return out;
}

/// The charts that speak for the lane, in time order: not set aside, and of a bracket only the chosen one.
std::vector<const JobFrame *> speakingCharts(const Lane &lane)
{
    std::vector<const JobFrame *> out;
    for (const auto *frame : lane.frames) {
        if (frame->part != FramePart::Chart || frame->setAside)
            continue;
        const bool passedOver =
            std::any_of(lane.brackets.begin(), lane.brackets.end(), [&](const Bracket &b) {
                return b.chosen != frame->id &&
                       std::find(b.frames.begin(), b.frames.end(), frame->id) != b.frames.end();
            });
        if (!passedOver)
            out.push_back(frame);
    }
    return out;
}

/// What the light did from one chart to the next; empty when it held.
std::string changeBetween(const JobState &state, RowId before, RowId after)
{
    const auto *then = state.readingOf(before), *now = state.readingOf(after);
    const auto change = then && now ? lightChange(then->reading, now->reading) : std::nullopt;
    return change ? wordsFor(*change) : std::string();
}

Answer laneAnswer(const JobState &state, const Lane &lane)
{
    Answer answer;
    const auto charts = speakingCharts(lane);
    if (!charts.empty()) {
        answer = answerOf(state, charts.back()->id);
        for (const auto &bracket : lane.brackets)
            if (bracket.chosen == answer.frame)
                answer.reason += ", best of " + std::to_string(bracket.frames.size());
        if (charts.size() > 1 && answer.kind != AnswerKind::Spoilt)
            if (const auto change = changeBetween(state, charts[charts.size() - 2]->id, charts.back()->id);
                !change.empty()) {
                answer.kind = AnswerKind::Poor;
                answer.headline = "The light moved";
                answer.reason = change + " since " + clockOf(*charts[charts.size() - 2]);
            }
        return answer;
    }
    int waiting = 0;
    for (const auto *frame : lane.frames) {
        waiting += frame->part == FramePart::Product;
        if (frame->part == FramePart::Chart) // a spoilt one answers only when there is no other
            answer = answerOf(state, frame->id);
    }
    if (answer.kind == AnswerKind::NotAsked) {
        answer.headline = "Not asked";
        answer.reason = waiting == 0   ? "no chart yet"
                        : waiting == 1 ? "1 frame waits for a chart"
                                       : std::to_string(waiting) + " frames wait for a chart";
    }
    return answer;
}

} // namespace

std::optional<Proof> proofOf(const JobState &state, RowId frame, const std::string &model)
{
    const auto *reading = state.readingOf(frame);
    const auto *calibration = state.calibrationOf(frame, model);
    if (!reading || !calibration)
        return std::nullopt;
    const auto proof = proveReading(calibration->calibration, reading->reading);
    return proof ? std::optional(*proof) : std::nullopt;
}

Answer answerOf(const JobState &state, RowId frame)
{
    Answer answer;
    answer.frame = frame;
    const auto *reading = state.readingOf(frame);
    if (!reading)
        return answer;
    if (const auto stop = stopMessage(reading->reading); !stop.empty()) {
        answer.kind = AnswerKind::Spoilt;
        answer.headline = "Shoot again";
        answer.reason = stop;
        return answer;
    }
    const auto proof = proofOf(state, frame, modelFor(state, frame));
    if (!proof) {
        answer.kind = AnswerKind::Spoilt;
        answer.headline = "No calibration";
        answer.reason = "too few patches can be used";
        return answer;
    }
    const bool good = passes(*proof, sheetOf(state).proof);
    answer.kind = good ? AnswerKind::Good : AnswerKind::Poor;
    answer.headline = (good ? "Good, ΔE " : "Look again, ΔE ") + fixedText(proof->summary.mean, 1);
    answer.reason = "worst " + proof->worst + " " + fixedText(proof->summary.max, 1);
    return answer;
}

std::vector<Lane> lanesOf(const JobState &state)
{
    std::vector<std::vector<Lane>> bySetup(state.setups.size());
    std::map<RowId, size_t> place;
    for (size_t i = 0; i < state.setups.size(); ++i)
        place[state.setups[i].id] = i;
    for (const auto &frame : state.frames) {
        const auto setup = place.find(frame.setup);
        if (setup == place.end())
            continue;
        auto &lanes = bySetup[setup->second];
        auto at = std::find_if(lanes.begin(), lanes.end(),
                               [&](const Lane &l) { return sameStation(*l.frames.front(), frame); });
        if (at == lanes.end())
            at = lanes.insert(lanes.end(), Lane{frame.setup, frame.camera, {}, {}, {}});
        at->frames.push_back(&frame);
    }
    std::vector<Lane> out;
    for (size_t i = 0; i < bySetup.size(); ++i) {
        for (auto &lane : bySetup[i]) {
            std::stable_sort(lane.frames.begin(), lane.frames.end(), [](const auto *a, const auto *b) {
                return a->camera.capturedAt < b->camera.capturedAt;
            });
            lane.brackets = bracketsOf(state, lane);
            lane.answer = laneAnswer(state, lane);
            out.push_back(std::move(lane));
        }
        if (bySetup[i].empty())
            out.push_back(Lane{state.setups[i].id, {}, {}, {}, {}}); // an empty setup still has its band
    }
    return out;
}

ServingChart chartServing(const JobState &state, const Lane &lane, const JobFrame &frame)
{
    ServingChart serving;
    const JobFrame *before = nullptr, *after = nullptr;
    for (const auto *chart : speakingCharts(lane)) {
        if (chart->camera.capturedAt <= frame.camera.capturedAt)
            before = chart;
        else if (!after)
            after = chart;
    }
    const auto *chart = before ? before : after;
    if (!chart) {
        const bool elsewhere = std::any_of(state.frames.begin(), state.frames.end(), [&](const JobFrame &f) {
            return f.setup == frame.setup && f.part == FramePart::Chart && !f.setAside;
        });
        serving.warning = elsewhere ? "No chart for this camera and lens under this light."
                                    : "No chart under this light yet.";
        return serving;
    }
    serving.frame = chart->id;
    if (!before)
        serving.warning = "Its chart was shot after it, at " + clockOf(*chart) + ".";
    else if (chart->camera.iso != frame.camera.iso)
        serving.warning =
            fmt::format("Shot at ISO {:g}, its chart at ISO {:g}.", frame.camera.iso, chart->camera.iso);
    else if (after)
        if (const auto change = changeBetween(state, before->id, after->id); !change.empty())
            serving.warning = fmt::format("By the chart at {} the light was {}.", clockOf(*after), change);
    return serving;
}

const Calibration *calibrationFor(const JobState &state, RowId frame)
{
    if (const auto *own = state.calibrationOf(frame, modelFor(state, frame)))
        return &own->calibration;
    for (const auto &lane : lanesOf(state))
        for (const auto *one : lane.frames)
            if (one->id == frame)
                if (const auto chart = chartServing(state, lane, *one).frame;
                    const auto *row = state.calibrationOf(chart, modelFor(state, chart)))
                    return &row->calibration;
    return nullptr;
}

RowId frameToOpen(const JobState &state)
{
    RowId any = 0, good = 0;
    for (const auto &lane : lanesOf(state))
        for (const auto *frame : lane.frames)
            if (frame->part == FramePart::Chart) {
                any = frame->id;
                if (!frame->setAside)
                    good = frame->id;
            }
    return good ? good : any;
}

} // namespace wavechroma::app
