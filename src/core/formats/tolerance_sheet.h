#pragma once
#include "core/base/result.h"
#include "core/capture/capture_limits.h"
#include "core/proof/exposure_aims.h"
#include "core/proof/proof.h"

#include <string>
#include <vector>

namespace wavechroma {

/// What is good enough, under one name: a `wavechroma.tolerance/1` file that people edit.
struct ToleranceSheet
{
    std::string name = "ordinary", title = "Ordinary studio work";
    CaptureLimits capture;
    ProofLimits proof;
    double scaleError = 0.01; ///< relative, of pixels per inch against the intended figure
    double distortion = 0.02; ///< of the lens, see LensShape
    std::string aims =
        {}; ///< of neutrals, see aimsFrom(); those that are not named are to be what their references say
    bool operator==(const ToleranceSheet &) const = default;
};

/// One limit of a sheet, for a table that people edit.
struct NamedLimit
{
    std::string key; ///< "glare"; words::limit() says what it is
    double value = 0;
};
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
