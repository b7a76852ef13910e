#include "core/formats/documents.h"
#include "core/formats/facts_json.h"
#include "core/fit/fit.h"

namespace wavechroma {

using namespace json;

std::string documentOf(const Calibration &c)
{
    Json used = Json::array(), patches = Json::array(), sources = Json::array();
    for (const auto &p : c.patches) {
        used.push_back(p.id);
        patches.push_back({{"id", p.id}, {"rgb", arrayOf(vectorOf(p.rgb))}, {"reference_xyz", arrayOf(vectorOf(p.reference))}});
    }
    for (const auto &s : c.madeFrom)
        sources.push_back({{"image", s.image}, {"sha256", s.sha256}});
    const auto &t = c.takenOut;
    const Json takenOut{{"flare", t.flare}, {"gain", t.gain}, {"patches", t.patches}};
    const auto &l = c.light;
    const Json light{{"name", l.name}, {"xy", {l.xy.x, l.xy.y}}, {"cct_k", l.cctKelvin}, {"duv", l.duv},
                     {"exif_light_source", l.exifCode}, {"estimated", l.estimated}};
    return textOf(Json{{"schema", "wavechroma.calibration/1"}, {"name", c.name}, {"model", c.model},
                       {"camera", jsonOf(c.camera)}, {"file_color", jsonOf(c.fileColor)}, {"chart", c.chart},
                       {"multipliers", arrayOf(c.multipliers)}, {"exposure_scale", c.exposureScale},
                       {"matrix", arrayOf(c.matrix)}, {"color_matrix", arrayOf(c.colorMatrix)}, {"light", light},
                       {"fit", jsonOf(c.fit)}, {"cross_validated", jsonOf(c.crossValidated)}, {"patches_used", used}, {"taken_out", takenOut},
                       {"patches", patches}, {"made_from", sources}, {"made_with", c.madeWith}});
}

static CalibrationLight lightFrom(const Fields &f)
{
    const auto xy = f.numbers("xy", 2);
    CalibrationLight light{f.text("name"), {xy[0], xy[1]}, f.number("cct_k"), f.numberOr("duv", 0), f.integer("exif_light_source"), false};
    light.estimated = f.has("estimated") && f.flag("estimated");
    if (!(xy[0] > 0 && xy[1] > 0 && xy[0] + xy[1] < 1))
        f.fail("xy", "is not a chromaticity");
    return light;
}

static Calibration calibrationOf(const Fields &f)
{
    Calibration c;
    c.name = f.text("name");
    c.model = f.text("model");
    if (const auto known = checkModel(c.model); !known)
        f.fail("model", "is \"" + c.model + "\", which this version cannot apply");
    c.camera = factsFrom(f.object("camera"));
    if (f.has("file_color"))
        c.fileColor = fileColorFrom(f.object("file_color"));
    c.chart = f.textOr("chart", "");
    c.multipliers = f.vector3("multipliers");
    c.exposureScale = f.number("exposure_scale");
    for (const double m : c.multipliers)
        if (!(m > 0))
            f.fail("multipliers", "must be positive");
    if (!(c.exposureScale > 0))
        f.fail("exposure_scale", "must be positive");
    c.matrix = f.matrix3("matrix");
    if (!inverse(c.matrix))
        f.fail("matrix", "cannot be inverted");
    c.colorMatrix = f.matrix3("color_matrix");
    c.light = lightFrom(f.object("light"));
    c.fit = summaryFrom(f.object("fit"));
    c.crossValidated = summaryFrom(f.object("cross_validated"));
    if (f.has("patches"))
        for (const auto &p : f.objects("patches")) {
            const auto rgb = p.vector3("rgb");
            c.patches.push_back({p.text("id"), {rgb[0], rgb[1], rgb[2]}, xyzOf(p.vector3("reference_xyz"))});
        }
    if (f.has("taken_out")) {
        const auto t = f.object("taken_out");
        const auto gain = t.numbers("gain", 5);
        c.takenOut.flare = t.number("flare");
        std::copy(gain.begin(), gain.end(), c.takenOut.gain.begin());
        c.takenOut.patches = t.texts("patches");
    }
    if (f.has("made_from"))
        for (const auto &s : f.objects("made_from"))
            c.madeFrom.push_back({s.text("image"), s.textOr("sha256", "")});
    c.madeWith = f.textOr("made_with", "");
    return c;
}

Result<Calibration> calibrationFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    return readDocument<Calibration>(*document, "calibration", name, calibrationOf);
}

} // namespace wavechroma
