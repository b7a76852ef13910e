#include "core/balance/read_back.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma {

namespace {

constexpr double kWithin = 3; // deviations of noise that a cast may be

bool isCube(const ChartDefinition &chart)
{
    return chart.id == "grey-cube";
}

std::string castWords(const Vector3 &balanced)
{
    const double mean = (balanced[0] + balanced[1] + balanced[2]) / 3;
    size_t most = 0;
    for (size_t c = 1; c < 3; ++c)
        if (std::abs(balanced[c] - mean) > std::abs(balanced[most] - mean))
            most = c;
    const bool more = balanced[most] > mean;
    const char *names[3][2] = {{"cyan", "red"}, {"magenta", "green"}, {"yellow", "blue"}};
    return percentText(std::abs(balanced[most] / mean - 1), 1) + " " + names[most][more];
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

std::string reasonFor(const NeutralState &state, const ChartDefinition &chart, const Balance &balance)
{
    if (state.source)
        return "";
    if (state.cast <= kWithin * state.doubt)
        return ", within its noise";
    if (state.cast < 0.005)
        return "";
    const bool otherFace = isCube(chart) && !balance.source.patches.empty() &&
                           faceOf(balance.source.patches.front()) != faceOf(state.id);
    return otherFace ? ": another light there" : ": its own tint";
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
        if (!state.usable)
            state.words = p->clipped >= kMostClipped ? "burnt out: its channels no longer tell its colour"
                                                     : "too dark to tell its colour";
        else
            state.words = state.cast < 0.0005 ? "neutral"
                                              : castWords(state.balanced) + reasonFor(state, chart, balance);
        out.push_back(state);
    }
    return out;
}

std::string otherFaceWords(const Reading &reading, const ChartDefinition &chart, const Balance &balance)
{
    if (!isCube(chart) || balance.source.patches.size() != 1)
        return {};
    const auto &chosen = balance.source.patches.front();
    const std::string other = chosen.substr(0, 1) + (faceOf(chosen) == "1" ? "2" : "1");
    const auto *here = reading.patch(chosen), *there = reading.patch(other);
    if (!here || !there || !isUsable(*there))
        return {};
    // balanced by the other face, a grey under the key light would come out with the ratio of the two
    const double red = (here->mean.r / here->mean.g) / (there->mean.r / there->mean.g),
                 blue = (here->mean.b / here->mean.g) / (there->mean.b / there->mean.g);
    const double warmth = std::log2(red / blue), stops = std::log2(here->mean.g / there->mean.g);
    const std::string level = std::abs(stops) < 0.1
                                  ? "as bright"
                                  : stopsText(std::abs(stops)) + (stops > 0 ? " darker" : " brighter");
    const std::string colour =
        std::abs(warmth) < 0.01
            ? "make no difference to the colour"
            : fmt::format("make everything on the key side {} ({} between red and blue)",
                          warmth > 0 ? "warmer" : "cooler", percentText(std::abs(std::exp2(warmth) - 1)));
    return fmt::format("{} is the key side's grey. The other face, {}, is {}; balancing by it would {}.",
                       chosen, other, level, colour);
}

PresetVerdict verdictOn(const PresetFacts &preset, const CameraFacts &frame)
{
    const auto &camera = preset.camera;
    const std::string name = preset.name.empty() ? "This preset" : "\"" + preset.name + "\"";
    if (camera.make != frame.make || camera.model != frame.model)
        return {fmt::format("{} was made with a {}, this frame is a {}'s: its channels mean other colours.",
                            name, camera.model.empty() ? "camera without a name" : camera.model, frame.model),
                ""};
    if (camera.lens != frame.lens)
        return {"", fmt::format("{} was made with the lens {}; lenses have casts of their own.", name,
                                camera.lens.empty() ? "(unknown)" : camera.lens)};
    if (camera.serial != frame.serial)
        return {"", fmt::format("{} was made with another body of this model.", name)};
    return {};
}

} // namespace wavechroma
