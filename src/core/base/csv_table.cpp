#include "core/base/csv_table.h"

#include "core/base/number_text.h"

#include <charconv>
#include <cmath>
#include <optional>

namespace wavechroma {

std::vector<std::string> splitCsvLine(std::string_view line, char separator)
{
    std::vector<std::string> fields(1);
    bool quoted = false;
    for (size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        if (c == '"') {
            if (quoted && i + 1 < line.size() && line[i + 1] == '"')
                fields.back() += line[++i];
            else
                quoted = !quoted;
        } else if (c == separator && !quoted) {
            fields.emplace_back();
        } else {
            fields.back() += c;
        }
    }
    return fields;
}

static std::string_view trimmed(std::string_view text)
{
    const auto from = text.find_first_not_of(" \t\r");
    return from == text.npos ? std::string_view{}
                             : text.substr(from, text.find_last_not_of(" \t\r") - from + 1);
}

Result<NumberTable> parseNumberTable(std::string_view text, const std::string &name)
{
    NumberTable table;
    bool first = true;
    size_t width = 0;
    int lineNumber = 0;
    while (!text.empty()) {
        const auto end = text.find('\n');
        const auto line = trimmed(text.substr(0, end));
        text = end == text.npos ? std::string_view{} : text.substr(end + 1);
        ++lineNumber;
        if (line.empty() || line.front() == '#')
            continue;
        const auto fields = splitCsvLine(line);
        if (first) {
            first = false;
            width = fields.size();
            if (!numberFrom(trimmed(fields.front()))) {
                for (const auto &field : fields)
                    table.header.emplace_back(trimmed(field));
                continue;
            }
        }
        if (fields.size() != width)
            return unusable("{file}: line {line} has {fields} fields, not {width}",
                            {{"file", name},
                             {"line", double(lineNumber)},
                             {"fields", double(fields.size())},
                             {"width", double(width)}});
        std::vector<double> row;
        for (const auto &field : fields) {
            const auto value = numberFrom(trimmed(field));
            if (!value)
                return unusable("{file}: line {line}: \"{field}\" is not a number",
                                {{"file", name}, {"line", double(lineNumber)}, {"field", field}});
            row.push_back(*value);
        }
        table.rows.push_back(std::move(row));
    }
    if (table.rows.empty())
        return unusable("{file}: no numbers in it", {{"file", name}});
    return table;
}

std::string csvField(std::string_view text)
{
    std::string field(text);
    const bool isFormula =
        !field.empty() && std::string_view("=+-@\t\r").find(field.front()) != std::string_view::npos;
    if (isFormula && !numberFrom(field))
        field.insert(field.begin(), '\'');
    if (field.find_first_of(",;\"\r\n\t") == field.npos)
        return field;
    std::string out = "\"";
    for (const char c : field)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + '"';
}

} // namespace wavechroma
