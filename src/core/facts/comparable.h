#pragma once
#include "core/job/job.h"
#include "core/proof/comparison.h"

#include <memory>
#include <string>
#include <vector>

namespace wavechroma {

/// A way to colour that can be held against another on a chart frame of the job.
struct Comparable
{
    std::string label;                              ///< of a calibration its own name, with the chart's time
    std::shared_ptr<const Calibration> calibration; ///< null: white balance and the file's own matrix
    RowId frame = 0;                                ///< the chart frame that it was made from; 0: another
};

/// Those of a chart frame: the calibration in use for it first, plain second, then its other parts, then the
/// calibrations of the other charts of its camera and lens, then of other cameras and lenses, and those
/// brought along. Calibrations that cannot be read are left out.
[[nodiscard]] std::vector<Comparable> comparablesOf(const Job &job, RowId chartFrame);

/// Compares two of them on the reading of a chart frame, beside the limits of the sheet in force. Unusable
/// for a frame without a chart of known colours.
[[nodiscard]] Result<Comparison> compareOn(const Job &job, RowId chartFrame, const ColourSide &a,
                                           const ColourSide &b, DifferenceMeasure measure,
                                           const std::vector<std::string> &group = {});
/// The side of one of them on that frame; a file's (profile, table, calibration) by its path.
[[nodiscard]] Result<ColourSide> sideOn(const Job &job, RowId chartFrame, const Comparable &one);
[[nodiscard]] Result<ColourSide> sideOn(const Job &job, RowId chartFrame, const std::string &file);

} // namespace wavechroma
