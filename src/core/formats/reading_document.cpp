#include "core/base/file_uri.h"
#include "core/capture/scale.h"
#include "core/formats/chart_json.h"
#include "core/formats/check_json.h"
#include "core/formats/documents.h"
#include "core/formats/facts_json.h"

#include <set>

namespace wavechroma {

using namespace json;

namespace {

constexpr size_t kMostPatches = 10'000; ///< of 100 rows of 100

Json jsonOf(const PatchReading &p)
{
    return {{"id", p.id},
            {"mean", arrayOf(vectorOf(p.mean))},
            {"sd", arrayOf(vectorOf(p.sd))},
            {"n", p.count},
            {"clipped", p.clipped},
            {"low", p.low}};
}

Json jsonOf(const Reading &r)
{
    Json corners = Json::array(), patches = Json::array(), checks = Json::array();
    if (r.found)
        for (const auto &c : r.corners)
            corners.push_back({c.x, c.y});
    for (const auto &p : r.patches)
        patches.push_back(jsonOf(p));
    for (const auto &c : r.checks)
        checks.push_back(json::jsonOf(c, true));
    Json out{{"schema", "wavechroma.reading/1"},
             {"image", writtenPath(r.image)},
             {"camera", json::jsonOf(r.camera)},
             {"file_color", json::jsonOf(r.fileColor)},
             {"size", {r.width, r.height}},
             {"orientation", r.orientation},
             {"chart", r.chart},
             {"found", r.found},
             {"corners", corners},
             {"confidence", r.confidence},
             {"placed_by", r.placedBy == PlacedBy::Search ? "search" : "hand"},
             {"window", r.windowShare},
             {"patches", patches},
             {"checks", checks}};
    if (r.distortion != 0)
        out["distortion"] = r.distortion;
    if (!r.leftOut.empty())
        out["left_out"] = r.leftOut;
    if (!r.sheet.empty())
        out["tolerance"] = r.sheet;
    if (!r.flats.empty())
        out["flat"] = writtenPath(r.flats.front());
    if (r.flats.size() > 1)
        out["flats"] = jsonOfPaths(r.flats);
    const auto chart = r.definition ? Result<ChartDefinition>(*r.definition) : chartFromCatalogue(r.chart);
    if (const auto scale = chart ? scaleOf(r, *chart) : std::nullopt)
        out["scale"] = {{"pixels_per_mm", scale->pixelsPerMm},
                        {"pixels_per_inch", scale->pixelsPerInch()},
                        {"lean", scale->lean}};
    if (r.definition)
        out["definition"] = json::jsonOf(*r.definition);
    return out;
}

CameraRgb rgbFrom(const Fields &f, const char *key)
{
    const auto v = f.vector3(key);
    return {v[0], v[1], v[2]};
}

Corners cornersFrom(const Fields &f)
{
    const auto &list = f.raw("corners");
    Corners corners;
    if (!list.is_array() || list.size() != 4)
        f.fail("corners", "{where}: \"{key}\" is not a list of four points");
    for (size_t i = 0; i < 4; ++i) {
        if (!list[i].is_array() || list[i].size() != 2 || !list[i][0].is_number() || !list[i][1].is_number())
            f.fail("corners", "{where}: \"{key}\" holds something that is not a point");
        corners[i] = {list[i][0].get<double>(), list[i][1].get<double>()};
    }
    return corners;
}

Reading readingOf(const Fields &f)
{
    Reading r;
    r.image = f.path("image");
    r.camera = factsFrom(f.object("camera"));
    if (f.has("file_color"))
        r.fileColor = fileColorFrom(f.object("file_color"));
    const auto size = f.numbers("size", 2);
    r.width = int(std::clamp(size[0], 0.0, 1e6));
    r.height = int(std::clamp(size[1], 0.0, 1e6));
    r.orientation = f.has("orientation") ? f.integer("orientation") : 1;
    r.chart = f.text("chart");
    r.found = f.flag("found");
    if (r.found)
        r.corners = cornersFrom(f);
    r.confidence = f.numberOr("confidence", 0);
    r.placedBy = f.textOr("placed_by", "search") == "hand" ? PlacedBy::Hand : PlacedBy::Search;
    r.windowShare = f.numberOr("window", 0.5);
    r.flats = f.paths("flats");
    if (const auto flat = f.has("flat") ? f.path("flat") : ""; r.flats.empty() && !flat.empty())
        r.flats = {flat};
    r.distortion = std::clamp(f.numberOr("distortion", 0), -0.3, 0.3);
    if (f.has("left_out"))
        r.leftOut = f.texts("left_out");
    r.sheet = f.textOr("tolerance", "");
    const auto patches = f.objects("patches");
    if (patches.size() > kMostPatches)
        f.fail("patches", words::Phrase{"{where}: \"{key}\" are {n}, more than a chart can have ({most})",
                                        {{"n", double(patches.size())}, {"most", double(kMostPatches)}}});
    std::set<std::string> ids;
    for (const auto &p : patches)
        if (!ids.insert(p.text("id")).second)
            f.fail("patches",
                   words::Phrase{"{where}: \"{key}\" has two called {patch}", {{"patch", p.text("id")}}});
    for (const auto &p : patches)
        r.patches.push_back({p.text("id"), rgbFrom(p, "mean"), rgbFrom(p, "sd"), p.integer("n"),
                             p.number("clipped"), p.number("low")});
    if (f.has("checks"))
        for (const auto &c : f.objects("checks"))
            r.checks.push_back(checkFrom(c));
    if (f.has("definition"))
        r.definition = definitionFrom(f.object("definition"));
    return r;
}

} // namespace

std::string documentOf(const Reading &reading)
{
    return textOf(jsonOf(reading));
}

std::string documentOf(const std::vector<Reading> &readings)
{
    Json list = Json::array();
    for (const auto &reading : readings)
        list.push_back(jsonOf(reading));
    return textOf(list);
}

Result<std::vector<Reading>> readingsFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    std::vector<Reading> out;
    if (document->is_array() && document->empty())
        return unusable("{file}: holds no reading", {{"file", name}});
    for (const auto &one : document->is_array() ? *document : Json::array({*document})) {
        const auto reading = readDocument<Reading>(one, "reading", name, readingOf);
        if (!reading)
            return reading.error();
        out.push_back(*reading);
    }
    return out;
}

Result<Reading> readingFrom(const std::string &text, const std::string &name)
{
    auto document = parse(text, name);
    if (!document)
        return document.error();
    if (document->is_array()) {
        if (document->size() != 1)
            return unusable("{file}: holds {count} readings; give a file with one",
                            {{"file", name}, {"count", double(document->size())}});
        *document = Json((*document)[0]);
    }
    return readDocument<Reading>(*document, "reading", name, readingOf);
}

} // namespace wavechroma
