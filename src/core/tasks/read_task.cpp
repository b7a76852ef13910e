#include "core/tasks/read_task.h"

#include "core/capture/capture_checks.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/measure/flat_field.h"
#include "core/measure/read_chart.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/tasks/file_names.h"
#include "core/tasks/reference_task.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

Result<Reading> loadReading(const std::filesystem::path &file)
{
    const auto text = readText(file);
    return text ? readingFrom(*text, file.string()) : Result<Reading>(text.error());
}

/// Those found, where all are of one frame: charts that stand in it together, as read wrote them.
static std::vector<Reading> chartsOfOneFrame(const std::vector<Reading> &all)
{
    std::vector<Reading> found;
    for (const auto &one : all) {
        if (one.image != all.front().image || one.camera.capturedAt != all.front().camera.capturedAt)
            return {}; // a bracket
        if (one.found)
            found.push_back(one);
    }
    return found;
}

Result<ReadingToUse> loadReadingToUse(const std::filesystem::path &file)
{
    const auto text = readText(file);
    const auto all = text ? readingsFrom(*text, file.string()) : Result<std::vector<Reading>>(text.error());
    if (!all)
        return all.error();
    if (all->size() == 1)
        return ReadingToUse{all->front(), std::nullopt, {}};
    if (auto charts = chartsOfOneFrame(*all); !charts.empty())
        return ReadingToUse{charts.front(), std::nullopt, {charts.begin() + 1, charts.end()}};
    std::vector<const Reading *> found;
    for (const auto &one : *all)
        if (one.found)
            found.push_back(&one);
    if (found.empty())
        return unusable("{file}: no chart was found in any of its {count} frames",
                        {{"file", file.string()}, {"count", double(all->size())}});
    for (const auto *one : found)
        if (one->chart != found[0]->chart || one->camera.model != found[0]->camera.model ||
            one->camera.serial != found[0]->camera.serial || one->camera.lens != found[0]->camera.lens)
            return unusable(
                "{file}: its readings are not of one camera, lens and chart. Give a file with one reading",
                {{"file", file.string()}});
    auto choice = chooseFromBracket(found);
    const auto *chosen = found[choice.index];
    choice.index = size_t(chosen - all->data());
    return ReadingToUse{*chosen, choice, {}};
}

Result<Done> saveReading(const std::filesystem::path &file, const Reading &reading)
{
    return writeWhole({{file, bytesOf(documentOf(reading))}});
}

Result<Done> saveTolerance(const std::filesystem::path &file, const ToleranceSheet &sheet)
{
    return writeWhole({{file, bytesOf(documentOf(sheet))}});
}

Result<RawFrame> withFlats(const RawFrame &frame, const std::vector<std::filesystem::path> &flats,
                           words::Phrase *warning)
{
    std::vector<GainMap> maps;
    for (const auto &file : flats) {
        const auto flat = openFrame(file);
        if (!flat)
            return flat.error();
        const auto mismatch = mismatchOf(*flat, frame);
        if (mismatch.refusal)
            return *mismatch.refusal;
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
        verdict.refusal = field.error().phrase;
        return verdict;
    }
    RawFrame evened = flat;
    evened.flat = std::make_shared<GainMap>(field->map);
    verdict.serves = true;
    verdict.before = field->quality.falloff;
    verdict.after = fieldFalloff(evened);
    verdict.stopsUnder = std::log2(field->quality.level);
    return verdict;
}

Result<ToleranceSheet> toleranceNamed(const std::string &nameOrFile)
{
    if (!looksLikeFile(nameOrFile))
        return shippedSheet(nameOrFile);
    const auto text = readText(nameOrFile);
    return text ? toleranceFrom(*text, nameOrFile) : Result<ToleranceSheet>(text.error());
}

void judge(Reading &reading, const RawFrame &frame, const ChartDefinition &chart, const ToleranceSheet &sheet,
           bool withEdges)
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
    return find.found ? others[find.chart].name : std::string();
}

/// A reading carries its chart when the catalogue has no such one.
static void keepDefinition(Reading &reading, const ChartDefinition &chart)
{
    if (const auto known = chartFromCatalogue(chart.id); !known || !(*known == chart))
        reading.definition = chart;
}

/// The values that ship for some layouts are made up: a real chart of such a layout is found by its pattern
/// alone, and then nothing is known of its colours. Returns whether the reading is one now.
static Result<Done> foundByLayout(Reading &reading, const RawFrame &frame, const ChartDefinition &layout,
                                  const ReadRequest &request, const Progress &progress)
{
    auto found = readChart(frame, layout, {request.corners, request.windowShare, true}, progress);
    if (!found)
        return found.error();
    if (!found->found)
        return Done{};
    reading = std::move(*found);
    keepDefinition(reading, layout);
    judge(reading, frame, layout, request.sheet);
    return Done{};
}

static bool isOfOtherColours(const Reading &reading)
{
    return std::any_of(reading.checks.begin(), reading.checks.end(), [](const Check &check) {
        return check.id == CheckId::Match && check.severity == Severity::Stop;
    });
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
    for (const auto &layout : request.layouts)
        if (!reading->found)
            if (const auto looked = foundByLayout(*reading, frame, layout, request, progress); !looked)
                return looked.error();
    if (!reading->found)
        reading->checks.front().finding = "none-of-catalogue";
    return reading;
}

static Result<Reading> readWhat(const RawFrame &frame, const ReadRequest &request, const Progress &progress)
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
    if (hasDemoValues(*chart) && (!reading->found || isOfOtherColours(*reading)))
        if (const auto looked = foundByLayout(*reading, frame, withoutValues(*chart), request, progress);
            !looked)
            return looked.error();
    for (auto &check : reading->checks)
        if (check.severity == Severity::Stop && !request.corners && chart->patches.size() > 1 &&
            (check.id == CheckId::Found || check.id == CheckId::Match))
            check.seenInstead = seenInstead(frame, *chart, progress);
    if (!reading->found && chart->id == "grey-cube")
        reading->checks.front().finding = "cube-by-corners";
    return reading;
}

Result<Reading> readFrame(const RawFrame &frame, const ReadRequest &request, const Progress &progress)
{
    auto reading = readWhat(frame, request, progress);
    const auto whole = stillWhole(frame); // or what was read is not what was in it
    return whole ? reading : whole.error();
}

Result<Reading> readingWithout(const Reading &reading, const RawFrame &frame,
                               const std::vector<std::string> &leftOut, const ToleranceSheet &sheet)
{
    const auto chart = chartOf(reading);
    if (!chart)
        return chart.error();
    for (const auto &id : leftOut)
        if (!reading.patch(id))
            return unusable("{file}: there is no patch \"{patch}\" to switch off",
                            {{"file", reading.image}, {"patch", id}});
    Reading out = reading;
    out.leftOut = leftOut;
    judge(out, frame, *chart, sheet);
    return out;
}

} // namespace wavechroma
