#pragma once
#include "core/chart/chart_definition.h"
#include "core/chart/reading.h"

#include <optional>
#include <span>

namespace wavechroma {

/// Which of a bracket's chart frames to use, and why.
struct BracketChoice
{
    size_t index = 0;
    int count = 0;      ///< of frames
    bool usable = true; ///< false: all have a `stop`, and the chosen one's `trouble` says which
    std::optional<Check> trouble = {};
    std::optional<double> stops = {}; ///< the chosen one is off its aim, positive over; nothing: not known
    bool brighterBurns = false, darkerSinks = false; ///< what speaks against the others
    bool operator==(const BracketChoice &) const = default;
};
inline constexpr double kOnItsAim = 1 / 6.0; ///< stops

/// A frame without a `stop` goes before one with it; among those the one with the lightest neutral nearest
/// its aim, and of two that are equally near (a sixth of a stop) the one with fewer warnings. At least one
/// reading is given.
[[nodiscard]] BracketChoice chooseFromBracket(std::span<const Reading *const> readings);

/// How many stops more light a frame's settings let in than another's: time, ISO and aperture. Nothing when
/// one is unknown.
[[nodiscard]] std::optional<double> settingStops(const CameraFacts &camera, const CameraFacts &before);

/// What became of the light between two readings of one chart by one camera and lens.
struct LightChange
{
    std::optional<double>
        stops; ///< brighter (positive) or darker, at equal settings; nothing when the settings differ, for a
               ///< flash does not care for the time and the file does not say what the lamp was
    double red = 0, blue = 0; ///< relative change of red/green and blue/green
    bool operator==(const LightChange &) const = default;
};
/// How many stops brighter the second reading's patches are than the first's, whatever the settings: the
/// median over the patches that both can use. Nothing when fewer than three are shared, or the chart or the
/// flat is another.
[[nodiscard]] std::optional<double> levelStops(const Reading &before, const Reading &after);
/// Medians over the patches that both can use. Nothing when fewer than three are shared, or the chart or the
/// flat is another.
[[nodiscard]] std::optional<LightChange> lightChange(const Reading &before, const Reading &after);
/// What of it is worth a word: 0.15 stops, 2 % in warmth (about 100 K at 5 000 K), else 2 % in green; 0 what
/// is not.
struct VisibleChange
{
    double stops = 0, warmth = 0, green = 0;
    [[nodiscard]] bool any() const { return stops != 0 || warmth != 0 || green != 0; }
};
[[nodiscard]] VisibleChange visibleIn(const LightChange &change);

} // namespace wavechroma
