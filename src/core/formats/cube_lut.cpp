#include "core/formats/cube_lut.h"

#include "core/base/trilinear.h"
#include "core/color/code_curve.h"
#include "core/color/lab.h"
#include "core/fit/part_balance.h"

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

Error fault(const std::string &name, int line, const std::string &what)
{
    return unusable("{file}: line {line}: {what}", {{"file", name}, {"line", double(line)}, {"what", what}});
}

/// A comment for this program: what the table is applied to, and the space of what comes out.
constexpr const char *kMark = "# wavechroma-table";
constexpr const char *kInputIds[] = {"camera-rgb", "codes", "plain-picture"};

void takeMark(const std::string &line, CubeLut &cube)
{
    std::istringstream words(line.substr(std::string_view(kMark).size()));
    std::string key, input, output;
    if (!(words >> key >> input >> key >> output))
        return;
    for (size_t i = 0; i < std::size(kInputIds); ++i)
        if (input == kInputIds[i])
            cube.madeFor = TableInput(i);
    cube.outputSpace = rgbSpaceFromId(output) ? output : "";
}

/// DOMAIN_MIN and DOMAIN_MAX have a number a channel, the INPUT_RANGE of other writers two for all.
bool takeDomain(const std::string &key, std::istringstream &words, CubeLut &cube)
{
    std::vector<double> values;
    for (double v = 0; words >> v;)
        values.push_back(v);
    const bool isRange = key.ends_with("INPUT_RANGE");
    if (values.size() != (isRange ? 2U : 3U))
        return false;
    for (size_t c = 0; c < 3; ++c) {
        if (isRange || key == "DOMAIN_MIN")
            cube.least[c] = values[isRange ? 0 : c];
        if (isRange || key == "DOMAIN_MAX")
            cube.most[c] = values[isRange ? 1 : c];
    }
    return std::all_of(values.begin(), values.end(), [](double v) { return std::isfinite(v); });
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

static InputCodes cameraInput(CameraCoding axis)
{
    return {[axis](const Vector3 &code) {
                return BalancedRgb{uncoded(axis, code[0]), uncoded(axis, code[1]), uncoded(axis, code[2])};
            },
            [axis](const BalancedRgb &rgb) {
                return Vector3{coded(axis, rgb.r), coded(axis, rgb.g), coded(axis, rgb.b)};
            }};
}

/// Light as the picture's profile has it, times multipliers and exposure scale.
static InputCodes pictureInput(const Calibration &c)
{
    Vector3 scale = c.multipliers;
    for (auto &v : scale)
        v *= c.exposureScale;
    const auto &curves = c.fileColor.renderedCodes;
    return {[curves, scale](const Vector3 &code) {
                return BalancedRgb{scale[0] * lightOfCode(curves[0], code[0]),
                                   scale[1] * lightOfCode(curves[1], code[1]),
                                   scale[2] * lightOfCode(curves[2], code[2])};
            },
            [curves, scale](const BalancedRgb &rgb) {
                return Vector3{codeOfLight(curves[0], rgb.r / scale[0]),
                               codeOfLight(curves[1], rgb.g / scale[1]),
                               codeOfLight(curves[2], rgb.b / scale[2])};
            }};
}

/// The white balance of the part `balance`, from the greys that the calibration was made of; where it was
/// made of none, its own. The level is the calibration's: greys at one side of a chart may have less light.
static ColorModel plainModelOf(const Calibration &c)
{
    constexpr double kGrey = 3; // C*ab
    std::vector<FittedPatch> greys;
    for (const auto &patch : c.patches)
        if (lchFromLab(labFromXyz(patch.reference)).c < kGrey)
            greys.push_back(patch);
    if (auto plain = fitBalance(greys, c.fileColor)) {
        plain->exposureScale = c.exposureScale;
        return *plain;
    }
    ColorModel own;
    own.multipliers = c.multipliers;
    own.exposureScale = c.exposureScale;
    own.matrix = fileMatrix(c.fileColor, {1 / c.multipliers[0], 1, 1 / c.multipliers[2]});
    return own;
}

static Result<InputCodes> plainInput(const Calibration &c, const RgbSpace &space)
{
    const auto plain = plainModelOf(c);
    Vector3 toPlain{}; // from this calibration's balanced RGB to that of the plain picture
    for (size_t i = 0; i < 3; ++i)
        toPlain[i] = plain.multipliers[i] / c.multipliers[i];
    const auto toSpace = *inverse(xyzD50FromRgbMatrix(space)) * plain.matrix * diagonal(toPlain);
    const auto back = inverse(toSpace);
    if (!back)
        return unusable("{calibration}: the file's own colour matrix cannot be inverted",
                        {{"calibration", c.name}});
    const auto transfer = space.transfer;
    return InputCodes{[back = *back, transfer](const Vector3 &code) {
                          const auto rgb =
                              back * Vector3{linearised(transfer, code[0]), linearised(transfer, code[1]),
                                             linearised(transfer, code[2])};
                          return BalancedRgb{rgb[0], rgb[1], rgb[2]};
                      },
                      [toSpace, transfer](const BalancedRgb &rgb) {
                          auto out = toSpace * vectorOf(rgb);
                          for (auto &v : out)
                              v = encoded(transfer, v);
                          return out;
                      }};
}

Result<Done> checkCodes(const Calibration &c)
{
    if (!c.fileColor.xyzD50FromRendered || hasCodes(c.fileColor))
        return Done{};
    return unusable(
        "{calibration}: it is not known what the codes of its pictures stand for (their profile is a "
        "table, or they were read by an earlier version). Convert the pictures to sRGB or another "
        "space with curves, and read the chart again",
        {{"calibration", c.name}});
}

Result<InputCodes> inputCodesOf(const Calibration &c, const CubeOptions &options)
{
    if (options.of == TableInput::CameraRgb)
        return cameraInput(axisOf(options));
    if (options.of == TableInput::PlainPicture)
        return plainInput(c, options.space);
    const auto known = checkCodes(c);
    return known ? Result<InputCodes>(pictureInput(c)) : known.error();
}

CubeLut cubeOf(const Calibration &calibration, const InputCodes &input, const CubeOptions &options)
{
    CubeLut out;
    out.title = options.title;
    out.size = options.size;
    out.madeFor = options.of;
    out.outputSpace = options.output ? std::string() : std::string(options.space.id);
    const int n = options.size;
    const auto toSpace = *inverse(xyzD50FromRgbMatrix(options.space));
    const auto code = [&](double v) { return float(outputCode(options, std::clamp(v, 0.0, 1.0))); };
    out.entries.resize(size_t(n) * size_t(n) * size_t(n));
    tbb::parallel_for(0, n, [&](int b) {
        for (int g = 0; g < n; ++g)
            for (int r = 0; r < n; ++r) {
                const auto rgb =
                    input.balanced({double(r) / (n - 1), double(g) / (n - 1), double(b) / (n - 1)});
                const auto light = toSpace * vectorOf(xyzFromBalanced(calibration, rgb));
                out.entries[size_t((b * n + g) * n + r)] = {code(light[0]), code(light[1]), code(light[2])};
            }
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
    if (cube.madeFor)
        out += kMark + std::string(" input ") + kInputIds[size_t(*cube.madeFor)] + " output " +
               (cube.outputSpace.empty() ? "coded" : cube.outputSpace) + "\n";
    out += "TITLE \"" + title + "\"\n";
    out += fmt::format("LUT_{}_SIZE {}\n", cube.is3d ? "3D" : "1D", cube.size);
    const auto &from = cube.least, &to = cube.most;
    out += fmt::format("DOMAIN_MIN {:.7g} {:.7g} {:.7g}\nDOMAIN_MAX {:.7g} {:.7g} {:.7g}\n", from[0], from[1],
                       from[2], to[0], to[1], to[2]);
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
        if (line.starts_with(kMark))
            takeMark(line, cube);
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
            if (!takeDomain(first, words, cube))
                return fault(name, number, "the domain is not a rising range of numbers");
        } else {
            std::array<float, 3> e{};
            std::istringstream values(line);
            if (!(values >> e[0] >> e[1] >> e[2]) || !std::isfinite(e[0] + e[1] + e[2]))
                return fault(name, number, "three numbers are expected");
            cube.entries.push_back(e);
        }
    }
    for (size_t c = 0; c < 3; ++c)
        if (!(cube.least[c] < cube.most[c]))
            return unusable("{file}: its domain is not a rising range of numbers", {{"file", name}});
    if (cube.size == 0)
        return unusable("{file}: has neither LUT_1D_SIZE nor LUT_3D_SIZE", {{"file", name}});
    const auto side = size_t(cube.size), wanted = cube.is3d ? side * side * side : side;
    if (cube.entries.size() != wanted)
        return unusable(
            "{file}: has {entries} entries, but its size needs {wanted}",
            {{"file", name}, {"entries", double(cube.entries.size())}, {"wanted", double(wanted)}});
    return cube;
}

Vector3 applied(const CubeLut &cube, const Vector3 &input)
{
    const auto n = size_t(cube.size);
    Vector3 rgb{};
    for (size_t c = 0; c < 3; ++c)
        rgb[c] = (input[c] - cube.least[c]) / (cube.most[c] - cube.least[c]);
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
