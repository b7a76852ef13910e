#pragma once
#include "core/capture/compare_frames.h"
#include "core/capture/frame_levels.h"
#include "core/formats/tolerance_sheet.h"
#include "core/raw/raw_frame.h"
#include "core/values/flat_verdict.h"
#include "core/values/reading.h"

#include <filesystem>

/// One header per step of the work, for both front ends: plain options in, value out, so that a number on the
/// screen is the number that the command line prints. Errors name the file and the reason.
namespace wavechroma {

[[nodiscard]] Result<Reading> loadReading(const std::filesystem::path &file);
/// A reading; or of a bracket's array the one to use, and why (its index is that of the array); or all charts
/// of one frame. Unusable where the readings of several frames are not of one camera, lens and chart, or no
/// chart was found in any.
struct ReadingToUse
{
    Reading reading;
    std::optional<BracketChoice> choice; ///< nothing: there was one frame
    std::vector<Reading> beside;         ///< further charts of the same frame
};
[[nodiscard]] Result<ReadingToUse> loadReadingToUse(const std::filesystem::path &file);
[[nodiscard]] Result<Done> saveReading(const std::filesystem::path &file, const Reading &reading);
[[nodiscard]] std::string documentOf(const Reading &reading);
[[nodiscard]] std::string documentOf(const std::vector<Reading> &readings); ///< an array

/// A sheet that ships with the program, or a `wavechroma.tolerance/1` file.
[[nodiscard]] Result<ToleranceSheet> toleranceNamed(const std::string &nameOrFile);
[[nodiscard]] Result<Done> saveTolerance(const std::filesystem::path &file, const ToleranceSheet &sheet);

struct ReadRequest
{
    std::optional<std::string> chart;               ///< id or file; absent: `charts` are tried
    std::optional<ChartDefinition> definition = {}; ///< the chart itself, in place of its name
    std::vector<ChartDefinition> charts = {};       ///< empty: the catalogue
    std::vector<ChartDefinition> layouts =
        {}; ///< without values: found by their pattern, where none of these is
    std::optional<Corners> corners;
    double windowShare = 0.5;
    ToleranceSheet sheet; ///< that the checks are held to
};
/// Search or place, sample, and run the capture checks.
[[nodiscard]] Result<Reading> readFrame(const RawFrame &frame, const ReadRequest &request = {},
                                        const Progress &progress = {});
/// Returns the reading with other patches switched off (see Reading::leftOut); checks follow. Unknown ids
/// are Unusable.
[[nodiscard]] Result<Reading> readingWithout(const Reading &reading, const RawFrame &frame,
                                             const std::vector<std::string> &leftOut,
                                             const ToleranceSheet &sheet);

/// The frame with the falloff of flat frames, at least one, taken out of all that is sampled from it.
/// Unusable when a flat cannot serve it; `warning` says what makes them doubtful.
[[nodiscard]] Result<RawFrame> withFlats(const RawFrame &frame,
                                         const std::vector<std::filesystem::path> &flats,
                                         words::Phrase *warning = nullptr);
[[nodiscard]] FlatVerdict verdictOnFlat(const RawFrame &flat);

/// The capture checks of a reading that was placed anew. `withEdges`: see captureEvidence().
void judge(Reading &reading, const RawFrame &frame, const ChartDefinition &chart, const ToleranceSheet &sheet,
           bool withEdges = true);

} // namespace wavechroma
