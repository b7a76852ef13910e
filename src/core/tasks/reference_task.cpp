#include "core/tasks/reference_task.h"

#include "core/balance/balance.h"
#include "core/base/letters.h"
#include "core/color/lab.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/cxf.h"
#include "core/formats/documents.h"
#include "core/formats/names.h"
#include "core/sim/instrument.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/file_names.h"

#include <cmath>

namespace wavechroma {

Result<Done> saveChart(const std::filesystem::path &file, const ChartDefinition &chart)
{
    return writeWhole({{file, bytesOf(documentOf(chart))}});
}

Result<ChartDefinition> chartNamed(const std::string &idOrFile)
{
    if (!looksLikeFile(idOrFile))
        return chartFromCatalogue(idOrFile);
    const auto text = readText(idOrFile);
    return text ? chartFrom(*text, idOrFile) : Result<ChartDefinition>(text.error());
}

/// The text of a table of references as plain bytes: other encodings are told rather than misread.
static Result<std::string> plainText(const std::filesystem::path &file)
{
    auto text = readText(file);
    if (!text)
        return text;
    const auto starts = [&](std::string_view mark) { return text->compare(0, mark.size(), mark) == 0; };
    if (starts("\xFF\xFE") || starts("\xFE\xFF") || text->find('\0') != text->npos)
        return unusable("{file}: is UTF-16 text or not text. Save it as plain text or UTF-8",
                        {{"file", file.string()}});
    if (starts("\xEF\xBB\xBF"))
        text->erase(0, 3);
    if (text->find_first_not_of(" \t\r\n") == text->npos)
        return unusable("{file}: is empty", {{"file", file.string()}});
    std::string lines; // ended by LF, whatever ended them
    for (size_t i = 0; i < text->size(); ++i)
        if ((*text)[i] != '\r')
            lines.push_back((*text)[i]);
        else if (i + 1 == text->size() || (*text)[i + 1] != '\n')
            lines.push_back('\n');
    *text = std::move(lines);
    return text;
}

Result<NamedLight> lightNamed(const std::string &text)
{
    if (!looksLikeFile(text))
        return lightFromName(text);
    const auto content = plainText(text);
    if (!content)
        return content.error();
    const auto spectrum = parseSpectrum(*content, text);
    if (!spectrum)
        return spectrum.error();
    const auto xy = chromaticityFromXyz(xyzFromLight(*spectrum));
    return NamedLight{std::filesystem::path(text).stem().string(), *spectrum, xy, exifCodeNear(xy)};
}

static Result<ChartDefinition> withChartReferences(const ChartDefinition &chart, const std::string &text,
                                                   const std::string &name)
{
    if (isCameraReference(name))
        return withCameraReferences(chart, text, name);
    const auto other = chartFrom(text, name);
    if (!other)
        return other.error();
    ChartDefinition out = chart;
    for (auto &patch : out.patches) {
        const auto *source = other->patch(patch.id);
        if (!source)
            return unusable("{file}: has no patch \"{patch}\", which the reading has",
                            {{"file", name}, {"patch", patch.id}});
        patch = *source;
    }
    if (!other->colorsKnown)
        return unusable("{file}: names patches, but no colours for them", {{"file", name}});
    out.colorsKnown = true;
    out.reference = other->reference;
    return out;
}

Result<ChartDefinition> withReferences(const ChartDefinition &chart, const std::filesystem::path &file,
                                       const std::optional<std::string> &light, TableReading *how)
{
    const auto text = plainText(file);
    if (!text)
        return text.error();
    const bool isTable = letters::upper(*text).find("BEGIN_DATA") != std::string::npos,
               isJson = (*text)[text->find_first_not_of(" \t\r\n")] == '{';
    const bool isCsv = !isTable && text->substr(0, text->find('\n')).find_first_of(",;\t") != text->npos;
    auto out = isCxf(*text) ? withCxfReferences(chart, *text, file.string(), how)
               : isJson     ? withChartReferences(chart, *text, file.string())
               : isCsv      ? withCsvReferences(chart, *text, file.string(), how)
                            : withCgatsReferences(chart, *text, file.string(), how);
    if (!out || !light)
        return out;
    const auto named = lightNamed(*light);
    if (!named)
        return named.error();
    for (auto &patch : out->patches) {
        if (!patch.reflectance)
            return unusable("{file}: has no spectra, so its colours under {light} cannot be computed",
                            {{"file", file.string()}, {"light", named->name}});
        patch.reference = xyzD50FromReflectance(*patch.reflectance, named->spectrum);
    }
    out->reference.illuminant = named->name;
    return out;
}

Result<ChartDefinition> measuredChart(const ChartDefinition &chart, const std::string &date, uint64_t seed)
{
    const auto known = chartFromCatalogue(chart.id);
    if (!known || !known->colorsKnown)
        return unusable("The simulated studio has no print of \"{chart}\"", {{"chart", chart.name}});
    ChartDefinition out = chart;
    const auto spectra = sim::measureChart(*known, seed);
    for (size_t i = 0; i < out.patches.size(); ++i) {
        out.patches[i].reflectance = spectra[i];
        out.patches[i].reference = xyzD50FromReflectance(spectra[i], illuminantD50());
    }
    out.colorsKnown = true;
    out.reference = {"D50", "CIE 1931 2°", "simulated spectrophotometer", date};
    return out;
}

Result<ChartDefinition> withSeenColours(const ChartDefinition &chart, const Reading &reading,
                                        const Calibration &calibration)
{
    ChartDefinition out = chart;
    for (auto &patch : out.patches) {
        const auto *seen = reading.patch(patch.id);
        if (!seen || !isUsable(*seen))
            return unusable("Patch {patch} cannot be used: it is clipped, too dark or outside the frame",
                            {{"patch", patch.id}});
        patch.reference = xyzFromCamera(calibration, seen->mean);
        patch.reflectance.reset();
    }
    out.colorsKnown = true;
    out.reference = {"D50", "CIE 1931 2°", reading.image + " by " + calibration.name,
                     reading.camera.capturedAt.substr(0, 10)};
    return out;
}

/// Ids as the reading has them, colours unknown; neutrals are found once the references are.
static ChartDefinition chartOfPatches(const Reading &reading)
{
    ChartDefinition chart;
    chart.id = chart.name = reading.chart;
    chart.rows = 1;
    chart.columns = int(reading.patches.size());
    chart.colorsKnown = false;
    for (const auto &patch : reading.patches) {
        chart.patches.emplace_back();
        chart.patches.back().id = patch.id;
    }
    return chart;
}

void nameNeutrals(ChartDefinition &chart)
{
    std::vector<std::pair<double, std::string>> greys;
    for (const auto &patch : chart.patches) {
        const auto lab = labFromXyz(patch.reference);
        if (patch.isKnown && std::hypot(lab.a, lab.b) < 5)
            greys.emplace_back(-lab.l, patch.id);
    }
    if (greys.empty())
        return;
    chart.neutral.clear();
    std::sort(greys.begin(), greys.end());
    for (const auto &[darkness, id] : greys)
        chart.neutral.push_back(id);
}

Result<ChartDefinition> referencesOf(const Reading &reading, const std::string &reference, TableReading *how)
{
    const auto known = chartOf(reading);
    if (reference.empty())
        return known;
    if (known)
        return withReferences(*known, reference, {}, how);
    // not in the catalogue, and no definition at hand: the reading's own patches, without a layout
    auto chart = withReferences(chartOfPatches(reading), reference, {}, how);
    if (chart)
        nameNeutrals(*chart);
    return chart;
}

} // namespace wavechroma
