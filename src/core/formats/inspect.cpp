#include "core/formats/inspect.h"

#include "core/base/csv_table.h"
#include "core/base/number_text.h"
#include "core/formats/camera_profile.h"
#include "core/formats/cube_lut.h"
#include "core/formats/facts_json.h"
#include "core/formats/icc_profile.h"
#include "core/raw/open_frame.h"

#include <algorithm>
#include <cstring>
#include <sstream>

namespace wavechroma {

using namespace json;

namespace {

Result<Json> dcpContent(const Bytes &file, const std::string &name)
{
    const auto p = cameraProfileFrom(file, name);
    if (!p)
        return p.error();
    Json out{{"kind", "dng-camera-profile"},
             {"name", p->name},
             {"camera_model", p->cameraModel},
             {"copyright", p->copyright},
             {"embed_policy", p->embedPolicy}};
    Json lights = Json::array();
    for (const auto &light : p->lights) {
        Json one{{"calibration_illuminant", light.illuminantCode}};
        if (light.illuminant)
            one["illuminant_xy"] = {light.illuminant->x, light.illuminant->y};
        one["color_matrix"] = arrayOf(light.colorMatrix);
        one["forward_matrix"] = arrayOf(light.forwardMatrix);
        if (light.map.hues > 0) {
            Json entries = Json::array();
            for (const auto &e : light.map.entries)
                entries.push_back({e.hueShift, e.saturationScale, e.valueScale});
            one["hue_sat_map"] = {{"hues", light.map.hues},
                                  {"saturations", light.map.saturations},
                                  {"values", light.map.values},
                                  {"value_encoding", light.map.codedValues ? "srgb" : "linear"},
                                  {"entries", entries}};
        }
        lights.push_back(one);
    }
    out.update(lights.front()); // the first light's fields stand at the top, too
    if (lights.size() > 1)
        out["lights"] = lights;
    if (!p->tone.empty()) {
        Json curve = Json::array();
        for (const auto &[x, y] : p->tone)
            curve.push_back({x, y});
        out["tone_curve"] = curve;
    }
    out["linear_tone"] = p->linearTone;
    out["baseline_exposure_offset"] = p->baselineExposureOffset;
    return out;
}

Result<Json> frameContent(const std::filesystem::path &path)
{
    const auto frame = openFrame(path);
    if (!frame)
        return frame.error();
    Json out{{"kind", frame->mosaic     ? "raw"
                      : frame->rendered ? "picture"
                                        : "linear-raw"},
             {"camera", jsonOf(frame->camera)},
             {"size", {frame->width, frame->height}},
             {"orientation", frame->orientation},
             {"file_color", jsonOf(frame->fileColor)}};
    if (frame->mosaic) {
        out["filter"] = frame->mosaic->channel;
        out["black"] = frame->mosaic->black;
        out["white"] = frame->mosaic->white;
    }
    return out;
}

bool isText(const Bytes &file)
{
    return !file.empty() && std::find(file.begin(), file.end(), 0) == file.end();
}

/// Rows of fields, with words and numbers told apart.
Json tableContent(const std::string &text)
{
    Json rows = Json::array();
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        line.erase(line.find_last_not_of('\r') + 1);
        Json row = Json::array();
        for (const auto &field : splitCsvLine(line)) {
            if (const auto number = numberFrom(field))
                row.push_back(*number);
            else
                row.push_back(field);
        }
        rows.push_back(row);
    }
    return {{"kind", "csv"}, {"rows", rows}};
}

Json cgatsContent(const std::string &text)
{
    Json header = Json::object(), fields = Json::array(), rows = Json::array();
    std::istringstream in(text);
    enum { Header, Format, Data } part = Header;
    for (std::string line; std::getline(in, line);) {
        std::istringstream words(line);
        std::string first;
        if (!(words >> first) || first[0] == '#')
            continue;
        if (first == "BEGIN_DATA_FORMAT" || first == "BEGIN_DATA") {
            part = first == "BEGIN_DATA" ? Data : Format;
        } else if (first == "END_DATA_FORMAT" || first == "END_DATA") {
            part = Header;
        } else if (part == Header) {
            std::string rest;
            std::getline(words >> std::ws, rest);
            rest.erase(std::remove(rest.begin(), rest.end(), '"'), rest.end());
            header[first] = rest;
        } else {
            Json row = Json::array();
            std::string word = first;
            do
                row.push_back(word);
            while (words >> word);
            if (part == Format)
                fields.insert(fields.end(), row.begin(), row.end());
            else
                rows.push_back(row);
        }
    }
    return {{"kind", "cgats"}, {"header", header}, {"fields", fields}, {"rows", rows}};
}

/// A table's own facts, its greys, and its corners: all of it would be a hundred thousand numbers.
Result<Json> cubeContent(const std::string &text, const std::string &name)
{
    const auto cube = cubeFrom(text, name);
    if (!cube)
        return cube.error();
    Json comments = Json::array(), greys = Json::array();
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);)
        if (line.rfind("# ", 0) == 0)
            comments.push_back(line.substr(2));
    for (int i = 0; i <= 8; ++i)
        greys.push_back(arrayOf(applied(*cube, {i / 8.0, i / 8.0, i / 8.0})));
    return Json{{"kind", "cube"},       {"title", cube->title},
                {"size", cube->size},   {"dimensions", cube->is3d ? 3 : 1},
                {"comments", comments}, {"greys", greys}};
}

/// A line of commas would become a value each, of a hundred bytes: no table of this program is that wide.
Result<Done> fewFields(const std::string &text, const std::string &name)
{
    constexpr ptrdiff_t kMost = 1'000'000;
    if (std::count(text.begin(), text.end(), ',') > kMost)
        return unusable("{file}: has more fields than any table that this program writes", {{"file", name}});
    return Done{};
}

Result<Json> contentOf(const std::filesystem::path &path)
{
    const std::string name = path.string();
    const auto file = readWhole(path, size_t(2) << 30);
    if (!file)
        return file.error();
    if (file->empty())
        return unusable("{file}: is empty", {{"file", name}});
    if (file->size() > 4 && std::memcmp(file->data(), "IIRC", 4) == 0)
        return dcpContent(*file, name);
    if (file->size() > 128 && std::memcmp(file->data() + 36, "acsp", 4) == 0)
        return iccContent(*file, name);
    if (!isText(*file))
        return frameContent(path);
    constexpr size_t kMostText = 32 << 20; // documents of the largest jobs take a tenth of it
    if (file->size() > kMostText)
        return unusable("{file}: is a text of {megabytes:0} MB, more than any that this program writes",
                        {{"file", name}, {"megabytes", double(file->size()) / 1e6}});
    const std::string text(file->begin(), file->end());
    if (const auto sound = fewFields(text, name); !sound)
        return sound.error();
    const auto first = text.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (first != text.npos && (text[first] == '{' || text[first] == '['))
        return parse(text, name);
    if (text.find("LUT_3D_SIZE") != text.npos)
        return cubeContent(text, name);
    if (text.find("BEGIN_DATA_FORMAT") != text.npos)
        return cgatsContent(text);
    if (text.find(',') != text.npos)
        return tableContent(text);
    return unusable("{file}: is not a kind of file that this program writes", {{"file", name}});
}

} // namespace

Result<std::string> inspectFile(const std::filesystem::path &path)
{
    const auto content = contentOf(path);
    if (!content)
        return content.error();
    return textOf(*content);
}

} // namespace wavechroma
