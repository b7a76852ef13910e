#include "core/color/code_curve.h"
#include "core/color/rgb_space.h"
#include "core/raw/decoders.h"
#include "core/raw/icc_handles.h"

#include <Eigen/Core>
#include <algorithm>
#include <array>
#include <cmath>

namespace wavechroma::raw {

namespace {

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
    const icc::Profile profile(cmsCreate_sRGBProfile());
    return *colorantsOf(profile.get());
}

using Curves = std::array<std::function<double(double)>, 3>; // code → linear, both 0…1

std::vector<CodeCurve> codesOf(const Curves &curves)
{
    std::vector<CodeCurve> out;
    for (const auto &curve : curves)
        if (auto codes = codeCurveOf(curve))
            out.push_back(std::move(*codes));
    return out.size() == curves.size() ? out : std::vector<CodeCurve>();
}

LinearPicture throughTables(CodedPicture picture, const Curves &curves)
{
    std::array<Table, 3> tables;
    for (size_t c = 0; c < 3; ++c)
        tables[c] = tableFrom(picture.maxCode, curves[c]);
    LinearPicture out{size_t(picture.channels), std::move(picture.codes), std::move(tables)};
    // The top code is where a rendered channel stops telling: everything brighter has the same code.
    float top = 1;
    for (const auto &table : out.light)
        top = std::min(top, table.back());
    out.saturation = top * 0.9999F;
    return out;
}

/// What the bits of a half-precision number (IEEE 754) stand for.
Table halves()
{
    Table table(65536);
    for (size_t bits = 0; bits < table.size(); ++bits)
        table[bits] = float(Eigen::numext::bit_cast<Eigen::half>(uint16_t(bits)));
    return table;
}

uint16_t halfOf(float light)
{
    const float most = 65504;
    return Eigen::numext::bit_cast<uint16_t>(
        Eigen::half(std::isfinite(light) ? std::clamp(light, -most, most) : 0.0F));
}

/// Light is kept as half-precision numbers, to 1 in 2048.
Result<Linearised> throughTransform(CodedPicture picture, cmsHPROFILE profile, const std::string &name)
{
    if (picture.channels != 3)
        return unusable("{file}: its embedded profile does not fit a grey picture", {{"file", name}});
    const cmsCIExyY white{0.3127, 0.3290, 1};
    const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
    const icc::Curve linear(cmsBuildGamma(nullptr, 1.0));
    cmsToneCurve *curves[] = {linear.get(), linear.get(), linear.get()};
    const icc::Profile target(cmsCreateRGBProfile(&white, &primaries, curves));
    const icc::Transform transform(cmsCreateTransform(profile, TYPE_RGB_16, target.get(), TYPE_RGB_FLT,
                                                      INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE));
    if (!transform)
        return unusable("{file}: its embedded profile cannot be used", {{"file", name}});
    const size_t rowSize = size_t(picture.width) * 3;
    std::vector<float> row(rowSize);
    for (auto *from = picture.codes.begin(); from != picture.codes.end(); from += ptrdiff_t(rowSize)) {
        const auto codes = std::span(from, rowSize);
        if (picture.maxCode <= 255)
            for (auto &code : codes)
                code = uint16_t(code * 257);
        cmsDoTransform(transform.get(), codes.data(), row.data(), cmsUInt32Number(picture.width));
        std::transform(row.begin(), row.end(), codes.begin(), halfOf);
    }
    const Table table = halves();
    return Linearised{{3, std::move(picture.codes), {table, table, table}, 0.9999F}, srgbColorants()};
}

} // namespace

Result<Linearised> linearise(CodedPicture picture, const std::string &name, const std::string &assume)
{
    if (picture.iccProfile.empty()) {
        const auto assumed = rgbSpaceFromId(assume);
        if (!assumed)
            return unusable("unknown space \"{space}\"; known: srgb, display-p3, oprgb, romm",
                            {{"space", assume}});
        const auto coded = picture.space.value_or(CodedSpace{*assumed});
        const auto curve = [&](double v) {
            return coded.power > 0 ? std::pow(v, coded.power) : linearised(coded.space.transfer, v);
        };
        const Curves curves{curve, curve, curve};
        return Linearised{throughTables(std::move(picture), curves), xyzD50FromRgbMatrix(coded.space),
                          codesOf(curves)};
    }
    const icc::Profile profile(
        cmsOpenProfileFromMem(picture.iccProfile.data(), cmsUInt32Number(picture.iccProfile.size())));
    if (!profile)
        return unusable("{file}: its embedded colour profile is damaged", {{"file", name}});
    const bool grey = cmsGetColorSpace(profile.get()) == cmsSigGrayData;
    const cmsTagSignature tags[] = {grey ? cmsSigGrayTRCTag : cmsSigRedTRCTag,
                                    grey ? cmsSigGrayTRCTag : cmsSigGreenTRCTag,
                                    grey ? cmsSigGrayTRCTag : cmsSigBlueTRCTag};
    if (!grey && !cmsIsMatrixShaper(profile.get()))
        return throughTransform(std::move(picture), profile.get(), name);
    const auto colorants = grey ? srgbColorants() : colorantsOf(profile.get());
    if (!colorants)
        return unusable("{file}: the primaries of its embedded colour profile are not valid",
                        {{"file", name}});
    Curves curves;
    for (size_t c = 0; c < 3; ++c) {
        const auto *curve = static_cast<const cmsToneCurve *>(cmsReadTag(profile.get(), tags[c]));
        if (!curve)
            return unusable("{file}: its embedded colour profile lacks a tone curve", {{"file", name}});
        curves[c] = [curve](double v) { return cmsEvalToneCurveFloat(curve, float(v)); };
    }
    return Linearised{throughTables(std::move(picture), curves), *colorants, codesOf(curves)};
}

} // namespace wavechroma::raw
