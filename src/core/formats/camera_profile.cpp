#include "core/formats/camera_profile.h"

#include "core/formats/tag_directory.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

using namespace tags;

namespace {

constexpr uint16_t kMagic = 0x4352; // "RC"
constexpr uint16_t kUniqueCameraModel = 50708, kProfileName = 50936, kHueSatMapDims = 50937,
                   kProfileToneCurve = 50940, kProfileEmbedPolicy = 50941, kProfileCopyright = 50942,
                   kHueSatMapEncoding = 51107, kBaselineExposureOffset = 51109, kDefaultBlackRender = 51110;
/// Of the first, second and third light.
constexpr uint16_t kColorMatrix[] = {50721, 50722, 52531}, kCalibrationIlluminant[] = {50778, 50779, 52529},
                   kForwardMatrix[] = {50964, 50965, 52532}, kIlluminantData[] = {52533, 52534, 52535},
                   kHueSatMapData[] = {50938, 50939, 52537};

Tag matrixTag(uint16_t id, const Matrix3 &m)
{
    std::vector<double> entries;
    for (const auto &row : m.rows)
        entries.insert(entries.end(), row.begin(), row.end());
    return srationals(id, entries);
}

/// IlluminantData: a 16-bit kind (0: x and y follow as two RATIONALs), then the values.
Tag illuminantTag(uint16_t id, const Chromaticity &xy)
{
    Bytes data{0, 0};
    const auto values = rationals(0, {xy.x, xy.y}).data;
    data.insert(data.end(), values.begin(), values.end());
    return undefined(id, data);
}

Tag mapTag(uint16_t id, const HueSatMap &map)
{
    std::vector<float> values;
    for (const auto &e : map.entries)
        values.insert(values.end(), {e.hueShift, e.saturationScale, e.valueScale});
    return floats(id, values);
}

HueSatMap mapFrom(const std::vector<Tag> &tags, uint16_t id)
{
    HueSatMap map;
    const auto size = numbersOf(tags, kHueSatMapDims), values = numbersOf(tags, id),
               coded = numbersOf(tags, kHueSatMapEncoding);
    if (!size || size->size() < 2 || !values)
        return map;
    const auto side = [&](size_t i) { return i < size->size() ? std::clamp((*size)[i], 0.0, 1024.0) : 1.0; };
    if (side(0) < 1 || side(1) < 2 || side(2) < 1 ||
        double(values->size()) != 3 * side(0) * side(1) * side(2))
        return map;
    map.hues = int(side(0));
    map.saturations = int(side(1));
    map.values = int(side(2));
    map.codedValues = coded && !coded->empty() && coded->front() == 1;
    for (size_t i = 0; i + 2 < values->size(); i += 3)
        map.entries.push_back({float((*values)[i]), float((*values)[i + 1]), float((*values)[i + 2])});
    return map;
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

/// The tag whose value no profile may have, if one does: a fraction without a number below, a NaN, a policy
/// or a light that is no code.
std::optional<uint16_t> unusableTag(const std::vector<Tag> &tags)
{
    const auto isCode = [](double value, double most) {
        return value >= 0 && value <= most && value == std::floor(value);
    };
    for (const auto &tag : tags) {
        const bool isLight = std::ranges::count(kCalibrationIlluminant, tag.id) > 0;
        const auto values = numbersOf({tag}, tag.id).value_or(std::vector<double>{});
        for (const double value : values)
            if (!std::isfinite(value) || (isLight && !isCode(value, 65535)) ||
                (tag.id == kProfileEmbedPolicy && !isCode(value, 3)))
                return tag.id;
    }
    return std::nullopt;
}

} // namespace

CameraProfile cameraProfileOf(const Calibration &c, const CameraProfileOptions &options)
{
    CameraProfile p;
    p.cameraModel =
        c.camera.uniqueModel.empty() ? c.camera.make + " " + c.camera.model : c.camera.uniqueModel;
    p.name = c.name;
    p.copyright = options.copyright;
    p.linearTone = options.linearTone;
    std::vector<CameraRgb> seen;
    for (const auto &patch : c.patches)
        seen.push_back(patch.rgb);
    const auto add = [&](const ColorModel &model, const CalibrationLight &light, const Matrix3 &colorMatrix,
                         const HueSatMap &size) {
        const auto color = profileColorOf(model, seen, size);
        ProfileLight out{light.exifCode, {}, colorMatrix, color.forwardMatrix, color.map};
        if (out.illuminantCode == 255)
            out.illuminant = light.xy;
        p.lights.push_back(out);
        if (color.agreement.mean > p.agreement.mean)
            p.agreement = color.agreement;
        if (p.tone.empty()) // there is one for all lights
            p.tone = color.tone;
    };
    if (c.lights.empty())
        add(c, c.light, c.colorMatrix, {});
    HueSatMap size; // the largest that a light needs
    for (const auto &light : c.lights)
        if (const auto map = profileColorOf(light, seen).map; map.entries.size() > size.entries.size())
            size = map;
    for (const auto &light : c.lights)
        add(light, light.light, light.colorMatrix, size);
    return p;
}

std::vector<Tag> tagsOf(const CameraProfile &p)
{
    std::vector<Tag> out{ascii(kUniqueCameraModel, p.cameraModel), ascii(kProfileName, p.name),
                         longs(kProfileEmbedPolicy, {uint32_t(p.embedPolicy)}),
                         srationals(kBaselineExposureOffset, {p.baselineExposureOffset})};
    for (size_t i = 0; i < p.lights.size() && i < 3; ++i) {
        const auto &light = p.lights[i];
        out.push_back(matrixTag(kColorMatrix[i], light.colorMatrix));
        out.push_back(shorts(kCalibrationIlluminant[i], {uint16_t(light.illuminantCode)}));
        out.push_back(matrixTag(kForwardMatrix[i], light.forwardMatrix));
        if (light.illuminant)
            out.push_back(illuminantTag(kIlluminantData[i], *light.illuminant));
        if (light.map.hues > 0)
            out.push_back(mapTag(kHueSatMapData[i], light.map));
    }
    if (const auto &map = p.lights.front().map; map.hues > 0) {
        out.push_back(
            longs(kHueSatMapDims, {uint32_t(map.hues), uint32_t(map.saturations), uint32_t(map.values)}));
        out.push_back(longs(kHueSatMapEncoding, {map.codedValues ? 1U : 0U}));
    }
    if (!p.copyright.empty())
        out.push_back(ascii(kProfileCopyright, p.copyright));
    if (p.linearTone || !p.tone.empty()) {
        std::vector<float> curve{0, 0, 1, 1};
        if (!p.tone.empty())
            curve.clear();
        for (const auto &[x, y] : p.tone)
            curve.insert(curve.end(), {float(x), float(y)});
        out.push_back(floats(kProfileToneCurve, curve));
        out.push_back(longs(kDefaultBlackRender, {1})); // none
    }
    return out;
}

Bytes fileOf(const CameraProfile &p)
{
    return tags::fileOf({tagsOf(p)}, kMagic);
}

Result<CameraProfile> cameraProfileFrom(const Bytes &file, const std::string &name)
{
    const auto tags = readDirectory(file, kMagic, name);
    return tags ? cameraProfileOf(*tags, name) : tags.error();
}

Result<CameraProfile> cameraProfileOf(const std::vector<Tag> &tags, const std::string &name)
{
    if (const auto wrong = unusableTag(tags))
        return unusable("{file}: tag {tag} holds a value that a camera profile must not have",
                        {{"file", name}, {"tag", std::to_string(*wrong)}});
    CameraProfile p;
    p.cameraModel = textOf(tags, kUniqueCameraModel).value_or("");
    p.name = textOf(tags, kProfileName).value_or("");
    p.copyright = textOf(tags, kProfileCopyright).value_or("");
    const auto first = [&](uint16_t id, double otherwise) {
        const auto v = numbersOf(tags, id);
        return v && !v->empty() ? v->front() : otherwise;
    };
    p.embedPolicy = int(first(kProfileEmbedPolicy, 0));
    p.baselineExposureOffset = first(kBaselineExposureOffset, 0);
    if (const auto curve = numbersOf(tags, kProfileToneCurve);
        curve && *curve == std::vector<double>{0, 0, 1, 1})
        p.linearTone = true;
    else if (curve && curve->size() >= 4)
        for (size_t i = 0; i + 1 < curve->size(); i += 2)
            p.tone.emplace_back((*curve)[i], (*curve)[i + 1]);
    for (size_t i = 0; i < 3; ++i) {
        const auto color = matrixFrom(tags, kColorMatrix[i]);
        if (!color)
            break;
        ProfileLight light{int(first(kCalibrationIlluminant[i], 0)),
                           {},
                           *color,
                           matrixFrom(tags, kForwardMatrix[i]).value_or(Matrix3{}),
                           mapFrom(tags, kHueSatMapData[i])};
        if (const auto *data = find(tags, kIlluminantData[i]);
            data && data->data.size() >= 18 && data->data[0] == 0 && data->data[1] == 0) {
            const Tag pair{0, Type::Rational, 2, Bytes(data->data.begin() + 2, data->data.begin() + 18)};
            const auto xy = *numbersOf({pair}, 0);
            if (std::isfinite(xy[0]) && std::isfinite(xy[1]))
                light.illuminant = Chromaticity{xy[0], xy[1]};
        }
        p.lights.push_back(light);
    }
    if (p.lights.empty())
        return unusable("{file}: has no ColorMatrix1 of 3 by 3", {{"file", name}});
    return p;
}

} // namespace wavechroma
