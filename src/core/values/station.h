#pragma once
#include "core/base/capture_clock.h"
#include "core/values/job_rows.h"
#include "core/values/light_change.h"
#include "core/values/proof.h"

#include <algorithm>
#include <optional>

/// What a job says of its stations: values, made by stations.h.
namespace wavechroma {

/// What a station, or one chart frame, answers.
struct Answer
{
    enum class State { None, Good, LookAgain, ShootAgain } state = State::None;
    enum class Why {
        NotAsked,     ///< no chart yet; `waiting` product frames wait for one
        WithinLimits, ///< of the sheet in force
        OverLimits,
        Stopped,       ///< a check said `stop`: `stop`
        NoCalibration, ///< too few patches can be used
        LightMoved,    ///< since the chart before: `change`, `since`
        WhiteAlone,    ///< a grey without colours answers: its white balance, and the file's own matrix
    } why = Why::NotAsked;
    RowId frame = 0;   ///< the chart frame it comes from
    double mean = 0;   ///< ΔE2000 of patches that were left out of the fit in turn; never of the fit itself
    double worst = 0;  ///< of the chart's patches
    std::string patch; ///< the worst one
    std::optional<HeldErrors> over = {}; ///< of a measure beside ΔE2000, where the sheet's limits in it fail
    std::optional<Check> stop = {};
    std::optional<Check> warning = {}; ///< of those that warn, the one that explains most: see mainCheck()
    std::optional<LightChange> change = {};
    std::string since; ///< when the chart before was shot
    int waiting = 0;
    int bestOf = 0; ///< frames of the bracket that it was chosen from; 0: none
    bool operator==(const Answer &) const = default;
};

/// Chart frames shot one after the other at different settings: one of them is the one to use.
struct Bracket
{
    std::vector<RowId> frames; ///< in time order
    RowId chosen = 0;
    BracketChoice choice;
    bool operator==(const Bracket &) const = default;
};

/// Why a calibration may not hold for a frame.
struct Doubt
{
    std::string code; ///< of the contract: "no-chart", "chart-after", "other-iso", "other-aperture",
                      ///< "light-moved", "other-light", "auto-balance", "other-day", "old", "poor-chart",
                      ///< "lamp-unknown"
    double frame = 0, chart = 0; ///< with other-iso, other-aperture: theirs; with other-day, old: days in
                                 ///< chart; with other-light: mired in frame, positive to warmer light, and
                                 ///< in chart the frame's own kelvin by it, 0 where not known
    std::string at = {};         ///< with chart-after, light-moved: when that chart was shot
    std::optional<LightChange> change = {}; ///< with light-moved, other-light
    bool operator==(const Doubt &) const = default;
};

/// What the light did between two pictures of a set, see lightChange() and miredOf() of set_look.h.
struct SetDrift
{
    LightChange change;
    double mired = 0; ///< positive to warmer light
    bool operator==(const SetDrift &) const = default;
};

/// What speaks for a frame: a chart of its station that was not set aside (of a bracket the chosen one), else
/// a grey, else a chart that its checks refused, else an even field (a disc, a flat). Of several those of the
/// frame's ISO, or of the nearest; of these the last one before the frame, else the first after it.
struct Serving
{
    RowId chart = 0;       ///< 0: none
    RowId calibration = 0; ///< one brought along, which is used in place of the chart's own; 0: none
    enum class From { Station, Neutral, Match, Joined, Hand } from = From::Station;
    [[nodiscard]] bool isServed() const { return chart != 0 || calibration != 0; }
    std::vector<Doubt> doubts = {};
    /// What the light did since that chart by what stands still in both pictures, worth a word or not;
    /// nothing where the pictures do not tell.
    std::optional<SetDrift> drift = {};
    /// Does a grey speak, which says white and nothing of colours?
    [[nodiscard]] bool isByGrey() const
    {
        return std::any_of(doubts.begin(), doubts.end(), [](const Doubt &d) { return d.code == "no-chart"; });
    }
    enum class Without { Chart, ChartOfThisPair } without = Without::Chart; ///< where there is none
    bool operator==(const Serving &) const = default;
};

/// One lighting setup with one camera–lens pair. Where a body hides two modules whose lens has no name, their
/// sizes tell them apart.
struct Station
{
    CaptureClock clock; ///< that puts its frames in order
    RowId setup = 0;
    std::string name;          ///< unique in the job: setup, camera, lens
    CameraFacts camera;        ///< of its first frame
    std::vector<RowId> frames; ///< in time order
    std::vector<Bracket> brackets;
    std::vector<RowId> speaking; ///< charts and greys that speak for it, in time order
    std::vector<RowId> greys;    ///< of these, those that say white and nothing of colours
    std::vector<RowId> refused;  ///< charts that their checks refused, though something was fitted to them
    RowId newestChart = 0;       ///< not set aside, if any is not; 0: none
    bool isNewestSetAside = false;
    /// What the light did from each of these to the next, where that is worth a word.
    std::vector<std::optional<LightChange>> changes;
    /// What its charts show, where the setup's kind of lamp does not say.
    ShownTime shownTime;
    Answer answer;
    bool operator==(const Station &) const = default;
};

} // namespace wavechroma
