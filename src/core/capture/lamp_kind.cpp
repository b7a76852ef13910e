#include "core/capture/lamp_kind.h"

#include "core/capture/compare_frames.h"

#include <array>
#include <cmath>

namespace wavechroma {

namespace {

constexpr std::array<std::pair<LampKind, const char *>, 7> kNames{{{LampKind::Unknown, "unknown"},
                                                                   {LampKind::Strobe, "strobe"},
                                                                   {LampKind::Led, "led"},
                                                                   {LampKind::Tube, "tube"},
                                                                   {LampKind::Tungsten, "tungsten"},
                                                                   {LampKind::Daylight, "daylight"},
                                                                   {LampKind::Mixed, "mixed"}}};

constexpr double kLeastTimeStops = 0.5, kMostMiss = 0.25; ///< of the difference of the times

} // namespace

const std::vector<LampKind> &lampKinds()
{
    static const std::vector<LampKind> all = [] {
        std::vector<LampKind> out;
        for (const auto &[kind, name] : kNames)
            out.push_back(kind);
        return out;
    }();
    return all;
}

const char *nameOf(LampKind kind)
{
    return kNames[size_t(kind)].second;
}

std::optional<LampKind> lampKindFrom(const std::string &text)
{
    for (const auto &[kind, name] : kNames)
        if (text == name)
            return kind;
    return std::nullopt;
}

ExposureTime exposureTimeUnder(LampKind kind)
{
    switch (kind) {
    case LampKind::Strobe:
        return ExposureTime::DoesNotCount;
    case LampKind::Led:
    case LampKind::Tube:
    case LampKind::Tungsten:
    case LampKind::Daylight:
        return ExposureTime::Counts;
    default:
        return ExposureTime::Unknown;
    }
}

ExposureTime shownBy(const Reading &before, const Reading &after)
{
    const auto level = levelStops(before, after);
    const auto withTime = settingStops(after.camera, before.camera);
    if (!level || !withTime)
        return ExposureTime::Unknown;
    const double time = std::log2(after.camera.exposureSeconds / before.camera.exposureSeconds);
    if (std::abs(time) < kLeastTimeStops)
        return ExposureTime::Unknown;
    const double most = kMostMiss * std::abs(time);
    return std::abs(*level - *withTime) < most            ? ExposureTime::Counts
           : std::abs(*level - (*withTime - time)) < most ? ExposureTime::DoesNotCount
                                                          : ExposureTime::Unknown;
}

ShownTime together(const ShownTime &a, const ShownTime &b)
{
    return {a.counts || b.counts, a.doesNotCount || b.doesNotCount};
}

ShownTime shown(ExposureTime once)
{
    return {once == ExposureTime::Counts, once == ExposureTime::DoesNotCount};
}

ExposureTime exposureTimeBy(const ShownTime &all)
{
    return all.counts == all.doesNotCount ? ExposureTime::Unknown
           : all.counts                   ? ExposureTime::Counts
                                          : ExposureTime::DoesNotCount;
}

} // namespace wavechroma
