#pragma once
#include "core/base/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace wavechroma {

/// A comma-separated table of numbers under one header line, as our own data files and spectra use it.
struct NumberTable
{
    std::vector<std::string> header;
    std::vector<std::vector<double>> rows; ///< each as long as the header
};

/// Reads such a table. Blank lines and lines starting with '#' are skipped. `name` opens every message, which
/// gives the line and the column at fault. A table without a header (first line all numbers) gets an empty
/// header.
[[nodiscard]] Result<NumberTable> parseNumberTable(std::string_view text, const std::string &name);

/// Splits one line at commas or another separator; a field may stand in double quotes, with "" for a quote
/// inside (RFC 4180).
[[nodiscard]] std::vector<std::string> splitCsvLine(std::string_view line, char separator = ',');

/// A text as a field of CSV: in quotes where it must be, and what a table program would take for a formula
/// (`=`, `+`, `-`, `@`, a tab or a line's end in front of what is no number) led by an apostrophe.
[[nodiscard]] std::string csvField(std::string_view text);

} // namespace wavechroma
