#pragma once
#include "core/balance/balance.h"
#include "core/base/progress.h"
#include "core/color/illuminant.h"
#include "core/fit/calibration.h"
#include "core/fit/chart_set.h"
#include "core/fit/fit_plane.h"

namespace wavechroma {

struct FitOptions
{
    Parts parts = plainParts();           ///< not "auto"; see recommend.h
    std::optional<NamedLight> light = {}; ///< absent: estimated from the neutral through the raw file's own
                                          ///< matrix
    /// Camera RGB of white under the light, where `light` is absent and the references' own greys are tinted,
    /// as another camera's are; absent: what the fit makes neutral.
    std::optional<Vector3> neutral = {};
    std::vector<std::string> without = {}; ///< patches left out on purpose
    bool crossValidate = true; ///< false: `crossValidated` and `figures` stay empty; for previews while a
                               ///< hand moves the chart
    std::map<std::string, double> weights = {}; ///< by patch id, above 0; 1 where absent
    ColourLean lean = {};
    std::optional<Appearance> appearance =
        {};                   ///< absent: under the light where spectra and light are known, else D50
    bool eachChannel = false; ///< see FitContext
    std::map<std::string, SetPlace> places = {}; ///< of patches by id, where several charts are one set;
                                                 ///< none: as their chart has them
    bool settle = true;                          ///< false: the reading is taken as it is
    bool flare = true; ///< false: settled, but a veil is left in: it cannot be told from a reference's own
                       ///< tone
};

/// Reading + references → calibration, with each patch judged by a fit without it for the honest error (of
/// more than 48 patches a twenty-fourth is left out at a time). Patches that are clipped, sunk in black or
/// unread take no part. Unusable when a part is unknown, the reading has no chart, or fewer than
/// `fewestPatches` are left. `name`, `asked`, `madeFrom` and `madeWith` are the caller's to fill. What each
/// part does is said in its own header, see parts.cpp.
[[nodiscard]] Result<Calibration> fitCalibration(const Reading &reading, const ChartDefinition &chart,
                                                 const FitOptions &options = {},
                                                 const Progress &progress = {});

/// All crossings of colour and tone at once, in their order; those that the patches do not fix are absent.
/// `options.parts` is not looked at. Stopped: an empty list.
[[nodiscard]] Result<std::vector<Calibration>> fitPlane(const Reading &reading, const ChartDefinition &chart,
                                                        const FitOptions &options = {},
                                                        const Progress &progress = {});

/// The chart with references as the light showed them: from its patches' spectra, the light's white taken to
/// D50 by Bradford. Patches without a spectrum keep theirs.
[[nodiscard]] ChartDefinition chartUnderLight(const ChartDefinition &chart, const Spectrum &light);
/// The chart with the references that a calibration's colours mean, see Appearance.
[[nodiscard]] ChartDefinition chartAsMeant(const Calibration &calibration, const ChartDefinition &chart);

/// The calibration that a neutral alone gives: a preset, an area, a temperature. Its colours are by the
/// file's own matrix for that neutral (camera RGB), its level is as the camera gave it. Unusable where the
/// file has no matrix.
[[nodiscard]] Result<Calibration> calibrationOfNeutral(const CameraFacts &camera, const FileColor &color,
                                                       const Vector3 &neutral);

inline constexpr int kFewestPatches = 6;
/// Does the chart say what white is and nothing of colours: a grey card, a cube, a strip, an even field? Then
/// a reading of it gives a balance, with the file's own matrix, and one patch is enough.
[[nodiscard]] bool saysWhiteAlone(const ChartDefinition &chart);

} // namespace wavechroma
