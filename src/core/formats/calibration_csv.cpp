#include "core/formats/calibration_tables.h"

#include "core/base/csv_table.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/hue_sectors.h"
#include "core/formats/csv_colours.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <sstream>

namespace wavechroma {

std::string csvOf(const Calibration &c)
{
    std::string out = "quantity,R,G,B\r\n";
    const char *rows[] = {"matrix_X", "matrix_Y", "matrix_Z"};
    for (int i = 0; i < 3; ++i)
        out += fmt::format("{},{:.9g},{:.9g},{:.9g}\r\n", rows[i], c.matrix(i, 0), c.matrix(i, 1),
                           c.matrix(i, 2));
    out += fmt::format("multipliers,{:.9g},{:.9g},{:.9g}\r\n", c.multipliers[0], c.multipliers[1],
                       c.multipliers[2]);
    out += fmt::format("exposure_scale,{0:.9g},{0:.9g},{0:.9g}\r\n\r\n", c.exposureScale);
    out += "patch,camera_R,camera_G,camera_B,reference_L,reference_a,reference_b,result_L,result_a,result_b,"
           "dE00\r\n";
    for (const auto &p : c.patches) {
        const Lab wanted = labFromXyz(p.reference), got = labFromXyz(xyzFromCamera(c, p.rgb));
        out += fmt::format("{},{:.8g},{:.8g},{:.8g},{:.4f},{:.4f},{:.4f},{:.4f},{:.4f},{:.4f},{:.4f}\r\n",
                           csvField(p.id), p.rgb.r, p.rgb.g, p.rgb.b, wanted.l, wanted.a, wanted.b, got.l,
                           got.a, got.b, de2000(got, wanted));
    }
    return out;
}

namespace {

constexpr const char *kSectorColumns[] = {
    "sector", "hue_from", "hue_to", "hue_shift_deg", "chroma_change_percent", "lightness_shift"};

/// A line's separator is that of its header: what table programs write depends on where they are.
std::vector<std::string> fieldsOf(const std::string &line, char separator)
{
    auto out = splitCsvLine(line, separator);
    for (auto &field : out)
        field = csv::lower(field);
    return out;
}

} // namespace

Result<std::vector<HueSector>> sectorsFromCsv(const std::string &text, const std::string &name)
{
    std::istringstream lines(text);
    std::string line;
    std::getline(lines, line);
    const char separator = line.find(';') != line.npos ? ';' : line.find('\t') != line.npos ? '\t' : ',';
    const auto header = fieldsOf(line, separator);
    std::array<size_t, std::size(kSectorColumns)> at{};
    for (size_t i = 0; i < at.size(); ++i) {
        const auto found = std::find(header.begin(), header.end(), kSectorColumns[i]);
        if (found == header.end())
            return unusable(
                "{file}: has no column {column}; a table of sectors is what export --sectors writes",
                {{"file", name}, {"column", kSectorColumns[i]}});
        at[i] = size_t(found - header.begin());
    }
    std::vector<HueSector> out;
    for (int number = 2; std::getline(lines, line); ++number) {
        if (csv::lower(line).empty())
            continue;
        const auto fields = fieldsOf(line, separator);
        std::array<double, at.size()> values{};
        for (size_t i = 0; i < at.size(); ++i) {
            const auto value = at[i] < fields.size() ? csv::numberIn(fields[at[i]]) : std::nullopt;
            if (!value || !std::isfinite(*value))
                return unusable("{file}: line {line}: {column} is not a number",
                                {{"file", name}, {"line", double(number)}, {"column", kSectorColumns[i]}});
            values[i] = *value;
        }
        const double from = 360.0 / double(kHueSectors) * double(out.size());
        if (out.size() == kHueSectors || std::abs(values[1] - from) > 0.5 || values[4] <= -100)
            return unusable(
                "{file}: line {line}: the sectors are eight of 45 degrees, from 0 on, each with more "
                "than -100 % of chroma",
                {{"file", name}, {"line", double(number)}});
        out.push_back({from, from + 360.0 / double(kHueSectors), values[3], 1 + values[4] / 100, values[5]});
    }
    if (out.size() != kHueSectors)
        return unusable("{file}: has {n} of eight sectors", {{"file", name}, {"n", double(out.size())}});
    return out;
}

std::string sectorCsvOf(const Calibration &calibration)
{
    std::string out;
    for (const auto *column : kSectorColumns)
        out += (out.empty() ? "" : ",") + std::string(column);
    out += "\r\n";
    int number = 0;
    for (const auto &s : hueSectorsOf(calibration))
        out += fmt::format("{},{:.1f},{:.1f},{:.2f},{:.2f},{:.2f}\r\n", ++number, s.from, s.to, s.hueShift,
                           100 * (s.chromaRatio - 1), s.lightnessShift);
    return out;
}

} // namespace wavechroma
