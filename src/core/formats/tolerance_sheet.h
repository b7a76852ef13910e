#pragma once
#include "core/base/result.h"
#include "core/proof/exposure_aims.h"
#include "core/proof/proof.h"
#include "core/values/capture_limits.h"
#include "core/values/tolerance_sheet.h"

#include <string>
#include <vector>

namespace wavechroma {

[[nodiscard]] std::vector<NamedLimit> limitsOf(const ToleranceSheet &sheet);
[[nodiscard]] ToleranceSheet
withLimits(ToleranceSheet sheet,
           const std::vector<NamedLimit> &limits); ///< by key; unknown ones are passed over

/// The sheets that ship with the program: `ordinary`, and `strict` for copy work.
[[nodiscard]] const std::vector<ToleranceSheet> &shippedSheets();
[[nodiscard]] Result<ToleranceSheet>
shippedSheet(const std::string &name); ///< Unusable, with the known names

[[nodiscard]] std::string documentOf(const ToleranceSheet &sheet);
/// A limit that is absent is the ordinary one. Unusable, naming the field, for an unknown limit (a slip of
/// the pen would otherwise go unnoticed), a negative one, a `stop_at` under its warning, and aims that cannot
/// be.
[[nodiscard]] Result<ToleranceSheet> toleranceFrom(const std::string &text, const std::string &name);

} // namespace wavechroma
