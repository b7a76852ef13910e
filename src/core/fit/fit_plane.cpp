#include "core/fit/fit_plane.h"

#include "core/color/de2000.h"
#include "core/color/lab.h"

namespace wavechroma {

namespace {

/// Crossings share what they stand on: the matrix is fitted once for all that begin with it.
class Fitting
{
public:
    Fitting(const std::vector<FittedPatch> &patches, const FitContext &context, Strengths &strengths,
            const Models *near)
        : m_patches(patches), m_context(context), m_strengths(strengths), m_near(near)
    {
    }

    const std::optional<ColorModel> &model(const Parts &parts)
    {
        const auto known = m_done.find(parts);
        return known != m_done.end() ? known->second : m_done.emplace(parts, made(parts)).first->second;
    }

private:
    std::optional<ColorModel> made(const Parts &parts)
    {
        const auto *colour = colourPart(parts.colour);
        const auto *tone = tonePart(parts.tone);
        if (!colour || !tone)
            return std::nullopt;
        auto &stiffness = m_strengths[parts];
        const auto *near = colour->startsNear ? nearOf(parts) : nullptr;
        const PartFit fit{m_patches, m_context, stiffness.colour, near};
        if (colour->standsOn) {
            if (near)
                return colour->fit(fit, *near);
            const auto &base = model({colour->standsOn, parts.tone});
            return base ? colour->fit(fit, *base) : std::nullopt;
        }
        if (!tone->fit)
            return colour->fit(fit, {});
        const PartFit toneFit{m_patches, m_context, stiffness.tone, near};
        if (near)
            return tone->fit(toneFit, *near, colour->freeMatrix);
        const auto &base = model({parts.colour, toneParts().front().name});
        return base ? tone->fit(toneFit, *base, colour->freeMatrix) : std::nullopt;
    }

    const ColorModel *nearOf(const Parts &parts) const
    {
        if (!m_near)
            return nullptr;
        const auto at = m_near->find(parts);
        return at == m_near->end() ? nullptr : &at->second;
    }

    const std::vector<FittedPatch> &m_patches;
    const FitContext &m_context;
    Strengths &m_strengths;
    const Models *m_near;
    std::map<Parts, std::optional<ColorModel>> m_done;
};

} // namespace

Models fitModels(const std::vector<Parts> &wanted, const std::vector<FittedPatch> &patches,
                 const FitContext &context, Strengths &strengths, const Models *near,
                 const Progress &progress)
{
    Fitting fitting(patches, context, strengths, near);
    Models out;
    for (const auto &parts : wanted) {
        if (progress.stopped())
            break;
        if (const auto &model = fitting.model(parts))
            out.emplace(parts, *model);
    }
    return out;
}

double de2000Of(const FittedPatch &patch, const ColorModel &model)
{
    return de2000(labFromXyz(xyzFromCamera(model, patch.rgb)), labFromXyz(patch.reference));
}

} // namespace wavechroma
