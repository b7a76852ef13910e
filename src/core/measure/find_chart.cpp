#include "core/measure/find_chart.h"

#include "core/measure/identify.h"
#include "core/measure/refine.h"
#include "core/measure/sample.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace wavechroma {

using namespace measure;

namespace {

struct Best {
    size_t chart = 0; // which of the charts asked for
    Placement placement;
    double scale = 1; // frame pixels per overview pixel
};

Homography scaled(const Homography &h, double scale)
{
    return {diagonal({scale, scale, 1}) * h.pictureFromChart};
}

/// Patches of the chart's largest panel: what one lattice can show of it.
int panelPatches(const ChartDefinition &chart)
{
    int most = 0;
    for (const auto &panel : panelsOf(chart))
        most = std::max(most, panel.columns * chart.rows);
    return most;
}

/// A grid stands for a chart of unfitting colours only when it is almost complete and not part of something larger.
bool isCleanGrid(const Lattice &lattice, const ChartDefinition &chart, const Placement &placement)
{
    const int all = panelPatches(chart);
    return placement.nodes >= all * 85 / 100 && int(lattice.nodes.size()) <= placement.nodes + all / 8;
}

void searchLevel(const Overview &overview, const FlatRule &rule, std::span<const ChartDefinition> charts, std::optional<Best> &fitting,
                 std::optional<Best> &grid)
{
    int least = panelPatches(charts.front());
    for (const auto &chart : charts)
        least = std::min(least, panelPatches(chart));
    for (const auto &lattice : findLattices(patchCandidates(overview, rule), std::max(6, least * 3 / 10)))
        for (size_t i = 0; i < charts.size(); ++i) {
            const auto placement = identify(overview, lattice, charts[i], kLeastColourFit);
            if (!placement)
                continue;
            auto &slot = placement->colourFit >= kLeastColourFit ? fitting : grid;
            if (&slot == &grid && !isCleanGrid(lattice, charts[i], *placement))
                continue;
            if (!slot || placement->colourFit > slot->placement.colourFit)
                slot = Best{i, *placement, double(overview.block)};
        }
}

double confidenceOf(double fit, int nodes, int patches)
{
    const double colour = std::clamp((fit - 0.8) / 0.19, 0.0, 1.0);
    return colour * (0.5 + 0.5 * std::min(1.0, double(nodes) / patches));
}

} // namespace

double placementFit(const RawFrame &frame, const ChartDefinition &chart, const Homography &homography)
{
    std::vector<Vector3> colours;
    for (const auto &patch : samplePatches(frame, chart, homography, {0.4, 500}))
        colours.push_back(patch.count > 0 ? vectorOf(patch.mean) : Vector3{-1, -1, -1});
    return colourFit(chart, colours);
}

ChartFind findChart(const RawFrame &frame, const ChartDefinition &chart, const FindOptions &options, const Progress &progress)
{
    return findAnyChart(frame, {&chart, 1}, options, progress);
}

ChartFind findAnyChart(const RawFrame &frame, std::span<const ChartDefinition> charts, const FindOptions &options, const Progress &progress)
{
    // Some 1 500 pixels on the long side: a chart a tenth of the frame wide then has patches of 20 pixels or more. The
    // half-size picture goes first: it is quicker, and quieter at high ISO.
    progress.at(0, "looking for the chart");
    const int longSide = std::max(frame.width, frame.height);
    const Overview full = overviewOf(frame, std::max(1, longSide / 1500));
    const Overview half = halved(full);
    Overview quarter; // most frames never need it
    std::optional<Best> fitting, grid;
    const struct {
        const Overview *picture;
        FlatRule rule;
    } passes[] = {{&half, {12}},       {&full, {10}},        {&half, {24}},   {&quarter, {12}}, {&half, {12, true}},
                  {&quarter, {24}},    {&full, {12, true}},  {&half, {6}},    {&full, {24}},    {&quarter, {12, true}},
                  {&half, {20, true}}, {&quarter, {40}},     {&full, {40}}};
    for (const auto &pass : passes) {
        if (progress.stopped())
            return {};
        if (pass.picture == &quarter && quarter.rgb.empty())
            quarter = halved(half);
        searchLevel(*pass.picture, pass.rule, charts, fitting, grid);
        if (fitting)
            break;
    }
    const bool fits = fitting.has_value();
    if (!fits && !(grid && options.acceptWrongColours))
        return {};
    const Best &best = fits ? *fitting : *grid;
    const auto &chart = charts[best.chart];
    const Homography rough = scaled(best.placement.pictureFromChart, best.scale);
    ChartFind find;
    find.corners = refinedCorners(frame, chart, rough);
    if (!homographyFrom(chart, find.corners))
        find.corners = cornersFrom(chart, rough);
    if (!homographyFrom(chart, find.corners))
        return {};
    find.found = true;
    find.chart = best.chart;
    find.coloursFit = fits;
    find.confidence = confidenceOf(best.placement.colourFit, best.placement.nodes, panelPatches(chart));
    return find;
}

} // namespace wavechroma
