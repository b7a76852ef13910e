#include "core/tasks/camera_match.h"

#include "core/balance/balance.h"
#include "core/base/letters.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/part_balance.h"
#include "core/formats/documents.h"
#include "core/formats/json_fields.h"
#include "core/formats/whole_file.h"
#include "core/tasks/reference_task.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace wavechroma {

namespace {

/// A rendered picture as it is; a raw reading by white balance alone: from its neutrals where their colours
/// are known, else from the file's as-shot neutral.
Result<ColorModel> balanceOf(const Reading &other)
{
    if (isRendered(other)) {
        ColorModel model;
        model.matrix = fileMatrix(other.fileColor, {1, 1, 1});
        return model;
    }
    const auto chart = chartOf(other);
    if (!chart)
        return chart.error();
    FitOptions options;
    options.parts = {colourParts().front().name, plainParts().tone};
    options.crossValidate = false;
    options.settle = false;
    if (const auto fitted =
            chart->colorsKnown ? fitCalibration(other, *chart, options) : Result<Calibration>(unusable("")))
        return static_cast<ColorModel>(*fitted);
    ColorModel model;
    const Vector3 neutral = other.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    model.multipliers = {neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    model.matrix = fileMatrix(other.fileColor, neutral);
    return model;
}

Result<ChartDefinition> withPatches(const ChartDefinition &chart, const std::map<std::string, Xyz> &colours,
                                    const std::string &name)
{
    ChartDefinition out = chart;
    std::erase_if(out.neutral, [&](const auto &id) { return !colours.count(id); });
    int known = 0;
    for (auto &patch : out.patches) {
        patch.reflectance.reset();
        const auto at = colours.find(patch.id);
        if (at == colours.end()) {
            patch.isKnown = false;
            continue;
        }
        patch.reference = at->second;
        ++known;
    }
    if (known < kFewestPatches)
        return unusable(
            "{file}: has only {known} usable patches in common with the {chart}; a fit needs {needed}",
            {{"file", name},
             {"known", double(known)},
             {"chart", chart.name},
             {"needed", double(kFewestPatches)}});
    out.colorsKnown = true;
    out.reference = {"D50", "CIE 1931 2°", name, ""};
    return out;
}

} // namespace

bool isRendered(const Reading &reading)
{
    if (reading.fileColor.xyzD50FromRendered)
        return true;
    if (!reading.fileColor.matrices.empty() || reading.fileColor.asShotNeutral)
        return false;
    // a document that says nothing of the file's colours: by another program, or of a version that did not
    // write them down
    const auto kind = letters::lower(std::filesystem::path(reading.image).extension().string());
    return kind == ".jpg" || kind == ".jpeg" || kind == ".png" || kind == ".tif" || kind == ".tiff";
}

bool isCameraReference(const std::filesystem::path &file)
{
    const auto text = readText(file);
    const auto first = text ? text->find_first_not_of(" \t\r\n\xEF\xBB\xBF") : std::string::npos;
    if (first == std::string::npos || ((*text)[first] != '{' && (*text)[first] != '['))
        return false;
    const auto document = json::parse(*text, file.string());
    if (!document)
        return false;
    const auto kind =
        json::kindOf(document->is_array() && !document->empty() ? document->front() : *document);
    return kind == "reading" || kind == "proof";
}

Result<ChartDefinition> withCameraReferences(const ChartDefinition &chart, const std::string &text,
                                             const std::string &name)
{
    std::map<std::string, Xyz> colours;
    if (const auto document = json::parse(text, name); document && json::kindOf(*document) == "proof") {
        const auto proof = proofFrom(text, name);
        if (!proof)
            return proof.error();
        for (const auto &patch : proof->patches)
            if (!patch.clipped)
                colours[patch.id] = xyzFromLab(patch.lab);
        return withPatches(chart, colours, name);
    }
    const auto other = readingFrom(text, name);
    if (!other)
        return other.error();
    if (!other->found)
        return unusable("{file}: no chart was found, so it cannot be a reference", {{"file", name}});
    const auto model = balanceOf(*other);
    if (!model)
        return model.error();
    for (const auto &patch : other->patches)
        if (isUsable(patch) && !other->isLeftOut(patch.id))
            colours[patch.id] = xyzFromCamera(*model, patch.mean);
    return withPatches(chart, colours, name);
}

std::vector<FitWarning> warningsOfMatch(const Reading &reading, const ChartDefinition &reference)
{
    constexpr double kFewestSteps = 20; // signal over noise of a pixel, where a spread shadow shows its grain
    std::vector<std::string> clipped;
    std::vector<FitWarning> out;
    struct Tone
    {
        double camera, reference, noise;
        std::string id;
    };
    std::vector<Tone> tones;
    for (const auto &patch : reading.patches) {
        const auto *wanted = reference.patch(patch.id);
        if (!wanted || !wanted->isKnown)
            continue;
        if (patch.clipped >= kMostClipped)
            clipped.push_back(patch.id);
        else if (isUsable(patch))
            tones.push_back({patch.mean.g, wanted->reference.y, patch.sd.g, patch.id});
    }
    if (!clipped.empty())
        out.push_back({"reference-holds-highlights", clipped, 0});
    std::sort(tones.begin(), tones.end(), [](const auto &a, const auto &b) { return a.camera < b.camera; });
    if (tones.size() < 4)
        return out;
    // contrast of the darkest quarter, reference over camera, in stops
    const auto &dark = tones.front(), &above = tones[tones.size() / 4];
    const double spread = std::log2(std::max(above.reference, 1e-5) / std::max(dark.reference, 1e-5)),
                 held = std::log2(above.camera / dark.camera);
    if (held > 0 && spread > 1.25 * held && dark.camera < kFewestSteps * dark.noise)
        out.push_back({"reference-spreads-shadows", {dark.id}, spread / held});
    return out;
}

} // namespace wavechroma
