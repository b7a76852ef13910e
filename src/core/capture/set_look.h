#pragma once
#include "core/raw/raw_frame.h"
#include "core/values/light_change.h"

#include <optional>
#include <string>

/// What of a set stands in every frame of it, backdrop and table, tells of its light: a silent grey, whatever
/// its colour. A camera on a stand sees it at the same places beside a chart and beside a product.
namespace wavechroma {

/// Returns a frame's look: 16 × 12 cells over the visible area, each with the logarithms of its three means
/// of camera RGB in two letters each, 1152 in all; cells with clipped samples or without light are marked.
/// Text, because a job keeps it.
[[nodiscard]] std::string setLookOf(const RawFrame &frame);

/// What became of the light between two frames of one camera and lens, by the cells that changed together:
/// most of what differs between two frames differs each in its own way, and what stands there in both differs
/// as the light does. `settings`: stops that the second one's settings let in more; nothing where levels
/// cannot be compared, which leaves `stops` empty.
/// Nothing where the frames have too little in common to tell (fewer than a seventh of their cells, in three
/// quarters of the picture, agree), where no lamp changes so, or where a look is none.
[[nodiscard]] std::optional<LightChange> lightChange(const std::string &before, const std::string &after,
                                                     std::optional<double> settings);

/// Mired (a million by kelvin) that a change of red/green and blue/green amounts to, positive to warmer
/// light. From the slope that the simulated cameras have between 3 000 and 6 500 K, within a fifth: a figure
/// to say, not to correct by.
[[nodiscard]] double miredOf(const LightChange &change);

} // namespace wavechroma
