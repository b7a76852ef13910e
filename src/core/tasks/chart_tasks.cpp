#include "core/tasks/chart_tasks.h"

#include "core/base/number_text.h"
#include "core/capture/capture_checks.h"
#include "core/color/illuminant.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/documents.h"
#include "core/formats/names.h"
#include "core/measure/flat_field.h"
#include "core/measure/sample.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma {

namespace {

bool looksLikeFile(const std::string &text)
{
    std::error_code code;
    return text.find('/') != text.npos || text.find('.') != text.npos || std::filesystem::exists(text, code);
}

} // namespace

Result<ChartDefinition> chartNamed(const std::string &idOrFile)
{
    if (!looksLikeFile(idOrFile))
        return chartFromCatalogue(idOrFile);
    const auto text = readText(idOrFile);
    return text ? chartFrom(*text, idOrFile) : Result<ChartDefinition>(text.error());
}

Result<ChartDefinition> chartOf(const Reading &reading)
{
    return reading.definition ? Result<ChartDefinition>(*reading.definition)
                              : chartFromCatalogue(reading.chart);
}

Result<RawFrame> withFlats(const RawFrame &frame, const std::vector<std::filesystem::path> &flats,
                           std::string *warning)
{
    std::vector<GainMap> maps;
    for (const auto &file : flats) {
        const auto flat = openFrame(file);
        if (!flat)
            return flat.error();
        const auto mismatch = mismatchOf(*flat, frame);
        if (!mismatch.refusal.empty())
            return unusable(mismatch.refusal);
        const auto field = flatFieldFrom(*flat);
        if (!field)
            return field.error();
        if (warning && warning->empty())
            *warning = mismatch.warning;
        maps.push_back(field->map);
    }
    RawFrame out = frame;
    if (!maps.empty())
        out.flat = std::make_shared<GainMap>(mergedGain(maps));
    return out;
}

/// Darkest to brightest of 9 × 7 windows over the whole frame, green, as sampled.
static double fieldFalloff(const RawFrame &frame)
{
    double least = 1e9, most = 0;
    for (int row = 0; row < 7; ++row)
        for (int column = 0; column < 9; ++column) {
            const double x0 = frame.width * (column + 0.05) / 9, x1 = frame.width * (column + 0.95) / 9;
            const double y0 = frame.height * (row + 0.05) / 7, y1 = frame.height * (row + 0.95) / 7;
            const double green =
                sampleWindow(frame, {PixelPoint{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}).mean.g;
            least = std::min(least, green);
            most = std::max(most, green);
        }
    return most > 0 ? 1 - least / most : 0;
}

FlatVerdict verdictOnFlat(const RawFrame &flat)
{
    FlatVerdict verdict;
    const auto field = flatFieldFrom(flat);
    if (!field) {
        verdict.words = field.error().message;
        return verdict;
    }
    RawFrame evened = flat;
    evened.flat = std::make_shared<GainMap>(field->map);
    verdict.serves = true;
    verdict.before = field->quality.falloff;
    verdict.after = fieldFalloff(evened);
    verdict.words = fmt::format("Falls off by {}; evened to {}. Its brightest spot is {} under saturation.",
                                percentText(verdict.before, 1), percentText(verdict.after, 2),
                                stopsText(std::log2(field->quality.level)));
    return verdict;
}

Result<ToleranceSheet> toleranceNamed(const std::string &nameOrFile)
{
    if (!looksLikeFile(nameOrFile))
        return shippedSheet(nameOrFile);
    const auto text = readText(nameOrFile);
    return text ? toleranceFrom(*text, nameOrFile) : Result<ToleranceSheet>(text.error());
}

static void judge(Reading &reading, const RawFrame &frame, const ChartDefinition &chart,
                  const ToleranceSheet &sheet, bool withEdges = true)
{
    reading.sheet = sheet.name;
    reading.checks =
        captureChecks(reading, chart, captureEvidence(frame, reading, chart, withEdges), sheet.capture);
}

/// When the chart asked for is not there, or its colours are not: what is there instead, from the catalogue.
static std::string seenInstead(const RawFrame &frame, const ChartDefinition &asked, const Progress &progress)
{
    std::vector<ChartDefinition> others;
    for (const auto &chart : chartCatalogue())
        if (chart.id != asked.id)
            others.push_back(chart);
    const auto find = findAnyChart(frame, others, {}, progress);
    return find.found ? " What is there looks like the " + others[find.chart].name + "." : std::string();
}

/// A reading carries its chart when the catalogue has no such one.
static void keepDefinition(Reading &reading, const ChartDefinition &chart)
{
    if (const auto known = chartFromCatalogue(chart.id); !known || !(*known == chart))
        reading.definition = chart;
}

static Result<Reading> readUnnamed(const RawFrame &frame, const ReadRequest &request,
                                   const Progress &progress)
{
    const auto &charts = request.charts.empty() ? chartCatalogue() : request.charts;
    auto reading = readAnyChart(frame, charts, request.windowShare, progress);
    if (!reading)
        return reading;
    const auto chart =
        std::find_if(charts.begin(), charts.end(), [&](const auto &one) { return one.id == reading->chart; });
    keepDefinition(*reading, *chart);
    judge(*reading, frame, *chart, request.sheet);
    if (!reading->found)
        reading->checks.front().message =
            "No chart of the catalogue in this frame. Show all of it, square enough, away from the edges.";
    return reading;
}

Result<Reading> readFrame(const RawFrame &frame, const ReadRequest &request, const Progress &progress)
{
    const bool named = request.chart || request.definition;
    if (!named && !request.corners)
        return readUnnamed(frame, request, progress);
    const auto chart = request.definition ? Result<ChartDefinition>(*request.definition)
                       : request.chart    ? chartNamed(*request.chart)
                                          : chartFromCatalogue("classic-24");
    if (!chart)
        return chart.error();
    auto reading = readChart(frame, *chart, {request.corners, request.windowShare, named}, progress);
    if (!reading)
        return reading;
    keepDefinition(*reading, *chart);
    judge(*reading, frame, *chart, request.sheet);
    for (auto &check : reading->checks)
        if (check.severity == Severity::Stop && !request.corners && chart->patches.size() > 1 &&
            (check.id == "found" || check.id == "match"))
            check.message += seenInstead(frame, *chart, progress);
    if (!reading->found && chart->id == "grey-cube")
        reading->checks.front().message =
            "A grey cube is placed by its four corners: nothing tells its greys from other things'.";
    return reading;
}

Result<Reading> movedReading(const Reading &reading, const RawFrame &frame, const Corners &corners,
                             double windowShare, const ToleranceSheet &sheet, bool preview)
{
    for (const auto &corner : corners)
        if (!std::isfinite(corner.x + corner.y))
            return unusable(reading.image + ": a corner is not a number");
    const auto chart = chartOf(reading);
    if (!chart)
        return chart.error();
    auto moved = placedAgain(reading, frame, *chart, corners, windowShare);
    if (!moved)
        return moved;
    judge(*moved, frame, *chart, sheet, !preview);
    if (preview)
        for (auto &check : moved->checks)
            for (const auto &old : reading.checks)
                if (check.id == "focus" && old.id == "focus")
                    check = old;
    return moved;
}

Result<Reading> snappedReading(const Reading &reading, const RawFrame &frame, const Corners &corners,
                               double windowShare, const ToleranceSheet &sheet)
{
    const auto chart = chartOf(reading);
    const auto place = chart ? snapped(frame, *chart, corners) : std::nullopt;
    if (!place)
        return movedReading(reading, frame, corners, windowShare, sheet);
    Reading bent = reading;
    bent.distortion = place->lens.distortion;
    return movedReading(bent, frame, place->corners, windowShare, sheet);
}

Result<Reading> readingByThree(const RawFrame &frame, const ChartDefinition &chart,
                               const std::array<PixelPoint, 3> &three, const ToleranceSheet &sheet)
{
    const auto place = placedByThree(frame, chart, three);
    if (!place)
        return unusable(frame.path + ": the three corners lie in a line, or run the wrong way round: first "
                                     "patch, last of the top row, last of all");
    ReadRequest request;
    request.definition = chart;
    request.corners = place->corners;
    request.sheet = sheet;
    auto reading = readFrame(frame, request);
    if (!reading || place->lens.distortion == 0)
        return reading;
    reading->distortion = place->lens.distortion;
    return movedReading(*reading, frame, place->corners, request.windowShare, sheet);
}

Result<Reading> carriedReading(const Reading &from, const RawFrame &frame, const ToleranceSheet &sheet)
{
    if (!from.found)
        return unusable(from.image + ": there is no placement to carry");
    if (from.width != frame.width || from.height != frame.height)
        return unusable(frame.path + ": is of another size, so the placement means nothing in it");
    Reading carried = from;
    carried.image = frame.path;
    carried.camera = frame.camera;
    carried.fileColor = frame.fileColor;
    carried.orientation = frame.orientation;
    return snappedReading(carried, frame, from.corners, from.windowShare, sheet);
}

Result<Reading> readingWithout(const Reading &reading, const RawFrame &frame,
                               const std::vector<std::string> &leftOut, const ToleranceSheet &sheet)
{
    const auto chart = chartOf(reading);
    if (!chart)
        return chart.error();
    for (const auto &id : leftOut)
        if (!reading.patch(id))
            return unusable(reading.image + ": there is no patch \"" + id + "\" to switch off");
    Reading out = reading;
    out.leftOut = leftOut;
    judge(out, frame, *chart, sheet);
    return out;
}

Result<Balance> balanceReading(const Reading &reading, const BalanceRequest &request)
{
    if (!reading.found)
        return unusable(reading.image +
                        ": no chart was found in it; give --area for a neutral elsewhere in the frame");
    if (!request.patches.empty())
        return balanceFromPatches(reading, request.patches);
    const auto chart = chartOf(reading);
    if (!chart)
        return chart.error();
    const auto neutral = defaultNeutral(reading, *chart);
    return balanceFromPatches(reading, neutral ? std::vector{*neutral} : std::vector<std::string>{});
}

Result<Balance> balanceFrameArea(const RawFrame &frame, const std::array<double, 4> &area)
{
    const auto [x, y, w, h] = area;
    if (!(w > 0 && h > 0) || !(x >= 0 && y >= 0 && x + w <= frame.width && y + h <= frame.height))
        return unusable(frame.path + ": the area must lie inside the frame, which is " +
                        std::to_string(frame.width) + " by " + std::to_string(frame.height) + " pixels");
    const Quad window{PixelPoint{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
    return balanceFromArea(frame.path, frame.fileColor, area, sampleWindow(frame, window, 200000));
}

Result<NamedLight> lightNamed(const std::string &text)
{
    if (!looksLikeFile(text))
        return lightFromName(text);
    const auto content = readText(text);
    if (!content)
        return content.error();
    const auto spectrum = parseSpectrum(*content, text);
    if (!spectrum)
        return spectrum.error();
    const auto xy = chromaticityFromXyz(xyzFromLight(*spectrum));
    return NamedLight{std::filesystem::path(text).stem().string(), *spectrum, xy, exifCodeNear(xy)};
}

Result<ChartDefinition> referencesOf(const Reading &reading, const std::optional<std::string> &reference)
{
    const auto chart = chartOf(reading);
    return chart && reference ? withReferences(*chart, *reference) : chart;
}

Result<Proof> proveReading(const Calibration &calibration, const Reading &reading,
                           const std::optional<std::string> &reference)
{
    const auto chart = referencesOf(reading, reference);
    return chart ? prove(calibration, reading, *chart) : Result<Proof>(chart.error());
}

} // namespace wavechroma
