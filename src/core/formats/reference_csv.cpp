#include "core/base/said.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/csv_colours.h"
#include "core/formats/reference_rows.h"

#include <algorithm>

namespace wavechroma {

using namespace csv;

namespace {

/// Of the columns that may name patches, the one that names most of the chart's: instruments number their
/// samples and have the names beside.
int idColumn(const std::vector<Row> &rows, const std::vector<int> &ids, const ChartDefinition &chart)
{
    const auto hits = [&](int column) {
        return std::count_if(rows.begin() + 1, rows.end(), [&](const Row &row) {
            return chart.patch(plainPatchId(lower(row.fields[size_t(column)]))) != nullptr;
        });
    };
    return *std::max_element(ids.begin(), ids.end(), [&](int a, int b) { return hits(a) < hits(b); });
}

} // namespace

Result<ChartDefinition> withCsvReferences(const ChartDefinition &chart, const std::string &text,
                                          const std::string &name, TableReading *how)
{
    const auto lines = rowsOf(text, name);
    if (!lines)
        return lines.error();
    const auto &header = lines->front();
    const auto found = columnsOf(header, name);
    if (!found)
        return found.error();
    const auto &columns = *found;
    if (columns.ids.empty())
        return columnsMissing(name, header, words::said("has no column called id, SAMPLE_ID or patch"));
    if (!columns.hasColours())
        return columnsMissing(name, header, words::said("has neither L, a, b nor X, Y, Z nor wavelengths"));
    if (const auto sound = checkColours(*lines, columns, name); !sound)
        return sound.error();
    ReferenceRows rows(name);
    const auto heading = headingOf(text, false, name);
    if (!heading)
        return heading.error();
    rows.setHeading(*heading, columns.hasLab());
    const auto id = size_t(idColumn(*lines, columns.ids, chart));
    for (size_t i = 1; i < lines->size(); ++i) {
        const auto &line = (*lines)[i];
        auto patch = colourIn({name, line.number, line.fields, header.fields}, columns);
        if (!patch)
            return patch.error();
        const auto beside = besideIn({name, line.number, line.fields, header.fields}, columns);
        if (!beside)
            return beside.error();
        if (const auto added = rows.add(lower(line.fields[id]), *patch, line.number, *beside); !added)
            return added.error();
    }
    if (how)
        *how = rows.reading();
    return rows.putInto(chart);
}

} // namespace wavechroma
