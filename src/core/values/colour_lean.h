#pragma once
#include <algorithm>
#include <array>

namespace wavechroma {

/// What a sector of hue is changed by. A step of the window is 1°, 2 % and half of one L*.
struct SectorLean
{
    double hue = 0;       ///< degrees, positive towards larger hab
    double chroma = 0;    ///< per cent
    double lightness = 0; ///< L*
    bool operator==(const SectorLean &) const = default;
};

inline constexpr int kMostLean = 4;
inline constexpr size_t kHueSectors = 8; ///< of 45° each, from hab 0° on
inline constexpr SectorLean kMostSectorLean{15, 50, 15}, kSectorStep{1, 2, 0.5};
/// Of hue between two sectors side by side, degrees: more would fold the colours at their border.
inline constexpr double kMostSectorTurn = 15;

/// What is laid over the exact colours on purpose; all 0 is exact. Reds, chroma and contrast go in whole
/// steps of −4…4 each.
///
/// A step of `reds` changes the reds round hab 30° (width 35°, a raised cosine): below 0 it takes 4 % of
/// their chroma and turns their hue towards 55° by a thirtieth of the way, as skin wants it; above 0 the
/// reverse. The share follows a smooth step from C' 4 to 12, so that greys have none of it.
/// A step of `chroma` changes chroma by 4 % where it is middling, C' 8…25, and by nothing at C' 0 and from
/// C' 45 on, so that strong colours are not driven out of the gamut.
/// `sectors` change colours of C' 12 and more in full and greys not at all; from one sector to the next the
/// change goes over smoothly, within 12° of their border. `sector_lean.h` says what each is to be for a table
/// of sectors that was edited.
/// All these keep neutrals, and L* but for a sector's own.
/// A step of `contrast` changes lightness, and nothing else: the slope of L* is 5 % steeper at L* 50 and 5 %
/// flatter at 0 and 100, which stay (a sine between).
/// Each further step goes further the same way, and no step folds (`colour_lean_test`).
struct ColourLean
{
    int reds = 0, chroma = 0, contrast = 0;
    std::array<SectorLean, kHueSectors> sectors{};
    bool operator==(const ColourLean &) const = default;

    [[nodiscard]] bool hasSectors() const
    {
        return std::any_of(sectors.begin(), sectors.end(),
                           [](const SectorLean &s) { return !(s == SectorLean{}); });
    }
};

} // namespace wavechroma
