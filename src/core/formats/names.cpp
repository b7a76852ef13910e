#include "core/formats/names.h"

#include "core/base/number_text.h"

#include <cctype>

namespace wavechroma {

std::string composedName(const Calibration &c, const std::string &setup)
{
    std::string name;
    const auto add = [&](const std::string &part) {
        if (!part.empty())
            name += (name.empty() ? "" : ", ") + part;
    };
    add(c.camera.model.empty() ? c.camera.make : c.camera.model);
    std::string lens = c.camera.lens;
    if (!c.camera.make.empty() && lens.rfind(c.camera.make + " ", 0) == 0)
        lens.erase(0, c.camera.make.size() + 1);
    add(lens);
    add(setup);
    add(c.light.name == "unknown" ? "" : c.light.name);
    add(c.camera.capturedAt.substr(0, 10));
    return name.empty() ? "Calibration" : name;
}

std::string provenanceOf(const Calibration &c)
{
    std::string out = "colour " + c.parts.colour + ", tone " + c.parts.tone;
    if (!(c.lean == ColourLean{}))
        out += ", reds " + std::to_string(c.lean.reds) + ", chroma " + std::to_string(c.lean.chroma);
    for (size_t i = 0; i < c.madeFrom.size(); ++i) {
        out += (i == 0 ? " from " : ", ") + c.madeFrom[i].image;
        if (!c.madeFrom[i].sha256.empty())
            out += " (SHA-256 " + c.madeFrom[i].sha256 + ")";
    }
    return out + ", " + std::to_string(c.patches.size()) + " patches, by " +
           (c.madeWith.empty() ? "Wavechroma" : c.madeWith);
}

std::string fileNameOf(const std::string &name)
{
    std::string out;
    for (const char ch : name) {
        const bool plain = std::isalnum(static_cast<unsigned char>(ch)) || ch == '.' || ch == '-';
        if (plain)
            out.push_back(ch);
        else if (!out.empty() && out.back() != '_')
            out.push_back('_');
    }
    out.resize(std::min<size_t>(out.size(), 120));
    while (!out.empty() && (out.back() == '_' || out.back() == '.'))
        out.pop_back();
    return out.empty() || out.front() == '.' ? "calibration" + out : out;
}

} // namespace wavechroma
