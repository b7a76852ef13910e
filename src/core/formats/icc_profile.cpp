#include "core/formats/icc_profile.h"

#include "core/formats/icc_saving.h"

#include "core/color/adaptation.h"
#include "core/color/code_curve.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/names.h"
#include "core/raw/icc_handles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <memory>

namespace wavechroma {

namespace {

void writeText(cmsHPROFILE profile, cmsTagSignature tag, const std::string &text)
{
    const icc::Text mlu(cmsMLUalloc(nullptr, 1));
    if (cmsGetProfileVersion(profile) < 4) { // whose texts are ASCII
        cmsMLUsetASCII(mlu.get(), "en", "US", asciiOf(text).c_str());
        cmsWriteTag(profile, tag, mlu.get());
        return;
    }
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

icc::Curve curveOf(CameraCoding coding)
{
    if (coding == CameraCoding::Linear)
        return icc::Curve(cmsBuildGamma(nullptr, 1));
    // ICC parametric type 3: IEC 61966-2-1
    const cmsFloat64Number parameters[] = {2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045};
    return icc::Curve(cmsBuildParametricToneCurve(nullptr, 4, parameters));
}

cmsCIEXYZ columnOf(const Matrix3 &m, int column)
{
    return {m(0, column), m(1, column), m(2, column)};
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

void describe(cmsHPROFILE p, const Calibration &c, const IccOptions &options)
{
    cmsSetProfileVersion(p, options.version == 2 ? 2.4 : 4.3);
    cmsSetDeviceClass(p, cmsSigInputClass);
    cmsSetColorSpace(p, cmsSigRgbData);
    cmsSetHeaderRenderingIntent(p, INTENT_RELATIVE_COLORIMETRIC);
    writeText(p, cmsSigProfileDescriptionTag,
              c.name + (c.fileColor.xyzD50FromRendered ? " (rendered pictures, as they are)"
                        : options.coding == CameraCoding::Linear
                            ? " (linear camera RGB, balanced and scaled)"
                            : " (sRGB-coded camera RGB, balanced and scaled)"));
    writeText(p, cmsSigCopyrightTag,
              options.copyright.empty() ? "No copyright, use freely" : options.copyright);
    writeText(p, cmsSigDeviceMfgDescTag, c.camera.make);
    writeText(p, cmsSigDeviceModelDescTag,
              c.camera.model + (c.camera.lens.empty() ? "" : ", " + c.camera.lens));
    writeText(
        p, cmsSigCharTargetTag,
        provenanceOf(c)); // "the name of the registered characterization data set, or the data themselves"
    const cmsCIEXYZ white{kD50White.x, kD50White.y, kD50White.z}, black{0, 0, 0};
    cmsWriteTag(p, cmsSigMediaWhitePointTag, &white);
    if (options.version == 2)
        cmsWriteTag(p, cmsSigMediaBlackPointTag, &black); // gone in version 4
    // chromaticAdaptationTag: how colours under the light were taken to D50 (ICC.1:2010 9.2.15)
    const auto adapted = adaptation(xyzFromChromaticity(c.light.xy), kD50White);
    cmsCIEXYZ chad[3];
    for (int row = 0; row < 3; ++row)
        chad[row] = {adapted(row, 0), adapted(row, 1), adapted(row, 2)};
    cmsWriteTag(p, cmsSigChromaticAdaptationTag, chad);
}

/// Codes of the input → light, and what the light is then multiplied by. Rendered pictures come as they are,
/// camera RGB comes balanced and scaled.
struct IccInput
{
    std::array<icc::Curve, 3> curves;
    std::array<std::function<double(double)>, 3> light; ///< of a code
    std::array<std::function<double(double)>, 3> code;
    Vector3 gains{1, 1, 1};
};

IccInput pictureInputOf(const Calibration &c)
{
    IccInput out;
    for (size_t i = 0; i < 3; ++i) {
        const auto &curve = c.fileColor.renderedCodes[i];
        out.light[i] = [curve](double code) { return lightOfCode(curve, code); };
        out.code[i] = [curve](double light) { return codeOfLight(curve, light); };
        std::vector<cmsFloat32Number> table;
        constexpr int kSize = 4096;
        for (int at = 0; at < kSize; ++at)
            table.push_back(cmsFloat32Number(lightOfCode(curve, double(at) / (kSize - 1))));
        out.curves[i] = icc::Curve(cmsBuildTabulatedToneCurveFloat(nullptr, kSize, table.data()));
        out.gains[i] = c.multipliers[i] * c.exposureScale;
    }
    return out;
}

IccInput inputOf(const Calibration &c, CameraCoding coding)
{
    if (c.fileColor.xyzD50FromRendered)
        return pictureInputOf(c);
    IccInput out;
    for (size_t i = 0; i < 3; ++i) {
        out.curves[i] = curveOf(coding);
        out.light[i] = [coding](double code) { return uncoded(coding, code); };
        out.code[i] = [coding](double light) { return coded(coding, light); };
    }
    return out;
}

bool writeMatrix(cmsHPROFILE p, const Calibration &c, const IccInput &input)
{
    cmsSetPCS(p, cmsSigXYZData);
    const cmsTagSignature columns[] = {cmsSigRedColorantTag, cmsSigGreenColorantTag, cmsSigBlueColorantTag};
    const cmsTagSignature curves[] = {cmsSigRedTRCTag, cmsSigGreenTRCTag, cmsSigBlueTRCTag};
    const auto matrix = c.matrix * diagonal(input.gains);
    bool written = true;
    for (int channel = 0; channel < 3; ++channel) {
        const auto column = columnOf(matrix, channel);
        written = written && cmsWriteTag(p, columns[channel], &column) &&
                  cmsWriteTag(p, curves[channel], input.curves[size_t(channel)].get());
    }
    return written;
}

struct Sampled
{
    const Calibration &calibration;
    Vector3 gains;
    bool version2;
};

double linearOf(double lightness)
{
    return xyzFromLab({100 * lightness, 0, 0}).y;
}

/// One node of the table: its axes are L*/100 of the channels.
int sampleNode(const cmsUInt16Number in[], cmsUInt16Number out[], void *cargo)
{
    const auto &s = *static_cast<const Sampled *>(cargo);
    const Lab lab = labFromXyz(xyzFromBalanced(s.calibration, {s.gains[0] * linearOf(in[0] / 65535.0),
                                                               s.gains[1] * linearOf(in[1] / 65535.0),
                                                               s.gains[2] * linearOf(in[2] / 65535.0)}));
    // the two codings of Lab in 16 bits: ICC.1:2010 6.3.4.2, and table 42 for lut16Type
    const double one = s.version2 ? 65280.0 / 100 : 65535.0 / 100, ab = s.version2 ? 256 : 257;
    const auto code = [](double v) { return cmsUInt16Number(std::lround(std::clamp(v, 0.0, 65535.0))); };
    out[0] = code(lab.l * one);
    out[1] = code((lab.a + 128) * ab);
    out[2] = code((lab.b + 128) * ab);
    return 1;
}

/// A code of the input → L*/100.
icc::Curve axisCurve(const std::function<double(double)> &light)
{
    std::vector<cmsUInt16Number> values;
    constexpr int kSize = 4096; // the most that lut16Type holds
    for (int i = 0; i < kSize; ++i) {
        const double y = light(double(i) / (kSize - 1));
        values.push_back(cmsUInt16Number(std::lround(
            65535 * std::clamp(labFromXyz({y * kD50White.x, y, y * kD50White.z}).l / 100, 0.0, 1.0))));
    }
    return icc::Curve(cmsBuildTabulatedToneCurve16(nullptr, kSize, values.data()));
}

bool writeTable(cmsHPROFILE p, const Calibration &c, const IccOptions &options, const IccInput &input,
                int side)
{
    cmsSetPCS(p, cmsSigLabData);
    const std::unique_ptr<cmsPipeline, decltype([](cmsPipeline *l) { cmsPipelineFree(l); })> pipeline(
        cmsPipelineAlloc(nullptr, 3, 3));
    const icc::Curve red = axisCurve(input.light[0]), green = axisCurve(input.light[1]),
                     blue = axisCurve(input.light[2]), straight(cmsBuildGamma(nullptr, 1));
    cmsToneCurve *axes[] = {red.get(), green.get(), blue.get()},
                 *ends[] = {straight.get(), straight.get(), straight.get()};
    cmsStage *table = cmsStageAllocCLut16bit(nullptr, cmsUInt32Number(side), 3, 3, nullptr);
    Sampled sampled{c, input.gains, options.version == 2};
    return pipeline && table && cmsStageSampleCLut16bit(table, sampleNode, &sampled, 0) &&
           cmsPipelineInsertStage(pipeline.get(), cmsAT_END, cmsStageAllocToneCurves(nullptr, 3, axes)) &&
           cmsPipelineInsertStage(pipeline.get(), cmsAT_END, table) &&
           cmsPipelineInsertStage(pipeline.get(), cmsAT_END, cmsStageAllocToneCurves(nullptr, 3, ends)) &&
           cmsWriteTag(p, cmsSigAToB0Tag, pipeline.get());
}

Result<Bytes> tableProfileOf(const Calibration &c, const IccOptions &options, const IccInput &input, int side)
{
    const icc::Profile profile(cmsCreateProfilePlaceholder(nullptr));
    if (!profile)
        return internalError("lcms2 has no memory for a profile");
    describe(profile.get(), c, options);
    if (!writeTable(profile.get(), c, options, input, side))
        return internalError("lcms2 could not write the table");
    return savedProfile(profile.get());
}

/// Balanced RGB of the patches and of a lattice of surface colours, where all channels are within 0…1.
std::vector<Vector3> coloursOf(const Calibration &c)
{
    std::vector<Vector3> out;
    const auto add = [&](const Vector3 &rgb) {
        if (std::all_of(rgb.begin(), rgb.end(), [](double v) { return v >= 0 && v <= 1; }))
            out.push_back(rgb);
    };
    for (const auto &p : c.patches)
        add(vectorOf(balancedFrom(c, p.rgb)));
    const auto back = inverse(c.matrix);
    for (int l = 0; back && l < 6; ++l)
        for (int h = 0; h < 11; ++h)
            for (int k = 0; k < 3; ++k) {
                const double hue = 2 * 3.14159265358979 * (h + 0.4 * l) / 11, chroma = 4 + 8 * k;
                add(*back * vectorOf(xyzFromCompressed(
                                {20.0 + 13 * l, chroma * std::cos(hue), chroma * std::sin(hue)})));
            }
    return out;
}

} // namespace

Result<Bytes> iccProfileOf(const Calibration &c, const IccOptions &options)
{
    if (options.coding == CameraCoding::Log || options.coding == CameraCoding::OpRgb)
        return unusable("an ICC profile is written for linear or sRGB-coded camera RGB only");
    if (options.version != 2 && options.version != 4)
        return unusable("an ICC profile is of version 2 or 4, not {version}",
                        {{"version", double(options.version)}});
    if (const auto known = checkCodes(c); !known)
        return known.error();
    const auto input = inputOf(c, options.coding);
    const bool linear = c.isLinear();
    if (options.kind == IccOptions::Kind::Matrix && !linear)
        return unusable(
            "{calibration}: its colour or tone is more than a matrix, so only a table can hold it",
            {{"calibration", c.name}});
    if (options.kind == IccOptions::Kind::Table || !linear) {
        for (const int side : {33, 45, 61}) {
            auto bytes = tableProfileOf(c, options, input, side);
            const auto agreement =
                bytes ? iccAgreement(*bytes, c, options.coding) : Result<Agreement>(bytes.error());
            if (!agreement)
                return agreement.error();
            if ((agreement->mean < 0.05 && agreement->p98 < 0.2 && agreement->worst < 0.4) || side == 61)
                return bytes;
        }
    }
    const icc::Profile profile(cmsCreateProfilePlaceholder(nullptr));
    if (!profile)
        return internalError("lcms2 has no memory for a profile");
    describe(profile.get(), c, options);
    if (!writeMatrix(profile.get(), c, input))
        return unusable("{calibration}: its matrix has entries that an ICC profile cannot hold",
                        {{"calibration", c.name}});
    return savedProfile(profile.get());
}

Result<Agreement> iccAgreement(const Bytes &file, const Calibration &c, CameraCoding coding)
{
    const icc::Profile profile(cmsOpenProfileFromMem(file.data(), cmsUInt32Number(file.size()))),
        lab(cmsCreateLab4Profile(nullptr));
    const icc::Transform transform(profile ? cmsCreateTransform(profile.get(), TYPE_RGB_DBL, lab.get(),
                                                                TYPE_Lab_DBL, INTENT_RELATIVE_COLORIMETRIC,
                                                                cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE)
                                           : nullptr);
    if (!transform)
        return internalError("the ICC profile cannot be applied");
    std::vector<double> errors;
    const auto input = inputOf(c, coding);
    for (const auto &rgb : coloursOf(c)) {
        double in[3];
        for (size_t i = 0; i < 3; ++i)
            in[i] = input.code[i](rgb[i] / input.gains[i]);
        const bool isHeld =
            std::all_of(std::begin(in), std::end(in), [](double v) { return v >= 0 && v <= 1; }) &&
            std::equal(std::begin(rgb), std::end(rgb), std::begin(input.gains),
                       [](double v, double gain) { return v <= gain; });
        if (!isHeld)
            continue;
        double out[3];
        cmsDoTransform(transform.get(), in, out, 1);
        errors.push_back(
            de2000({out[0], out[1], out[2]}, labFromXyz(xyzFromBalanced(c, {rgb[0], rgb[1], rgb[2]}))));
    }
    return agreementOf(std::move(errors));
}

Result<json::Json> iccContent(const Bytes &file, const std::string &name)
{
    const icc::Profile profile(cmsOpenProfileFromMem(file.data(), cmsUInt32Number(file.size())));
    if (!profile)
        return unusable("{file}: is not a sound ICC profile", {{"file", name}});
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
        out["colorants"] = {{"red", xyzTag(p, cmsSigRedColorantTag)},
                            {"green", xyzTag(p, cmsSigGreenColorantTag)},
                            {"blue", xyzTag(p, cmsSigBlueColorantTag)}};
    if (const auto *table = static_cast<const cmsPipeline *>(cmsReadTag(p, cmsSigAToB0Tag)))
        out["a_to_b0"] = {{"stages", cmsPipelineStageCount(table)},
                          {"inputs", cmsPipelineInputChannels(table)},
                          {"outputs", cmsPipelineOutputChannels(table)}};
    if (const auto curve = curveTag(p, cmsSigRedTRCTag); !curve.is_null())
        out["curves"] = {{"red", curve},
                         {"green", curveTag(p, cmsSigGreenTRCTag)},
                         {"blue", curveTag(p, cmsSigBlueTRCTag)}};
    json::Json tags = json::Json::array();
    for (int i = 0; i < cmsGetTagCount(p); ++i)
        tags.push_back(signatureText(cmsGetTagSignature(p, cmsUInt32Number(i))));
    out["tags"] = tags;
    return out;
}

} // namespace wavechroma
