#pragma once
#include "core/balance/balance.h"

namespace wavechroma {

/// A neutral of the chart behind a white balance.
struct NeutralState
{
    std::string id;
    Vector3 balanced{}; ///< level in each channel, of saturation
    double cast = 0;    ///< largest departure of a channel from the mean of all three, as a share
    double doubt = 0;   ///< of that, by the reading's noise: one standard deviation
    bool usable = true;
    bool source = false; ///< the balance was taken from it
    std::string words;   ///< "0.4 % red, within its noise"; "1.8 % blue: another light there"; "burnt out"
};

/// What remains of cast on each neutral, and why two greys differ: burnt out, too dark, within the noise; on
/// a cube's faces, another light; else the grey's own tint (or something reflected in it).
[[nodiscard]] std::vector<NeutralState> readBack(const Reading &reading, const ChartDefinition &chart,
                                                 const Balance &balance);

/// What the other face of a grey cube would do to the picture, in one sentence; empty for other charts, or
/// when it cannot be used.
[[nodiscard]] std::string otherFaceWords(const Reading &reading, const ChartDefinition &chart,
                                         const Balance &balance);

/// "" when the preset holds for frames of this camera and lens; else why it is refused (another model: its
/// colours are not these), or what to mind (another body, another lens, a month and more between them).
struct PresetVerdict
{
    std::string refusal, warning;
};
[[nodiscard]] PresetVerdict verdictOn(const PresetFacts &preset, const CameraFacts &frame);

} // namespace wavechroma
