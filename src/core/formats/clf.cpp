#include "core/formats/clf.h"

#include <cmath>
#include <fmt/format.h>
#include <pugixml.hpp>
#include <sstream>

namespace wavechroma {

namespace {

// IEC 61966-2-1 as S-2014-006 writes its curve: an exponent with an offset, straight below.
constexpr double kSrgbExponent = 2.4, kSrgbOffset = 0.055;

void addNote(pugi::xml_node to, const std::string &note)
{
    std::istringstream lines(note);
    for (std::string line; std::getline(lines, line);)
        to.append_child("Description").text().set(line.c_str());
}

/// An operator of the list, in 32-bit floating point on both sides.
pugi::xml_node added(pugi::xml_node list, const char *kind)
{
    auto node = list.append_child(kind);
    node.append_attribute("inBitDepth") = "32f";
    node.append_attribute("outBitDepth") = "32f";
    return node;
}

/// A .cube has red fastest, this format blue.
size_t entryOf(size_t position, size_t n)
{
    const size_t b = position % n, g = position / n % n, r = position / (n * n);
    return (b * n + g) * n + r;
}

std::string entryLines(const CubeLut &cube)
{
    std::string out = "\n";
    for (size_t i = 0; i < cube.entries.size(); ++i) {
        const auto &e = cube.entries[entryOf(i, size_t(cube.size))];
        out += fmt::format("{:.7f} {:.7f} {:.7f}\n", e[0], e[1], e[2]);
    }
    return out;
}

Error notRead(const std::string &name, const char *element)
{
    return unusable("{file}: its element {element} is not as this version reads it",
                    {{"file", name}, {"element", element}});
}

Result<CubeLut> cubeIn(const pugi::xml_node &lut, const std::string &name)
{
    const auto array = lut.child("Array");
    std::istringstream dim(array.attribute("dim").value());
    int n = 0, again = 0, third = 0, channels = 0;
    dim >> n >> again >> third >> channels;
    if (n < 2 || n > 256 || again != n || third != n || channels != 3)
        return notRead(name, "Array");
    CubeLut cube;
    cube.size = n;
    const auto side = size_t(n);
    cube.entries.resize(side * side * side);
    std::istringstream numbers(array.text().get());
    for (size_t i = 0; i < cube.entries.size(); ++i) {
        auto &e = cube.entries[entryOf(i, side)];
        if (!(numbers >> e[0] >> e[1] >> e[2]) || !std::isfinite(e[0] + e[1] + e[2]))
            return notRead(name, "Array");
    }
    if (std::string rest; numbers >> rest)
        return notRead(name, "Array");
    return cube;
}

bool isSrgbCurve(const pugi::xml_node &exponent)
{
    const auto numbers = exponent.child("ExponentParams");
    return std::string_view(exponent.attribute("style").value()) == "monCurveRev" &&
           numbers.attribute("exponent").as_double() == kSrgbExponent &&
           numbers.attribute("offset").as_double() == kSrgbOffset;
}

} // namespace

std::string clfOf(const ClfTable &table, const std::string &note)
{
    pugi::xml_document document;
    auto list = document.append_child("ProcessList");
    list.append_attribute("compCLFversion") = "3.0";
    list.append_attribute("id") = table.title.c_str();
    list.append_attribute("name") = table.title.c_str();
    addNote(list, note);
    if (table.takesLinear) {
        auto exponent = added(list, "Exponent");
        exponent.append_attribute("style") = "monCurveRev";
        auto numbers = exponent.append_child("ExponentParams");
        numbers.append_attribute("exponent") = kSrgbExponent;
        numbers.append_attribute("offset") = kSrgbOffset;
    }
    auto lut = added(list, "LUT3D");
    lut.append_attribute("interpolation") = "tetrahedral";
    auto array = lut.append_child("Array");
    array.append_attribute("dim") = fmt::format("{0} {0} {0} 3", table.cube.size).c_str();
    array.text().set(entryLines(table.cube).c_str());
    std::ostringstream out;
    document.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
    return out.str();
}

Result<ClfTable> clfFrom(const std::string &text, const std::string &name)
{
    pugi::xml_document document;
    const auto parsed = document.load_buffer(text.data(), text.size());
    if (!parsed)
        return unusable("{file}: is not sound XML at byte {at}: {why}",
                        {{"file", name}, {"at", double(parsed.offset)}, {"why", parsed.description()}});
    const auto list = document.child("ProcessList");
    if (!list)
        return notRead(name, "ProcessList");
    ClfTable out;
    out.title = list.attribute("name").value();
    bool hasTable = false;
    for (const auto &node : list.children()) {
        const std::string_view kind = node.name();
        if (kind == "Description" || kind == "InputDescriptor" || kind == "OutputDescriptor" ||
            kind == "Info")
            continue;
        if (kind == "Exponent" && !hasTable && !out.takesLinear && isSrgbCurve(node)) {
            out.takesLinear = true;
        } else if (kind == "LUT3D" && !hasTable) {
            auto cube = cubeIn(node, name);
            if (!cube)
                return cube.error();
            out.cube = std::move(*cube);
            hasTable = true;
        } else {
            return notRead(name, node.name());
        }
    }
    return hasTable ? Result<ClfTable>(out) : notRead(name, "LUT3D");
}

Vector3 applied(const ClfTable &table, const Vector3 &input)
{
    if (!table.takesLinear)
        return applied(table.cube, input);
    Vector3 codes{};
    for (size_t c = 0; c < 3; ++c)
        codes[c] = coded(CameraCoding::Srgb, std::max(0.0, input[c]));
    return applied(table.cube, codes);
}

} // namespace wavechroma
