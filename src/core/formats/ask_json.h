#pragma once
#include "core/fit/calibration.h"
#include "core/formats/json_fields.h"

/// What a calibration was asked for, and what it is made of and from.
namespace wavechroma::json {

[[nodiscard]] Json jsonOf(const Parts &parts);
[[nodiscard]] Parts partsFrom(const Fields &fields); ///< known ones, or "auto"
[[nodiscard]] Json jsonOf(const std::vector<SourceFrame> &frames);
[[nodiscard]] std::vector<SourceFrame> sourcesFrom(const Fields &fields, const char *key);
[[nodiscard]] Json jsonOf(const FitAsk &ask);
[[nodiscard]] FitAsk askFrom(const Fields &fields);
/// "d50", "light".
[[nodiscard]] const char *nameOf(Appearance appearance);
[[nodiscard]] Appearance appearanceFrom(const Fields &fields, const char *key);

} // namespace wavechroma::json
