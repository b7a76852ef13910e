#include "core/formats/model_json.h"

#include "core/fit/character.h"

#include <algorithm>

namespace wavechroma::json {

namespace {

constexpr size_t kMostPoints = 4096;

Json jsonOf(const ColorField &field)
{
    Json points = Json::array();
    for (const auto &p : field.points)
        points.push_back({{"place", p.place}, {"pull", p.pull}});
    return {{"length_l", field.lengthL},
            {"length_ab", field.lengthAb},
            {"neutral_radius", field.neutralRadius},
            {"bound", field.bound},
            {"points", points}};
}

ColorField fieldFrom(const Fields &f)
{
    ColorField field;
    field.lengthL = f.number("length_l");
    field.lengthAb = f.number("length_ab");
    field.neutralRadius = f.number("neutral_radius");
    field.bound = f.number("bound");
    for (const double v : {field.lengthL, field.lengthAb, field.neutralRadius, field.bound})
        if (!(v > 0))
            f.fail("length_l", "and the other sizes of the field must be positive");
    const auto points = f.objects("points");
    if (points.size() > kMostPoints)
        f.fail("points", "are more than a field may have");
    for (const auto &p : points)
        field.points.push_back({p.vector3("place"), p.vector3("pull")});
    return field;
}

std::vector<ToneCurve> curvesFrom(const Fields &f)
{
    std::vector<ToneCurve> curves;
    for (const char *channel : {"r", "g", "b"}) {
        const auto values = f.anyNumbers(channel);
        if (values.size() < 2 || values.size() > 1025 ||
            std::adjacent_find(values.begin(), values.end(), [](double a, double b) { return !(a < b); }) !=
                values.end())
            f.fail(channel, "is no rising curve");
        curves.push_back({values});
    }
    return curves;
}

} // namespace

void addModel(Json &to, const ColorModel &m)
{
    to["multipliers"] = arrayOf(m.multipliers);
    to["exposure_scale"] = m.exposureScale;
    to["matrix"] = arrayOf(m.matrix);
    if (m.offset != 0)
        to["offset"] = m.offset;
    if (!m.curves.empty())
        to["curves"] = {{"code", "L*/100"},
                        {"step", kToneStep},
                        {"r", m.curves[0].values},
                        {"g", m.curves[1].values},
                        {"b", m.curves[2].values}};
    if (!(m.root == Matrix3{}))
        to["root_matrix"] = arrayOf(m.root);
    if (!m.field.points.empty())
        to["field"] = jsonOf(m.field);
    if (m.character != Character::Exact)
        to["character"] = nameOf(m.character);
}

void readModel(ColorModel &m, const Fields &f)
{
    m.multipliers = f.vector3("multipliers");
    m.exposureScale = f.number("exposure_scale");
    for (const double v : m.multipliers)
        if (!(v > 0))
            f.fail("multipliers", "must be positive");
    if (!(m.exposureScale > 0))
        f.fail("exposure_scale", "must be positive");
    m.matrix = f.matrix3("matrix");
    if (!inverse(m.matrix))
        f.fail("matrix", "cannot be inverted");
    m.offset = f.numberOr("offset", 0);
    if (!(m.offset > -1 && m.offset < 1))
        f.fail("offset", "must lie between -1 and 1");
    if (f.has("curves")) {
        const auto curves = f.object("curves");
        if (curves.number("step") != kToneStep)
            curves.fail("step", "is one that this version does not know");
        m.curves = curvesFrom(curves);
    }
    if (f.has("root_matrix"))
        m.root = f.matrix3("root_matrix");
    if (f.has("field"))
        m.field = fieldFrom(f.object("field"));
    const auto character = characterNamed(f.textOr("character", "exact"));
    if (!character)
        f.fail("character", "is one that this version does not know");
    m.character = *character;
}

Json jsonOf(const CalibrationLight &l)
{
    Json out{{"name", l.name}, {"xy", {l.xy.x, l.xy.y}},          {"cct_k", l.cctKelvin},
             {"duv", l.duv},   {"exif_light_source", l.exifCode}, {"estimated", l.estimated}};
    if (l.spectrum)
        out["spectrum"] = {{"start_nm", l.spectrum->startNm},
                           {"step_nm", l.spectrum->stepNm},
                           {"values", l.spectrum->values}};
    return out;
}

CalibrationLight lightFrom(const Fields &f)
{
    const auto xy = f.numbers("xy", 2);
    CalibrationLight light;
    light.name = f.text("name");
    light.xy = {xy[0], xy[1]};
    light.cctKelvin = f.number("cct_k");
    light.duv = f.numberOr("duv", 0);
    light.exifCode = f.integer("exif_light_source");
    light.estimated = f.has("estimated") && f.flag("estimated");
    if (!(xy[0] > 0 && xy[1] > 0 && xy[0] + xy[1] < 1))
        f.fail("xy", "is not a chromaticity");
    if (!(light.cctKelvin > 0))
        f.fail("cct_k", "must be positive");
    if (f.has("spectrum")) {
        const auto s = f.object("spectrum");
        light.spectrum = Spectrum{s.number("start_nm"), s.number("step_nm"), s.anyNumbers("values")};
        if (!(light.spectrum->stepNm > 0) || light.spectrum->values.size() < 4)
            s.fail("values", "are no spectrum");
    }
    return light;
}

} // namespace wavechroma::json
