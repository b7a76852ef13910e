#include "core/formats/reader_colour.h"

#include "core/color/camera_matrices.h"
#include "core/color/code_curve.h"
#include "core/color/lab.h"
#include "core/color/temperature.h"
#include "core/fit/part_balance.h"
#include "core/fit/two_lights.h"
#include "core/raw/icc_handles.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

/// Balanced and scaled, white at 1.
Vector3 balancedBy(const CameraView &camera, const CameraRgb &rgb)
{
    const auto &m = camera.multipliers;
    return {rgb.r * m[0] * camera.scale, rgb.g * m[1] * camera.scale, rgb.b * m[2] * camera.scale};
}

bool isRendered(const CameraView &camera)
{
    return camera.fileColor.xyzD50FromRendered.has_value();
}

/// A rendered picture's own codes.
Vector3 codesOf(const CameraView &camera, const CameraRgb &rgb)
{
    const Vector3 light{rgb.r, rgb.g, rgb.b};
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c)
        out[c] = hasCodes(camera.fileColor) ? codeOfLight(camera.fileColor.renderedCodes[c], light[c])
                                            : std::clamp(encoded(Transfer::Srgb, light[c]), 0.0, 1.0);
    return out;
}

Vector3 inputOf(const CameraView &camera, const CameraRgb &rgb, CameraCoding coding)
{
    if (isRendered(camera))
        return codesOf(camera, rgb);
    auto out = balancedBy(camera, rgb);
    for (auto &v : out)
        v = coded(coding, std::clamp(v, 0.0, 1.0));
    return out;
}

/// The profile's lights as those of a calibration, to be weighed like them.
Calibration lightsOf(const CameraProfile &profile)
{
    Calibration out;
    for (const auto &one : profile.lights) {
        LightModel light;
        light.colorMatrix = one.colorMatrix;
        const double kelvin = kelvinOfExifCode(one.illuminantCode);
        light.light.xy = one.illuminant.value_or(chromaticityFromTemperature({kelvin, 0}));
        light.light.cctKelvin = one.illuminant ? temperatureOf(*one.illuminant).cctKelvin : kelvin;
        out.lights.push_back(light);
    }
    out.light = out.lights.front().light;
    return out;
}

ProfileColor mixed(const CameraProfile &profile, const std::vector<double> &weights)
{
    ProfileColor out;
    out.tone = profile.tone;
    out.map = profile.lights.front().map;
    for (auto &entry : out.map.entries)
        entry = {0, 0, 0};
    for (size_t i = 0; i < profile.lights.size(); ++i) {
        const auto &light = profile.lights[i];
        for (int k = 0; k < 9; ++k)
            out.forwardMatrix(k / 3, k % 3) += weights[i] * light.forwardMatrix(k / 3, k % 3);
        const auto share = float(weights[i]);
        for (size_t k = 0; k < out.map.entries.size() && k < light.map.entries.size(); ++k) {
            out.map.entries[k].hueShift += share * light.map.entries[k].hueShift;
            out.map.entries[k].saturationScale += share * light.map.entries[k].saturationScale;
            out.map.entries[k].valueScale += share * light.map.entries[k].valueScale;
        }
    }
    return out;
}

} // namespace

CameraColour colourBy(const CameraProfile &profile, const CameraView &camera)
{
    const auto &m = camera.multipliers;
    const auto lights = lightsOf(profile);
    const auto color =
        mixed(profile, profile.lights.size() > 1 ? lightWeights(lights, {m[1] / m[0], 1, m[1] / m[2]})
                                                 : std::vector<double>{1});
    const double least = std::min({m[0], m[1], m[2]});
    return [color, m, least](const CameraRgb &rgb) {
        return appliedProfile(color, {rgb.r * m[0] / least, rgb.g * m[1] / least, rgb.b * m[2] / least});
    };
}

Result<CameraColour> colourByIcc(const Bytes &bytes, const CameraView &camera,
                                 const std::optional<CameraCoding> &coding, const std::string &name)
{
    const icc::Profile input(cmsOpenProfileFromMem(bytes.data(), cmsUInt32Number(bytes.size())));
    if (!input || cmsGetColorSpace(input.get()) != cmsSigRgbData)
        return unusable("{file}: is no ICC profile of RGB", {{"file", name}});
    char text[256] = {};
    cmsGetProfileInfoASCII(input.get(), cmsInfoDescription, "en", "US", text, sizeof text);
    const bool saysSrgb = std::string_view(text).find("(sRGB-coded") != std::string_view::npos;
    const auto as = coding.value_or(saysSrgb ? CameraCoding::Srgb : CameraCoding::Linear);
    const icc::Profile lab(cmsCreateLab4Profile(nullptr));
    const std::shared_ptr<void> transform(cmsCreateTransform(input.get(), TYPE_RGB_DBL, lab.get(),
                                                             TYPE_Lab_DBL, INTENT_RELATIVE_COLORIMETRIC,
                                                             cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE),
                                          [](cmsHTRANSFORM t) {
                                              if (t)
                                                  cmsDeleteTransform(t);
                                          });
    if (!transform)
        return unusable("{file}: lcms2 cannot use this profile as an input", {{"file", name}});
    return CameraColour([camera, as, transform](const CameraRgb &rgb) {
        const auto in = inputOf(camera, rgb, as);
        double out[3];
        cmsDoTransform(transform.get(), in.data(), out, 1);
        return xyzFromLab({out[0], out[1], out[2]});
    });
}

CameraColour plainColour(const CameraView &camera)
{
    const auto &m = camera.multipliers;
    const auto matrix = fileMatrix(camera.fileColor, {m[1] / m[0], 1, m[1] / m[2]});
    return [camera, matrix](const CameraRgb &rgb) { return xyzOf(matrix * balancedBy(camera, rgb)); };
}

CameraColour colourByCube(const CubeLut &table, const CameraView &camera,
                          const std::optional<CameraCoding> &coding)
{
    const auto space = rgbSpaceFromId(table.outputSpace).value_or(srgb());
    const auto back = xyzD50FromRgbMatrix(space);
    const auto out = [space, back, table](const Vector3 &in) {
        auto codes = applied(table, in);
        for (auto &v : codes)
            v = linearised(space.transfer, v);
        return xyzOf(back * codes);
    };
    if (table.madeFor == TableInput::PlainPicture && !isRendered(camera))
        return [out, space, plain = plainColour(camera)](const CameraRgb &rgb) {
            const auto seen = rgbFromXyzD50(space, plain(rgb));
            Vector3 codes{};
            for (const auto &[c, v] : {std::pair<size_t, double>{0, seen.r}, {1, seen.g}, {2, seen.b}})
                codes[c] = encoded(space.transfer, std::clamp(v, 0.0, 1.0));
            return out(codes);
        };
    return [out, camera, as = coding.value_or(CameraCoding::Srgb)](const CameraRgb &rgb) {
        return out(inputOf(camera, rgb, as));
    };
}

} // namespace wavechroma
