#include "core/formats/brief_reading.h"

#include "core/base/file_uri.h"
#include "core/formats/check_json.h"
#include "core/formats/facts_json.h"

namespace wavechroma {

using namespace json;

std::string briefOf(const Reading &r)
{
    Json patches = Json::array(), checks = Json::array(), corners = Json::array();
    for (const auto &c : r.corners)
        corners.insert(corners.end(), {c.x, c.y});
    for (const auto &p : r.patches)
        patches.push_back({p.id, p.mean.r, p.mean.g, p.mean.b, p.count, p.clipped, p.low});
    for (const auto &c : r.checks)
        checks.push_back(jsonOf(c, false));
    const Json out{{"image", writtenPath(r.image)},
                   {"camera", jsonOf(r.camera)},
                   {"chart", r.chart},
                   {"found", r.found},
                   {"size", {r.width, r.height}},
                   {"corners", corners},
                   {"distortion", r.distortion},
                   {"left_out", r.leftOut},
                   {"flats", jsonOfPaths(r.flats)},
                   {"checks", checks},
                   {"patches", patches}};
    return out.dump(-1, ' ', false, Json::error_handler_t::replace);
}

static PatchReading patchFrom(const Json &row)
{
    const auto number = [&](size_t i) { return row.at(i).get<double>(); };
    return {row.at(0).get<std::string>(),
            {number(1), number(2), number(3)},
            {},
            row.at(4).get<int>(),
            number(5),
            number(6)};
}

Result<Reading> briefReadingFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    try {
        const Fields f(*document, name);
        Reading r;
        r.image = f.path("image");
        r.camera = factsFrom(f.object("camera"));
        r.chart = f.text("chart");
        r.found = f.flag("found");
        r.width = f.raw("size").at(0).get<int>();
        r.height = f.raw("size").at(1).get<int>();
        for (size_t i = 0; i < r.corners.size(); ++i)
            r.corners[i] = {f.raw("corners").at(2 * i).get<double>(),
                            f.raw("corners").at(2 * i + 1).get<double>()};
        r.distortion = f.number("distortion");
        r.leftOut = f.texts("left_out");
        r.flats = f.paths("flats");
        for (const auto &c : f.objects("checks"))
            r.checks.push_back(checkFrom(c));
        for (const auto &row : f.raw("patches"))
            r.patches.push_back(patchFrom(row));
        return r;
    } catch (const FieldFault &fault) {
        return fault.error;
    } catch (const nlohmann::json::exception &fault) {
        return unusable("{file}: {why}", {{"file", name}, {"why", fault.what()}});
    }
}

} // namespace wavechroma
