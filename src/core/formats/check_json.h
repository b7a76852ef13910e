#pragma once
#include "core/formats/json_fields.h"
#include "core/values/reading.h"

namespace wavechroma::json {

/// What the sentence says is in the fields, too. `withMessage`: the sentence itself, in plain English.
[[nodiscard]] Json jsonOf(const Check &check, bool withMessage);
[[nodiscard]] Check checkFrom(const Fields &fields);
[[nodiscard]] const char *sideName(Side side); ///< "top left"; empty for none

} // namespace wavechroma::json
