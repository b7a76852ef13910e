#pragma once
#include "core/base/camera_facts.h"
#include "core/fit/calibration.h"
#include "core/formats/json_fields.h"

namespace wavechroma::json {

[[nodiscard]] Json jsonOf(const CameraFacts &facts);
[[nodiscard]] CameraFacts factsFrom(const Fields &fields);
[[nodiscard]] Json jsonOf(const FileColor &color);
[[nodiscard]] FileColor fileColorFrom(const Fields &fields);
[[nodiscard]] Json jsonOf(const ErrorSummary &summary);
[[nodiscard]] ErrorSummary summaryFrom(const Fields &fields);

} // namespace wavechroma::json
