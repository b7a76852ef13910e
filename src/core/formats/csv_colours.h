#pragma once
#include "core/chart/chart_definition.h"

#include <array>
#include <optional>
#include <utility>
#include <vector>

/// Colours in tables as people have them; not for other folders.
namespace wavechroma::csv {

/// Returns the text without spaces around it, in small letters.
[[nodiscard]] std::string lower(std::string text);
/// Reads a number with a decimal point, or with a decimal comma as in tables whose fields are separated or
/// quoted otherwise.
[[nodiscard]] std::optional<double> numberIn(const std::string &text);

struct Row
{
    int number = 0; ///< of the line
    std::vector<std::string> fields;
};
/// Lines that hold something, split at commas, semicolons or tabs; the first of them is the header, and all
/// have as many fields. At least the header.
[[nodiscard]] Result<std::vector<Row>> rowsOf(const std::string &text, const std::string &name);
[[nodiscard]] Error columnsMissing(const std::string &file, const Row &header, const char *what);

/// Which column holds what; −1: none.
struct Columns
{
    std::vector<int> ids; ///< that may hold names
    std::array<int, 3> lab{-1, -1, -1}, xyz{-1, -1, -1};
    std::vector<std::pair<double, int>> spectrum; ///< nm, column
    int srgb = -1, tolerance = -1;
    [[nodiscard]] bool hasLab() const { return lab[0] >= 0 && lab[1] >= 0 && lab[2] >= 0; }
    [[nodiscard]] bool hasColours() const; ///< three of a kind, or a spectrum
};
/// Unusable where two columns may be the same value: of one name, or of one but for the case of its letters
/// where the exact names (X, Y, Z; L, a, b) are not all there.
[[nodiscard]] Result<Columns> columnsOf(const Row &header, const std::string &file);

/// Unusable where X, Y, Z add up to 1 (or 100) in every row: these are chromaticities, which say nothing of
/// how light a colour is.
[[nodiscard]] Result<Done> checkColours(const std::vector<Row> &rows, const Columns &columns,
                                        const std::string &file);

/// A line under the header.
struct Line
{
    const std::string &file;
    int number;
    const std::vector<std::string> &fields, &header;

    [[nodiscard]] Result<double> at(int column) const;
    [[nodiscard]] Result<Vector3> triple(const std::array<int, 3> &columns) const;
};
/// L*, a*, b*, or X, Y, Z of 0…100, or a spectrum, whichever comes first among the columns.
[[nodiscard]] Result<ChartPatch> colourIn(const Line &line, const Columns &columns);
/// X, Y, Z over 100 that stand beside L*, a*, b*; nothing where there are not both.
[[nodiscard]] Result<std::optional<Xyz>> besideIn(const Line &line, const Columns &columns);

} // namespace wavechroma::csv
