#pragma once
#include "core/base/progress.h"
#include "core/fit/color_model.h"
#include "core/values/fitted_patch.h"

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace wavechroma {

/// A station as it takes part in drawing together: its chart's patches as its camera saw them.
struct DrawnStation
{
    std::vector<FittedPatch> patches;
    /// Its own model, fitted without the patches of these ids (none: to all); nothing where it cannot be.
    std::function<std::optional<ColorModel>(const std::set<std::string> &without)> fit;
    bool isLeader = false; ///< its own model stays as it is, and the others come to it
};

/// A thing that several stations saw, whose colour need not be known: camera RGB at the level of each chart.
struct SharedThing
{
    std::string id;
    std::vector<std::optional<CameraRgb>> rgb; ///< by station
};

/// A station's mean ΔE2000 to its references, of patches left out: fitted by itself, and drawn together.
struct GivenUp
{
    double before = 0, after = 0;
};

/// One weight of the others' say, as cross-validation has it.
struct DrawnStep
{
    double weight = 0; ///< of agreement against truth
    double spread = 0; ///< mean ΔE2000 over pairs of stations, of patches and things left out
    double most = 0;   ///< largest share that a station's error grew by
};

struct DrawnTogether
{
    std::vector<ColorModel> models; ///< by station
    std::vector<GivenUp> stations;
    double before = 0, after = 0;             ///< spread, of what was left out
    double thingsBefore = 0, thingsAfter = 0; ///< of the things alone; 0 without any
    double weight = 0;            ///< chosen; 0: nothing was to be gained, the models are the stations' own
    std::vector<DrawnStep> curve; ///< all weights that were tried
    /// As near to each other on what they share as these parts can be, whatever truth it costs: what is left
    /// apart there, cameras and lights see differently (metamerism), and no calibration of these parts mends.
    std::vector<ColorModel> nearest;
};

/// Draws the models of several stations together: all at once, each near its own references and all near each
/// other, on patches of one id and on shared things (JointFit). To each model a correction is added that is
/// linear in its numbers: a matrix that keeps the white, and the numbers of its square roots where it has
/// some. Of
///   mean |ΔE to the references| + weight · (mean |ΔE between two| + t · mean |ΔE of things to their middle|)
///   + a ridge, with t = n² / (n² + 16²) for n things
/// and ΔE2000 taken as a quadratic form about each colour (and lengths below 0.3 by their squares), a
/// problem with one minimum, five reweighted linear systems come close to it. The weight is the one of the
/// least spread, of what was left out in turn (twelve folds of patches and things, left out at all stations
/// and of the stations' own fits too), by which no station's own unseen error grows by more than the share
/// `give`. A lean, tone curves and the part `field` stay as they are. Two stations at least; unusable where
/// one has no model. Stopped: unusable.
[[nodiscard]] Result<DrawnTogether> drawTogether(const std::vector<DrawnStation> &stations,
                                                 const std::vector<SharedThing> &things, double give,
                                                 const Progress &progress = {});

} // namespace wavechroma
