#pragma once
#include "core/measure/flat_field.h"

namespace wavechroma {

/// Estimates the falloff of light and lens from an even backdrop that a product frame shows, where there is
/// no flat. The backdrop is the largest smooth area of one chromaticity that reaches the frame's edges; a
/// polynomial of degree 2 through the logarithm of its light (Tukey's biweight) is taken as the field, one
/// for all channels, so that no colour changes. A backdrop that is itself darker at one side is taken for
/// falloff: it stays an estimate.
///
/// Unusable where the backdrop covers less than a fifth of the frame, spans less than three quarters of its
/// width and height, or does not follow such a field to 2 %.
[[nodiscard]] Result<FlatField> backdropFieldFrom(const RawFrame &frame);

} // namespace wavechroma
