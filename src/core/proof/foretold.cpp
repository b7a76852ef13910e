#include "core/proof/foretold.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

/// Fitted on simulated bodies of seeds 1 to 16 (bench/foretold_bench.cpp, docs/methods.md).
constexpr double kReach = 15;       ///< of a patch's say, in units of place
constexpr double kEverywhere = 0.3; ///< a patch's say however far it is
constexpr double kNeutral =
    0.3;                       ///< of a grey's: greys stand for one another, so that each is left out in name
constexpr double kFar = 0.006; ///< share that a unit of distance from the nearest patches adds
constexpr double kShrink = 0.045;   ///< of chroma: CIEDE2000's SC
constexpr double kMostChroma = 100; ///< that surfaces it was fitted to had
constexpr double kGrey = 10;        ///< C*ab
constexpr size_t kNearest = 3;

double shrunk(double chroma)
{
    return std::log1p(kShrink * chroma) / kShrink;
}

/// How many times as much surfaces of this colour err as what the patches say, whatever the calibration: a
/// chart shows one surface of a colour, and how far others of it lie apart for a camera depends on where it
/// lies. Least squares over the logarithms of true errors; surfaces with ripples of 0.05, 0.12 and 0.3.
double usualFactor(const Lab &color)
{
    const double l = std::clamp(color.l, 0.0, 100.0) / 50, chroma = std::hypot(color.a, color.b),
                 c = shrunk(std::min(chroma, kMostChroma)) / 20, a = chroma > 0 ? c * color.a / chroma : 0,
                 b = chroma > 0 ? c * color.b / chroma : 0;
    return std::exp(-1.208 + 1.196 * l + 0.334 * c - 0.299 * l * l + 0.378 * c * c - 0.411 * l * c -
                    0.386 * a - 0.469 * b + l * (0.295 * a + 0.334 * b));
}

/// Roots of the shares of the white.
Vector3 rootsOf(const Xyz &color)
{
    const Vector3 white = vectorOf(kD50White), c = vectorOf(color);
    Vector3 out{};
    for (size_t i = 0; i < 3; ++i)
        out[i] = std::sqrt(std::max(0.003, c[i] / white[i]));
    return out;
}

} // namespace

ForetoldError::Place ForetoldError::placeOf(const Lab &color)
{
    const double chroma = std::hypot(color.a, color.b), share = chroma > 0 ? shrunk(chroma) / chroma : 1;
    return {0.7 * color.l, color.a * share, color.b * share};
}

ForetoldError::ForetoldError(const Calibration &calibration)
{
    for (const auto &patch : calibration.patches) {
        if (!patch.unseen)
            continue;
        const Lab lab = labFromXyz(patch.reference);
        const Vector3 right = vectorOf(patch.reference), made = vectorOf(*patch.unseen),
                      roots = rootsOf(patch.reference);
        Patch out{placeOf(lab), {}, std::hypot(lab.a, lab.b) > kGrey ? 1 : kNeutral};
        for (size_t i = 0; i < 3; ++i)
            out.shift[i] = (made[i] - right[i]) / roots[i];
        m_patches.push_back(out);
    }
}

double ForetoldError::at(const Lab &color) const
{
    if (m_patches.empty())
        return 0;
    const auto place = placeOf(color);
    const Xyz xyz = xyzFromLab(color);
    const Vector3 roots = rootsOf(xyz);
    double weights = 0, squares = 0;
    std::array<double, kNearest> nearest;
    nearest.fill(1e9);
    for (const auto &patch : m_patches) {
        const double d =
            std::hypot(place[0] - patch.place[0], place[1] - patch.place[1], place[2] - patch.place[2]);
        const double weight = patch.weight * (kEverywhere + std::exp(-d / kReach));
        const Lab shifted = labFromXyz({xyz.x + patch.shift[0] * roots[0], xyz.y + patch.shift[1] * roots[1],
                                        xyz.z + patch.shift[2] * roots[2]});
        const double error = de2000(shifted, color);
        weights += weight;
        squares += weight * error * error;
        if (d < nearest.back()) {
            nearest.back() = d;
            std::sort(nearest.begin(), nearest.end());
        }
    }
    const size_t count = std::min(kNearest, m_patches.size());
    double far = 0;
    for (size_t i = 0; i < count; ++i)
        far += nearest[i] / double(count);
    return std::sqrt(squares / weights) * (1 + kFar * far) * usualFactor(color);
}

} // namespace wavechroma
