#include "core/formats/cube_lut.h"

#include "core/base/trilinear.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <sstream>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr int kPointsBefore = 4096; ///< of the 1D table
constexpr double kLogGain = 255, kLogStops = 8;

/// What the 3D table's axes are coded in.
CameraCoding axisOf(const CubeOptions &options)
{
    return options.input == CameraCoding::Linear ? CameraCoding::Srgb : options.input;
}

std::array<float, 3> outputOf(const ColorModel &model, const CubeOptions &options, const BalancedRgb &rgb)
{
    const auto c = rgbFromXyzD50(options.space, xyzFromBalanced(model, rgb));
    const auto code = [&](double v) { return float(outputCode(options, std::clamp(v, 0.0, 1.0))); };
    return {code(c.r), code(c.g), code(c.b)};
}

Error fault(const std::string &name, int line, const std::string &what)
{
    return unusable("{file}: line {line}: {what}", {{"file", name}, {"line", double(line)}, {"what", what}});
}

double interpolated(const std::vector<std::array<float, 3>> &table, double at, size_t channel)
{
    const double x = std::clamp(at, 0.0, 1.0) * double(table.size() - 1);
    const auto i = std::min(size_t(x), table.size() - 2);
    return double(table[i][channel]) +
           (x - double(i)) * (double(table[i + 1][channel]) - double(table[i][channel]));
}

} // namespace

static Transfer transferOf(CameraCoding coding)
{
    return coding == CameraCoding::Srgb    ? Transfer::Srgb
           : coding == CameraCoding::OpRgb ? Transfer::OpRgb
                                           : Transfer::Linear;
}

double coded(CameraCoding coding, double linear)
{
    return coding == CameraCoding::Log ? std::log2(1 + kLogGain * std::max(0.0, linear)) / kLogStops
                                       : encoded(transferOf(coding), linear);
}

double uncoded(CameraCoding coding, double code)
{
    return coding == CameraCoding::Log ? (std::exp2(kLogStops * code) - 1) / kLogGain
                                       : linearised(transferOf(coding), code);
}

double outputCode(const CubeOptions &options, double linear)
{
    return options.output ? coded(*options.output, linear) : encoded(options.space.transfer, linear);
}

double outputLight(const CubeOptions &options, double code)
{
    return options.output ? uncoded(*options.output, code) : linearised(options.space.transfer, code);
}

CubeLut cubeOf(const ColorModel &model, const CubeOptions &options)
{
    CubeLut out;
    out.title = options.title;
    out.size = options.size;
    const auto axis = axisOf(options);
    const int n = options.size;
    std::vector<double> levels;
    for (int i = 0; i < n; ++i)
        levels.push_back(uncoded(axis, double(i) / (n - 1)));
    out.entries.resize(size_t(n) * size_t(n) * size_t(n));
    tbb::parallel_for(0, n, [&](int b) {
        for (int g = 0; g < n; ++g)
            for (int r = 0; r < n; ++r)
                out.entries[size_t((b * n + g) * n + r)] =
                    outputOf(model, options, {levels[size_t(r)], levels[size_t(g)], levels[size_t(b)]});
    });
    return out;
}

std::optional<CubeLut> cubeBefore(const CubeOptions &options)
{
    if (options.input != CameraCoding::Linear)
        return std::nullopt;
    CubeLut out{options.title, false, kPointsBefore, {}};
    for (int i = 0; i < kPointsBefore; ++i) {
        const auto v = float(coded(CameraCoding::Srgb, double(i) / (kPointsBefore - 1)));
        out.entries.push_back({v, v, v});
    }
    return out;
}

std::string textOf(const CubeLut &cube, const std::string &note)
{
    std::string out, title = cube.title;
    std::replace(title.begin(), title.end(), '"', '\'');
    std::istringstream lines(note);
    for (std::string line; std::getline(lines, line);)
        out += "# " + line + "\n";
    out += "TITLE \"" + title + "\"\n";
    out += fmt::format("LUT_{}_SIZE {}\n", cube.is3d ? "3D" : "1D", cube.size);
    out += "DOMAIN_MIN 0.0 0.0 0.0\nDOMAIN_MAX 1.0 1.0 1.0\n";
    for (const auto &e : cube.entries)
        out += fmt::format("{:.7f} {:.7f} {:.7f}\n", e[0], e[1], e[2]);
    return out;
}

Result<CubeLut> cubeFrom(const std::string &text, const std::string &name)
{
    CubeLut cube;
    int number = 0;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        ++number;
        std::istringstream words(line);
        std::string first;
        if (!(words >> first) || first[0] == '#')
            continue;
        if (first == "TITLE") {
            const auto from = line.find('"'), to = line.rfind('"');
            cube.title = from < to ? line.substr(from + 1, to - from - 1) : "";
        } else if (first == "LUT_1D_SIZE" || first == "LUT_3D_SIZE") {
            int size = 0;
            const bool is3d = first == "LUT_3D_SIZE";
            if (!(words >> size) || size < 2 || size > (is3d ? 256 : 65536))
                return fault(name, number, first + " is not a possible table size");
            if (cube.size != 0)
                return fault(name, number,
                             "a second table; programs read such files differently, so keep each table in "
                             "its own file");
            cube.is3d = is3d;
            cube.size = size;
        } else if (first == "DOMAIN_MIN" || first == "DOMAIN_MAX" || first == "LUT_1D_INPUT_RANGE" ||
                   first == "LUT_3D_INPUT_RANGE") {
            const double wanted = first == "DOMAIN_MAX" ? 1 : 0;
            const int count = first.rfind("DOMAIN", 0) == 0 ? 3 : 2;
            int seen = 0;
            for (double v = 0; words >> v; ++seen)
                if (v != (count == 2 ? seen : wanted))
                    return fault(name, number, "a domain other than 0 to 1 is not read by this version");
            if (seen != count)
                return fault(name, number, fmt::format("{} numbers are expected", count));
        } else {
            std::array<float, 3> e{};
            std::istringstream values(line);
            if (!(values >> e[0] >> e[1] >> e[2]) || !std::isfinite(e[0] + e[1] + e[2]))
                return fault(name, number, "three numbers are expected");
            cube.entries.push_back(e);
        }
    }
    if (cube.size == 0)
        return unusable("{file}: has neither LUT_1D_SIZE nor LUT_3D_SIZE", {{"file", name}});
    const auto side = size_t(cube.size), wanted = cube.is3d ? side * side * side : side;
    if (cube.entries.size() != wanted)
        return unusable(
            "{file}: has {entries} entries, but its size needs {wanted}",
            {{"file", name}, {"entries", double(cube.entries.size())}, {"wanted", double(wanted)}});
    return cube;
}

Vector3 applied(const CubeLut &cube, const Vector3 &rgb)
{
    const auto n = size_t(cube.size);
    if (!cube.is3d)
        return {interpolated(cube.entries, rgb[0], 0), interpolated(cube.entries, rgb[1], 1),
                interpolated(cube.entries, rgb[2], 2)};
    std::array<Between<double>, 3> at;
    for (size_t c = 0; c < 3; ++c)
        at[c] = between(rgb[c] * double(n - 1), n);
    return trilinear<3>(
        at[0], at[1], at[2], [&](size_t r, size_t g, size_t b) -> const auto & {
            return cube.entries[(b * n + g) * n + r];
        });
}

} // namespace wavechroma
