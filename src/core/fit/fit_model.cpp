#include "core/fit/fit_model.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit_balance.h"
#include "core/fit/fit_curves.h"
#include "core/fit/fit_offset.h"
#include "core/fit/fit_root.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <numeric>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

std::vector<FittedPatch> neutralsOf(const std::vector<FittedPatch> &patches, const std::vector<std::string> &ids)
{
    std::vector<FittedPatch> neutrals;
    for (const auto &patch : patches)
        if (std::count(ids.begin(), ids.end(), patch.id))
            neutrals.push_back(patch);
    return neutrals;
}

/// The ridge of a few that says best what each sixth of the patches reads, left out in turn.
double chosenRidge(const std::vector<FittedPatch> &patches, const ColorModel &matrix)
{
    constexpr size_t kParts = 6;
    double best = 1e9, chosen = 100;
    std::optional<ColorModel> whole;
    for (const double ridge : {100.0, 3.0, 0.1}) { // the stiffest first: a looser one has to be clearly better
        whole = fitRoot(patches, whole ? *whole : matrix, ridge, whole.has_value());
        if (!whole)
            break;
        std::array<double, kParts> sums{};
        tbb::parallel_for(size_t(0), kParts, [&](size_t part) {
            std::vector<FittedPatch> in, out;
            for (size_t i = 0; i < patches.size(); ++i)
                (i % kParts == part ? out : in).push_back(patches[i]);
            const auto model = fitRoot(in, *whole, ridge, true);
            for (const auto &patch : out)
                sums[part] += model ? patch.weight * de2000Of(patch, *model) : 100;
        });
        const double sum = std::accumulate(sums.begin(), sums.end(), 0.0);
        if (sum < 0.98 * best) {
            best = sum;
            chosen = ridge;
        }
    }
    return chosen;
}

/// Models share what they stand on: the matrix is fitted once for all that begin with it.
class Fitting
{
public:
    Fitting(const std::vector<FittedPatch> &patches, const FitContext &context, Strengths &strengths, const Models *near)
        : m_patches(patches), m_context(context), m_strengths(strengths), m_near(near)
    {
    }

    const std::optional<ColorModel> &model(const std::string &name)
    {
        const auto known = m_done.find(name);
        return known != m_done.end() ? known->second : m_done.emplace(name, made(name)).first->second;
    }

private:
    std::optional<ColorModel> made(const std::string &name)
    {
        if (name == "balance")
            return fitBalance(neutralsOf(m_patches, m_context.neutrals), m_context.fileColor);
        if (name == "matrix")
            return matrix();
        if (name == "matrix-offset")
            return from("matrix", name, [&](const ColorModel &base, bool near) { return fitOffset(m_patches, base, near); });
        if (name == "root-polynomial")
            return from("matrix", name, [&](const ColorModel &base, bool near) { return root(base, near); });
        if (name == "curves")
            return from("balance", "", [&](const ColorModel &base, bool) { return fitCurves(m_patches, base, curves(base)); });
        if (name == "curves-matrix")
            return from("matrix", name, [&](const ColorModel &base, bool near) { return fitCurvesMatrix(m_patches, base, curves(base), near); });
        if (name == "lut")
            return from("matrix", "", [&](const ColorModel &base, bool) { return withField(base, m_strengths.lut); });
        if (name == "curves-lut")
            return from("curves-matrix", "", [&](const ColorModel &base, bool) { return withField(base, m_strengths.curvesLut); });
        return std::nullopt;
    }

    std::optional<ColorModel> matrix() const
    {
        const auto *start = nearOf("matrix");
        const auto linear = start ? std::optional(joined(start->multipliers, start->exposureScale, start->matrix)) : std::nullopt;
        const auto fitted = fitLinear(m_patches, linear ? &*linear : nullptr);
        return fitted ? splitAtWhite(*fitted) : std::nullopt;
    }

    /// Made from its near model when there is one, else from the model it stands on.
    std::optional<ColorModel> from(const std::string &base, const std::string &self, const std::function<std::optional<ColorModel>(const ColorModel &, bool)> &make)
    {
        if (const auto *start = nearOf(self))
            return make(*start, true);
        const auto &stood = model(base);
        return stood ? make(*stood, false) : std::nullopt;
    }

    std::optional<ColorModel> root(const ColorModel &base, bool near)
    {
        if (!m_strengths.rootRidge)
            m_strengths.rootRidge = chosenRidge(m_patches, base);
        return fitRoot(m_patches, base, *m_strengths.rootRidge, near);
    }

    CurveOptions curves(const ColorModel &base)
    {
        CurveOptions options{m_context.neutrals, m_context.eachChannel, 0};
        if (!m_strengths.stiffness)
            m_strengths.stiffness = chosenStiffness(m_patches, base, options);
        options.stiffness = *m_strengths.stiffness;
        return options;
    }

    std::optional<ColorModel> withField(ColorModel base, std::optional<FieldStrength> &strength)
    {
        if (!strength)
            strength = chosenStrength(m_patches, base);
        base.field = fitField(m_patches, base, *strength);
        return base;
    }

    const ColorModel *nearOf(const std::string &name) const
    {
        const auto at = m_near ? m_near->find(name) : Models::const_iterator();
        return m_near && at != m_near->end() ? &at->second : nullptr;
    }

    const std::vector<FittedPatch> &m_patches;
    const FitContext &m_context;
    Strengths &m_strengths;
    const Models *m_near;
    std::map<std::string, std::optional<ColorModel>> m_done;
};

} // namespace

const std::vector<std::string> &knownModels()
{
    static const std::vector<std::string> models{"balance", "matrix", "matrix-offset", "root-polynomial", "curves", "curves-matrix", "lut", "curves-lut"};
    return models;
}

Result<Done> checkModel(const std::string &model)
{
    if (std::count(knownModels().begin(), knownModels().end(), model))
        return Done{};
    return unusable(fmt::format("unknown model \"{}\"; known: {}", model, fmt::join(knownModels(), ", ")));
}

Models fitModels(const std::vector<std::string> &names, const std::vector<FittedPatch> &patches, const FitContext &context, Strengths &strengths,
                 const Models *near)
{
    Fitting fitting(patches, context, strengths, near);
    Models out;
    for (const auto &name : names)
        if (const auto &model = fitting.model(name))
            out.emplace(name, *model);
    return out;
}

double de2000Of(const FittedPatch &patch, const ColorModel &model)
{
    return de2000(labFromXyz(xyzFromCamera(model, patch.rgb)), labFromXyz(patch.reference));
}

} // namespace wavechroma
