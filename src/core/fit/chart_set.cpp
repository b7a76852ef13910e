#include "core/fit/chart_set.h"

#include <algorithm>

namespace wavechroma {

namespace {

using Charts = std::vector<std::pair<Reading, ChartDefinition>>;

Result<Done> checkSet(const Charts &charts)
{
    const auto &first = charts.front().first;
    for (const auto &[reading, chart] : charts) {
        if (!reading.found)
            return unusable("{file}: no chart was found", {{"file", reading.image}});
        const bool isOneFrame =
            reading.image == first.image && reading.camera.capturedAt == first.camera.capturedAt;
        if (!isOneFrame || !samePair(reading.camera, first.camera))
            return unusable("{file}: is another frame than {other}, so their charts are not one set",
                            {{"file", reading.image}, {"other", first.image}});
        const auto isTheSame = [&, one = &reading](const auto &other) {
            return other.first.corners == one->corners;
        };
        if (std::count_if(charts.begin(), charts.end(), isTheSame) > 1)
            return unusable("{file}: the chart {chart} is given twice",
                            {{"file", reading.image}, {"chart", chart.name}});
        if (reading.flats != first.flats)
            return unusable("{file}: its charts were read with different flats", {{"file", reading.image}});
    }
    return Done{};
}

/// Where the patches lie in the frame, in pixels.
std::map<std::string, PixelPoint> centresOf(const Reading &reading, const ChartDefinition &chart)
{
    std::map<std::string, PixelPoint> out;
    if (const auto homography = homographyFrom(chart, reading.corners, reading.lens()))
        for (size_t i = 0; i < chart.patches.size(); ++i)
            out[chart.patches[i].id] =
                homography->at(patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns));
    return out;
}

std::map<std::string, SetPlace> placesAmong(const std::map<std::string, PixelPoint> &centres)
{
    PixelPoint least = centres.begin()->second, most = least;
    for (const auto &[id, p] : centres) {
        least = {std::min(least.x, p.x), std::min(least.y, p.y)};
        most = {std::max(most.x, p.x), std::max(most.y, p.y)};
    }
    // one scale for both, so that a row of patches stays a row
    const double half = std::max({most.x - least.x, most.y - least.y, 1.0}) / 2;
    std::map<std::string, SetPlace> out;
    for (const auto &[id, p] : centres)
        out[id] = {(p.x - (least.x + most.x) / 2) / half, (p.y - (least.y + most.y) / 2) / half};
    return out;
}

} // namespace

Result<ChartSet> chartSet(const Charts &charts)
{
    if (charts.size() < 2)
        return unusable("a set of charts needs two readings of one frame");
    if (const auto sound = checkSet(charts); !sound)
        return sound.error();
    ChartSet out{charts.front().first, charts.front().second, {}};
    auto centres = centresOf(out.reading, out.chart);
    for (size_t i = 1; i < charts.size(); ++i) {
        const auto &[reading, chart] = charts[i];
        const auto named = [i](const std::string &patch) { return std::to_string(i + 1) + ":" + patch; };
        for (auto patch : reading.patches) {
            patch.id = named(patch.id);
            out.reading.patches.push_back(patch);
        }
        for (auto patch : chart.patches) {
            patch.id = named(patch.id);
            patch.isKnown = patch.isKnown && chart.colorsKnown;
            out.chart.patches.push_back(patch);
        }
        for (const auto &id : reading.leftOut)
            out.reading.leftOut.push_back(named(id));
        for (const auto &[id, at] : centresOf(reading, chart))
            centres[named(id)] = at;
        out.reading.checks.insert(out.reading.checks.end(), reading.checks.begin(), reading.checks.end());
    }
    if (centres.size() < out.chart.patches.size())
        return unusable("{file}: the corners of a chart do not place its patches",
                        {{"file", out.reading.image}});
    out.places = placesAmong(centres);
    out.reading.definition = out.chart;
    return out;
}

} // namespace wavechroma
