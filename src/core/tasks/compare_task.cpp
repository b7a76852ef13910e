#include "core/tasks/compare_task.h"

#include "core/fit/fit.h"
#include "core/fit/two_lights.h"
#include "core/formats/reader_colour.h"
#include "core/proof/proof.h"
#include "core/tasks/colour_sides.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// A side as its file has it.
struct Loaded
{
    ComparedSide side;
    Bytes bytes;
    std::optional<Calibration> calibration;
};

bool isCube(const Bytes &bytes)
{
    const std::string start(bytes.begin(), bytes.begin() + ptrdiff_t(std::min<size_t>(bytes.size(), 4096)));
    return start.find("LUT_3D_SIZE") != start.npos || start.find("LUT_1D_SIZE") != start.npos;
}

Result<Loaded> loaded(const std::string &name)
{
    Loaded out;
    out.side.file = name;
    if (name == kPlainSide) {
        out.side.kind = out.side.name = kPlainSide;
        return out;
    }
    auto bytes = readWhole(name);
    if (!bytes)
        return bytes.error();
    out.bytes = std::move(*bytes);
    out.side.name = fs::path(name).stem().string();
    if (out.bytes.size() > 4 && std::memcmp(out.bytes.data(), "IIRC", 4) == 0) {
        out.side.kind = "dcp";
    } else if (out.bytes.size() > 128 && std::memcmp(out.bytes.data() + 36, "acsp", 4) == 0) {
        out.side.kind = "icc";
    } else if (isCube(out.bytes)) {
        out.side.kind = "cube";
    } else {
        auto calibration = loadCalibration(name);
        if (!calibration)
            return calibration.error();
        out.side.kind = "calibration";
        out.side.name = calibration->name;
        out.calibration = std::move(*calibration);
    }
    return out;
}

Result<ColourSide> sideOf(const Loaded &from, const CameraView &camera, const CompareRequest &request,
                          const ChartDefinition *chart)
{
    ColourSide out;
    out.side = from.side;
    out.mayHaveSeenAll = !from.calibration && from.side.kind != kPlainSide;
    if (from.calibration) {
        const auto &c = *from.calibration;
        out = request.reading && chart ? sideOf(c, *request.reading, *chart) : sideOf(c);
        out.side = from.side;
    } else if (from.side.kind == kPlainSide) {
        out = plainSide(camera);
    } else if (from.side.kind == "dcp") {
        const auto profile = cameraProfileFrom(from.bytes, from.side.file);
        if (!profile)
            return profile.error();
        if (camera.fileColor.xyzD50FromRendered)
            return unusable("{file}: a DNG camera profile is for raw frames, not for a finished picture",
                            {{"file", from.side.file}});
        if (!profile->name.empty())
            out.side.name = profile->name;
        out.colour = colourBy(*profile, camera);
        out.isUpToAGain = true;
    } else if (from.side.kind == "icc") {
        auto colour = colourByIcc(from.bytes, camera, request.coding, from.side.file);
        if (!colour)
            return colour.error();
        out.colour = std::move(*colour);
    } else {
        const auto table = cubeFrom(std::string(from.bytes.begin(), from.bytes.end()), from.side.file);
        if (!table)
            return table.error();
        if (!table->title.empty())
            out.side.name = table->title;
        out.colour = colourByCube(*table, camera, request.coding);
    }
    return out;
}

/// May these be compared with that reading, or with each other?
Result<Done> checkStations(const Loaded &a, const Loaded &b, const CompareRequest &request)
{
    if (!request.reading && !(a.calibration && b.calibration))
        return unusable(
            "{file}: is no calibration, so a reading is needed that says how the camera saw a chart "
            "(--reading)",
            {{"file", (a.calibration ? b : a).side.file}});
    if (request.isForced)
        return Done{};
    for (const auto *one : {&a, &b})
        if (one->calibration && request.reading)
            if (const auto doubt =
                    refusedStation(*one->calibration, request.reading->camera, request.reading->image))
                return unusable("{reason}", {{"reason", *doubt}});
    if (!request.reading && !samePair(a.calibration->camera, b.calibration->camera))
        return unusable(
            "{first} and {second} are of different cameras or lenses. With --force they are compared "
            "all the same",
            {{"first", a.side.file}, {"second", b.side.file}});
    return Done{};
}

Result<Done> checkGroup(const CompareRequest &request)
{
    for (const auto &id : request.group)
        if (!request.reading || !request.reading->patch(id))
            return unusable("\"{id}\" is no patch of the reading, so no group can be made with it",
                            {{"id", id}});
    return Done{};
}

} // namespace

Result<Comparison> compareFiles(const CompareRequest &request)
{
    if (const auto known = checkGroup(request); !known)
        return known.error();
    const auto a = loaded(request.a), b = loaded(request.b);
    if (!a || !b)
        return (a ? b : a).error();
    if (const auto sound = checkStations(*a, *b, request); !sound)
        return sound.error();
    std::optional<ChartDefinition> chart;
    if (request.reading) {
        if (!request.reading->found)
            return unusable("{file}: no chart was found, so there is nothing to compare by",
                            {{"file", request.reading->image}});
        auto references = referencesOf(*request.reading, request.reference);
        if (!references)
            return references.error();
        const auto &by = a->calibration ? a->calibration : b->calibration;
        chart = by ? chartAsMeant(*by, *references) : *references;
    }
    const auto camera = chart ? viewOf(*request.reading, *chart) : viewOf(*a->calibration);
    const auto *known = chart ? &*chart : nullptr;
    const auto first = sideOf(*a, camera, request, known), second = sideOf(*b, camera, request, known);
    if (!first || !second)
        return (first ? second : first).error();
    auto out =
        compared(*first, *second, camera,
                 {request.measure, request.reading ? &*request.reading : nullptr, known, request.group});
    if (request.sheet)
        out.limits = ComparedLimits{request.sheet->title, request.sheet->proof.in(request.measure)};
    return out;
}

Result<ColourSide> sideOfFile(const std::string &file, const Reading &reading, const ChartDefinition &chart)
{
    const auto side = loaded(file);
    if (!side)
        return side.error();
    CompareRequest request;
    request.reading = reading;
    return sideOf(*side, viewOf(reading, chart), request, &chart);
}

} // namespace wavechroma
