#pragma once

namespace wavechroma {

/// What is laid over the exact colours on purpose, in whole steps of −4…4 each; 0 and 0 are exact.
///
/// A step of `reds` changes the reds round hab 30° (width 35°, a raised cosine): below 0 it takes 4 % of
/// their chroma and turns their hue towards 55° by a thirtieth of the way, as skin wants it; above 0 the
/// reverse. The share follows a smooth step from C' 4 to 12, so that greys have none of it.
/// A step of `chroma` changes chroma by 4 % where it is middling, C' 8…25, and by nothing at C' 0 and from
/// C' 45 on, so that strong colours are not driven out of the gamut.
/// L* and neutrals are kept; each further step goes further the same way, and no step folds
/// (`colour_lean_test`).
struct ColourLean
{
    int reds = 0, chroma = 0;
    bool operator==(const ColourLean &) const = default;
};

inline constexpr int kMostLean = 4;

} // namespace wavechroma
