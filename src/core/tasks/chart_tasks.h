#pragma once
#include "core/balance/lights.h"
#include "core/fit/fit.h"
#include "core/fit/recommend.h"
#include "core/formats/tolerance_sheet.h"
#include "core/measure/place_by_hand.h"
#include "core/measure/read_chart.h"
#include "core/proof/proof.h"

#include <filesystem>

/// One function per step of the work, for both front ends: plain options in, value out, so that a number on
/// the screen is the number that the command line prints. Errors name the file and the reason.
namespace wavechroma {

/// A catalogue id or a `wavechroma.chart/1` file.
[[nodiscard]] Result<ChartDefinition> chartNamed(const std::string &idOrFile);

/// The chart of a reading: its own definition, else the catalogue's.
[[nodiscard]] Result<ChartDefinition> chartOf(const Reading &reading);

/// The same with its references replaced from CGATS.17 text, a CSV table or a `wavechroma.chart/1` file; ids
/// are matched by name. A `wavechroma.reading/1` of another camera stands for what that camera made of the
/// patches: a rendered picture as it is, raw samples by white balance alone; a `wavechroma.proof/1` stands
/// for its results. Spectra are integrated under `light` (see lightNamed()), D50 when absent, and adapted to
/// D50.
[[nodiscard]] Result<ChartDefinition> withReferences(const ChartDefinition &chart,
                                                     const std::filesystem::path &file,
                                                     const std::optional<std::string> &light = {});
/// A chart measured patch by patch with the simulated spectrophotometer: what the studio's print of it
/// reflects, with the instrument's own scatter. Unusable for a chart that the studio has no print of.
[[nodiscard]] Result<ChartDefinition> measuredChart(const ChartDefinition &chart, const std::string &date,
                                                    uint64_t seed);
/// The colours of a chart without known ones, as a calibration of the same station sees them in a reading of
/// it.
[[nodiscard]] Result<ChartDefinition> withSeenColours(const ChartDefinition &chart, const Reading &reading,
                                                      const Calibration &calibration);

/// The frame with the falloff of flat frames, at least one, taken out of all that is sampled from it.
/// Unusable when a flat cannot serve it; `warning` says what makes them doubtful.
[[nodiscard]] Result<RawFrame> withFlats(const RawFrame &frame,
                                         const std::vector<std::filesystem::path> &flats,
                                         std::string *warning = nullptr);
/// What there is to say of a flat frame: its falloff and what is left of it afterwards, or why it cannot
/// serve.
struct FlatVerdict
{
    bool serves = false;
    double before = 0, after = 0; ///< falloff, 0…1, of the frame's green field
    std::string words;
};
[[nodiscard]] FlatVerdict verdictOnFlat(const RawFrame &flat);

/// A sheet that ships with the program, or a `wavechroma.tolerance/1` file.
[[nodiscard]] Result<ToleranceSheet> toleranceNamed(const std::string &nameOrFile);

struct ReadRequest
{
    std::optional<std::string> chart;               ///< id or file; absent: `charts` are tried
    std::optional<ChartDefinition> definition = {}; ///< the chart itself, in place of its name
    std::vector<ChartDefinition> charts = {};       ///< empty: the catalogue
    std::optional<Corners> corners;
    double windowShare = 0.5;
    ToleranceSheet sheet; ///< that the checks are held to
};
/// Search or place, sample, and run the capture checks.
[[nodiscard]] Result<Reading> readFrame(const RawFrame &frame, const ReadRequest &request = {},
                                        const Progress &progress = {});
/// The chart of a reading put elsewhere on its frame; checks follow. A preview keeps the last answer on the
/// focus.
[[nodiscard]] Result<Reading> movedReading(const Reading &reading, const RawFrame &frame,
                                           const Corners &corners, double windowShare,
                                           const ToleranceSheet &sheet, bool preview = false);
/// The chart of a reading drawn from rough corners to the printed ones (see measure/place_by_hand.h); where
/// nothing is near, it stays where it was put.
[[nodiscard]] Result<Reading> snappedReading(const Reading &reading, const RawFrame &frame,
                                             const Corners &corners, double windowShare,
                                             const ToleranceSheet &sheet);
/// A chart laid on a frame by three clicks, as a new reading placed by hand.
[[nodiscard]] Result<Reading> readingByThree(const RawFrame &frame, const ChartDefinition &chart,
                                             const std::array<PixelPoint, 3> &three,
                                             const ToleranceSheet &sheet);
/// The placement of a reading carried to another frame of the same size, and found again there within half a
/// patch; where it is not, it stays where it was carried. Switched-off patches and the windows' size come
/// along.
[[nodiscard]] Result<Reading> carriedReading(const Reading &from, const RawFrame &frame,
                                             const ToleranceSheet &sheet);
/// The same reading with other patches switched off (see Reading::leftOut); checks follow. Unknown ids are
/// Unusable.
[[nodiscard]] Result<Reading> readingWithout(const Reading &reading, const RawFrame &frame,
                                             const std::vector<std::string> &leftOut,
                                             const ToleranceSheet &sheet);

/// chartOf() with the references of a file, where one is given.
[[nodiscard]] Result<ChartDefinition> referencesOf(const Reading &reading,
                                                   const std::optional<std::string> &reference);

struct BalanceRequest
{
    std::vector<std::string> patches;          ///< empty: the default neutral
    std::optional<std::array<double, 4>> area; ///< x, y, width, height; needs a frame
};
[[nodiscard]] Result<Balance> balanceReading(const Reading &reading, const BalanceRequest &request);
[[nodiscard]] Result<Balance> balanceFrameArea(const RawFrame &frame, const std::array<double, 4> &area);

/// The whole frame, an even one (a diffuser before the lens, a board that fills it), but for a margin of a
/// twentieth.
[[nodiscard]] Result<Balance> balanceWholeFrame(const RawFrame &frame);
/// What a station knows of lights on its camera: a calibration's matrices where it has several lights; else
/// the raw file's own, made to fit the calibration's light exactly; else what there is. `calibration` may be
/// null.
[[nodiscard]] CameraLights cameraLightsFor(const Calibration *calibration, const FileColor &file);
/// "5000K", "5000K,+0.002": a temperature and its Duv.
[[nodiscard]] Result<Temperature> temperatureFrom(const std::string &text);
/// Multipliers for a light said in kelvin and Duv. Unusable when nothing is known of the camera's answer to
/// lights.
[[nodiscard]] Result<Balance> balanceForLight(const std::string &image, const Temperature &light,
                                              const Calibration *calibration, const FileColor &file);
/// The same balance with its temperature read by the station's own calibration.
[[nodiscard]] Balance readThrough(Balance balance, const Calibration &calibration);
/// Leaned, by the calibration's matrix or the file's own.
[[nodiscard]] Balance withLean(Balance balance, const Lean &lean, const Calibration *calibration,
                               const FileColor &file);

/// A CIE name, a temperature, or a spectrum file (CSV nm,value).
[[nodiscard]] Result<NamedLight> lightNamed(const std::string &text);

struct FitRequest
{
    std::string model = "matrix"; ///< one of knownModels(), or kRecommended
    std::optional<std::string>
        reference;                   ///< a file: values, or another camera's reading or proof to match to
    std::vector<std::string> lights; ///< none: estimated; one for all readings, or one for each
    std::string name;                ///< empty: composed
    std::string setup;               ///< for the composed name
    std::vector<std::string> without;
    std::string sha256;   ///< of the frame, when known; empty: computed from the file
    bool preview = false; ///< without cross-validation, and in passFrom() only `model`
    Character character = Character::Exact;
    std::optional<Appearance> appearance = {}; ///< see FitOptions
    std::optional<NamedLight> told = {};       ///< the light itself, in place of its name in `lights`
    std::string weights = {};                  ///< see weightsFrom(); empty: even
    struct Other
    {
        Reading reading;
        std::string sha256 = {}; ///< as above
    };
    std::vector<Other> with =
        {}; ///< more of the same chart in the same light, merged by their noise (see mergedReading())
};
[[nodiscard]] Result<Calibration> fitReading(const Reading &reading, const FitRequest &request = {});
/// Every model; an empty list when stopped.
[[nodiscard]] Result<std::vector<Calibration>>
fitAllOf(const Reading &reading, const FitRequest &request = {}, const Progress &progress = {});
/// Readings of one station: those of one light are merged by their noise (see mergedReading()), two or three
/// lights are joined (see joinedLights()). Which belong together is said by as many lights as readings; with
/// fewer, neutrals within 6 % of each other are of one light.
[[nodiscard]] Result<Calibration> fitReadings(const std::vector<Reading> &readings,
                                              const FitRequest &request = {});
[[nodiscard]] Result<Proof> proveReading(const Calibration &calibration, const Reading &reading,
                                         const std::optional<std::string> &reference = {});

} // namespace wavechroma
