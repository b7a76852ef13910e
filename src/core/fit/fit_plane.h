#pragma once
#include "core/base/progress.h"
#include "core/fit/parts.h"

#include <map>

/// The plane of crossings of colour and tone, fitted together: parts share what they stand on.
namespace wavechroma {

/// How stiff the parts of a crossing are. Chosen once on all patches, and kept when some are left out.
struct Stiffness
{
    Strength colour, tone;
};
using Strengths = std::map<Parts, Stiffness>;

using Models = std::map<Parts, ColorModel>;
/// The models of these crossings; those that the patches do not fix are absent. Missing strengths are chosen
/// and put into `strengths`. `near`: the same crossings of nearly the same patches, to start from. Stopped:
/// what was ready by then.
[[nodiscard]] Models fitModels(const std::vector<Parts> &wanted, const std::vector<FittedPatch> &patches,
                               const FitContext &context, Strengths &strengths, const Models *near = nullptr,
                               const Progress &progress = {});

[[nodiscard]] double de2000Of(const FittedPatch &patch, const ColorModel &model);

} // namespace wavechroma
