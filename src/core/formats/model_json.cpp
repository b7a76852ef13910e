#include "core/formats/model_json.h"

#include "core/fit/parts.h"

#include <algorithm>

namespace wavechroma::json {

namespace {

/// A bend's numbers under the keys of its layout.
Json jsonOf(const Bend &bend)
{
    const auto &layout = bend.how->layout;
    Json out = Json::object();
    size_t at = 0;
    for (const char *key : layout.singles)
        out[key] = bend.numbers[at++];
    if (!layout.list)
        return out;
    Json records = Json::array();
    while (at + layout.recordSize() <= bend.numbers.size()) {
        Json record = Json::object();
        for (const auto &column : layout.columns) {
            const auto from = bend.numbers.begin() + ptrdiff_t(at);
            record[column.key] = std::vector<double>(from, from + ptrdiff_t(column.count));
            at += column.count;
        }
        records.push_back(record);
    }
    out[layout.list] = records;
    return out;
}

Bend bendFrom(const Bending &how, const Fields &f)
{
    const auto &layout = how.layout;
    Bend bend{&how, {}};
    for (const char *key : layout.singles)
        bend.numbers.push_back(f.number(key));
    const auto records = layout.list ? f.objects(layout.list) : std::vector<Fields>();
    if (records.size() > layout.mostRecords)
        f.fail(layout.list, "{where}: \"{key}\" are more than this part may have");
    for (const auto &record : records)
        for (const auto &column : layout.columns) {
            const auto values = record.numbers(column.key, column.count);
            bend.numbers.insert(bend.numbers.end(), values.begin(), values.end());
        }
    if (const auto fault = how.faultOf(bend.numbers); !fault.empty())
        f.fail(how.key, {"{where}: \"{key}\" {reason}", {{"reason", fault}}});
    return bend;
}

std::vector<ToneCurve> curvesFrom(const Fields &f)
{
    std::vector<ToneCurve> curves;
    for (const char *channel : {"r", "g", "b"}) {
        const auto values = f.anyNumbers(channel);
        if (values.size() < 2 || values.size() > 1025 ||
            std::adjacent_find(values.begin(), values.end(), [](double a, double b) { return !(a < b); }) !=
                values.end())
            f.fail(channel, "{where}: \"{key}\" is not a rising curve");
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
    if (!m.curves.empty())
        to["curves"] = {{"code", "L*/100"},
                        {"step", kToneStep},
                        {"r", m.curves[0].values},
                        {"g", m.curves[1].values},
                        {"b", m.curves[2].values}};
    for (const auto &bend : m.bends)
        to["bends"].push_back({{"part", bend.how->key}, {"numbers", jsonOf(bend)}});
    to["lean"] = jsonOf(m.lean);
}

Json jsonOf(const ColourLean &lean)
{
    Json out{{"reds", lean.reds}, {"chroma", lean.chroma}};
    if (lean.contrast != 0)
        out["contrast"] = lean.contrast;
    if (lean.hasSectors())
        for (const auto &s : lean.sectors)
            out["sectors"].push_back({{"hue", s.hue}, {"chroma", s.chroma}, {"lightness", s.lightness}});
    return out;
}

ColourLean leanFrom(const Fields &f)
{
    ColourLean lean{
        f.integer("reds"), f.integer("chroma"), f.has("contrast") ? f.integer("contrast") : 0, {}};
    const auto sectors = f.has("sectors") ? f.objects("sectors") : std::vector<Fields>();
    if (!sectors.empty() && sectors.size() != kHueSectors)
        f.fail("sectors", "{where}: \"{key}\" must be eight");
    for (size_t i = 0; i < sectors.size(); ++i)
        lean.sectors[i] = {sectors[i].number("hue"), sectors[i].number("chroma"),
                           sectors[i].number("lightness")};
    if (const auto known = check(lean); !known)
        f.fail("reds", {"{where}: \"{key}\" and what stands beside it: {reason}",
                        {{"reason", known.error().phrase}}});
    return lean;
}

void readModel(ColorModel &m, const Fields &f)
{
    m.multipliers = f.vector3("multipliers");
    m.exposureScale = f.number("exposure_scale");
    for (const double v : m.multipliers)
        if (!(v > 0))
            f.fail("multipliers", "{where}: \"{key}\" must be positive");
    if (!(m.exposureScale > 0))
        f.fail("exposure_scale", "{where}: \"{key}\" must be positive");
    m.matrix = f.matrix3("matrix");
    if (!inverse(m.matrix))
        f.fail("matrix", "{where}: \"{key}\" cannot be inverted");
    if (f.has("curves")) {
        const auto curves = f.object("curves");
        if (curves.number("step") != kToneStep)
            curves.fail("step", "{where}: \"{key}\" is one that this version does not know");
        m.curves = curvesFrom(curves);
    }
    if (f.has("bends"))
        for (const auto &bend : f.objects("bends")) {
            const auto *how = bendingOf(bend.text("part"));
            if (!how)
                bend.fail("part", "{where}: \"{key}\" is one that this version does not know");
            m.bends.push_back(bendFrom(*how, bend.object("numbers")));
        }
    if (f.has("lean"))
        m.lean = leanFrom(f.object("lean"));
}

Json jsonOf(const CalibrationLight &l)
{
    Json out{{"name", l.name}, {"xy", {l.xy.x, l.xy.y}},          {"cct_k", l.cctKelvin},
             {"duv", l.duv},   {"exif_light_source", l.exifCode}, {"estimated", l.estimated}};
    if (l.spectrum)
        out["spectrum"] = jsonOf(*l.spectrum);
    return out;
}

Json jsonOf(const Spectrum &s)
{
    return {{"start_nm", s.startNm}, {"step_nm", s.stepNm}, {"values", s.values}};
}

Spectrum spectrumFrom(const Fields &f)
{
    const Spectrum s{f.number("start_nm"), f.number("step_nm"), f.anyNumbers("values")};
    if (!(s.stepNm > 0) || s.values.size() < 4)
        f.fail("values", "{where}: \"{key}\" are not a spectrum");
    return s;
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
        f.fail("xy", "{where}: \"{key}\" is not a chromaticity");
    if (!(light.cctKelvin > 0))
        f.fail("cct_k", "{where}: \"{key}\" must be positive");
    if (f.has("spectrum"))
        light.spectrum = spectrumFrom(f.object("spectrum"));
    return light;
}

} // namespace wavechroma::json
