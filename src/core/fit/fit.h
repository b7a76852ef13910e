#pragma once
#include "core/balance/balance.h"
#include "core/color/illuminant.h"
#include "core/fit/calibration.h"

namespace wavechroma {

struct FitOptions {
    std::string model = "matrix";     ///< one of knownModels()
    std::optional<NamedLight> light;  ///< absent: estimated from the neutral through the raw file's own matrix
    std::vector<std::string> without; ///< patches left out on purpose
    bool crossValidate = true;        ///< false: `crossValidated` stays zero; for previews while a hand moves the chart
};

[[nodiscard]] const std::vector<std::string> &knownModels(); ///< those this version can fit
[[nodiscard]] Result<Done> checkModel(const std::string &model);

/// Reading + references → calibration, with each patch left out in turn for the honest error. Patches that are burnt,
/// sunk in black or unread take no part. Unusable when the model is unknown, the reading has no chart, or fewer than
/// `fewestPatches` are left. `name`, `madeFrom` and `madeWith` are the caller's to fill.
///
/// `balance`: multipliers and scale from the neutral row, weighted to its mid-lights; the matrix is the raw file's own
/// for that light (linear sRGB primaries where the file has none).
/// `matrix`: the general 3×3 A = matrix · diag(multipliers) · scale that has the least mean CIEDE2000. Any A splits
/// uniquely into a matrix that takes (1,1,1) to the D50 white, multipliers with green 1 and a scale, so white is
/// preserved exactly and the multipliers come from all patches.
[[nodiscard]] Result<Calibration> fitCalibration(const Reading &reading, const ChartDefinition &chart,
                                                 const FitOptions &options = {});

inline constexpr int kFewestPatches = 6;

} // namespace wavechroma
