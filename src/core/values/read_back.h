#pragma once
#include "core/base/matrix3.h"

#include <string>

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
    /// What there is to say of it.
    enum class Why {
        Neutral,
        Source,    ///< off by what the balance's other patches ask for
        Noise,     ///< off by no more than its noise
        Small,     ///< off by too little to say why
        OtherFace, ///< of a cube: another light falls on it
        OwnTint,
        Clipped,
        Dark
    } why = Why::Neutral;
    size_t channel = 0;   ///< the one that departs most: 0 R, 1 G, 2 B
    double departure = 0; ///< by which share, signed
};

/// What balancing by the other face of a grey cube would change.
struct OtherFace
{
    std::string chosen, other; ///< patches
    double stops = 0;          ///< the other one is darker (positive) or brighter by
    double warmth = 0;         ///< log2 of red over blue: the key side comes out warmer (positive) or cooler
};

/// Does a preset hold for a frame? Another model refuses it, for its colours are not these; another body or
/// lens is to be minded.
struct PresetVerdict
{
    enum class Kind { Holds, OtherModel, OtherLens, OtherBody } kind = Kind::Holds;
    std::string name;        ///< of the preset
    std::string made, frame; ///< model or lens that it was made with, and the frame's
    [[nodiscard]] bool refuses() const { return kind == Kind::OtherModel; }
};

} // namespace wavechroma
