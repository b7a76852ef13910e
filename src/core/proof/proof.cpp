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

namespace {

/// A patch as it came out, as a fit without it has it, and as it should be.
struct Judged
{
    std::string id;
    Lab lab, unseen, reference;
};

HeldErrors errorsOf(DifferenceMeasure measure, const ErrorLimits &limits, const std::vector<Judged> &patches)
{
    HeldErrors out{measure, limits, 0, 0, {}};
    for (const auto &p : patches) {
        out.mean += difference(measure, p.unseen, p.reference) / double(patches.size());
        const double seen = difference(measure, p.lab, p.reference);
        if (out.patch.empty() || seen > out.worst) {
            out.worst = seen;
            out.patch = p.id;
        }
    }
    return out;
}

std::vector<HeldErrors> heldTo(const ProofLimits &limits, const std::vector<Judged> &patches)
{
    std::vector<HeldErrors> out;
    for (const auto &row : kDifferenceMeasures)
        if (const auto own = limits.in(row.measure); own.areSet() || row.measure == DifferenceMeasure::De2000)
            out.push_back(errorsOf(row.measure, own, patches));
    return out;
}

} // namespace

std::vector<HeldErrors> heldTo(const ProofLimits &limits, const Proof &proof)
{
    std::vector<Judged> patches;
    for (const auto &p : proof.patches)
        patches.push_back({p.id, p.lab, p.lab, p.reference});
    return heldTo(limits, patches);
}

std::vector<HeldErrors> heldTo(const ProofLimits &limits, const Calibration &calibration)
{
    std::vector<Judged> patches;
    for (const auto &p : calibration.patches) {
        const auto lab = labFromXyz(xyzFromCamera(calibration, p.rgb));
        patches.push_back({p.id, lab, p.unseen ? labFromXyz(*p.unseen) : lab, labFromXyz(p.reference)});
    }
    return heldTo(limits, patches);
}

bool passes(const Proof &proof, const ProofLimits &limits)
{
    const auto held = heldTo(limits, proof);
    return std::all_of(held.begin(), held.end(), [](const HeldErrors &one) { return one.hold(); });
}

Result<Proof> prove(const Calibration &calibration, const Reading &reading, const ChartDefinition &chart)
{
    if (!reading.found)
        return unusable("{file}: no chart was found, so there is nothing to prove",
                        {{"file", reading.image}});
    if (!chart.colorsKnown)
        return unusable("{file}: the colours of the {chart} are not known; give them with --reference",
                        {{"file", reading.image}, {"chart", chart.name}});
    Proof proof;
    proof.calibration = calibration.name;
    proof.reading = reading.image;
    const ChartDefinition seen = chartAsMeant(calibration, chart);
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
        p.clipped = patch.clipped >= kMostClipped;
        if (p.de00 > worst) {
            worst = p.de00;
            proof.worst = p.id;
        }
        errors.push_back(p.de00);
        proof.patches.push_back(p);
    }
    if (errors.empty())
        return unusable("{file}: no patch of the reading has a reference value", {{"file", reading.image}});
    proof.summary = summaryOf(errors);
    return proof;
}

std::optional<Vector3> neutralIn(const Reading &reading, const ChartDefinition &chart)
{
    const auto id = defaultNeutral(reading, chart);
    return id ? std::optional(vectorOf(reading.patch(*id)->mean)) : std::nullopt;
}

NeutralProof neutralsOf(const Proof &proof, const ChartDefinition &chart)
{
    NeutralProof out;
    int count = 0;
    for (const auto &patch : proof.patches) {
        if (!std::count(chart.neutral.begin(), chart.neutral.end(), patch.id) || patch.clipped)
            continue;
        out.mean += patch.de00;
        out.castA += patch.lab.a - patch.reference.a;
        out.castB += patch.lab.b - patch.reference.b;
        ++count;
    }
    if (count == 0)
        return out;
    out.mean /= count;
    out.castA /= count;
    out.castB /= count;
    return out;
}

} // namespace wavechroma
