#pragma once
#include "core/fit/fit_field.h"
#include "core/fit/fit_matrix.h"

#include <map>

namespace wavechroma {

/// What a fit needs to know beside its patches.
struct FitContext
{
    std::vector<std::string> neutrals; ///< ids
    FileColor fileColor;
    bool eachChannel = false; ///< tone curves, see CurveOptions
};

/// How stiff the parts beyond a matrix are. Chosen once on all patches, and kept when some are left out.
struct Strengths
{
    std::optional<double> stiffness;
    std::optional<FieldStrength> lut, curvesLut;
};

[[nodiscard]] const std::vector<std::string> &knownModels(); ///< from the simplest to the richest
[[nodiscard]] Result<Done> checkModel(const std::string &model);

using Models = std::map<std::string, ColorModel>;
/// The named models of the patches; those that the patches do not fix are absent. Missing strengths are
/// chosen and put into `strengths`. `near`: the same models of nearly the same patches, to start from.
[[nodiscard]] Models fitModels(const std::vector<std::string> &names, const std::vector<FittedPatch> &patches,
                               const FitContext &context, Strengths &strengths, const Models *near = nullptr);

[[nodiscard]] double de2000Of(const FittedPatch &patch, const ColorModel &model);

} // namespace wavechroma
