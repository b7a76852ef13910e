#include "core/base/text_table.h"

#include <algorithm>

namespace wavechroma {

/// Of UTF-8: bytes that do not go on from the one before.
static size_t lengthOf(const std::string &text)
{
    return size_t(
        std::count_if(text.begin(), text.end(), [](char c) { return (uint8_t(c) & 0xC0U) != 0x80U; }));
}

TextTable::TextTable(const std::vector<std::string> &headings)
{
    m_rows.emplace_back();
    for (const auto &heading : headings) {
        m_isRight.push_back(heading.starts_with('>'));
        m_rows.front().push_back(m_isRight.back() ? heading.substr(1) : heading);
    }
}

void TextTable::add(std::vector<std::string> row)
{
    row.resize(m_isRight.size());
    m_rows.push_back(std::move(row));
}

std::string TextTable::text() const
{
    std::vector<size_t> widths(m_isRight.size());
    for (const auto &row : m_rows)
        for (size_t i = 0; i < row.size(); ++i)
            widths[i] = std::max(widths[i], lengthOf(row[i]));
    std::string out;
    for (const auto &row : m_rows) {
        std::string line;
        for (size_t i = 0; i < row.size(); ++i) {
            const std::string gap(widths[i] - lengthOf(row[i]), ' ');
            line += (i == 0 ? "" : "  ") + (m_isRight[i] ? gap + row[i] : row[i] + gap);
        }
        line.erase(line.find_last_not_of(' ') + 1);
        out += line + "\n";
    }
    return out;
}

} // namespace wavechroma
