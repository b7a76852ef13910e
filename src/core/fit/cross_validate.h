#pragma once
#include "core/base/progress.h"
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
#include "core/fit/fit_plane.h"

namespace wavechroma {

/// How a model does on what it has not seen, and how much of it is the reading's noise.
struct Honesty
{
    ErrorSummary crossValidated;
    std::map<std::string, Xyz> unseen; ///< each patch, by its id, as the model made without it has it
    double sensitivity =
        0; ///< mean ΔE2000 over the patches, of eight fits to readings with their own noise added once more
};

/// Each patch judged by the models made without it: one is left out at a time, of more than 48 patches a
/// twenty-fourth of them. The neutrals count as one patch, by their mean. The strengths stay as they are. By
/// crossing; stopped: empty.
[[nodiscard]] std::map<Parts, Honesty> crossValidate(const Models &models,
                                                     const std::vector<FittedPatch> &patches,
                                                     const FitContext &context, const Strengths &strengths,
                                                     const ColourLean &lean, const Progress &progress);

/// `plain` is the matrix fitted to the same patches.
[[nodiscard]] ModelFigures figuresOf(const Calibration &calibration, const ColorModel &plain,
                                     const ChartDefinition &chart, double sensitivity);

} // namespace wavechroma
