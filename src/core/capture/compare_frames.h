#pragma once
#include "core/chart/chart_definition.h"
#include "core/values/light_change.h"
#include "core/values/reading.h"

#include <optional>
#include <span>

namespace wavechroma {

/// A frame without a `stop` goes before one with it; among those the one with the lightest neutral nearest
/// its aim, and of two that are equally near (a sixth of a stop) the one with fewer warnings. At least one
/// reading is given.
[[nodiscard]] BracketChoice chooseFromBracket(std::span<const Reading *const> readings);

/// How many stops more light a frame's settings let in than another's: time, ISO and aperture. Nothing when
/// one is unknown.
[[nodiscard]] std::optional<double> settingStops(const CameraFacts &camera, const CameraFacts &before);

/// How many stops brighter the second reading's patches are than the first's, whatever the settings: the
/// median over the patches that both can use. Nothing when fewer than three are shared, or the chart or the
/// flat is another.
[[nodiscard]] std::optional<double> levelStops(const Reading &before, const Reading &after);
/// Medians over the patches that both can use. Nothing when fewer than three are shared, or the chart or the
/// flat is another. Visible are 0.15 stops, 2 % in warmth (about 100 K at 5 000 K), else 2 % in green.
[[nodiscard]] std::optional<LightChange> lightChange(const Reading &before, const Reading &after);

} // namespace wavechroma
