#include "core/fit/color_model.h"

#include "core/color/lab_function.h"
#include "core/fit/parts.h"

#include <algorithm>

namespace wavechroma {

namespace {

double codeOf(double value)
{
    return 1.16 * labFunction(value) - 0.16;
}

double valueOf(double code)
{
    const double f = (code + 0.16) / 1.16;
    return f > 6.0 / 29 ? f * f * f : (f - 4.0 / 29) * 108 / 841;
}

} // namespace

double toned(const ToneCurve &curve, double value)
{
    const auto &v = curve.values;
    const double at = codeOf(value) / kToneStep;
    const auto i = size_t(std::clamp(at, 0.0, double(v.size() - 2)));
    return valueOf(v[i] + (at - double(i)) * (v[i + 1] - v[i]));
}

double untoned(const ToneCurve &curve, double value)
{
    const auto &v = curve.values;
    const double code = codeOf(value);
    const auto above = std::upper_bound(v.begin() + 1, v.end() - 1, code);
    const auto i = size_t(above - v.begin()) - 1;
    return valueOf(kToneStep * (double(i) + (code - v[i]) / (v[i + 1] - v[i])));
}

const Bend *ColorModel::bend(const Bending &how) const
{
    const auto at = std::find_if(bends.begin(), bends.end(), [&](const Bend &b) { return b.how == &how; });
    return at == bends.end() ? nullptr : &*at;
}

BalancedRgb balancedFrom(const ColorModel &model, const CameraRgb &rgb)
{
    const auto &m = model.multipliers;
    const double s = model.exposureScale;
    return {rgb.r * m[0] * s, rgb.g * m[1] * s, rgb.b * m[2] * s};
}

BalancedRgb tonedFrom(const ColorModel &model, const BalancedRgb &c)
{
    if (model.curves.empty())
        return c;
    return {toned(model.curves[0], c.r), toned(model.curves[1], c.g), toned(model.curves[2], c.b)};
}

Xyz xyzFromBalanced(const ColorModel &model, const BalancedRgb &rgb)
{
    const auto c = tonedFrom(model, rgb);
    Xyz xyz = xyzOf(model.matrix * vectorOf(c));
    for (const auto &bend : model.bends)
        xyz = bend.how->apply(bend.numbers, c, xyz);
    if (model.lean == ColourLean{})
        return xyz;
    return xyzFromCompressed(leaned(model.lean, compressedFromXyz(xyz)));
}

Xyz xyzFromCamera(const ColorModel &model, const CameraRgb &rgb)
{
    return xyzFromBalanced(model, balancedFrom(model, rgb));
}

} // namespace wavechroma
