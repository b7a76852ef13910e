#include "app/model/day_lanes.h"

#include "core/base/number_text.h"
#include "core/tasks/chart_tasks.h"

#include <algorithm>

namespace wavechroma::app {

namespace {

bool samePair(const CameraFacts &a, const CameraFacts &b)
{
    return a.make == b.make && a.model == b.model && a.serial == b.serial && a.lens == b.lens;
}

std::string stopMessage(const Reading &reading)
{
    for (const auto &check : reading.checks)
        if (check.severity == Severity::Stop)
            return check.message;
    return {};
}

Answer laneAnswer(const JobState &state, const Lane &lane)
{
    Answer answer;
    int waiting = 0;
    for (const auto *frame : lane.frames) {
        waiting += frame->part == FramePart::Product;
        if (frame->part != FramePart::Chart)
            continue;
        // The newest chart that was not set aside answers; a spoilt one only when there is no other.
        if (!frame->setAside || answer.kind == AnswerKind::NotAsked || answer.kind == AnswerKind::Spoilt)
            answer = answerOf(state, frame->id);
    }
    if (answer.kind == AnswerKind::NotAsked) {
        answer.headline = "Not asked";
        answer.reason = waiting == 1 ? "1 frame waits for a chart" : std::to_string(waiting) + " frames wait for a chart";
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
    const auto proof = proofOf(state, frame, state.title.chosenModel);
    if (!proof) {
        answer.kind = AnswerKind::Spoilt;
        answer.headline = "No calibration";
        answer.reason = "too few patches can be used";
        return answer;
    }
    const bool good = passes(*proof);
    answer.kind = good ? AnswerKind::Good : AnswerKind::Poor;
    answer.headline = (good ? "Good, ΔE " : "Look again, ΔE ") + fixedText(proof->summary.mean, 1);
    answer.reason = "worst " + proof->worst + " " + fixedText(proof->summary.max, 1);
    return answer;
}

std::vector<Lane> lanesOf(const JobState &state)
{
    std::vector<Lane> lanes;
    for (const auto &setup : state.setups) {
        const size_t first = lanes.size();
        for (const auto &frame : state.frames) {
            if (frame.setup != setup.id)
                continue;
            auto at = std::find_if(lanes.begin() + ptrdiff_t(first), lanes.end(), [&](const Lane &l) { return samePair(l.camera, frame.camera); });
            if (at == lanes.end())
                at = lanes.insert(lanes.end(), Lane{setup.id, frame.camera, {}, {}});
            at->frames.push_back(&frame);
        }
        if (lanes.size() == first)
            lanes.push_back(Lane{setup.id, {}, {}, {}}); // an empty setup still has its band
    }
    for (auto &lane : lanes) {
        std::stable_sort(lane.frames.begin(), lane.frames.end(), [](const auto *a, const auto *b) { return a->camera.capturedAt < b->camera.capturedAt; });
        lane.answer = laneAnswer(state, lane);
    }
    return lanes;
}

const Calibration *calibrationFor(const JobState &state, RowId frame)
{
    const auto &model = state.title.chosenModel;
    if (const auto *own = state.calibrationOf(frame, model))
        return &own->calibration;
    for (const auto &lane : lanesOf(state))
        if (std::any_of(lane.frames.begin(), lane.frames.end(), [&](const auto *f) { return f->id == frame; }))
            if (const auto *row = state.calibrationOf(lane.answer.frame, model))
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
