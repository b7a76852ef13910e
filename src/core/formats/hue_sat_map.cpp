#include "core/formats/hue_sat_map.h"

#include "core/base/trilinear.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma {

namespace {

struct Hsv
{
    double h = 0, s = 0, v = 0; ///< hue 0…360
};

const RgbSpace &romm()
{
    static const RgbSpace space = *rgbSpaceFromId("romm");
    return space;
}

const Matrix3 &xyzFromRomm()
{
    static const Matrix3 m = xyzD50FromRgbMatrix(romm());
    return m;
}

const Matrix3 &rommFromXyz()
{
    static const Matrix3 m = *inverse(xyzFromRomm());
    return m;
}

Hsv hsvOf(const Vector3 &rgb)
{
    const double most = *std::max_element(rgb.begin(), rgb.end()),
                 least = *std::min_element(rgb.begin(), rgb.end()), gap = most - least;
    if (!(most > 0) || gap <= 0)
        return {0, 0, std::max(0.0, most)};
    double h = rgb[0] == most   ? (rgb[1] - rgb[2]) / gap
               : rgb[1] == most ? 2 + (rgb[2] - rgb[0]) / gap
                                : 4 + (rgb[0] - rgb[1]) / gap;
    if (h < 0)
        h += 6;
    return {60 * h, gap / most, most};
}

Vector3 rgbOf(const Hsv &hsv)
{
    const double h = std::fmod(hsv.h / 60 + 12, 6), f = h - std::floor(h), v = hsv.v;
    const double p = v * (1 - hsv.s), q = v * (1 - hsv.s * f), t = v * (1 - hsv.s * (1 - f));
    switch (int(h)) {
    case 0:
        return {v, t, p};
    case 1:
        return {q, v, p};
    case 2:
        return {p, v, t};
    case 3:
        return {p, q, v};
    case 4:
        return {t, p, v};
    default:
        return {v, p, q};
    }
}

double along(const DngTone &tone, double x, bool back)
{
    const auto in = [&](size_t i) { return back ? tone[i].second : tone[i].first; };
    const auto out = [&](size_t i) { return back ? tone[i].first : tone[i].second; };
    size_t i = 1;
    while (i + 1 < tone.size() && in(i) < x)
        ++i;
    const double share = (x - in(i - 1)) / (in(i)-in(i - 1));
    return out(i - 1) + share * (out(i) - out(i - 1));
}

/// The tone, or its inverse, with the hue kept.
Vector3 tonedRgb(const DngTone &tone, const Vector3 &rgb, bool back)
{
    if (tone.empty())
        return rgb;
    const double most = *std::max_element(rgb.begin(), rgb.end()),
                 least = *std::min_element(rgb.begin(), rgb.end());
    const double high = along(tone, most, back), low = along(tone, least, back);
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c)
        out[c] = most > least ? low + (rgb[c] - least) / (most - least) * (high - low) : high;
    return out;
}

/// V as the table has it, and back.
double codeOf(const HueSatMap &map, double v)
{
    const double clipped = std::clamp(v, 0.0, 1.0);
    return map.codedValues ? encoded(Transfer::Srgb, clipped) : clipped;
}

/// Trilinear: hues wrap, saturation and value are held at the ends.
HueSatMap::Entry at(const HueSatMap &map, const Hsv &hsv, double code)
{
    const double h = hsv.h / 360 * map.hues;
    const auto hues = size_t(map.hues), saturations = size_t(map.saturations);
    const Between<double> hue{size_t(h) % hues, (size_t(h) + 1) % hues, h - std::floor(h)};
    const auto out = trilinear<3>(
        hue, between(hsv.s * double(saturations - 1), saturations),
        between(code * (map.values - 1), size_t(map.values)), [&](size_t at, size_t s, size_t v) {
            const auto &e = map.entries[(v * hues + at) * saturations + s];
            return std::array<float, 3>{e.hueShift, e.saturationScale, e.valueScale};
        });
    return {float(out[0]), float(out[1]), float(out[2])};
}

/// The model's answer, in ROMM RGB at the profile's level and before the tone, where its linear part gives
/// `rgb`.
Vector3 wantedFor(const ColorModel &model, const ProfileColor &profile, const Matrix3 &back,
                  const Vector3 &rgb)
{
    Vector3 c = back * (xyzFromRomm() * rgb);
    for (auto &v : c)
        v *= profile.level;
    Vector3 out = rommFromXyz() * vectorOf(xyzFromBalanced(model, {c[0], c[1], c[2]}));
    for (auto &v : out)
        v = std::max(0.0, v / profile.level);
    return tonedRgb(profile.tone, out, true);
}

HueSatMap::Entry entryFor(const ColorModel &model, const ProfileColor &profile, const Matrix3 &back,
                          const Hsv &node, bool isGrey)
{
    const Hsv wanted = hsvOf(wantedFor(model, profile, back, rgbOf(node)));
    const double shift = std::remainder(wanted.h - node.h, 360), saturation = wanted.s / node.s,
                 value = profile.map.codedValues
                             ? encoded(Transfer::Srgb, wanted.v) / encoded(Transfer::Srgb, node.v)
                             : wanted.v / node.v;
    const bool sane = std::abs(shift) < 60 && saturation < 4 && value > 0.1 && value < 10;
    if (!sane) // colours that no camera gives; whatever stands there is not met
        return {};
    return {float(shift), float(saturation), isGrey ? 1.0F : float(value)};
}

HueSatMap mapFor(const ColorModel &model, const ProfileColor &profile, const HueSatMap &size)
{
    HueSatMap map = size;
    map.entries.clear();
    const Matrix3 back = *inverse(profile.forwardMatrix);
    for (int v = 0; v < map.values; ++v)
        for (int h = 0; h < map.hues; ++h)
            for (int s = 0; s < map.saturations; ++s) {
                const double step = 1.0 / (map.saturations - 1);
                // a grey has no hue of its own: its entry is that of colours just beside it
                const double saturation = s == 0 ? step / 16 : s * step;
                const double code = map.values == 1 ? 0.5 : std::max(0.02, double(v) / (map.values - 1));
                map.entries.push_back(
                    entryFor(model, profile, back,
                             {360.0 * h / map.hues, saturation, linearised(Transfer::Srgb, code)}, s == 0));
            }
    return map;
}

/// Balanced RGB, at the model's level, of surface colours: the lattice that errors are judged on.
std::vector<Vector3> latticeOf(const ColorModel &model)
{
    std::vector<Vector3> out;
    const auto back = inverse(model.matrix);
    for (int l = 0; back && l < 7; ++l)
        for (int h = 0; h < 17; ++h)
            for (int c = 0; c < 4; ++c) {
                const double hue = 2 * std::numbers::pi * (h + 0.3 * l) / 17, chroma = 3 + 7 * c;
                const auto rgb = *back * vectorOf(xyzFromCompressed({18.0 + 12 * l, chroma * std::cos(hue),
                                                                     chroma * std::sin(hue)}));
                const double most = *std::max_element(rgb.begin(), rgb.end()),
                             least = *std::min_element(rgb.begin(), rgb.end());
                const auto xyz = xyzFromBalanced(model, {rgb[0], rgb[1], rgb[2]});
                const auto srgbColor = rgbFromXyzD50(srgb(), xyz);
                const bool displayable = std::min({srgbColor.r, srgbColor.g, srgbColor.b}) > 0;
                if (most < 0.95 && least > 0.03 * most && displayable)
                    out.push_back(rgb);
            }
    return out;
}

std::vector<double> errorsOf(const ProfileColor &profile, const ColorModel &model,
                             const std::vector<Vector3> &colours)
{
    std::vector<double> errors;
    for (const auto &rgb : colours) {
        Vector3 c = rgb;
        for (auto &v : c)
            v /= profile.level;
        Vector3 got = vectorOf(appliedProfile(profile, c));
        for (auto &v : got)
            v *= profile.level;
        errors.push_back(
            de2000(labFromXyz(xyzOf(got)), labFromXyz(xyzFromBalanced(model, {rgb[0], rgb[1], rgb[2]}))));
    }
    return errors;
}

/// What decides on a table's size: 98 % of the lattice, and all of the colours that matter.
double judged(ProfileColor &profile, const ColorModel &model, const std::vector<Vector3> &lattice,
              const std::vector<Vector3> &colours)
{
    auto errors = errorsOf(profile, model, lattice);
    const auto given = errorsOf(profile, model, colours);
    const double decides = std::max(agreementOf(errors).p98, agreementOf(given).worst);
    errors.insert(errors.end(), given.begin(), given.end());
    profile.agreement = agreementOf(std::move(errors));
    return decides;
}

/// What the model makes of greys, where that is not the straight line; `known`: the lightest level that
/// matters.
DngTone toneOf(const ColorModel &model, double level, double known)
{
    if (model.curves.empty() && model.lean.contrast == 0)
        return {};
    DngTone tone{{0, 0}};
    constexpr int kPoints = 96;
    for (int i = 1; i < kPoints; ++i) {
        const double x = linearised(Transfer::Srgb, double(i) / kPoints);
        const double y = xyzFromBalanced(model, {level * x, level * x, level * x}).y / level;
        if (x > known || y > 1 - 1e-3)
            break;
        if (y > tone.back().second + 1e-9)
            tone.emplace_back(x, y);
    }
    tone.emplace_back(1, 1);
    return tone;
}

/// The lightest channel of colours at the profile's level; nearly all where none is given.
double lightestOf(const std::vector<Vector3> &colours, double level)
{
    double most = colours.empty() ? 1 : 0;
    for (const auto &rgb : colours)
        most = std::max(most, *std::max_element(rgb.begin(), rgb.end()) / level);
    return std::clamp(most, 0.3, 0.97);
}

} // namespace

Xyz appliedProfile(const ProfileColor &profile, const Vector3 &balanced)
{
    Vector3 rgb = rommFromXyz() * (profile.forwardMatrix * balanced);
    for (auto &v : rgb)
        v = std::max(0.0, v);
    if (profile.map.hues > 0) {
        Hsv hsv = hsvOf(rgb);
        const double code = codeOf(profile.map, hsv.v);
        const auto e = at(profile.map, hsv, code);
        const double scaled = std::clamp(code * double(e.valueScale), 0.0, 1.0);
        hsv = {hsv.h + double(e.hueShift), std::min(1.0, hsv.s * double(e.saturationScale)),
               profile.map.codedValues ? linearised(Transfer::Srgb, scaled) : scaled};
        rgb = rgbOf(hsv);
    }
    return xyzOf(xyzFromRomm() * tonedRgb(profile.tone, rgb, false));
}

ProfileColor profileColorOf(const ColorModel &model, const std::vector<CameraRgb> &colours,
                            const HueSatMap &size)
{
    ProfileColor profile;
    profile.forwardMatrix = model.matrix;
    profile.level = model.exposureScale * std::min({model.multipliers[0], 1.0, model.multipliers[2]});
    std::vector<Vector3> given;
    for (const auto &rgb : colours)
        given.push_back(vectorOf(balancedFrom(model, rgb)));
    profile.tone = toneOf(model, profile.level, lightestOf(given, profile.level));
    if (model.isLinear() && size.hues == 0)
        return profile;
    const auto lattice = latticeOf(model);
    std::vector<std::array<int, 3>> sizes{{36, 8, 1},   {72, 20, 1},  {90, 40, 1},  {36, 12, 8},
                                          {48, 16, 12}, {72, 20, 16}, {90, 30, 20}, {120, 40, 24}};
    if (size.hues > 0)
        sizes = {{size.hues, size.saturations, size.values}};
    ProfileColor best;
    double least = 0;
    for (const auto &[hues, saturations, values] : sizes) {
        profile.map = {};
        profile.map.hues = hues;
        profile.map.saturations = saturations;
        profile.map.values = values;
        profile.map.codedValues = values > 1;
        profile.map = mapFor(model, profile, profile.map);
        const double error = judged(profile, model, lattice, given);
        if (best.map.hues == 0 || error < least) {
            best = profile;
            least = error;
        }
        if (least < 0.3)
            break;
    }
    return best;
}

} // namespace wavechroma
