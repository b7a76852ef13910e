#include "core/formats/ask_json.h"
#include "core/formats/documents.h"
#include "core/formats/facts_json.h"
#include "core/formats/model_json.h"
#include "core/words/fit_words.h"

#include <cmath>

namespace wavechroma {

using namespace json;

static Json jsonOf(const LightModel &l)
{
    Json out{{"name", l.light.name},
             {"cct_k", l.light.cctKelvin},
             {"xy", {l.light.xy.x, l.light.xy.y}},
             {"exif_light_source", l.light.exifCode}};
    addModel(out, l);
    out["color_matrix"] = arrayOf(l.colorMatrix);
    out["light"] = jsonOf(l.light);
    out["neutral"] = arrayOf(l.neutral);
    out["fit"] = jsonOf(l.fit);
    out["cross_validated"] = jsonOf(l.crossValidated);
    return out;
}

static Json jsonOf(const FittedPatch &p)
{
    Json out{{"id", p.id},
             {"rgb", arrayOf(vectorOf(p.rgb))},
             {"reference_xyz", arrayOf(vectorOf(p.reference))},
             {"sd", arrayOf(vectorOf(p.sd))}};
    if (p.weight != 1)
        out["weight"] = p.weight;
    if (p.unseen)
        out["unseen_xyz"] = arrayOf(vectorOf(*p.unseen));
    return out;
}

static Json jsonOf(const ModelFigures &f)
{
    Json out{{"largest_stretch", f.mostStretch},
             {"smallest_stretch", f.leastStretch},
             {"noise_sensitivity", f.sensitivity},
             {"noise_gain", f.noiseGain},
             {"condition", f.condition}};
    if (f.metamerismIndex)
        out["sensitivity_metamerism_index"] = *f.metamerismIndex;
    return out;
}

static Json jsonOf(const FitWarning &w)
{
    Json out{{"code", w.code}, {"patches", w.patches}, {"value", w.value}};
    out["message"] = words::warning(w);
    return out;
}

static Json jsonOf(const Calibration &c)
{
    Json used = Json::array(), patches = Json::array(), lights = Json::array(), warnings = Json::array();
    for (const auto &p : c.patches) {
        used.push_back(p.id);
        patches.push_back(jsonOf(p));
    }
    for (const auto &l : c.lights)
        lights.push_back(jsonOf(l));
    for (const auto &w : c.warnings)
        warnings.push_back(jsonOf(w));
    const auto &t = c.takenOut;
    Json out{{"schema", "wavechroma.calibration/1"},    {"name", c.name},
             {"parts", json::jsonOf(c.parts)},          {"camera", json::jsonOf(c.camera)},
             {"file_color", json::jsonOf(c.fileColor)}, {"chart", c.chart}};
    addModel(out, c);
    out["color_matrix"] = arrayOf(c.colorMatrix);
    out["light"] = json::jsonOf(c.light);
    out["appearance"] = json::nameOf(c.appearance);
    if (!c.lights.empty())
        out["lights"] = lights;
    out["fit"] = json::jsonOf(c.fit);
    out["cross_validated"] = json::jsonOf(c.crossValidated);
    out["figures"] = jsonOf(c.figures);
    out["patches_used"] = used;
    for (const auto &thing : c.things)
        out["with"].push_back({{"name", thing.name},
                               {"unseen_de00", thing.unseen},
                               {"bought", thing.bought ? Json(*thing.bought) : Json(nullptr)}});
    out["taken_out"] = {{"flare", t.flare}, {"gain", t.gain}, {"patches", t.patches}};
    out["patches"] = patches;
    if (!c.warnings.empty())
        out["warnings"] = warnings;
    if (!c.flats.empty())
        out["flats"] = jsonOfPaths(c.flats);
    out["asked"] = json::jsonOf(c.asked);
    out["made_from"] = json::jsonOf(c.madeFrom);
    out["made_with"] = c.madeWith;
    return out;
}

std::string documentOf(const Calibration &calibration)
{
    return textOf(jsonOf(calibration));
}

std::string documentOf(const std::vector<Calibration> &calibrations)
{
    Json list = Json::array();
    for (const auto &calibration : calibrations)
        list.push_back(jsonOf(calibration));
    return textOf(list);
}

static ModelFigures figuresFrom(const Fields &f)
{
    ModelFigures out{f.number("largest_stretch"), f.number("smallest_stretch"), f.number("noise_sensitivity"),
                     f.number("noise_gain"),      f.number("condition"),        {}};
    if (f.has("sensitivity_metamerism_index"))
        out.metamerismIndex = f.number("sensitivity_metamerism_index");
    return out;
}

static FittedPatch patchFrom(const Fields &f)
{
    const auto rgb = f.vector3("rgb");
    FittedPatch out{
        f.text("id"), {rgb[0], rgb[1], rgb[2]}, xyzOf(f.vector3("reference_xyz")), f.numberOr("weight", 1)};
    if (f.has("sd")) {
        const auto sd = f.vector3("sd");
        out.sd = {sd[0], sd[1], sd[2]};
    }
    for (const double value :
         {out.rgb.r, out.rgb.g, out.rgb.b, out.reference.x, out.reference.y, out.reference.z})
        if (std::abs(value) > 1000)
            f.fail("rgb", "{where}: \"{key}\" or its reference is not a light that a camera can see");
    if (f.has("unseen_xyz"))
        out.unseen = xyzOf(f.vector3("unseen_xyz"));
    return out;
}

static LightModel lightModelFrom(const Fields &f)
{
    LightModel out;
    readModel(out, f);
    out.light = lightFrom(f.has("light") ? f.object("light") : f);
    out.colorMatrix = f.matrix3("color_matrix");
    out.neutral =
        f.has("neutral") ? f.vector3("neutral") : Vector3{1 / out.multipliers[0], 1, 1 / out.multipliers[2]};
    for (const double n : out.neutral)
        if (!(n > 0))
            f.fail("neutral", "{where}: \"{key}\" must be positive");
    if (f.has("fit"))
        out.fit = summaryFrom(f.object("fit"));
    if (f.has("cross_validated"))
        out.crossValidated = summaryFrom(f.object("cross_validated"));
    return out;
}

static Calibration calibrationOf(const Fields &f)
{
    Calibration c;
    c.name = f.text("name");
    c.parts = partsFrom(f.object("parts"));
    if (isAuto(c.parts))
        f.fail("parts", "{where}: \"{key}\" are what a calibration is made of; auto is only to be asked for");
    if (f.has("asked"))
        c.asked = askFrom(f.object("asked"));
    c.camera = factsFrom(f.object("camera"));
    if (f.has("file_color"))
        c.fileColor = fileColorFrom(f.object("file_color"));
    c.chart = f.textOr("chart", "");
    readModel(c, f);
    c.colorMatrix = f.matrix3("color_matrix");
    c.light = lightFrom(f.object("light"));
    c.fit = summaryFrom(f.object("fit"));
    c.crossValidated = summaryFrom(f.object("cross_validated"));
    if (f.has("patches"))
        for (const auto &p : f.objects("patches"))
            c.patches.push_back(patchFrom(p));
    if (f.has("appearance"))
        c.appearance = appearanceFrom(f, "appearance");
    if (f.has("figures"))
        c.figures = figuresFrom(f.object("figures"));
    if (f.has("warnings"))
        for (const auto &w : f.objects("warnings"))
            c.warnings.push_back({w.text("code"), w.texts("patches"), w.numberOr("value", 0)});
    if (f.has("lights"))
        for (const auto &l : f.objects("lights"))
            c.lights.push_back(lightModelFrom(l));
    if (c.lights.size() == 1 || c.lights.size() > 3)
        f.fail("lights", "{where}: \"{key}\" are two or three where there are any");
    if (f.has("taken_out")) {
        const auto t = f.object("taken_out");
        const auto gain = t.numbers("gain", 5);
        c.takenOut.flare = t.number("flare");
        std::copy(gain.begin(), gain.end(), c.takenOut.gain.begin());
        c.takenOut.patches = t.texts("patches");
    }
    c.madeFrom = sourcesFrom(f, "made_from");
    if (f.has("with"))
        for (const auto &t : f.objects("with"))
            c.things.push_back(
                {t.text("name"), t.number("unseen_de00"),
                 t.raw("bought").is_null() ? std::nullopt : std::optional(t.number("bought"))});
    if (f.has("flats"))
        c.flats = f.paths("flats");
    c.madeWith = f.textOr("made_with", "");
    return c;
}

Result<Calibration> calibrationFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    if (document->is_array() && document->size() != 1)
        return unusable(
            "{file}: holds {n} {n|calibration|calibrations}, but one is needed. Write each to a file "
            "of its own",
            {{"file", name}, {"n", double(document->size())}});
    return readDocument<Calibration>(document->is_array() ? document->front() : *document, "calibration",
                                     name, calibrationOf);
}

} // namespace wavechroma
