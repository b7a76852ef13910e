#include "core/fit/part_balance.h"

#include "core/color/adaptation.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"

#include <cmath>

namespace wavechroma {

Matrix3 fileMatrix(const FileColor &color, const Vector3 &neutral)
{
    const Matrix3 fallback = color.xyzD50FromRendered.value_or(xyzD50FromRgbMatrix(srgb()));
    const auto light = lightFromNeutral(color, neutral);
    const auto camera = light ? cameraFromXyzFor(color, *light) : std::nullopt;
    const auto back = camera ? inverse(*camera) : std::nullopt;
    if (!back)
        return fallback;
    const Xyz white = xyzOf(*back * neutral);
    const Matrix3 toD50 = adaptation(white, kD50White);
    // neutral → white → D50, so equal balanced channels give the D50 white by construction
    return toD50 * *back * diagonal(neutral);
}

static double midLightWeight(double l)
{
    // Gaussians either side of L* 65 that reach a tenth at 20 and at 95: σ = distance / √(2 ln 10).
    const double sigma = (l < 65 ? 45 : 30) / std::sqrt(2 * std::log(10.0));
    return std::exp(-0.5 * (l - 65) * (l - 65) / (sigma * sigma));
}

std::optional<ColorModel> fitBalance(const std::vector<FittedPatch> &neutrals, const FileColor &color)
{
    if (neutrals.empty())
        return std::nullopt;
    Vector3 neutral{0, 0, 0};
    Matrix3 matrix;
    // The matrix depends on the light and the light on the multipliers, weakly: three rounds settle it.
    for (int round = 0; round < 4; ++round) {
        Vector3 logs{};
        double total = 0;
        const auto back = round == 0 ? std::nullopt : inverse(matrix);
        for (const auto &patch : neutrals) {
            const double w = midLightWeight(labFromXyz(patch.reference).l);
            const double y = patch.reference.y;
            const Vector3 wanted = back ? *back * vectorOf(patch.reference) : Vector3{y, y, y};
            const Vector3 rgb = vectorOf(patch.rgb);
            for (size_t c = 0; c < 3; ++c)
                logs[c] += w * std::log(rgb[c] / std::max(wanted[c], 1e-6));
            total += w;
        }
        for (size_t c = 0; c < 3; ++c)
            neutral[c] = std::exp(logs[c] / total);
        matrix = fileMatrix(color, neutral);
    }
    ColorModel model;
    model.multipliers = {neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    model.exposureScale = 1 / neutral[1];
    model.matrix = matrix;
    return model;
}

std::optional<ColorModel> fitBalancePart(const PartFit &fit, const ColorModel &)
{
    return fitBalance(patchesNamed(fit.patches, fit.context.neutrals), fit.context.fileColor);
}

} // namespace wavechroma
