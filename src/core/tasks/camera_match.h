#pragma once
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
#include "core/values/reading.h"

#include <filesystem>

/// One camera fitted to another: the reference is what the other made of the same patches.
namespace wavechroma {

/// Is the reading of a rendered picture: one that says what its samples' primaries are, or, of a document
/// that says nothing of the file's colours, one with a picture's extension?
[[nodiscard]] bool isRendered(const Reading &reading);
/// Is the file a `wavechroma.reading/1` or a `wavechroma.proof/1`?
[[nodiscard]] bool isCameraReference(const std::filesystem::path &file);

/// The chart with what the other camera made of its patches as references; those it has not, or clipped, are
/// dropped. `text` is one of the two documents. The chart's own colours need not be known.
[[nodiscard]] Result<ChartDefinition> withCameraReferences(const ChartDefinition &chart,
                                                           const std::string &text, const std::string &name);

/// Returns where the reference asks for more than this camera's reading holds: patches it clipped that the
/// reference still tells apart, and shadows that the reference spreads while the reading has only noise
/// there.
[[nodiscard]] std::vector<FitWarning> warningsOfMatch(const Reading &reading,
                                                      const ChartDefinition &reference);

} // namespace wavechroma
