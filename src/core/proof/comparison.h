#pragma once
#include "core/chart/chart_definition.h"
#include "core/values/calibration.h"
#include "core/values/comparison.h"
#include "core/values/reading.h"

#include <functional>
#include <map>

namespace wavechroma {

/// What turns camera RGB, as it was read, into colour.
struct ColourSide
{
    ComparedSide side;
    std::function<Xyz(const CameraRgb &)> colour;
    bool isUpToAGain = false; ///< it says nothing of level: brought to the references', else to the other's
    bool mayHaveSeenAll = false; ///< nothing tells whether it was made from this reading: a profile, a table
    std::map<std::string, Xyz> unseen = {}; ///< patches as its fit without them has them
};

/// How the camera sees surface colours: camera RGB = of (multipliers, scale) and the file's own matrix.
struct CameraView
{
    FileColor fileColor;
    Vector3 multipliers{1, 1, 1};
    double scale = 1;
};

/// What a program that knows nothing of a calibration has from a chart: its neutrals and their level; where
/// their values are not known, the white alone.
[[nodiscard]] CameraView viewOf(const Reading &reading, const ChartDefinition &chart);

/// What two are compared by.
struct ComparedBy
{
    DifferenceMeasure measure = DifferenceMeasure::De2000;
    const Reading *reading = nullptr;
    const ChartDefinition *chart = nullptr; ///< with a reading
    std::vector<std::string> group = {};    ///< patches to look at together; unknown ids are passed over
};

/// Compares over a lattice of surface colours (L* 20 to 90, C*ab 0 to 50, what of these opRGB holds, as the
/// camera's own matrix says that it sees them) and, with a reading, patch by patch. Patches that are clipped
/// or switched off take no part. Where nothing tells whether a side was made from the patches, the two are
/// held against each other as both may have seen them. Means carry intervals, see meanInterval(); the noise
/// is that of the patches' means.
[[nodiscard]] Comparison compared(const ColourSide &a, const ColourSide &b, const CameraView &camera,
                                  const ComparedBy &by = {});

/// The errors of one side alone, by its references on patches that are neither clipped nor switched off;
/// absent where none is known.
[[nodiscard]] std::optional<SideErrors> errorsOn(const ColourSide &side, const Reading &reading,
                                                 const ChartDefinition &chart,
                                                 DifferenceMeasure measure = DifferenceMeasure::De2000);

} // namespace wavechroma
