#pragma once
#include <string>
#include <vector>

namespace wavechroma {

/// A table for eyes in a terminal: columns as wide as what stands in them, counted in characters.
class TextTable
{
public:
    /// A heading that begins with '>' has its column flush right, as numbers are.
    explicit TextTable(const std::vector<std::string> &headings);
    void add(std::vector<std::string> row); ///< as long as the headings
    /// Two spaces between columns, none at the ends of lines.
    [[nodiscard]] std::string text() const;

private:
    std::vector<bool> m_isRight;
    std::vector<std::vector<std::string>> m_rows; ///< headings first
};

} // namespace wavechroma
