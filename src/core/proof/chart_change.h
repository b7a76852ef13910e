#pragma once
#include "core/base/matrix3.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A patch of one chart in two readings.
struct ChangedPatch
{
    std::string id;
    Vector3 before{}, after{}; ///< camera RGB, above 0
    Vector3 doubt{};           ///< relative standard deviation of after / before
    double u = 0, v = 0;       ///< its place on the chart, −1…1 from left to right and top to bottom
    bool isNeutral = false;
};

/// Which kinds of change a model has beside the three channels' gains.
struct ChangeTerms
{
    bool slope = false, veil = false, spectrum = false, fading = false;
    [[nodiscard]] int count() const
    {
        return 3 + (slope ? 2 : 0) + (veil ? 1 : 0) + (spectrum ? 6 : 0) + (fading ? 3 : 0);
    }
};

/// What became of a chart between two readings of it:
///   after = exp(gain + slope · place + fading) · (1 + spectrum) · before + veil · exp(gain) · white
/// a channel at a time. `spectrum` are the six shares that one balanced channel takes of another less itself,
/// so that it leaves greys alone; `fading` thins the dyes: a density over the patch's least, times a share
/// for each channel.
struct ChartChange
{
    ChangeTerms terms;
    Vector3 white{}; ///< camera RGB of a perfect diffuser before
    Vector3 gain{};  ///< natural logarithms
    std::array<double, 2> slope{};
    double veil = 0;
    std::array<double, 6> spectrum{}; ///< of red green, blue; of green red, blue; of blue red, green
    Vector3 fading{};
    std::vector<size_t> odd; ///< patches that went a way of their own: soiled, faded, covered

    /// Natural logarithms of after / before, by these terms alone.
    [[nodiscard]] Vector3 logChange(const ChangedPatch &patch, const ChangeTerms &with,
                                    const Vector3 &gains) const;
    [[nodiscard]] Vector3 logChange(const ChangedPatch &patch) const { return logChange(patch, terms, gain); }
};

/// Of all sixteen models of those terms the one that Schwarz's criterion (1978) prefers, each fitted by
/// Gauss–Newton with Welsch's weights (Holland and Welsch 1977), so that patches of their own way have no
/// say; neutrals count three times, because they fade least. Terms that the patches do not determine are left
/// out: slope and veil need six patches, spectrum and fading twelve that are no neutrals. Nothing for fewer
/// than three patches.
[[nodiscard]] std::optional<ChartChange> chartChange(const std::vector<ChangedPatch> &patches,
                                                     const Vector3 &white);

} // namespace wavechroma
