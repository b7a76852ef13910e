#include "core/formats/camera_profile.h"

#include "core/formats/tag_directory.h"

namespace wavechroma {

using namespace tags;

namespace {

constexpr uint16_t kMagic = 0x4352; // "RC"
constexpr uint16_t kUniqueCameraModel = 50708, kColorMatrix1 = 50721, kCalibrationIlluminant1 = 50778, kProfileName = 50936,
                   kProfileToneCurve = 50940, kProfileEmbedPolicy = 50941, kProfileCopyright = 50942, kForwardMatrix1 = 50964,
                   kBaselineExposureOffset = 51109, kDefaultBlackRender = 51110, kIlluminantData1 = 52533;

Tag matrixTag(uint16_t id, const Matrix3 &m)
{
    std::vector<double> entries;
    for (const auto &row : m.rows)
        entries.insert(entries.end(), row.begin(), row.end());
    return srationals(id, entries);
}

/// IlluminantData1: a 16-bit kind (0: x and y follow as two RATIONALs), then the values.
Tag illuminantTag(const Chromaticity &xy)
{
    Bytes data{0, 0};
    const auto values = rationals(0, {xy.x, xy.y}).data;
    data.insert(data.end(), values.begin(), values.end());
    return undefined(kIlluminantData1, data);
}

std::optional<Matrix3> matrixFrom(const std::vector<Tag> &tags, uint16_t id)
{
    const auto v = numbersOf(tags, id);
    if (!v || v->size() != 9)
        return std::nullopt;
    Matrix3 m;
    for (int i = 0; i < 9; ++i)
        m(i / 3, i % 3) = (*v)[size_t(i)];
    return m;
}

} // namespace

CameraProfile cameraProfileOf(const Calibration &c, const CameraProfileOptions &options)
{
    CameraProfile p;
    p.cameraModel = c.camera.uniqueModel.empty() ? c.camera.make + " " + c.camera.model : c.camera.uniqueModel;
    p.name = c.name;
    p.copyright = options.copyright;
    p.illuminantCode = c.light.exifCode;
    if (p.illuminantCode == 255)
        p.illuminant = c.light.xy;
    p.colorMatrix = c.colorMatrix;
    p.forwardMatrix = c.matrix;
    p.linearTone = options.linearTone;
    return p;
}

Bytes fileOf(const CameraProfile &p)
{
    Directory d;
    d.tags = {ascii(kUniqueCameraModel, p.cameraModel),
              matrixTag(kColorMatrix1, p.colorMatrix),
              shorts(kCalibrationIlluminant1, {uint16_t(p.illuminantCode)}),
              ascii(kProfileName, p.name),
              longs(kProfileEmbedPolicy, {uint32_t(p.embedPolicy)}),
              matrixTag(kForwardMatrix1, p.forwardMatrix),
              srationals(kBaselineExposureOffset, {p.baselineExposureOffset})};
    if (!p.copyright.empty())
        d.tags.push_back(ascii(kProfileCopyright, p.copyright));
    if (p.illuminant)
        d.tags.push_back(illuminantTag(*p.illuminant));
    if (p.linearTone) {
        d.tags.push_back(floats(kProfileToneCurve, {0, 0, 1, 1}));
        d.tags.push_back(longs(kDefaultBlackRender, {1})); // none
    }
    return tags::fileOf(d, kMagic);
}

Result<CameraProfile> cameraProfileFrom(const Bytes &file, const std::string &name)
{
    const auto tags = readDirectory(file, kMagic, name);
    if (!tags)
        return tags.error();
    CameraProfile p;
    const auto color = matrixFrom(*tags, kColorMatrix1);
    if (!color)
        return unusable(name + ": has no ColorMatrix1 of 3 by 3");
    p.colorMatrix = *color;
    p.forwardMatrix = matrixFrom(*tags, kForwardMatrix1).value_or(Matrix3{});
    p.cameraModel = textOf(*tags, kUniqueCameraModel).value_or("");
    p.name = textOf(*tags, kProfileName).value_or("");
    p.copyright = textOf(*tags, kProfileCopyright).value_or("");
    const auto first = [&](uint16_t id, double otherwise) {
        const auto v = numbersOf(*tags, id);
        return v && !v->empty() ? v->front() : otherwise;
    };
    p.illuminantCode = int(first(kCalibrationIlluminant1, 0));
    p.embedPolicy = int(first(kProfileEmbedPolicy, 0));
    p.baselineExposureOffset = first(kBaselineExposureOffset, 0);
    p.linearTone = numbersOf(*tags, kProfileToneCurve) == std::vector<double>{0, 0, 1, 1};
    if (const auto *data = find(*tags, kIlluminantData1); data && data->data.size() >= 18 && data->data[0] == 0 && data->data[1] == 0) {
        const Tag pair{0, Type::Rational, 2, Bytes(data->data.begin() + 2, data->data.begin() + 18)};
        const auto xy = *numbersOf({pair}, 0);
        p.illuminant = Chromaticity{xy[0], xy[1]};
    }
    return p;
}

} // namespace wavechroma
