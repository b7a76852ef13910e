#include "core/tasks/chart_asked.h"

#include "core/base/letters.h"
#include "core/formats/documents.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/reference_task.h"

#include <algorithm>
#include <charconv>
#include <set>

namespace wavechroma {

namespace {

struct Place
{
    int row = 0, column = 0; ///< from 0
};

/// "A1", "a01", "AB12" → row and column; nothing for other names.
std::optional<Place> placeOf(const std::string &id)
{
    size_t letters = 0;
    int row = 0, column = 0;
    while (letters < id.size() && letters::isLetter(id[letters]) && letters < 2)
        row = 26 * row + (letters::upper(id[letters++]) - 'A' + 1);
    const char *const end = id.data() + id.size();
    const auto read = std::from_chars(id.data() + letters, end, column);
    if (letters == 0 || read.ec != std::errc() || read.ptr != end || column < 1 || column > 100 || row > 100)
        return std::nullopt;
    return Place{row - 1, column - 1};
}

/// The chart of the catalogue whose patches these are, or the whole grid that they make.
Result<ChartDefinition> layoutOf(const std::vector<std::string> &names, const std::string &file)
{
    std::set<std::string> ids;
    int rows = 0, columns = 0;
    for (const auto &name : names)
        if (const auto place = placeOf(name)) {
            ids.insert(patchId(place->row, place->column));
            rows = std::max(rows, place->row + 1);
            columns = std::max(columns, place->column + 1);
        }
    const auto hasAll = [&](const ChartDefinition &chart) {
        return chart.patches.size() == ids.size() &&
               std::all_of(chart.patches.begin(), chart.patches.end(),
                           [&](const ChartPatch &patch) { return ids.contains(patch.id); });
    };
    for (const auto &chart : chartCatalogue())
        if (hasAll(chart))
            return chart;
    const auto grid = rows > 0 ? plainGrid(rows, columns) : ChartDefinition();
    if (ids.size() < 2 || !hasAll(grid))
        return unusable(
            "{file}: its {n} ids are not those of a known chart nor of a whole grid. Give the layout "
            "with --chart",
            {{"file", file}, {"n", double(names.size())}});
    return grid;
}

Result<ChartDefinition> layoutOfTable(const std::string &file)
{
    const auto colours = loadTargets(file);
    if (!colours)
        return colours.error();
    std::vector<std::string> names;
    for (const auto &colour : *colours)
        names.push_back(colour.name);
    return layoutOf(names, file);
}

} // namespace

Result<std::optional<ChartDefinition>> chartAsked(const std::string &chart, const std::string &reference,
                                                  TableReading *how)
{
    using Asked = Result<std::optional<ChartDefinition>>;
    if (reference.empty()) {
        if (chart.empty())
            return Asked(std::nullopt);
        const auto named = chartNamed(chart);
        return named ? Asked(*named) : named.error();
    }
    if (isCameraReference(reference))
        return unusable(
            "{file}: is what a camera made of a chart, not the chart's own values. Give it to fit",
            {{"file", reference}});
    const auto text = readText(reference);
    if (!text)
        return text.error();
    const auto first = text->find_first_not_of(" \t\r\n");
    const bool isChart = first != text->npos && (*text)[first] == '{';
    const auto layout = !chart.empty() ? chartNamed(chart)
                        : isChart      ? chartNamed(reference)
                                       : layoutOfTable(reference);
    if (!layout)
        return layout.error();
    auto out = withReferences(*layout, reference, {}, how);
    if (!out)
        return out.error();
    if (!isChart) // a chart file names its own
        nameNeutrals(*out);
    return Asked(std::move(*out));
}

} // namespace wavechroma
