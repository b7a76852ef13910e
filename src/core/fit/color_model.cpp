#include "core/fit/color_model.h"

#include "core/color/lab_function.h"
#include "core/fit/character.h"

#include <algorithm>
#include <cmath>

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

/// √(xy) − (x + y)/2, with no root of a negative product.
double rootDifference(double x, double y)
{
    return (x > 0 && y > 0 ? std::sqrt(x * y) : 0) - (std::max(x, 0.0) + std::max(y, 0.0)) / 2;
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

CompressedLab corrected(const ColorField &field, const CompressedLab &p)
{
    std::array<double, 3> d{};
    for (const auto &point : field.points) {
        const double l = (p.l - point.place[0]) / field.lengthL, a = (p.a - point.place[1]) / field.lengthAb,
                     b = (p.b - point.place[2]) / field.lengthAb;
        const double k = std::exp(-0.5 * (l * l + a * a + b * b));
        for (size_t c = 0; c < 3; ++c)
            d[c] += k * point.pull[c];
    }
    const double chroma2 = p.a * p.a + p.b * p.b;
    const double w = -std::expm1(-0.5 * chroma2 / (field.neutralRadius * field.neutralRadius));
    const double size2 = w * w * (d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
    const double scale = w / std::sqrt(1 + size2 / (field.bound * field.bound));
    return {p.l + scale * d[0], p.a + scale * d[1], p.b + scale * d[2]};
}

BalancedRgb balancedFrom(const ColorModel &model, const CameraRgb &rgb)
{
    const auto &m = model.multipliers;
    const double s = model.exposureScale;
    return {rgb.r * m[0] * s, rgb.g * m[1] * s, rgb.b * m[2] * s};
}

Xyz baseXyzFromBalanced(const ColorModel &model, const BalancedRgb &rgb)
{
    Vector3 c = vectorOf(rgb);
    if (model.offset != 0)
        for (auto &v : c)
            v = (1 - model.offset) * v + model.offset;
    if (!model.curves.empty())
        for (size_t i = 0; i < 3; ++i)
            c[i] = toned(model.curves[i], c[i]);
    Vector3 xyz = model.matrix * c;
    if (!(model.root == Matrix3{})) {
        const Vector3 bent = model.root * Vector3{rootDifference(c[0], c[1]), rootDifference(c[1], c[2]),
                                                  rootDifference(c[0], c[2])};
        for (size_t i = 0; i < 3; ++i)
            xyz[i] += bent[i];
    }
    return xyzOf(xyz);
}

Xyz xyzFromBalanced(const ColorModel &model, const BalancedRgb &rgb)
{
    const Xyz base = baseXyzFromBalanced(model, rgb);
    if (model.field.points.empty() && model.character == Character::Exact)
        return base;
    CompressedLab color = compressedFromXyz(base);
    if (!model.field.points.empty())
        color = corrected(model.field, color);
    return xyzFromCompressed(inCharacter(model.character, color));
}

Xyz xyzFromCamera(const ColorModel &model, const CameraRgb &rgb)
{
    return xyzFromBalanced(model, balancedFrom(model, rgb));
}

} // namespace wavechroma
