#include "core/fit/sector_lean.h"

#include "core/fit/colour_lean.h"

#include <cmath>

namespace wavechroma {

namespace {

constexpr double kWritten = 0.0051; ///< half of a table's last decimal

/// What is missing of `wanted`, in the units of a lean.
SectorLean missing(const HueSector &wanted, const HueSector &got)
{
    return {wanted.hueShift - got.hueShift, 100 * (wanted.chromaRatio / got.chromaRatio - 1),
            wanted.lightnessShift - got.lightnessShift};
}

bool isWritten(const SectorLean &s)
{
    return std::abs(s.hue) > kWritten || std::abs(s.chroma) > kWritten || std::abs(s.lightness) > kWritten;
}

} // namespace

Result<std::array<SectorLean, kHueSectors>> sectorLeanFor(const Calibration &calibration,
                                                          const std::vector<HueSector> &wanted)
{
    auto leaned = calibration;
    leaned.lean.sectors = {};
    // Sectors mix at their borders, so what one is changed by moves its neighbours too: a few rounds settle
    // it.
    constexpr int kRounds = 24;
    for (int round = 0; round < kRounds; ++round) {
        const auto got = hueSectorsOf(leaned);
        bool isThere = true;
        auto next = leaned.lean;
        for (size_t i = 0; i < kHueSectors; ++i) {
            const auto more = missing(wanted[i], got[i]);
            isThere = isThere && !isWritten(more);
            next.sectors[i].hue += more.hue;
            next.sectors[i].chroma += more.chroma;
            next.sectors[i].lightness += more.lightness;
        }
        if (isThere)
            break;
        if (const auto fits = check(next); !fits)
            return fits.error();
        leaned.lean = next;
    }
    return leaned.lean.sectors;
}

} // namespace wavechroma
