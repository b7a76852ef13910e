#include "core/proof/proof.h"

#include "core/balance/balance.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/lab_difference.h"
#include "core/fit/fit.h"
#include "core/fit/two_lights.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

bool passes(const Proof &proof, const ProofLimits &limits)
{
    return proof.summary.mean <= limits.mean && proof.summary.max <= limits.patch;
}

Result<Proof> prove(const Calibration &calibration, const Reading &reading, const ChartDefinition &chart)
{
    if (!reading.found)
        return unusable(reading.image + ": no chart was found in it, so there is nothing to prove");
    if (!chart.colorsKnown)
        return unusable(reading.image + ": the colours of the " + chart.name +
                        " are not known; give them with --reference");
    Proof proof;
    proof.calibration = calibration.name;
    proof.reading = reading.image;
    const ChartDefinition seen =
        calibration.appearance == Appearance::UnderLight && calibration.light.spectrum
            ? chartUnderLight(chart, *calibration.light.spectrum)
            : chart;
    const auto models = modelsFor(calibration, neutralIn(reading, chart));
    std::vector<double> errors;
    double worst = -1;
    for (const auto &patch : reading.patches) {
        const auto *reference = seen.patch(patch.id);
        if (!reference || !reference->isKnown || patch.count == 0 || reading.isLeftOut(patch.id))
            continue;
        PatchProof p;
        p.id = patch.id;
        p.lab = labFromXyz(xyzFromCamera(models, patch.mean));
        p.reference = labFromXyz(reference->reference);
        p.de00 = de2000(p.lab, p.reference);
        const auto d = lchDifference(p.lab, p.reference);
        p.dL = d.dL;
        p.dC = d.dC;
        p.dH = d.dH;
        p.burnt = patch.clipped >= kMostClipped;
        if (p.de00 > worst) {
            worst = p.de00;
            proof.worst = p.id;
        }
        errors.push_back(p.de00);
        proof.patches.push_back(p);
    }
    if (errors.empty())
        return unusable(reading.image + ": no patch of the reading has a reference value");
    proof.summary = summaryOf(errors);
    return proof;
}

std::optional<Vector3> neutralIn(const Reading &reading, const ChartDefinition &chart)
{
    const auto id = defaultNeutral(reading, chart);
    return id ? std::optional(vectorOf(reading.patch(*id)->mean)) : std::nullopt;
}

static const char *grade(double size)
{
    return std::abs(size) < 1.5 ? "a little " : std::abs(size) >= 5 ? "much " : "";
}

std::string directionWords(const PatchProof &p)
{
    constexpr double kVisible = 0.5;
    const double da = p.lab.a - p.reference.a, db = p.lab.b - p.reference.b;
    const double chroma = std::hypot(p.reference.a, p.reference.b);
    std::string words, last;
    const auto add = [&](double size, const char *word) {
        const std::string degree = grade(size);
        // "a little lighter, redder": a degree that both share is said once
        words += words.empty() ? degree + word : ", " + (degree == last ? word : degree + word);
        last = degree;
    };
    if (std::abs(p.dL) >= kVisible)
        add(p.dL, p.dL > 0 ? "lighter" : "darker");
    // On a coloured patch a change along its own hue is seen as more or less colour, one across it as another
    // hue.
    if (chroma > 10 && std::abs(p.dC) >= kVisible && std::abs(p.dC) >= std::abs(p.dH))
        add(p.dC, p.dC > 0 ? "stronger" : "duller");
    else if (std::abs(da) >= std::abs(db) && std::abs(da) >= kVisible)
        add(da, da > 0 ? "redder" : "greener");
    else if (std::abs(db) >= kVisible)
        add(db, db > 0 ? "yellower" : "bluer");
    return words.empty() ? "no visible error" : words;
}

NeutralProof neutralsOf(const Proof &proof, const ChartDefinition &chart)
{
    NeutralProof out;
    double a = 0, b = 0;
    int count = 0;
    for (const auto &patch : proof.patches) {
        if (!std::count(chart.neutral.begin(), chart.neutral.end(), patch.id) || patch.burnt)
            continue;
        out.mean += patch.de00;
        a += patch.lab.a - patch.reference.a;
        b += patch.lab.b - patch.reference.b;
        ++count;
    }
    if (count == 0)
        return out;
    out.mean /= count;
    a /= count;
    b /= count;
    const double size = std::hypot(a, b);
    const char *direction =
        std::abs(b) >= std::abs(a) ? (b > 0 ? "warm" : "cool") : (a > 0 ? "rosy" : "green");
    out.cast = size < 0.3 ? "neutral"
                          : std::string(size < 1   ? "a trace "
                                        : size < 3 ? ""
                                                   : "strongly ") +
                                direction;
    return out;
}

} // namespace wavechroma
