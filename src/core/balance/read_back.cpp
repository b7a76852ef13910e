#include "core/balance/read_back.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kWithin = 3; // deviations of noise that a cast may be

bool isCube(const ChartDefinition &chart)
{
    return chart.id == "grey-cube";
}

/// The channel that departs most from the mean of all three, and by how much.
void describeCast(NeutralState &state)
{
    const auto &balanced = state.balanced;
    const double mean = (balanced[0] + balanced[1] + balanced[2]) / 3;
    for (size_t c = 1; c < 3; ++c)
        if (std::abs(balanced[c] - mean) > std::abs(balanced[state.channel] - mean))
            state.channel = c;
    state.departure = balanced[state.channel] / mean - 1;
}

/// Noise of a patch's balanced channels against each other, as a share.
double doubtOf(const PatchReading &p)
{
    const double n = std::max(4, p.count) / 4.0;
    const auto share = [&](double sd, double mean) { return mean > 0 ? sd * sd / (mean * mean * n) : 0; };
    return std::sqrt(share(p.sd.r, p.mean.r) + share(p.sd.g, p.mean.g) / 2 + share(p.sd.b, p.mean.b)) * 2 / 3;
}

std::string faceOf(const std::string &id)
{
    return id.size() > 1 ? id.substr(1) : "";
}

NeutralState::Why reasonFor(const NeutralState &state, const ChartDefinition &chart, const Balance &balance)
{
    using Why = NeutralState::Why;
    if (state.cast < 0.0005)
        return Why::Neutral;
    if (state.source)
        return Why::Source;
    if (state.cast <= kWithin * state.doubt)
        return Why::Noise;
    if (state.cast < 0.005)
        return Why::Small;
    const bool otherFace = isCube(chart) && !balance.source.patches.empty() &&
                           faceOf(balance.source.patches.front()) != faceOf(state.id);
    return otherFace ? Why::OtherFace : Why::OwnTint;
}

} // namespace

std::vector<NeutralState> readBack(const Reading &reading, const ChartDefinition &chart,
                                   const Balance &balance)
{
    std::vector<NeutralState> out;
    for (const auto &id : chart.neutral) {
        const auto *p = reading.patch(id);
        if (!p)
            continue;
        NeutralState state;
        state.id = id;
        state.balanced = {p->mean.r * balance.multipliers[0], p->mean.g, p->mean.b * balance.multipliers[2]};
        state.usable = isUsable(*p);
        state.source = std::count(balance.source.patches.begin(), balance.source.patches.end(), id) > 0;
        const double mean = (state.balanced[0] + state.balanced[1] + state.balanced[2]) / 3;
        for (const double v : state.balanced)
            state.cast = std::max(state.cast, mean > 0 ? std::abs(v / mean - 1) : 0);
        state.doubt = doubtOf(*p);
        describeCast(state);
        if (!state.usable)
            state.why = p->clipped >= kMostClipped ? NeutralState::Why::Clipped : NeutralState::Why::Dark;
        else
            state.why = reasonFor(state, chart, balance);
        out.push_back(state);
    }
    return out;
}

std::optional<OtherFace> otherFaceOf(const Reading &reading, const ChartDefinition &chart,
                                     const Balance &balance)
{
    if (!isCube(chart) || balance.source.patches.size() != 1)
        return std::nullopt;
    const auto &chosen = balance.source.patches.front();
    const std::string other = chosen.substr(0, 1) + (faceOf(chosen) == "1" ? "2" : "1");
    const auto *here = reading.patch(chosen), *there = reading.patch(other);
    if (!here || !there || !isUsable(*there))
        return std::nullopt;
    // balanced by the other face, a grey under the key light would come out with the ratio of the two
    const double red = (here->mean.r / here->mean.g) / (there->mean.r / there->mean.g),
                 blue = (here->mean.b / here->mean.g) / (there->mean.b / there->mean.g);
    return OtherFace{chosen, other, std::log2(here->mean.g / there->mean.g), std::log2(red / blue)};
}

PresetVerdict verdictOn(const PresetFacts &preset, const CameraFacts &frame)
{
    using Kind = PresetVerdict::Kind;
    const auto &camera = preset.camera;
    if (camera.make != frame.make || camera.model != frame.model)
        return {Kind::OtherModel, preset.name, camera.model, frame.model};
    if (camera.lens != frame.lens)
        return {Kind::OtherLens, preset.name, camera.lens, frame.lens};
    if (camera.serial != frame.serial)
        return {Kind::OtherBody, preset.name, "", ""};
    return {};
}

} // namespace wavechroma
