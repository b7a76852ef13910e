#pragma once
#include "core/formats/comparison_document.h"
#include "core/proof/comparison.h"
#include "core/tasks/colour_sides.h"
#include "core/values/profile_settings.h"
#include "core/values/tolerance_sheet.h"

#include <filesystem>
#include <optional>
#include <string>

namespace wavechroma {

struct CompareRequest
{
    std::string a, b;               ///< files, or kPlainSide
    std::optional<Reading> reading; ///< needed unless both are calibrations
    std::string reference;          ///< file of values; empty: the chart's own
    DifferenceMeasure measure = DifferenceMeasure::De2000;
    std::vector<std::string> group;      ///< patches to look at together
    std::optional<ToleranceSheet> sheet; ///< whose limits in the measure are held against the errors
    std::optional<CameraCoding> coding;  ///< that an ICC profile or a table of a raw camera takes
    bool isForced = false;               ///< also of another camera or lens
};

/// Reads both and compares them, see compared(). A side is told by its content: a calibration, a DNG camera
/// profile, an ICC profile or a .cube. Unusable, naming the file, for anything else, without a reading where
/// one is needed, and for calibrations of another camera or lens than the reading's or the other's.
[[nodiscard]] Result<Comparison> compareFiles(const CompareRequest &request);

/// A side of a file for a chart's reading, as compareFiles() takes it; kPlainSide too.
[[nodiscard]] Result<ColourSide> sideOfFile(const std::string &file, const Reading &reading,
                                            const ChartDefinition &chart);

} // namespace wavechroma
