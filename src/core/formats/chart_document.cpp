#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/formats/chart_json.h"
#include "core/formats/documents.h"

#include <algorithm>

namespace wavechroma {

namespace json {

Json jsonOf(const ChartDefinition &chart)
{
    Json patches = Json::array();
    for (const auto &p : chart.patches) {
        Json patch{{"id", p.id}};
        if (chart.colorsKnown)
            patch["xyz"] = arrayOf(vectorOf(p.reference));
        if (!chart.places.empty()) {
            const auto &place = chart.places[size_t(&p - chart.patches.data())];
            patch["place"] = {{"middle", {place.x, place.y}}, {"size", {place.widthMm, place.heightMm}}};
            if (place.isDisc)
                patch["place"]["disc"] = true;
        }
        if (p.reflectance)
            patch["reflectance"] = {{"start_nm", p.reflectance->startNm},
                                    {"step_nm", p.reflectance->stepNm},
                                    {"values", p.reflectance->values}};
        patches.push_back(patch);
    }
    Json out{{"schema", "wavechroma.chart/1"}, {"id", chart.id}, {"name", chart.name}};
    if (chart.places.empty()) {
        out["rows"] = chart.rows;
        out["columns"] = chart.columns;
        out["patch_size"] = {chart.patchWidthMm, chart.patchHeightMm};
        out["pitch"] = {chart.pitchXMm, chart.pitchYMm};
    }
    if (chart.panelGap)
        out["panel_gap"] = {{"after_column", chart.panelGap->afterColumn}, {"mm", chart.panelGap->widthMm}};
    out["neutral"] = chart.neutral;
    out["patches"] = patches;
    const auto &r = chart.reference;
    out["reference"] = {{"illuminant", r.illuminant},
                        {"observer", r.observer},
                        {"source", r.source},
                        {"measured_on", r.measuredOn}};
    return out;
}

static ChartPatch patchFrom(const Fields &f)
{
    ChartPatch patch;
    patch.id = f.text("id");
    if (f.has("reflectance")) {
        const auto r = f.object("reflectance");
        patch.reflectance = Spectrum{r.number("start_nm"), r.number("step_nm"), r.anyNumbers("values")};
        if (patch.reflectance->values.size() < 4 || !(patch.reflectance->stepNm > 0))
            f.fail("reflectance", "{where}: \"{key}\" needs at least 4 values and a positive step_nm");
    }
    // A stated colour wins over what the reflectance gives: both may be there, and the stated one was
    // measured.
    if (f.has("lab")) {
        const auto v = f.vector3("lab");
        patch.reference = xyzFromLab({v[0], v[1], v[2]});
    } else if (f.has("xyz")) {
        patch.reference = xyzOf(f.vector3("xyz"));
    } else if (patch.reflectance) {
        patch.reference = xyzD50FromReflectance(*patch.reflectance, illuminantD50());
    } else {
        f.fail("lab", "{where}: \"{key}\" is missing, and so are \"xyz\" and \"reflectance\"");
    }
    return patch;
}

/// A definition that nobody has measured yet names its patches and nothing more; one that knows some colours
/// must know all.
static bool knowsNoColor(const std::vector<Fields> &patches)
{
    return std::none_of(patches.begin(), patches.end(),
                        [](const Fields &f) { return f.has("lab") || f.has("xyz") || f.has("reflectance"); });
}

static PatchPlace placeFrom(const Fields &patch)
{
    const auto f = patch.object("place");
    const auto middle = f.numbers("middle", 2), size = f.numbers("size", 2);
    return {middle[0], middle[1], size[0], size[1], f.has("disc") && f.flag("disc")};
}

static void readGrid(const Fields &f, ChartDefinition &chart)
{
    chart.rows = f.integer("rows");
    chart.columns = f.integer("columns");
    const auto size = f.numbers("patch_size", 2), pitch = f.numbers("pitch", 2);
    chart.patchWidthMm = size[0];
    chart.patchHeightMm = size[1];
    chart.pitchXMm = pitch[0];
    chart.pitchYMm = pitch[1];
    if (f.has("panel_gap")) {
        const auto gap = f.object("panel_gap");
        chart.panelGap = PanelGap{gap.integer("after_column"), gap.number("mm")};
    }
}

ChartDefinition definitionFrom(const Fields &f)
{
    ChartDefinition chart;
    chart.id = f.text("id");
    chart.name = f.textOr("name", chart.id);
    if (f.has("neutral"))
        chart.neutral = f.texts("neutral");
    const auto patches = f.objects("patches");
    std::vector<PatchPlace> places;
    for (const auto &p : patches)
        if (p.has("place"))
            places.push_back(placeFrom(p));
    if (places.empty())
        readGrid(f, chart);
    else
        chart = placedFreely(std::move(chart), std::move(places));
    chart.colorsKnown = !knowsNoColor(patches);
    for (const auto &p : patches)
        chart.patches.push_back(chart.colorsKnown ? patchFrom(p)
                                                  : ChartPatch{p.text("id"), xyzFromLab({50, 0, 0}), {}});
    if (f.has("reference")) {
        const auto r = f.object("reference");
        chart.reference = {r.textOr("illuminant", ""), r.textOr("observer", ""), r.textOr("source", ""),
                           r.textOr("measured_on", "")};
    }
    if (const auto sound = check(chart); !sound)
        throw FieldFault{
            unusable("{where}: {reason}", {{"where", f.where()}, {"reason", sound.error().phrase}})};
    return chart;
}

} // namespace json

std::string documentOf(const ChartDefinition &chart)
{
    return json::textOf(json::jsonOf(chart));
}

Result<ChartDefinition> chartFrom(const std::string &text, const std::string &name)
{
    const auto document = json::parse(text, name);
    if (!document)
        return document.error();
    return json::readDocument<ChartDefinition>(*document, "chart", name, json::definitionFrom);
}

} // namespace wavechroma
