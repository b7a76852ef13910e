#include "core/fit/fit_model.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit_balance.h"
#include "core/fit/fit_curves.h"
#include "core/fit/fit_offset.h"
#include "core/fit/fit_root.h"

#include <algorithm>
#include <fmt/format.h>
#include <functional>

namespace wavechroma {

namespace {

std::vector<FittedPatch> neutralsOf(const std::vector<FittedPatch> &patches,
                                    const std::vector<std::string> &ids)
{
    std::vector<FittedPatch> neutrals;
    for (const auto &patch : patches)
        if (std::count(ids.begin(), ids.end(), patch.id))
            neutrals.push_back(patch);
    return neutrals;
}

/// What draws the roots' part towards none, all patches together. Twenty-four patches cannot choose it:
/// leaving some out judges the hull's corners, not the colours between. Measured on unseen surfaces
/// (wavechroma-bench-models): a tenth of it to three times it are within 3 %, a weaker one follows glare and
/// noise, a stronger one is a matrix again.
constexpr double kRootPrior = 24;

/// Models share what they stand on: the matrix is fitted once for all that begin with it.
class Fitting
{
public:
    Fitting(const std::vector<FittedPatch> &patches, const FitContext &context, Strengths &strengths,
            const Models *near)
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
            return from("matrix", name,
                        [&](const ColorModel &base, bool near) { return fitOffset(m_patches, base, near); });
        if (name == "root-polynomial")
            return from("matrix", name, [&](const ColorModel &base, bool near) {
                return fitRoot(m_patches, base, kRootPrior / double(m_patches.size()), near);
            });
        if (name == "curves")
            return from("balance", "", [&](const ColorModel &base, bool) {
                return fitCurves(m_patches, base, curves(base));
            });
        if (name == "curves-matrix")
            return from("matrix", name, [&](const ColorModel &base, bool near) {
                return fitCurvesMatrix(m_patches, base, curves(base), near);
            });
        if (name == "lut")
            return from("matrix", "",
                        [&](const ColorModel &base, bool) { return withField(base, m_strengths.lut); });
        if (name == "curves-lut")
            return from("curves-matrix", "",
                        [&](const ColorModel &base, bool) { return withField(base, m_strengths.curvesLut); });
        return std::nullopt;
    }

    std::optional<ColorModel> matrix() const
    {
        const auto *start = nearOf("matrix");
        const auto linear =
            start ? std::optional(joined(start->multipliers, start->exposureScale, start->matrix))
                  : std::nullopt;
        const auto fitted = fitLinear(m_patches, linear ? &*linear : nullptr);
        return fitted ? splitAtWhite(*fitted) : std::nullopt;
    }

    /// Made from its near model when there is one, else from the model it stands on.
    std::optional<ColorModel>
    from(const std::string &base, const std::string &self,
         const std::function<std::optional<ColorModel>(const ColorModel &, bool)> &make)
    {
        if (const auto *start = nearOf(self))
            return make(*start, true);
        const auto &stood = model(base);
        return stood ? make(*stood, false) : std::nullopt;
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
    static const std::vector<std::string> models{
        "balance", "matrix",        "matrix-offset", "root-polynomial",
        "curves",  "curves-matrix", "lut",           "curves-lut"};
    return models;
}

Result<Done> checkModel(const std::string &model)
{
    if (std::count(knownModels().begin(), knownModels().end(), model))
        return Done{};
    return unusable(fmt::format("unknown model \"{}\"; known: {}", model, fmt::join(knownModels(), ", ")));
}

Models fitModels(const std::vector<std::string> &names, const std::vector<FittedPatch> &patches,
                 const FitContext &context, Strengths &strengths, const Models *near)
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
