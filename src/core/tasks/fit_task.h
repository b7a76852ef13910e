#pragma once
#include "core/base/progress.h"
#include "core/fit/calibration.h"
#include "core/fit/hue_sectors.h"
#include "core/fit/recommend.h"
#include "core/values/reading.h"

#include <filesystem>

namespace wavechroma {

[[nodiscard]] Result<Calibration> loadCalibration(const std::filesystem::path &file);
[[nodiscard]] Result<Done> saveCalibration(const std::filesystem::path &file, const Calibration &calibration);
[[nodiscard]] std::string documentOf(const Calibration &calibration);
[[nodiscard]] std::string documentOf(const std::vector<Calibration> &calibrations); ///< an array
/// Each to a file of its own in the folder, which is made, by its name; all or none. Unusable where one of
/// the names is another's, or a file of it is there.
[[nodiscard]] Result<Done> saveApart(const std::filesystem::path &folder,
                                     const std::vector<Calibration> &calibrations);

struct FitRequest
{
    FitAsk ask;                           ///< all that is kept in the calibration
    std::vector<std::string> lights = {}; ///< by name, see lightNamed(), in place of `ask.light`; none; one
                                          ///< for all readings; or one for each
    std::string sha256 = {};              ///< of the frame, when known; empty: computed from the file
    bool preview = false;                 ///< without cross-validation; "auto" is a plain matrix then
    struct Other
    {
        Reading reading;
        std::string sha256 = {}; ///< as above
    };
    std::vector<Other> with = {}; ///< more of the same chart in the same light, merged by their noise (see
                                  ///< mergedReading())
    /// Eight, as the calibration is to have them (see hueSectorsOf()); none: as the exact result has them.
    std::vector<HueSector> sectors = {};
    std::vector<Reading> beside = {}; ///< other charts of the same frame, fitted along as one set of patches
                                      ///< (see chartSet())
};
/// What made a calibration, to make it again. `with` is the caller's to find, by `ask.with`.
[[nodiscard]] FitRequest requestOf(const Calibration &calibration);

/// The crossing asked for, or of those left to the evidence the recommended one. Unusable when stopped.
[[nodiscard]] Result<Calibration> fitReading(const Reading &reading, const FitRequest &request = {},
                                             const Progress &progress = {});
/// Every crossing of colour and tone; an empty list when stopped.
[[nodiscard]] Result<std::vector<Calibration>>
fitPlaneOf(const Reading &reading, const FitRequest &request = {}, const Progress &progress = {});
/// What each of `request.ask.things` did for a calibration that was fitted with them: each left out in turn,
/// and for what it bought the others each pair.
[[nodiscard]] std::vector<ThingJudged> judgedThings(const Calibration &calibration, const Reading &reading,
                                                    const FitRequest &request);
/// Recommends among the calibrations of a plane that have the parts asked for; "auto" allows all. Needs at
/// least one.
[[nodiscard]] Recommendation recommendedAmong(const std::vector<const Calibration *> &plane,
                                              const Parts &asked, const Reading &reading);
/// Readings of one station: charts that stand in one frame are one set (see chartSet()), readings of one
/// light are merged by their noise (see mergedReading()), two or three lights are joined (see
/// joinedLights()). Which belong together is said by as many lights as readings; with fewer, neutrals within
/// 6 % of each other are of one light.
[[nodiscard]] Result<Calibration> fitReadings(const std::vector<Reading> &readings,
                                              const FitRequest &request = {}, const Progress &progress = {});

/// A table as `export --sectors` writes it, edited or not.
[[nodiscard]] Result<std::vector<HueSector>> loadSectors(const std::filesystem::path &file);
/// The lean that gives the calibration those sectors, its other amounts as they are.
[[nodiscard]] Result<ColourLean> leanFromSectors(const Calibration &calibration,
                                                 const std::filesystem::path &file);

/// Favoured patches: see core/fit/weights.h. Unusable for what the chart does not have.
[[nodiscard]] Result<Done> checkWeights(const std::string &weights, const ChartDefinition &chart);

/// Calibrations of one camera and lens under other lights joined to one; each with its reading's neutral.
[[nodiscard]] Result<Calibration> joinLights(const std::vector<Calibration> &calibrations,
                                             const std::vector<Vector3> &neutrals);

} // namespace wavechroma
