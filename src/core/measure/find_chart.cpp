#include "core/measure/find_chart.h"

#include "core/measure/free_layout.h"
#include "core/measure/identify.h"
#include "core/measure/refine.h"
#include "core/measure/rows.h"
#include "core/measure/sample.h"
#include "core/measure/upright.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace wavechroma {

using namespace measure;

namespace {

struct Best
{
    size_t chart = 0; // which of the charts asked for
    Placement placement;
    double scale = 1; // frame pixels per overview pixel
};

Homography scaled(const Homography &h, double scale)
{
    return {diagonal({scale, scale, 1}) * h.pictureFromChart, {}};
}

/// Patches of the chart's largest panel: what one lattice can show of it.
int panelPatches(const ChartDefinition &chart)
{
    int most = 0;
    for (const auto &panel : panelsOf(chart))
        most = std::max(most, panel.columns * chart.rows);
    return most;
}

bool isGrid(const ChartDefinition &chart)
{
    return chart.places.empty();
}

bool isRow(const ChartDefinition &chart)
{
    return isGrid(chart) && (chart.rows == 1) != (chart.columns == 1);
}

/// A grid stands for a chart of unfitting colours only when it is almost complete and not part of something
/// larger.
bool isCleanGrid(int nodesAround, const ChartDefinition &chart, const Placement &placement)
{
    // without colours the other panels are all that tells it from a grid of one panel's size
    const int all = chart.colorsKnown ? panelPatches(chart) : int(chart.patches.size());
    return placement.nodes * 100 >= all * 85 && nodesAround <= placement.nodes + all / 8;
}

/// The search's state: what was found so far.
struct Findings
{
    std::span<const ChartDefinition> charts;
    std::optional<Best> fitting, grid;

    void consider(size_t chart, const Placement &placement, int nodesAround, double scale)
    {
        auto &slot = placement.colourFit >= leastFit(charts[chart]) ? fitting : grid;
        if (&slot == &grid && !isCleanGrid(nodesAround, charts[chart], placement))
            return;
        if (!slot || placement.colourFit > slot->placement.colourFit)
            slot = Best{chart, placement, scale};
    }

    /// Greys in a row are a poorer pattern than colours on a grid, so they must fit better.
    static double leastFit(const ChartDefinition &chart)
    {
        return isGreyScale(chart) ? 0.98 : kLeastColourFit;
    }
};

/// A picture of the frame, and what is flat in it.
struct Level
{
    explicit Level(Overview picture) : overview(std::move(picture)), regions(overview) {}
    Level(const Level &) = delete;
    Level &operator=(const Level &) = delete;

    const Overview overview;
    FlatRegions regions;
};

void searchLevel(Level &level, const FlatRule &rule, Findings &findings)
{
    const auto &overview = level.overview;
    const auto &charts = findings.charts;
    int leastGrid = 1000000, leastRow = 1000000;
    for (const auto &chart : charts)
        if (isRow(chart))
            leastRow = std::min(leastRow, std::max(4, panelPatches(chart) * 7 / 10));
        else if (isGrid(chart) && panelPatches(chart) > 1)
            leastGrid =
                std::min(leastGrid, std::max(std::min(6, panelPatches(chart)), panelPatches(chart) * 3 / 10));
    std::vector<const ChartDefinition *> grids;
    for (const auto &chart : charts)
        if (isGrid(chart) && !isRow(chart))
            grids.push_back(&chart);
    const auto candidates = level.regions.candidates(rule);
    for (size_t i = 0; i < charts.size() && candidates.size() <= 400; ++i)
        if (!isGrid(charts[i]))
            if (const auto placement = identifyFreely(overview, candidates, charts[i]))
                findings.consider(i, *placement, placement->nodes, overview.block);
    if (grids.empty() && leastRow > 100000)
        return;
    for (const auto &lattice : findLattices(candidates, leastGrid)) {
        const auto placements = identify(overview, lattice, grids, kLeastColourFit, candidates);
        for (size_t i = 0; i < grids.size(); ++i)
            if (placements[i])
                findings.consider(size_t(grids[i] - charts.data()), *placements[i], int(lattice.nodes.size()),
                                  overview.block);
    }
    if (findings.fitting || leastRow > 100000 || candidates.size() > 400)
        return;
    for (const auto &row : findRows(candidates, leastRow))
        for (size_t i = 0; i < charts.size(); ++i)
            if (isRow(charts[i]))
                if (const auto placement = identifyRow(overview, row, charts[i]))
                    findings.consider(i, *placement, row.seen, overview.block);
}

/// Without known colours nothing tells which way up a grid is: the turn nearest to the upright picture is
/// taken.
Corners uprightGrid(const Corners &corners, const ChartDefinition &chart, int orientation)
{
    const auto turned = fromTopLeft(corners, orientation);
    if (chart.rows == chart.columns)
        return turned;
    const bool kept = (turned[0] == corners[0] || turned[0] == corners[2]);
    Corners out = corners;
    // of the two turns that keep rows and columns apart, the one whose first corner is the more to the top
    // left
    const bool half = kept ? turned[0] == corners[2] : turned[0] == corners[3] || turned[1] == corners[2];
    if (half)
        std::rotate(out.begin(), out.begin() + 2, out.end());
    return out;
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
    if (!chart.colorsKnown || chart.patches.size() < 6)
        return 1; // no pattern to compare with
    return isGreyScale(chart) ? greyFit(chart, colours) : colourFit(chart, colours);
}

ChartFind findChart(const RawFrame &frame, const ChartDefinition &chart, const FindOptions &options,
                    const Progress &progress)
{
    return findAnyChart(frame, {&chart, 1}, options, progress);
}

ChartFind findAnyChart(const RawFrame &frame, std::span<const ChartDefinition> charts,
                       const FindOptions &options, const Progress &progress)
{
    // Some 1 500 pixels on the long side: a chart a tenth of the frame wide then has patches of 20 pixels or
    // more. The half-size picture goes first: it is quicker, and quieter at high ISO; most frames never need
    // the others.
    progress.at(0, "looking for the chart");
    const int longSide = std::max(frame.width, frame.height), period = smallestBlock(frame),
              block = (std::max(1, longSide / 1500) + period - 1) / period * period;
    Level full(overviewOf(frame, block)), half(halved(full.overview));
    std::optional<Level> quarter;
    enum Size { Half, Full, Quarter };
    Findings findings{charts, {}, {}};
    const auto &[all, fitting, grid] = findings;
    const struct
    {
        Size size;
        FlatRule rule;
    } passes[] = {{Half, {12}},
                  {Full, {10}},
                  {Half, {24}},
                  {Quarter, {12}},
                  {Half, {12, true}},
                  {Quarter, {24}},
                  {Full, {12, true}},
                  {Half, {6}},
                  {Full, {24}},
                  {Quarter, {12, true}},
                  {Half, {20, true}},
                  {Quarter, {40}},
                  {Full, {40}},
                  {Half, {14, true, 5}},
                  {Quarter, {14, true, 3}},
                  {Half, {24, true, 5}},
                  {Quarter, {20, true, 5}},
                  {Full, {20, true, 5}},
                  {Half, {34, true, 3}},
                  {Full, {30, true, 5}}};
    for (const auto &pass : passes) {
        if (progress.stopped())
            return {};
        if (pass.size == Quarter && !quarter)
            quarter.emplace(halved(half.overview));
        searchLevel(pass.size == Half ? half : pass.size == Full ? full : *quarter, pass.rule, findings);
        if (fitting)
            break;
    }
    const bool fits = fitting.has_value() && all[fitting->chart].colorsKnown;
    if (!fits && !(grid && options.acceptWrongColours))
        return {};
    const Best &best = fits ? *fitting : *grid;
    const auto &chart = charts[best.chart];
    const Homography rough = scaled(best.placement.pictureFromChart, best.scale);
    ChartFind find;
    const auto place = refinedPlace(frame, chart, rough);
    find.corners = place.corners;
    find.lens = place.lens;
    if (!homographyFrom(chart, find.corners, find.lens)) {
        find.corners = cornersFrom(chart, rough);
        find.lens = {};
    }
    if (!homographyFrom(chart, find.corners))
        return {};
    if (!chart.colorsKnown)
        find.corners = uprightGrid(find.corners, chart, frame.orientation);
    find.found = true;
    find.chart = best.chart;
    find.coloursFit = fits;
    find.confidence = confidenceOf(best.placement.colourFit, best.placement.nodes, panelPatches(chart));
    return find;
}

} // namespace wavechroma
