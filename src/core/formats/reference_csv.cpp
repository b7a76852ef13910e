#include "core/base/csv_table.h"
#include "core/base/number_text.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/reference_rows.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace wavechroma {

namespace {

std::string lower(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return char(std::tolower(c)); });
    const auto from = text.find_first_not_of(" \t\r");
    return from == text.npos ? std::string() : text.substr(from, text.find_last_not_of(" \t\r") - from + 1);
}

/// With a decimal point, or a decimal comma as tables have it whose fields are parted or quoted otherwise.
std::optional<double> numberIn(const std::string &text)
{
    auto field = lower(text);
    if (std::count(field.begin(), field.end(), ',') == 1 && field.find('.') == field.npos)
        field[field.find(',')] = '.';
    return numberFrom(field);
}

struct Columns
{
    std::vector<int> ids; ///< that may hold the patches' names
    std::array<int, 3> lab{-1, -1, -1}, xyz{-1, -1, -1};
    std::vector<std::pair<double, int>> spectrum; ///< nm, column
};

bool isOneOf(const std::string &text, std::initializer_list<const char *> names)
{
    return std::find(names.begin(), names.end(), text) != names.end();
}

Columns columnsOf(const std::vector<std::string> &header)
{
    Columns c;
    for (int i = 0; i < int(header.size()); ++i) {
        const auto name = lower(header[size_t(i)]);
        if (isOneOf(name, {"id", "sample_id", "sample_name", "sample_loc", "patch", "name"}))
            c.ids.push_back(i);
        else if (isOneOf(name, {"l", "l*", "lab_l"}))
            c.lab[0] = i;
        else if (isOneOf(name, {"a", "a*", "lab_a"}))
            c.lab[1] = i;
        else if (isOneOf(name, {"b", "b*", "lab_b"}))
            c.lab[2] = i;
        else if (isOneOf(name, {"x", "xyz_x"}))
            c.xyz[0] = i;
        else if (isOneOf(name, {"y", "xyz_y"}))
            c.xyz[1] = i;
        else if (isOneOf(name, {"z", "xyz_z"}))
            c.xyz[2] = i;
        else if (const auto nm = numberIn(name.size() > 2 && name.substr(name.size() - 2) == "nm"
                                              ? name.substr(0, name.size() - 2)
                                              : name);
                 nm && *nm >= 300 && *nm <= 1100)
            c.spectrum.emplace_back(*nm, i);
    }
    return c;
}

/// A line under the header.
struct Line
{
    const std::string &file;
    int number;
    const std::vector<std::string> &fields, &header;

    Result<double> at(int column) const
    {
        if (const auto value = numberIn(fields[size_t(column)]))
            return *value;
        return unusable("{file}, line {line}: {column} is \"{text}\", not a number",
                        {{"file", file},
                         {"line", double(number)},
                         {"column", lower(header[size_t(column)])},
                         {"text", fields[size_t(column)]}});
    }

    Result<Vector3> triple(const std::array<int, 3> &columns) const
    {
        Vector3 out{};
        for (size_t i = 0; i < 3; ++i) {
            const auto value = at(columns[i]);
            if (!value)
                return value.error();
            out[i] = *value;
        }
        return out;
    }
};

Result<ChartPatch> spectralPatch(const Line &line, const Columns &columns)
{
    Spectrum s;
    s.startNm = columns.spectrum.front().first;
    s.stepNm = columns.spectrum[1].first - s.startNm;
    for (const auto &[nm, column] : columns.spectrum) {
        if (!(s.stepNm > 0) || std::abs(nm - (s.startNm + s.stepNm * double(s.values.size()))) > 0.01)
            return unusable("{file}: its wavelengths are not evenly spaced at {nm:g} nm",
                            {{"file", line.file}, {"nm", nm}});
        const auto value = line.at(column);
        if (!value)
            return value.error();
        s.values.push_back(*value);
    }
    ChartPatch patch;
    patch.reflectance = s;
    return patch;
}

Result<ChartPatch> patchFrom(const Line &line, const Columns &columns)
{
    ChartPatch patch;
    const auto known = [](const std::array<int, 3> &c) {
        return std::all_of(c.begin(), c.end(), [](int i) { return i >= 0; });
    };
    if (known(columns.lab)) {
        const auto v = line.triple(columns.lab);
        if (!v)
            return v.error();
        if (const auto fault = labFault((*v)[0], (*v)[1], (*v)[2]); !fault.empty())
            return unusable("{file}, line {line}: {reason}",
                            {{"file", line.file}, {"line", double(line.number)}, {"reason", fault}});
        patch.reference = xyzFromLab({(*v)[0], (*v)[1], (*v)[2]});
        return patch;
    }
    if (known(columns.xyz)) {
        const auto v = line.triple(columns.xyz);
        if (!v)
            return v.error();
        if (!(std::min({(*v)[0], (*v)[1], (*v)[2]}) >= 0 && (*v)[1] <= 130))
            return unusable("{file}, line {line}: Y {value:g} is not 0 to 100",
                            {{"file", line.file}, {"line", double(line.number)}, {"value", (*v)[1]}});
        patch.reference = {(*v)[0] / 100, (*v)[1] / 100, (*v)[2] / 100};
        return patch;
    }
    return spectralPatch(line, columns);
}

char separatorOf(const std::string &header)
{
    for (const char c : {'\t', ';'})
        if (header.find(c) != header.npos)
            return c;
    return ',';
}

} // namespace

namespace {

struct Row
{
    int number = 0; ///< of the line
    std::vector<std::string> fields;
};

Error columnsMissing(const std::string &file, const Row &header, const char *what)
{
    return unusable("{file}, line {line}: {what} among its columns {columns}",
                    {{"file", file},
                     {"line", double(header.number)},
                     {"what", words::Phrase{what}},
                     {"columns", words::joined(header.fields, ", ")}});
}

/// Lines that hold something, split; the first of them is the header.
Result<std::vector<Row>> rowsOf(const std::string &text, const std::string &name)
{
    std::vector<Row> rows;
    char separator = ',';
    std::istringstream in(text);
    int number = 0;
    for (std::string line; std::getline(in, line);) {
        ++number;
        if (lower(line).empty() || lower(line).front() == '#')
            continue;
        if (rows.empty())
            separator = separatorOf(line);
        rows.push_back({number, splitCsvLine(line, separator)});
        if (rows.back().fields.size() != rows.front().fields.size())
            return unusable("{file}, line {line}: has {fields} fields, the header {header}: \"{text}\"",
                            {{"file", name},
                             {"line", double(number)},
                             {"fields", double(rows.back().fields.size())},
                             {"header", double(rows.front().fields.size())},
                             {"text", line}});
    }
    return rows;
}

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
                                          const std::string &name)
{
    const auto lines = rowsOf(text, name);
    if (!lines)
        return lines.error();
    if (lines->empty())
        return unusable("{file}: has no lines", {{"file", name}});
    const auto &header = lines->front();
    const auto columns = columnsOf(header.fields);
    if (columns.ids.empty())
        return columnsMissing(name, header, "has no column called id, SAMPLE_ID or patch");
    const auto known = [](const std::array<int, 3> &c) { return c[0] >= 0 && c[1] >= 0 && c[2] >= 0; };
    if (!known(columns.lab) && !known(columns.xyz) && columns.spectrum.size() < 4)
        return columnsMissing(name, header, "has neither L, a, b nor X, Y, Z nor wavelengths");
    ReferenceRows rows(name);
    auto heading = headingOf(text);
    heading.isLab = known(columns.lab);
    rows.setHeading(heading);
    const auto id = size_t(idColumn(*lines, columns.ids, chart));
    for (size_t i = 1; i < lines->size(); ++i) {
        const auto &line = (*lines)[i];
        auto patch = patchFrom({name, line.number, line.fields, header.fields}, columns);
        if (!patch)
            return patch.error();
        if (const auto added = rows.add(lower(line.fields[id]), *patch, line.number); !added)
            return added.error();
    }
    return rows.putInto(chart);
}

} // namespace wavechroma
