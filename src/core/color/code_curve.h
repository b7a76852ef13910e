#pragma once
#include "core/base/camera_facts.h"

#include <functional>
#include <optional>

/// What the codes of a rendered picture stand for: see FileColor::renderedCodes.
namespace wavechroma {

/// From a picture's code, 0…1, to linear light. Nothing where light does not rise with the code.
[[nodiscard]] std::optional<CodeCurve> codeCurveOf(const std::function<double(double code)> &light);

/// As codeCurveOf() makes it: of that length, not falling, within 0…1?
[[nodiscard]] bool isCodeCurve(const CodeCurve &curve);
inline constexpr size_t kCodeCurvePoints = 257;

/// Linear light of a code, and back; both 0…1, what lies beyond is held at the ends.
[[nodiscard]] double lightOfCode(const CodeCurve &curve, double code);
[[nodiscard]] double codeOfLight(const CodeCurve &curve, double light);

/// Is it known what the codes of the picture stand for?
[[nodiscard]] inline bool hasCodes(const FileColor &color)
{
    return color.renderedCodes.size() == 3;
}

} // namespace wavechroma
