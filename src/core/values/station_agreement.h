#pragma once
#include "core/color/colors.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A patch, or a thing of one name, as several stations of a job have it.
struct AgreedThing
{
    std::string id;
    std::map<std::string, Lab> lab; ///< by the name of the station, two at least
    double spreadPlain = 0; ///< mean ΔE2000 over pairs, by each file's own matrix and a white balance alone
    double spread = 0;      ///< by what serves
    bool operator==(const AgreedThing &) const = default;
};

struct MeanSpread
{
    double plain = 0, now = 0;
    bool operator==(const MeanSpread &) const = default;
};

/// The two stations that disagree most on one thing.
struct WorstPair
{
    std::string id, first, second;
    double de00 = 0;
    bool isObject = false;
    /// What would mend it: "shoot-again" at `at`, a station whose chart is in doubt; "doubted-frame", `at` is
    /// a frame of the thing that its calibration may not hold for; or "draw-together".
    std::string mend, at;
    bool operator==(const WorstPair &) const = default;
};

/// Stations drawn together: mean ΔE2000 of what was left out.
struct DrawnFigures
{
    struct Figure
    {
        double before = 0, after = 0;
        bool operator==(const Figure &) const = default;
    };
    std::map<std::string, Figure> stations; ///< to their own references
    Figure spread, objects;                 ///< over pairs of stations; of shared things alone
    double weight = 0;                      ///< of agreement against truth; 0: nothing was to be gained
    std::string leader;                     ///< station that the others came to; empty: none
    /// What the pair that disagrees most on a thing would still be apart there if agreement were all: cameras
    /// and lights see it differently.
    double worstStays = 0;
    bool operator==(const DrawnFigures &) const = default;
};

/// Does the same thing get the same colour at each station of a job?
struct StationAgreement
{
    std::vector<std::string> stations; ///< names, in the job's order
    std::vector<AgreedThing> patches, objects;
    MeanSpread patchesMean, objectsMean;
    std::optional<WorstPair> worst;
    std::optional<DrawnFigures> drawn;
    bool operator==(const StationAgreement &) const = default;
};

} // namespace wavechroma
