#include "core/words/limit_words.h"

#include "core/base/filled.h"

namespace wavechroma::words {

std::string limit(const std::string &key, const Language &language)
{
    static const std::map<std::string, std::string, std::less<>> known{
        {"match", "fit of the colour pattern, 0 to 1"},
        {"clipped_share", "burnt share of a patch"},
        {"exposure_stops", "stops off the exposure aim"},
        {"exposure_stop_at", "stops under the aim: not to be used beyond"},
        {"exposure_aim", "exposure aim of the lightest neutral, of saturation"},
        {"patch_error", "relative error of a patch's mean"},
        {"unevenness", "darkest to lightest corner of the chart"},
        {"unevenness_stop_at", "unevenness: not to be used beyond"},
        {"shadow_stops", "a shadow's edge, stops"},
        {"shadow_stop_at", "a shadow's edge: not to be used beyond"},
        {"glare", "glare of one patch, share of white"},
        {"flare", "veil over the chart, share of white"},
        {"flare_stop_at", "veil: not to be used beyond"},
        {"misfit", "misfit of one patch, as of a finger"},
        {"blur_pixels", "blur, pixels"},
        {"noise", "noise of a middle grey pixel"},
        {"mean_de00", "mean ΔE2000"},
        {"patch_de00", "ΔE2000 of any patch"},
        {"scale_error", "error of the scale"},
        {"distortion", "distortion of the lens"},
    };
    const auto at = known.find(key);
    return at == known.end() ? key : filled(at->second, {}, language);
}

} // namespace wavechroma::words
