#include "core/fit/cross_validate.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/model_figures.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <random>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr size_t kMostSingly = 48, kFolds = 24, kDraws = 8;

using Errors = std::map<Parts, std::vector<double>>;

ColorModel leaning(ColorModel model, const ColourLean &lean)
{
    model.lean = lean;
    return model;
}

/// The neutrals stand for one another: leaving one out hides nothing from a fit, so that their row counts as
/// one patch.
struct Judged
{
    Errors ofColours, ofNeutrals;
    std::map<Parts, std::map<std::string, Xyz>> ofEach;
};

std::map<Parts, ErrorSummary> summariesOf(const Judged &judged)
{
    std::map<Parts, ErrorSummary> out;
    Errors all = judged.ofColours;
    for (const auto &[parts, errors] : judged.ofNeutrals)
        all[parts].push_back(summaryOf(errors).mean);
    for (const auto &[parts, errors] : all)
        out[parts] = summaryOf(errors);
    return out;
}

/// Errors of the patches of one fold, the others fitted.
Judged errorsWithout(size_t fold, size_t folds, const Models &models, const std::vector<Parts> &wanted,
                     const std::vector<FittedPatch> &patches, const FitContext &context, Strengths strengths,
                     const ColourLean &lean)
{
    std::vector<FittedPatch> in, out;
    for (size_t i = 0; i < patches.size(); ++i)
        (i % folds == fold ? out : in).push_back(patches[i]);
    Judged judged;
    for (const auto &[parts, model] : fitModels(wanted, in, context, strengths, &models))
        for (const auto &patch : out) {
            const bool isNeutral = std::count(context.neutrals.begin(), context.neutrals.end(), patch.id) > 0;
            const auto leant = leaning(model, lean);
            (isNeutral ? judged.ofNeutrals : judged.ofColours)[parts].push_back(de2000Of(patch, leant));
            judged.ofEach[parts][patch.id] = xyzFromCamera(leant, patch.rgb);
        }
    return judged;
}

/// Mean shift of the patches when the reading's noise had fallen otherwise.
Errors shiftsOf(size_t draw, const Models &models, const std::vector<Parts> &wanted,
                const std::vector<FittedPatch> &patches, const FitContext &context, Strengths strengths)
{
    std::mt19937_64 engine(1000 + draw);
    std::normal_distribution<double> normal;
    auto shaken = patches;
    for (auto &p : shaken)
        p.rgb = {p.rgb.r + p.sd.r * normal(engine), p.rgb.g + p.sd.g * normal(engine),
                 p.rgb.b + p.sd.b * normal(engine)};
    Errors errors;
    for (const auto &[parts, model] : fitModels(wanted, shaken, context, strengths, &models))
        for (const auto &patch : patches)
            errors[parts].push_back(de2000(labFromXyz(xyzFromCamera(model, patch.rgb)),
                                           labFromXyz(xyzFromCamera(models.at(parts), patch.rgb))));
    return errors;
}

void append(Errors &to, const Errors &more)
{
    for (const auto &[parts, values] : more)
        to[parts].insert(to[parts].end(), values.begin(), values.end());
}

} // namespace

std::map<Parts, Honesty> crossValidate(const Models &models, const std::vector<FittedPatch> &patches,
                                       const FitContext &context, const Strengths &strengths,
                                       const ColourLean &lean, const Progress &progress)
{
    std::vector<Parts> wanted;
    for (const auto &[parts, model] : models)
        wanted.push_back(parts);
    const size_t folds = patches.size() <= kMostSingly ? patches.size() : kFolds;
    Judged judged;
    Errors shifts;
    std::mutex together;
    size_t done = 0;
    tbb::parallel_for(size_t(0), folds + kDraws, [&](size_t i) {
        if (progress.stopped())
            return;
        if (i < folds) {
            const auto found = errorsWithout(i, folds, models, wanted, patches, context, strengths, lean);
            const std::lock_guard lock(together);
            append(judged.ofColours, found.ofColours);
            append(judged.ofNeutrals, found.ofNeutrals);
            for (const auto &[parts, errors] : found.ofEach)
                judged.ofEach[parts].insert(errors.begin(), errors.end());
        } else {
            const auto found = shiftsOf(i - folds, models, wanted, patches, context, strengths);
            const std::lock_guard lock(together);
            append(shifts, found);
        }
        const std::lock_guard lock(together);
        progress.at(double(++done) / double(folds + kDraws), "testing the parts on unseen patches");
    });
    std::map<Parts, Honesty> out;
    if (!progress.stopped())
        for (const auto &[parts, summary] : summariesOf(judged))
            out[parts] = {summary, judged.ofEach[parts], summaryOf(shifts[parts]).mean};
    return out;
}

ModelFigures figuresOf(const Calibration &c, const ColorModel &plain, const ChartDefinition &chart,
                       double sensitivity)
{
    ModelFigures out;
    const auto stretch = stretchOf(c, plain);
    out.mostStretch = stretch.most;
    out.leastStretch = stretch.least;
    out.sensitivity = sensitivity;
    out.noiseGain = noiseGainOf(c.matrix);
    out.condition = conditionOf(c.matrix);
    if (!c.light.spectrum)
        return out;
    std::vector<double> differences; // CIE 1976, as the standard has it
    for (const auto &p : c.patches) {
        const auto *patch = chart.patch(p.id);
        if (!patch || !patch->reflectance || std::count(chart.neutral.begin(), chart.neutral.end(), p.id))
            continue;
        const Lab got = labFromXyz(xyzFromCamera(c, p.rgb)), wanted = labFromXyz(p.reference);
        differences.push_back(std::hypot(got.l - wanted.l, got.a - wanted.a, got.b - wanted.b));
    }
    if (differences.size() >= 8)
        out.metamerismIndex = 100 - 5.5 * summaryOf(differences).mean;
    return out;
}

} // namespace wavechroma
