#include "core/words/limit_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

namespace wavechroma::words {

namespace {

constexpr const char *kExposure = words::said("Is the exposure right?"),
                     *kLight = words::said("Is the light even and clean?"),
                     *kChart = words::said("Is the chart whole and sharp?"),
                     *kColour = words::said("Is the colour right?"),
                     *kScale = words::said("Is the scale right?"),
                     *kMean = words::said("Mean over the chart"), *kPatch = words::said("Any one patch");
constexpr const char *kPerCent = " %", *kStops = " stops", *kPixels = " pixels", *kDays = " days",
                     *kFrames = " frames";

struct LimitRow
{
    const char *key, *question, *name, *unit;
    double factor;
    int decimals;
    bool mayBeUnset = false;
};

constexpr LimitRow kRows[] = {
    {"exposure_aim", kExposure, words::said("Aim of the lightest neutral, of saturation"), kPerCent, 100, 0},
    {"exposure_stops", kExposure, words::said("Deviation from the aim"), kStops, 1, 2},
    {"exposure_stop_at", kExposure, words::said("Below the aim, unusable from"), kStops, 1, 2},
    {"clipped_share", kExposure, words::said("Clipped share of a patch"), kPerCent, 100, 1},
    {"patch_error", kExposure, words::said("Uncertainty of a patch's mean"), kPerCent, 100, 1},
    {"noise", kExposure, words::said("Noise of a pixel in the middle grey"), kPerCent, 100, 1},
    {"unevenness", kLight, words::said("Darkest corner against the lightest"), kPerCent, 100, 0},
    {"unevenness_stop_at", kLight, words::said("Darkest corner, unusable from"), kPerCent, 100, 0},
    {"shadow_stops", kLight, words::said("Shadow with an edge"), kStops, 1, 2},
    {"shadow_stop_at", kLight, words::said("Shadow with an edge, unusable from"), kStops, 1, 2},
    {"glare", kLight, words::said("Glare on one patch, of white"), kPerCent, 100, 1},
    {"flare", kLight, words::said("Stray light over the chart, of white"), kPerCent, 100, 1},
    {"flare_stop_at", kLight, words::said("Stray light, unusable from"), kPerCent, 100, 1},
    {"match", kChart, words::said("Share of patches that match the chart's pattern, at least"), kPerCent, 100,
     0},
    {"misfit", kChart, words::said("Misfit of one patch, as when covered"), kPerCent, 100, 0},
    {"blur_pixels", kChart, "Blur", kPixels, 1, 1},
    {"mean_de00", kColour, kMean, " ΔE00", 1, 1},
    {"patch_de00", kColour, kPatch, " ΔE00", 1, 1},
    {"mean_de94", kColour, kMean, " ΔE94", 1, 1, true},
    {"patch_de94", kColour, kPatch, " ΔE94", 1, 1, true},
    {"mean_de94_textiles", kColour, kMean, " ΔE94 (textiles)", 1, 1, true},
    {"patch_de94_textiles", kColour, kPatch, " ΔE94 (textiles)", 1, 1, true},
    {"mean_de76", kColour, kMean, " ΔE76", 1, 1, true},
    {"patch_de76", kColour, kPatch, " ΔE76", 1, 1, true},
    {"chart_days", kColour, words::said("Age of a chart, old from"), kDays, 1, 0},
    {"chart_frames", kColour, words::said("Product frames after a chart, due from"), kFrames, 1, 0},
    {"scale_error", kScale, words::said("Deviation from the intended pixels per inch"), kPerCent, 100, 1},
    {"distortion", kScale, words::said("Distortion of the lens"), kPerCent, 100, 1},
};

} // namespace

LimitText limit(const std::string &key, const Language &language)
{
    for (const auto &row : kRows)
        if (key == row.key)
            return {filled(row.question, {}, language),
                    filled(row.name, {}, language),
                    filled(row.unit, {}, language),
                    row.factor,
                    row.decimals,
                    row.mayBeUnset};
    return {{}, key, {}, 1, 4};
}

} // namespace wavechroma::words
