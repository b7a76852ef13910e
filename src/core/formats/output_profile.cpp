#include "core/formats/icc_saving.h"
#include "core/formats/picture_file.h"
#include "core/raw/icc_handles.h"

#include <fmt/format.h>

namespace wavechroma {

namespace {

icc::Curve curveOf(Transfer transfer)
{
    switch (transfer) {
    case Transfer::Srgb: { // parametric type 4 of lcms2 is ICC's type 3
        const cmsFloat64Number parameters[] = {2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045};
        return icc::Curve(cmsBuildParametricToneCurve(nullptr, 4, parameters));
    }
    case Transfer::Romm: {
        const cmsFloat64Number parameters[] = {1.8, 1, 0, 1.0 / 16, 16.0 / 512};
        return icc::Curve(cmsBuildParametricToneCurve(nullptr, 4, parameters));
    }
    case Transfer::OpRgb:
        return icc::Curve(cmsBuildGamma(nullptr, 563.0 / 256));
    default:
        return icc::Curve(cmsBuildGamma(nullptr, 1));
    }
}

void setText(cmsHPROFILE profile, cmsTagSignature tag, const std::string &text)
{
    const icc::Text mlu(cmsMLUalloc(nullptr, 1));
    cmsMLUsetASCII(mlu.get(), "en", "US", text.c_str());
    cmsWriteTag(profile, tag, mlu.get());
}

} // namespace

Result<Bytes> iccProfileOf(const RgbSpace &space)
{
    const cmsCIExyY white{space.white.x, space.white.y, 1};
    const cmsCIExyYTRIPLE primaries{
        {space.red.x, space.red.y, 1}, {space.green.x, space.green.y, 1}, {space.blue.x, space.blue.y, 1}};
    const icc::Curve curve = curveOf(space.transfer);
    cmsToneCurve *curves[] = {curve.get(), curve.get(), curve.get()};
    const icc::Profile profile(cmsCreateRGBProfile(&white, &primaries, curves));
    if (!profile)
        return internalError("the ICC profile could not be made");
    setText(profile.get(), cmsSigProfileDescriptionTag, fmt::format("{}", space.title));
    setText(profile.get(), cmsSigCopyrightTag, "No copyright, use freely");
    cmsSetHeaderRenderingIntent(profile.get(), INTENT_RELATIVE_COLORIMETRIC);
    return savedProfile(profile.get());
}

} // namespace wavechroma
