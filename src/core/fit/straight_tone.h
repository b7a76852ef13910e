#pragma once
#include "core/fit/capture_model.h"

#include <string>
#include <vector>

namespace wavechroma {

/// Patches of a finished picture as they would be without its tone curve, for the capture model, which takes
/// contrast for light: a channel's logarithm over the logarithm of the neutrals' reference Y is fitted by a
/// parabola, and each value is taken back along it. As they are where fewer than four neutrals can be used,
/// or the curve does not rise.
[[nodiscard]] std::vector<PlacedPatch> withStraightTone(const std::vector<PlacedPatch> &patches,
                                                        const std::vector<std::string> &neutral);

} // namespace wavechroma
