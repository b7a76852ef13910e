#pragma once
#include "core/balance/balance.h"
#include "core/base/progress.h"
#include "core/color/illuminant.h"
#include "core/fit/fit_model.h"

namespace wavechroma {

struct FitOptions
{
    std::string model = "matrix"; ///< one of knownModels()
    std::optional<NamedLight> light =
        {}; ///< absent: estimated from the neutral through the raw file's own matrix
    std::vector<std::string> without = {}; ///< patches left out on purpose
    bool crossValidate =
        true; ///< false: `crossValidated` and `figures` stay empty; for previews while a hand moves the chart
    std::map<std::string, double> weights = {}; ///< by patch id, above 0; 1 where absent
    Character character = Character::Exact;
    std::optional<Appearance> appearance =
        {};                        ///< absent: under the light where spectra and light are known, else D50
    bool curvesPerChannel = false; ///< see CurveOptions::eachChannel
    bool settle = true;            ///< false: the reading is taken as it is
    bool flare =
        true; ///< false: settled, but a veil is left in: it cannot be told from a reference's own tone
};

/// Reading + references → calibration, with each patch judged by a fit without it for the honest error (of
/// more than 48 patches a twenty-fourth is left out at a time). Patches that are burnt, sunk in black or
/// unread take no part. Unusable when the model is unknown, the reading has no chart, or fewer than
/// `fewestPatches` are left. `name`, `madeFrom` and `madeWith` are the caller's to fill.
///
/// `balance`: multipliers and scale from the neutral row, weighted to its mid-lights; the matrix is the raw
/// file's own for that light (linear sRGB primaries where the file has none). `matrix`: the general 3×3 A =
/// matrix · diag(multipliers) · scale that has the least mean CIEDE2000. Any A splits uniquely into a matrix
/// that takes (1,1,1) to the D50 white, multipliers with green 1 and a scale, so white is preserved exactly
/// and the multipliers come from all patches. `matrix-offset`, `root-polynomial`, `curves`, `curves-matrix`,
/// `lut`, `curves-lut`: fit_offset.h, fit_root.h, fit_curves.h, fit_field.h.
[[nodiscard]] Result<Calibration> fitCalibration(const Reading &reading, const ChartDefinition &chart,
                                                 const FitOptions &options = {});

/// All known models at once, in their order; those that the patches do not fix are absent. `options.model` is
/// not looked at. Stopped: an empty list.
[[nodiscard]] Result<std::vector<Calibration>> fitAllModels(const Reading &reading,
                                                            const ChartDefinition &chart,
                                                            const FitOptions &options = {},
                                                            const Progress &progress = {});

/// The chart with references as the light showed them: from its patches' spectra, the light's white taken to
/// D50 by Bradford. Patches without a spectrum keep theirs.
[[nodiscard]] ChartDefinition chartUnderLight(const ChartDefinition &chart, const Spectrum &light);

inline constexpr int kFewestPatches = 6;

} // namespace wavechroma
