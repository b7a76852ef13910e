#include "core/color/rgb_space.h"
#include "core/raw/decoders.h"

#include <array>
#include <cmath>
#include <lcms2.h>

namespace wavechroma::raw {

namespace {

struct CloseProfile
{
    void operator()(void *profile) const { cmsCloseProfile(profile); }
};
using Profile = std::unique_ptr<void, CloseProfile>;

using Table = std::vector<float>; // code → linear

Table tableFrom(int maxCode, const std::function<double(double)> &curve)
{
    Table table(size_t(maxCode) + 1);
    for (int code = 0; code <= maxCode; ++code)
        table[size_t(code)] = float(curve(double(code) / maxCode));
    return table;
}

/// Columns: the primaries, scaled row by row so that their sum is the D50 white of ICC.1 to the last digit.
std::optional<Matrix3> colorantsOf(cmsHPROFILE profile)
{
    const cmsTagSignature tags[] = {cmsSigRedColorantTag, cmsSigGreenColorantTag, cmsSigBlueColorantTag};
    const Vector3 white{0.9642, 1, 0.8249};
    Matrix3 out;
    for (size_t c = 0; c < 3; ++c) {
        const auto *colorant = static_cast<const cmsCIEXYZ *>(cmsReadTag(profile, tags[c]));
        if (!colorant)
            return std::nullopt;
        out(0, int(c)) = colorant->X;
        out(1, int(c)) = colorant->Y;
        out(2, int(c)) = colorant->Z;
    }
    for (int row = 0; row < 3; ++row) {
        const double sum = out(row, 0) + out(row, 1) + out(row, 2);
        if (!(sum > 0.1))
            return std::nullopt;
        for (int c = 0; c < 3; ++c)
            out(row, c) *= white[size_t(row)] / sum;
    }
    return out;
}

Matrix3 srgbColorants()
{
    const Profile profile(cmsCreate_sRGBProfile());
    return *colorantsOf(profile.get());
}

LinearPicture throughTables(const CodedPicture &picture, const std::array<Table, 3> &tables)
{
    const size_t count = size_t(picture.width) * size_t(picture.height);
    LinearPicture out;
    out.rgb.resize(count * 3);
    for (size_t i = 0; i < count; ++i)
        for (size_t c = 0; c < 3; ++c) {
            const uint16_t code = picture.channels == 3 ? picture.codes[3 * i + c] : picture.codes[i];
            out.rgb[3 * i + c] = tables[c][code];
        }
    // The top code is where a rendered channel stops telling: everything brighter has the same code.
    float top = 1;
    for (const auto &table : tables)
        top = std::min(top, table.back());
    out.saturation = top * 0.9999F;
    return out;
}

Result<Linearised> throughTransform(const CodedPicture &picture, cmsHPROFILE profile, const std::string &name)
{
    if (picture.channels != 3)
        return unusable("{file}: its embedded profile does not fit a grey picture", {{"file", name}});
    const cmsCIExyY white{0.3127, 0.3290, 1};
    const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
    cmsToneCurve *linear = cmsBuildGamma(nullptr, 1.0);
    cmsToneCurve *curves[] = {linear, linear, linear};
    const Profile target(cmsCreateRGBProfile(&white, &primaries, curves));
    cmsFreeToneCurve(linear);
    const bool wide = picture.maxCode > 255;
    cmsHTRANSFORM transform = cmsCreateTransform(profile, TYPE_RGB_16, target.get(), TYPE_RGB_FLT,
                                                 INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE);
    if (!transform)
        return unusable("{file}: its embedded profile cannot be used", {{"file", name}});
    std::vector<uint16_t> codes = picture.codes;
    if (!wide)
        for (auto &code : codes)
            code = uint16_t(code * 257);
    LinearPicture out;
    out.rgb.resize(codes.size());
    cmsDoTransform(transform, codes.data(), out.rgb.data(), cmsUInt32Number(codes.size() / 3));
    cmsDeleteTransform(transform);
    out.saturation = 0.9999F;
    return Linearised{std::move(out), srgbColorants()};
}

} // namespace

Result<Linearised> linearise(const CodedPicture &picture, const std::string &name, const std::string &assume)
{
    if (picture.iccProfile.empty()) {
        const auto space = rgbSpaceFromId(picture.saysSrgb ? "srgb" : assume);
        if (!space)
            return unusable("unknown space \"{space}\"; known: srgb, display-p3, oprgb, romm",
                            {{"space", assume}});
        const Table table =
            tableFrom(picture.maxCode, [&](double v) { return linearised(space->transfer, v); });
        return Linearised{throughTables(picture, {table, table, table}), xyzD50FromRgbMatrix(*space)};
    }
    const Profile profile(
        cmsOpenProfileFromMem(picture.iccProfile.data(), cmsUInt32Number(picture.iccProfile.size())));
    if (!profile)
        return unusable("{file}: its embedded colour profile is damaged", {{"file", name}});
    const bool grey = cmsGetColorSpace(profile.get()) == cmsSigGrayData;
    const cmsTagSignature tags[] = {grey ? cmsSigGrayTRCTag : cmsSigRedTRCTag,
                                    grey ? cmsSigGrayTRCTag : cmsSigGreenTRCTag,
                                    grey ? cmsSigGrayTRCTag : cmsSigBlueTRCTag};
    if (!grey && !cmsIsMatrixShaper(profile.get()))
        return throughTransform(picture, profile.get(), name);
    const auto colorants = grey ? srgbColorants() : colorantsOf(profile.get());
    if (!colorants)
        return unusable("{file}: its embedded colour profile's primaries make no sense", {{"file", name}});
    std::array<Table, 3> tables;
    for (size_t c = 0; c < 3; ++c) {
        const auto *curve = static_cast<const cmsToneCurve *>(cmsReadTag(profile.get(), tags[c]));
        if (!curve)
            return unusable("{file}: its embedded colour profile lacks a tone curve", {{"file", name}});
        tables[c] =
            tableFrom(picture.maxCode, [&](double v) { return cmsEvalToneCurveFloat(curve, float(v)); });
    }
    return Linearised{throughTables(picture, tables), *colorants};
}

} // namespace wavechroma::raw
