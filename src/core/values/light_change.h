#pragma once
#include "core/values/reading.h"

#include <optional>

/// How frames of one light compare: made by capture/compare_frames.h.
namespace wavechroma {

/// Which of a bracket's chart frames to use, and why.
struct BracketChoice
{
    size_t index = 0;
    int count = 0;        ///< of frames
    bool isBurst = false; ///< all at one setting: the stillest, least glaring one
    bool usable = true;   ///< false: all have a `stop`, and the chosen one's `trouble` says which
    std::optional<Check> trouble = {};
    std::optional<double> stops = {}; ///< the chosen one is off its aim, positive over; nothing: not known
    bool brighterClips = false, darkerIsNoisy = false; ///< what speaks against the others
    bool operator==(const BracketChoice &) const = default;
};

inline constexpr double kOneSetting = 0.1;   ///< stops between frames of a burst
inline constexpr double kOnItsAim = 1 / 6.0; ///< stops

/// What of a change of light is worth a word; 0 what is not.
struct VisibleChange
{
    double stops = 0, warmth = 0, green = 0;
    [[nodiscard]] bool any() const { return stops != 0 || warmth != 0 || green != 0; }
    bool operator==(const VisibleChange &) const = default;
};

/// What became of the light between two readings of one chart by one camera and lens.
struct LightChange
{
    std::optional<double>
        stops; ///< brighter (positive) or darker, at equal settings; nothing when the settings differ, for a
               ///< flash does not care for the time and the file does not say what the lamp was
    double red = 0, blue = 0; ///< relative change of red/green and blue/green
    VisibleChange visible;
    bool operator==(const LightChange &) const = default;
};

} // namespace wavechroma
