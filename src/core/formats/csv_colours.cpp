#include "core/formats/csv_colours.h"

#include "core/base/csv_table.h"
#include "core/base/filled.h"
#include "core/base/letters.h"
#include "core/base/number_text.h"
#include "core/color/lab.h"
#include "core/formats/reference_rows.h"

#include <algorithm>
#include <cmath>
#include <initializer_list>
#include <map>
#include <sstream>

namespace wavechroma::csv {

namespace {

constexpr size_t kMostShown = 200; ///< characters of a line in a message
constexpr int kMostFields = 2000;

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
    text = letters::lower(std::move(text));
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

namespace {

std::string trimmed(const std::string &text)
{
    const auto from = text.find_first_not_of(" \t\r");
    return from == text.npos ? std::string() : text.substr(from, text.find_last_not_of(" \t\r") - from + 1);
}

/// A slot's columns by the exact name first: X beside x is tristimulus beside chromaticity, b beside B is Lab
/// beside RGB. Where the exact names are not all there, letters' case does not count.
struct Slot
{
    std::vector<std::string> exact, anyCase;
};

std::vector<int> columnsNamed(const std::vector<std::string> &header, const std::vector<std::string> &names,
                              bool isExact)
{
    std::vector<int> out;
    for (int i = 0; i < int(header.size()); ++i) {
        const auto name = isExact ? trimmed(header[size_t(i)]) : lower(header[size_t(i)]);
        if (std::find(names.begin(), names.end(), name) != names.end())
            out.push_back(i);
    }
    return out;
}

/// R and G, whose B in capitals is then theirs, and A perhaps their opacity.
bool hasRgb(const std::vector<std::string> &header)
{
    return !columnsNamed(header, {"r", "rgb_r", "red"}, false).empty() &&
           !columnsNamed(header, {"g", "rgb_g", "green"}, false).empty();
}

/// The columns of a triple; all −1 where one is missing. Unusable where one may be either of two columns.
Result<std::array<int, 3>> tripleIn(const std::vector<std::string> &header, const std::array<Slot, 3> &slots,
                                    const std::string &file, int line)
{
    for (const bool isExact : {true, false}) {
        if (!isExact && hasRgb(header))
            break;
        std::array<int, 3> out{-1, -1, -1};
        bool isWhole = true;
        std::optional<Error> twice;
        for (size_t i = 0; i < 3; ++i) {
            const auto at = columnsNamed(header, isExact ? slots[i].exact : slots[i].anyCase, isExact);
            isWhole = isWhole && !at.empty();
            if (at.size() > 1)
                twice = unusable(
                    "{file}, line {line}: the columns {a} and {b} may both be its {what}; rename one, "
                    "or leave it out",
                    {{"file", file},
                     {"line", double(line)},
                     {"a", header[size_t(at[0])]},
                     {"b", header[size_t(at[1])]},
                     {"what", slots[i].exact.front()}});
            if (!at.empty())
                out[i] = at.front();
        }
        if (isWhole)
            return twice ? Result<std::array<int, 3>>(*twice) : out;
    }
    return std::array<int, 3>{-1, -1, -1};
}

const std::array<Slot, 3> kLab{Slot{{"L", "L*", "LAB_L"}, {"l", "l*", "lab_l"}},
                               Slot{{"a", "a*", "LAB_A"}, {"a", "a*", "lab_a"}},
                               Slot{{"b", "b*", "LAB_B"}, {"b", "b*", "lab_b"}}},
    kXyz{Slot{{"X", "XYZ_X"}, {"x", "xyz_x"}}, Slot{{"Y", "XYZ_Y"}, {"y", "xyz_y"}},
         Slot{{"Z", "XYZ_Z"}, {"z", "xyz_z"}}};

std::optional<double> wavelengthIn(const std::string &name)
{
    const bool hasUnit = name.size() > 2 && name.substr(name.size() - 2) == "nm";
    const auto nm = numberIn(hasUnit ? name.substr(0, name.size() - 2) : name);
    return nm && *nm >= 300 && *nm <= 1100 ? nm : std::nullopt;
}

} // namespace

Result<Columns> columnsOf(const Row &row, const std::string &file)
{
    const auto &header = row.fields;
    Columns c;
    const auto lab = tripleIn(header, kLab, file, row.number), xyz = tripleIn(header, kXyz, file, row.number);
    if (!lab || !xyz)
        return lab ? xyz.error() : lab.error();
    c.lab = *lab;
    c.xyz = *xyz;
    std::map<std::string, int> seen;
    for (int i = 0; i < int(header.size()); ++i) {
        const auto name = lower(header[size_t(i)]);
        const bool isId = isOneOf(name, {"id", "sample_id", "sample_name", "sample_loc", "patch", "name"});
        const auto nm = wavelengthIn(name);
        if (isId)
            c.ids.push_back(i);
        else if (name == "srgb")
            c.srgb = i;
        else if (name == "tolerance")
            c.tolerance = i;
        else if (nm)
            c.spectrum.emplace_back(*nm, i);
        const bool isRead = isId || name == "srgb" || name == "tolerance" || nm;
        if (isRead && !seen.emplace(name, i).second)
            return unusable("{file}, line {line}: has two columns {column}; rename one, or leave it out",
                            {{"file", file}, {"line", double(row.number)}, {"column", header[size_t(i)]}});
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
        if (const auto fault = xyzFault((*v)[0], (*v)[1], (*v)[2]); !fault.empty())
            return unusable("{file}, line {line}: {reason}",
                            {{"file", line.file}, {"line", double(line.number)}, {"reason", fault}});
        patch.reference = {(*v)[0] / 100, (*v)[1] / 100, (*v)[2] / 100};
        return patch;
    }
    return spectralPatch(line, columns);
}

Result<std::optional<Xyz>> besideIn(const Line &line, const Columns &columns)
{
    if (!columns.hasLab() || !hasXyz(columns))
        return std::optional<Xyz>();
    const auto v = line.triple(columns.xyz);
    if (!v)
        return v.error();
    return std::optional<Xyz>({(*v)[0] / 100, (*v)[1] / 100, (*v)[2] / 100});
}

Result<Done> checkColours(const std::vector<Row> &rows, const Columns &columns, const std::string &file)
{
    if (columns.hasLab() || !hasXyz(columns) || rows.size() < 2)
        return Done{};
    for (size_t i = 1; i < rows.size(); ++i) {
        const auto v = Line{file, rows[i].number, rows[i].fields, rows[0].fields}.triple(columns.xyz);
        const double sum = v ? (*v)[0] + (*v)[1] + (*v)[2] : 0;
        if (std::abs(sum - 1) > 0.002 && std::abs(sum - 100) > 0.2)
            return Done{};
    }
    return unusable(
        "{file}: its {x}, {y}, {z} add up to the same in every row, so they are chromaticities. Give "
        "X, Y, Z or L, a, b",
        {{"file", file},
         {"x", rows[0].fields[size_t(columns.xyz[0])]},
         {"y", rows[0].fields[size_t(columns.xyz[1])]},
         {"z", rows[0].fields[size_t(columns.xyz[2])]}});
}

Error columnsMissing(const std::string &file, const Row &header, const char *what)
{
    return unusable("{file}, line {line}: {what} among its columns {columns}",
                    {{"file", file},
                     {"line", double(header.number)},
                     {"what", words::Phrase{what}},
                     {"columns", words::joined(header.fields, ", ").substr(0, kMostShown)}});
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
        if (std::count(line.begin(), line.end(), separator) >= kMostFields)
            return unusable("{file}, line {line}: has more than {most} fields",
                            {{"file", name}, {"line", double(number)}, {"most", double(kMostFields)}});
        rows.push_back({number, splitCsvLine(line, separator)});
        if (rows.back().fields.size() != rows.front().fields.size())
            return unusable("{file}, line {line}: has {fields} fields, the header {header}: \"{text}\"",
                            {{"file", name},
                             {"line", double(number)},
                             {"fields", double(rows.back().fields.size())},
                             {"header", double(rows.front().fields.size())},
                             {"text", line.substr(0, kMostShown)}});
    }
    if (rows.empty())
        return unusable("{file}: has no lines", {{"file", name}});
    return rows;
}

} // namespace wavechroma::csv
