#pragma once
#include "core/sim/expose.h"

namespace wavechroma::sim {

/// What a random table scene may hold. All draws come from the seed.
struct SceneRecipe
{
    uint64_t seed = 1;
    int width = 0, height = 0;
    bool withChart = true;
    double narrowest = 0.10, widest = 0.95;     ///< chart width in frame widths, before it is made to fit
    double mostTilt = 40;                       ///< degrees about each axis
    double mostBlur = 1.2;                      ///< standard deviation, pixels
    double mostGradient = 0.15;                 ///< relative change of light across the frame, either way
    double leastPatch = 0.95, mostPatch = 1.04; ///< printed patch size over the definition's
    std::vector<std::string> charts = {
        "classic-24"};     ///< of the catalogue; more than one: they lie side by side
    double exactWidth = 0; ///< where not 0: a chart's width in frame widths, before perspective
    bool clutter = true;   ///< skeins, colour cards, swatch rows, window panes, round things
};

/// A studio table with charts in it, or without one but with things that look like one.
[[nodiscard]] Scene randomScene(const SceneRecipe &recipe);

} // namespace wavechroma::sim
