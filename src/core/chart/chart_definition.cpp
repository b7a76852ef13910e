#include "core/chart/chart_definition.h"

#include "core/base/csv_table.h"
#include "core/color/lab.h"
#include "embedded/classic24Csv.h"
#include "embedded/double48Csv.h"
#include "embedded/field140Csv.h"

#include <cmath>
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

std::vector<ChartPanel> panelsOf(const ChartDefinition &chart)
{
    if (!chart.panelGap)
        return {{0, chart.columns}};
    const int first = chart.panelGap->afterColumn;
    return {{0, first}, {first, chart.columns - first}};
}

Result<Done> check(const ChartDefinition &chart)
{
    const auto fail = [&](const std::string &reason) { return unusable("chart \"" + chart.id + "\": " + reason); };
    if (chart.id.empty())
        return unusable("chart: id is empty");
    if (chart.rows < 1 || chart.columns < 1 || chart.rows > 100 || chart.columns > 100)
        return fail("rows and columns must be 1 to 100");
    if (!(chart.patchWidthMm > 0) || !(chart.patchHeightMm > 0))
        return fail("patch_size must be positive");
    if (chart.pitchXMm < chart.patchWidthMm || chart.pitchYMm < chart.patchHeightMm)
        return fail("pitch is smaller than patch_size");
    if (chart.panelGap && (chart.panelGap->afterColumn < 1 || chart.panelGap->afterColumn >= chart.columns || chart.panelGap->widthMm < 0))
        return fail("panel_gap must come after one of the columns but the last, and not be negative");
    const size_t expected = size_t(chart.rows) * size_t(chart.columns);
    if (chart.patches.size() != expected)
        return fail(fmt::format("{} patches for {} rows of {}", chart.patches.size(), chart.rows, chart.columns));
    std::set<std::string> ids;
    for (size_t i = 0; i < expected; ++i) {
        const auto &patch = chart.patches[i];
        const auto wanted = patchId(int(i) / chart.columns, int(i) % chart.columns);
        if (patch.id != wanted)
            return fail(fmt::format("patch {} is called \"{}\", not \"{}\"", i + 1, patch.id, wanted));
        const auto &[x, y, z] = patch.reference;
        if (!std::isfinite(x + y + z) || y < -0.01 || y > 1.5 || x < -0.05 || z < -0.05 || x > 1.6 || z > 1.6)
            return fail("patch " + patch.id + ": reference colour is not one of a reflecting surface");
        ids.insert(patch.id);
    }
    for (const auto &id : chart.neutral)
        if (!ids.count(id))
            return fail("neutral names \"" + id + "\", which is not a patch");
    return Done{};
}

/// Rows of row, column, L, a, b.
static std::vector<ChartPatch> patchesFrom(std::string_view table, const char *name)
{
    std::vector<ChartPatch> patches;
    const auto numbers = parseNumberTable(table, name);
    for (const auto &row : numbers->rows)
        patches.push_back({patchId(int(row[0]) - 1, int(row[1]) - 1), xyzFromLab({row[2], row[3], row[4]}), {}});
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
    chart.reference = {"D50", "CIE 1931 2°", "published nominal values, not a measurement of your chart", ""};
    chart.patches = patchesFrom(embedded::classic24Csv, "nominal values of the classic 24");
    return chart;
}

/// Layouts whose colours differ from batch to batch: real references come with the chart.
static constexpr const char *kDemoSource = "made-up demo references; give your chart's own with --reference";

static ChartDefinition double24()
{
    ChartDefinition chart;
    chart.id = "double-24";
    chart.name = "48-patch chart in two panels";
    chart.rows = 6;
    chart.columns = 8;
    chart.patchWidthMm = chart.patchHeightMm = 22;
    chart.pitchXMm = chart.pitchYMm = 25;
    chart.panelGap = PanelGap{4, 18};
    chart.neutral = {"A4", "B4", "C4", "D4", "E4", "F4"};
    chart.reference = {"D50", "CIE 1931 2°", kDemoSource, ""};
    chart.patches = patchesFrom(embedded::double48Csv, "demo values of the 48");
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
    chart.patches = patchesFrom(embedded::field140Csv, "demo values of the 140");
    return chart;
}

const std::vector<ChartDefinition> &chartCatalogue()
{
    static const std::vector<ChartDefinition> charts{classic24(), double24(), field140()};
    return charts;
}

Result<ChartDefinition> chartFromCatalogue(const std::string &id)
{
    std::string known;
    for (const auto &chart : chartCatalogue()) {
        if (chart.id == id)
            return chart;
        known += (known.empty() ? "" : ", ") + chart.id;
    }
    return unusable("chart \"" + id + "\" is not in the catalogue; known: " + known);
}

} // namespace wavechroma
