#include "core/formats/csv_colours.h"

#include "core/base/csv_table.h"
#include "core/base/number_text.h"
#include "core/color/lab.h"
#include "core/formats/reference_rows.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace wavechroma::csv {

namespace {

bool isOneOf(const std::string &text, std::initializer_list<const char *> names)
{
    return std::find(names.begin(), names.end(), text) != names.end();
}

bool hasXyz(const Columns &c)
{
    return c.xyz[0] >= 0 && c.xyz[1] >= 0 && c.xyz[2] >= 0;
}

char separatorOf(const std::string &header)
{
    for (const char c : {'\t', ';'})
        if (header.find(c) != header.npos)
            return c;
    return ',';
}

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

} // namespace

std::string lower(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return char(std::tolower(c)); });
    const auto from = text.find_first_not_of(" \t\r");
    return from == text.npos ? std::string() : text.substr(from, text.find_last_not_of(" \t\r") - from + 1);
}

std::optional<double> numberIn(const std::string &text)
{
    auto field = lower(text);
    if (std::count(field.begin(), field.end(), ',') == 1 && field.find('.') == field.npos)
        field[field.find(',')] = '.';
    return numberFrom(field);
}

bool Columns::hasColours() const
{
    return hasLab() || hasXyz(*this) || spectrum.size() >= 4;
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
        else if (name == "srgb")
            c.srgb = i;
        else if (name == "tolerance")
            c.tolerance = i;
        else if (const auto nm = numberIn(name.size() > 2 && name.substr(name.size() - 2) == "nm"
                                              ? name.substr(0, name.size() - 2)
                                              : name);
                 nm && *nm >= 300 && *nm <= 1100)
            c.spectrum.emplace_back(*nm, i);
    }
    return c;
}

Result<double> Line::at(int column) const
{
    if (const auto value = numberIn(fields[size_t(column)]))
        return *value;
    return unusable("{file}, line {line}: {column} is \"{text}\", not a number",
                    {{"file", file},
                     {"line", double(number)},
                     {"column", lower(header[size_t(column)])},
                     {"text", fields[size_t(column)]}});
}

Result<Vector3> Line::triple(const std::array<int, 3> &columns) const
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
Result<ChartPatch> colourIn(const Line &line, const Columns &columns)
{
    ChartPatch patch;
    if (columns.hasLab()) {
        const auto v = line.triple(columns.lab);
        if (!v)
            return v.error();
        if (const auto fault = labFault((*v)[0], (*v)[1], (*v)[2]); !fault.empty())
            return unusable("{file}, line {line}: {reason}",
                            {{"file", line.file}, {"line", double(line.number)}, {"reason", fault}});
        patch.reference = xyzFromLab({(*v)[0], (*v)[1], (*v)[2]});
        return patch;
    }
    if (hasXyz(columns)) {
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

Error columnsMissing(const std::string &file, const Row &header, const char *what)
{
    return unusable("{file}, line {line}: {what} among its columns {columns}",
                    {{"file", file},
                     {"line", double(header.number)},
                     {"what", words::Phrase{what}},
                     {"columns", words::joined(header.fields, ", ")}});
}

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
    if (rows.empty())
        return unusable("{file}: has no lines", {{"file", name}});
    return rows;
}

} // namespace wavechroma::csv
