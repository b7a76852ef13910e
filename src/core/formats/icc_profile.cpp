#include "core/formats/icc_profile.h"

#include "core/color/adaptation.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <lcms2.h>
#include <memory>

namespace wavechroma {

namespace {

using Profile = std::unique_ptr<void, decltype([](void *p) { cmsCloseProfile(p); })>;
using Curve = std::unique_ptr<cmsToneCurve, decltype([](cmsToneCurve *c) { cmsFreeToneCurve(c); })>;
using Text = std::unique_ptr<cmsMLU, decltype([](cmsMLU *t) { cmsMLUfree(t); })>;

void writeText(cmsHPROFILE profile, cmsTagSignature tag, const std::string &text)
{
    const Text mlu(cmsMLUalloc(nullptr, 1));
    // lcms2 wants wide characters; our texts are UTF-8
    std::wstring wide;
    for (size_t i = 0; i < text.size();) {
        const auto lead = uint8_t(text[i]);
        const size_t length = lead < 0x80 ? 1 : lead < 0xE0 ? 2 : lead < 0xF0 ? 3 : 4;
        uint32_t code = length == 1 ? lead : lead & (0xFFU >> (length + 1));
        for (size_t k = 1; k < length && i + k < text.size(); ++k)
            code = code << 6 | (uint8_t(text[i + k]) & 0x3FU);
        wide.push_back(wchar_t(code));
        i += length;
    }
    cmsMLUsetWide(mlu.get(), "en", "US", wide.c_str());
    cmsWriteTag(profile, tag, mlu.get());
}

Curve curveOf(IccEncoding encoding)
{
    if (encoding == IccEncoding::Linear)
        return Curve(cmsBuildGamma(nullptr, 1));
    // ICC parametric type 3: IEC 61966-2-1
    const cmsFloat64Number parameters[] = {2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045};
    return Curve(cmsBuildParametricToneCurve(nullptr, 4, parameters));
}

cmsCIEXYZ columnOf(const Matrix3 &m, int column)
{
    return {m(0, column), m(1, column), m(2, column)};
}

Result<Bytes> saved(cmsHPROFILE profile)
{
    cmsUInt32Number size = 0;
    if (!cmsSaveProfileToMem(profile, nullptr, &size))
        return internalError("the ICC profile could not be measured");
    Bytes out(size);
    if (!cmsSaveProfileToMem(profile, out.data(), &size))
        return internalError("the ICC profile could not be made");
    return out;
}

std::string signatureText(uint32_t signature)
{
    std::string text;
    for (int shift = 24; shift >= 0; shift -= 8)
        text.push_back(char(signature >> shift));
    text.erase(text.find_last_not_of(" \0") + 1);
    return text;
}

std::string textTag(cmsHPROFILE profile, cmsInfoType type)
{
    const auto size = cmsGetProfileInfo(profile, type, "en", "US", nullptr, 0);
    std::vector<wchar_t> wide(size / sizeof(wchar_t) + 1);
    cmsGetProfileInfo(profile, type, "en", "US", wide.data(), size);
    std::string text;
    for (size_t i = 0; i < wide.size() && wide[i]; ++i) {
        const auto code = uint32_t(wide[i]);
        if (code < 0x80) {
            text.push_back(char(code));
        } else if (code < 0x800) {
            text.push_back(char(0xC0 | code >> 6));
            text.push_back(char(0x80 | (code & 0x3F)));
        } else {
            text.push_back(char(0xE0 | code >> 12));
            text.push_back(char(0x80 | (code >> 6 & 0x3F)));
            text.push_back(char(0x80 | (code & 0x3F)));
        }
    }
    return text;
}

json::Json xyzTag(cmsHPROFILE profile, cmsTagSignature tag)
{
    const auto *xyz = static_cast<const cmsCIEXYZ *>(cmsReadTag(profile, tag));
    return xyz ? json::Json::array({xyz->X, xyz->Y, xyz->Z}) : json::Json();
}

/// A curve as five of its points, enough to tell linear from coded.
json::Json curveTag(cmsHPROFILE profile, cmsTagSignature tag)
{
    const auto *curve = static_cast<const cmsToneCurve *>(cmsReadTag(profile, tag));
    if (!curve)
        return {};
    json::Json points = json::Json::array();
    for (const float at : {0.0F, 0.25F, 0.5F, 0.75F, 1.0F})
        points.push_back({at, cmsEvalToneCurveFloat(curve, at)});
    return {{"linear", bool(cmsIsToneCurveLinear(curve))}, {"points", points}};
}

} // namespace

Result<IccEncoding> iccEncodingFrom(const std::string &name)
{
    if (name == "linear")
        return IccEncoding::Linear;
    if (name == "srgb")
        return IccEncoding::Srgb;
    return unusable("unknown encoding \"" + name + "\"; known: linear, srgb");
}

Result<Bytes> iccProfileOf(const Calibration &c, IccEncoding encoding, const std::string &copyright)
{
    const Profile profile(cmsCreateProfilePlaceholder(nullptr));
    if (!profile)
        return internalError("lcms2 has no memory for a profile");
    cmsHPROFILE p = profile.get();
    cmsSetProfileVersion(p, 4.3);
    cmsSetDeviceClass(p, cmsSigInputClass);
    cmsSetColorSpace(p, cmsSigRgbData);
    cmsSetPCS(p, cmsSigXYZData);
    cmsSetHeaderRenderingIntent(p, INTENT_RELATIVE_COLORIMETRIC);
    writeText(p, cmsSigProfileDescriptionTag,
              c.name + (encoding == IccEncoding::Linear ? " (linear camera RGB, balanced and scaled)"
                                                        : " (sRGB-coded camera RGB, balanced and scaled)"));
    writeText(p, cmsSigCopyrightTag, copyright.empty() ? "No copyright, use freely" : copyright);
    writeText(p, cmsSigDeviceMfgDescTag, c.camera.make);
    writeText(p, cmsSigDeviceModelDescTag, c.camera.model + (c.camera.lens.empty() ? "" : ", " + c.camera.lens));
    const cmsCIEXYZ white{kD50White.x, kD50White.y, kD50White.z};
    cmsWriteTag(p, cmsSigMediaWhitePointTag, &white);
    // chromaticAdaptationTag: how colours under the light were taken to D50 (ICC.1:2010 9.2.15)
    const auto adapted = adaptation(xyzFromChromaticity(c.light.xy), kD50White);
    cmsCIEXYZ chad[3];
    for (int row = 0; row < 3; ++row)
        chad[row] = {adapted(row, 0), adapted(row, 1), adapted(row, 2)};
    cmsWriteTag(p, cmsSigChromaticAdaptationTag, chad);
    const cmsTagSignature columns[] = {cmsSigRedColorantTag, cmsSigGreenColorantTag, cmsSigBlueColorantTag};
    const cmsTagSignature curves[] = {cmsSigRedTRCTag, cmsSigGreenTRCTag, cmsSigBlueTRCTag};
    const Curve curve = curveOf(encoding);
    bool written = true;
    for (int channel = 0; channel < 3; ++channel) {
        const auto column = columnOf(c.matrix, channel);
        written = written && cmsWriteTag(p, columns[channel], &column) && cmsWriteTag(p, curves[channel], curve.get());
    }
    if (!written)
        return unusable(c.name + ": its matrix has entries that an ICC profile cannot hold");
    return saved(p);
}

Result<json::Json> iccContent(const Bytes &file, const std::string &name)
{
    const Profile profile(cmsOpenProfileFromMem(file.data(), cmsUInt32Number(file.size())));
    if (!profile)
        return unusable(name + ": is not a sound ICC profile");
    cmsHPROFILE p = profile.get();
    json::Json out{{"kind", "icc"},
                   {"version", std::round(cmsGetProfileVersion(p) * 10) / 10},
                   {"class", signatureText(cmsGetDeviceClass(p))},
                   {"color_space", signatureText(cmsGetColorSpace(p))},
                   {"pcs", signatureText(cmsGetPCS(p))},
                   {"rendering_intent", cmsGetHeaderRenderingIntent(p)},
                   {"description", textTag(p, cmsInfoDescription)},
                   {"manufacturer", textTag(p, cmsInfoManufacturer)},
                   {"model", textTag(p, cmsInfoModel)},
                   {"copyright", textTag(p, cmsInfoCopyright)},
                   {"white_point", xyzTag(p, cmsSigMediaWhitePointTag)}};
    if (cmsIsMatrixShaper(p))
        out["colorants"] = {{"red", xyzTag(p, cmsSigRedColorantTag)}, {"green", xyzTag(p, cmsSigGreenColorantTag)},
                            {"blue", xyzTag(p, cmsSigBlueColorantTag)}};
    if (const auto curve = curveTag(p, cmsSigRedTRCTag); !curve.is_null())
        out["curves"] = {{"red", curve}, {"green", curveTag(p, cmsSigGreenTRCTag)}, {"blue", curveTag(p, cmsSigBlueTRCTag)}};
    json::Json tags = json::Json::array();
    for (int i = 0; i < cmsGetTagCount(p); ++i)
        tags.push_back(signatureText(cmsGetTagSignature(p, cmsUInt32Number(i))));
    out["tags"] = tags;
    return out;
}

} // namespace wavechroma
