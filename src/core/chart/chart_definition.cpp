#include "core/chart/chart_definition.h"

#include "core/base/csv_table.h"
#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/color/lab.h"
#include "embedded/classic24Csv.h"
#include "embedded/double48Csv.h"
#include "embedded/field140Csv.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <set>

namespace wavechroma {

const ChartPatch *ChartDefinition::patch(const std::string &patchId) const
{
    for (const auto &p : patches)
        if (p.id == patchId)
            return &p;
    return nullptr;
}

std::string patchId(int row, int column)
{
    std::string letters;
    for (int r = row; r >= 0; r = r / 26 - 1)
        letters.insert(letters.begin(), char('A' + r % 26));
    return letters + std::to_string(column + 1);
}

ShownGrid shownGrid(const ChartDefinition &chart)
{
    if (chart.places.empty())
        return {std::max(1, chart.rows), std::max(1, chart.columns)};
    const int count = int(chart.places.size()), columns = int(std::ceil(std::sqrt(1.5 * count)));
    return {(count + columns - 1) / columns, columns};
}

std::vector<ChartPanel> panelsOf(const ChartDefinition &chart)
{
    if (!chart.panelGap)
        return {{0, chart.columns}};
    const int first = chart.panelGap->afterColumn;
    return {{0, first}, {first, chart.columns - first}};
}

namespace {

/// The free strip between two patches, in mm; below 0 where they lie over each other.
double gapBetween(const PatchPlace &a, const PatchPlace &b)
{
    const double across = std::abs(a.x - b.x), down = std::abs(a.y - b.y);
    if (a.isDisc && b.isDisc)
        return std::hypot(across, down) - (a.widthMm + b.widthMm) / 2;
    const double x = across - (a.widthMm + b.widthMm) / 2, y = down - (a.heightMm + b.heightMm) / 2;
    return x > 0 && y > 0 ? std::hypot(x, y) : std::max(x, y);
}

/// What is wrong with the places of a layout that is no grid.
std::optional<words::Phrase> faultOfPlaces(const ChartDefinition &chart)
{
    constexpr double kTouch = -1e-6;
    for (size_t i = 0; i < chart.places.size(); ++i) {
        const auto &one = chart.places[i];
        const bool isSound = std::isfinite(one.x + one.y) && one.widthMm > 0 && one.heightMm > 0 &&
                             one.widthMm < 1e5 && one.heightMm < 1e5 &&
                             (!one.isDisc || one.widthMm == one.heightMm);
        if (!isSound)
            return words::Phrase{words::said("patch {patch}: its place is none that can be printed"),
                                 {{"patch", chart.patches[i].id}}};
        for (size_t j = 0; j < i; ++j)
            if (gapBetween(one, chart.places[j]) < kTouch)
                return words::Phrase{words::said("patches {first} and {second} lie over each other"),
                                     {{"first", chart.patches[j].id}, {"second", chart.patches[i].id}}};
    }
    return std::nullopt;
}

} // namespace

ChartDefinition placedFreely(ChartDefinition chart, std::vector<PatchPlace> places)
{
    double left = places.front().x, top = places.front().y;
    for (const auto &one : places) {
        left = std::min(left, one.x - one.widthMm / 2);
        top = std::min(top, one.y - one.heightMm / 2);
    }
    chart.patchWidthMm = chart.patchHeightMm = 1e9;
    for (auto &one : places) {
        one.x -= left;
        one.y -= top;
        chart.patchWidthMm = std::min(chart.patchWidthMm, one.widthMm);
        chart.patchHeightMm = std::min(chart.patchHeightMm, one.heightMm);
    }
    double gap = std::min(chart.patchWidthMm, chart.patchHeightMm);
    for (size_t i = 0; i < places.size(); ++i)
        for (size_t j = 0; j < i; ++j)
            gap = std::min(gap, std::max(0.0, gapBetween(places[i], places[j])));
    chart.pitchXMm = chart.patchWidthMm + gap;
    chart.pitchYMm = chart.patchHeightMm + gap;
    chart.rows = 1;
    chart.columns = int(places.size());
    chart.panelGap.reset();
    chart.places = std::move(places);
    return chart;
}

Result<Done> check(const ChartDefinition &chart)
{
    const auto fail = [&](const char *reason, words::Places places = {}) {
        return unusable("chart \"{chart}\": {reason}",
                        {{"chart", chart.id}, {"reason", words::Phrase{reason, std::move(places)}}});
    };
    if (chart.id.empty())
        return unusable("chart: id is empty");
    const bool isFree = !chart.places.empty();
    const int most = isFree ? 1000 : 100;
    if (chart.rows < 1 || chart.columns < 1 || chart.rows > most || chart.columns > most)
        return fail("rows and columns must be 1 to 100");
    if (!(chart.patchWidthMm > 0) || !(chart.patchHeightMm > 0))
        return fail("patch_size must be positive");
    if (chart.pitchXMm < chart.patchWidthMm || chart.pitchYMm < chart.patchHeightMm)
        return fail("pitch is smaller than patch_size");
    if (chart.panelGap && (chart.panelGap->afterColumn < 1 || chart.panelGap->afterColumn >= chart.columns ||
                           chart.panelGap->widthMm < 0))
        return fail("panel_gap must come after one of the columns but the last, and not be negative");
    const size_t expected = size_t(chart.rows) * size_t(chart.columns);
    if (isFree && (chart.places.size() != chart.patches.size() || chart.rows != 1))
        return fail("some patches have a place and some have none");
    if (chart.patches.size() != expected)
        return fail("{n} patches for {rows} rows of {columns}", {{"n", double(chart.patches.size())},
                                                                 {"rows", double(chart.rows)},
                                                                 {"columns", double(chart.columns)}});
    if (const auto fault = faultOfPlaces(chart))
        return unusable("chart \"{chart}\": {reason}", {{"chart", chart.id}, {"reason", *fault}});
    std::set<std::string> ids;
    for (size_t i = 0; i < expected; ++i) {
        const auto &patch = chart.patches[i];
        const auto wanted = patchId(int(i) / chart.columns, int(i) % chart.columns);
        if (isFree && (patch.id.empty() || ids.count(patch.id)))
            return fail("patch {n} has no name of its own", {{"n", double(i + 1)}});
        if (!isFree && patch.id != wanted)
            return fail("patch {n} is called \"{id}\", not \"{wanted}\"",
                        {{"n", double(i + 1)}, {"id", patch.id}, {"wanted", wanted}});
        const auto &[x, y, z] = patch.reference;
        if (!std::isfinite(x + y + z) || y < -0.01 || y > 1.5 || x < -0.05 || z < -0.05 || x > 1.6 || z > 1.6)
            return fail("patch {patch}: reference colour is not one of a reflecting surface",
                        {{"patch", patch.id}});
        ids.insert(patch.id);
    }
    for (const auto &id : chart.neutral)
        if (!ids.count(id))
            return fail("neutral names \"{patch}\", which is not a patch", {{"patch", id}});
    return Done{};
}

/// Rows of row, column, L, a, b.
static std::vector<ChartPatch> patchesFrom(std::string_view table, const char *name)
{
    std::vector<ChartPatch> patches;
    const auto numbers = parseNumberTable(table, name);
    for (const auto &row : numbers->rows)
        patches.push_back(
            {patchId(int(row[0]) - 1, int(row[1]) - 1), xyzFromLab({row[2], row[3], row[4]}), {}});
    return patches;
}

static ChartDefinition classic24()
{
    ChartDefinition chart;
    chart.id = "classic-24";
    chart.name = "Classic 24-patch chart";
    chart.rows = 4;
    chart.columns = 6;
    chart.patchWidthMm = chart.patchHeightMm = 40;
    chart.pitchXMm = chart.pitchYMm = 45.5;
    chart.neutral = {"D1", "D2", "D3", "D4", "D5", "D6"};
    chart.reference = {"D50", words::said("CIE 1931 2°"),
                       words::said("published nominal values, not a measurement of your chart"), ""};
    chart.patches = patchesFrom(embedded::classic24Csv, words::said("nominal values of the classic 24"));
    return chart;
}

/// Layouts whose colours differ from batch to batch: real references come with the chart.
static constexpr const char *kDemoSource =
    words::said("made-up demo references; give your chart's own with --reference");

static ChartDefinition double24()
{
    ChartDefinition chart;
    chart.id = "double-24";
    chart.name = words::said("48-patch chart in two panels");
    chart.rows = 6;
    chart.columns = 8;
    chart.patchWidthMm = chart.patchHeightMm = 22;
    chart.pitchXMm = chart.pitchYMm = 25;
    chart.panelGap = PanelGap{4, 18};
    chart.neutral = {"A4", "B4", "C4", "D4", "E4", "F4"};
    chart.reference = {"D50", "CIE 1931 2°", kDemoSource, ""};
    chart.patches = patchesFrom(embedded::double48Csv, words::said("demo values of the 48"));
    return chart;
}

static ChartDefinition field140()
{
    ChartDefinition chart;
    chart.id = "field-140";
    chart.name = "140-patch chart";
    chart.rows = 10;
    chart.columns = 14;
    chart.patchWidthMm = chart.patchHeightMm = 14;
    chart.pitchXMm = chart.pitchYMm = 16;
    chart.neutral = {"A1", "A2", "A3"}; // white, grey and black of the border
    chart.reference = {"D50", "CIE 1931 2°", kDemoSource, ""};
    chart.patches = patchesFrom(embedded::field140Csv, words::said("demo values of the 140"));
    return chart;
}

/// A chart of greys, given by their L*, row by row.
static ChartDefinition greys(const std::string &id, const std::string &name, int rows, int columns,
                             const std::vector<double> &lightness)
{
    ChartDefinition chart;
    chart.id = id;
    chart.name = name;
    chart.rows = rows;
    chart.columns = columns;
    chart.reference = {"D50", "CIE 1931 2°", kDemoSource, ""};
    for (size_t i = 0; i < lightness.size(); ++i)
        chart.patches.push_back(
            {patchId(int(i) / columns, int(i) % columns), xyzFromLab({lightness[i], 0, 0}), {}});
    return chart;
}

static ChartDefinition greyStrip()
{
    auto chart = greys("grey-strip", "Grey-scale strip", 1, 11, {96, 89, 81, 73, 65, 56, 47, 38, 29, 21, 13});
    chart.patchWidthMm = 14;
    chart.patchHeightMm = 24;
    chart.pitchXMm = 16;
    chart.pitchYMm = 24;
    for (const auto &patch : chart.patches)
        chart.neutral.push_back(patch.id);
    return chart;
}

static ChartDefinition greyCard()
{
    auto chart = greys("grey-card", "Grey card", 1, 1, {50});
    chart.patchWidthMm = chart.pitchXMm = 250;
    chart.patchHeightMm = chart.pitchYMm = 200;
    chart.neutral = {"A1"};
    return chart;
}

static ChartDefinition greyCube()
{
    auto chart = greys("grey-cube", "Grey cube", 3, 2, {94, 94, 66, 66, 22, 3});
    chart.patchWidthMm = chart.pitchXMm = 50;
    chart.patchHeightMm = chart.pitchYMm = 16;
    chart.pitchYMm = 17;
    chart.neutral = {"B1", "B2"}; // which of them the key light falls on, the frame tells
    return chart;
}

static ChartDefinition evenField()
{
    auto chart = greys("even-field", "Even field", 1, 1, {90});
    chart.patchWidthMm = chart.pitchXMm = 600;
    chart.patchHeightMm = chart.pitchYMm = 400;
    chart.neutral = {"A1"};
    return chart;
}

bool hasDemoValues(const ChartDefinition &chart)
{
    const auto &all = chartCatalogue();
    const bool isSuchLayout = chart.id == "double-24" || chart.id == "field-140";
    return isSuchLayout && std::find(all.begin(), all.end(), chart) != all.end();
}

ChartDefinition withoutValues(ChartDefinition chart)
{
    chart.colorsKnown = false;
    chart.neutral.clear();
    chart.reference = {};
    for (auto &patch : chart.patches)
        patch = {patch.id, xyzFromLab({50, 0, 0}), {}};
    return chart;
}

bool isGreyScale(const ChartDefinition &chart)
{
    return chart.colorsKnown && chart.patches.size() >= 5 &&
           std::all_of(chart.patches.begin(), chart.patches.end(), [](const ChartPatch &patch) {
               const Lab lab = labFromXyz(patch.reference);
               return std::hypot(lab.a, lab.b) < 4;
           });
}

ChartDefinition plainGrid(int rows, int columns)
{
    ChartDefinition chart;
    chart.id = fmt::format("grid-{}x{}", rows, columns);
    chart.name = fmt::format("grid of {} × {} patches", rows, columns);
    chart.rows = rows;
    chart.columns = columns;
    chart.patchWidthMm = chart.patchHeightMm = 20;
    chart.pitchXMm = chart.pitchYMm = 24;
    chart.colorsKnown = false;
    for (int i = 0; i < rows * columns; ++i)
        chart.patches.push_back({patchId(i / columns, i % columns), xyzFromLab({50, 0, 0}), {}});
    return chart;
}

/// "grid-4x6" → 4, 6; nothing for any other text.
static std::optional<std::pair<int, int>> gridSize(const std::string &id)
{
    int rows = 0, columns = 0, used = 0;
    if (std::sscanf(id.c_str(), "grid-%3dx%3d%n", &rows, &columns, &used) != 2 || size_t(used) != id.size())
        return std::nullopt;
    if (rows < 1 || columns < 1 || rows > 100 || columns > 100)
        return std::nullopt;
    return std::pair{rows, columns};
}

const std::vector<ChartDefinition> &chartCatalogue()
{
    static const std::vector<ChartDefinition> charts{classic24(), double24(), field140(), greyStrip()};
    return charts;
}

static const std::vector<ChartDefinition> &namedOnly()
{
    static const std::vector<ChartDefinition> charts{greyCard(), greyCube(), evenField()};
    return charts;
}

std::vector<std::string> chartIds()
{
    std::vector<std::string> ids;
    for (const auto *list : {&chartCatalogue(), &namedOnly()})
        for (const auto &chart : *list)
            ids.push_back(chart.id);
    ids.emplace_back("grid-RxC");
    return ids;
}

Result<ChartDefinition> chartFromCatalogue(const std::string &id)
{
    for (const auto *list : {&chartCatalogue(), &namedOnly()})
        for (const auto &chart : *list)
            if (chart.id == id)
                return chart;
    if (const auto size = gridSize(id))
        return plainGrid(size->first, size->second);
    if (id.rfind("grid-", 0) == 0)
        return unusable(
            "chart \"{chart}\": a grid is named by its rows and columns, 1 to 100 each, as in grid-4x6",
            {{"chart", id}});
    return unusable("chart \"{chart}\" is not in the catalogue; known: {known}",
                    {{"chart", id}, {"known", words::joined(chartIds(), ", ")}});
}

} // namespace wavechroma
