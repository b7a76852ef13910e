#pragma once
#include "core/values/capture_limits.h"
#include "core/values/proof.h"

#include <string>

namespace wavechroma {

/// What is good enough, under one name: a `wavechroma.tolerance/1` file that people edit.
struct ToleranceSheet
{
    std::string name = "ordinary", title = "Ordinary studio work";
    CaptureLimits capture;
    ProofLimits proof;
    double scaleError = 0.01;  ///< relative, of pixels per inch against the intended figure
    double distortion = 0.02;  ///< of the lens, see LensShape
    double chartDays = 30;     ///< a chart that is older than that is doubted as old
    double chartFrames = 1000; ///< product frames after a chart from which on another one is due
    std::string aims =
        {}; ///< of neutrals, see aimsFrom(); those that are not named are to be what their references say
    bool operator==(const ToleranceSheet &) const = default;
};

/// One limit of a sheet, for a table that people edit.
struct NamedLimit
{
    std::string key; ///< "glare"; words::limit() says what it is
    double value = 0;
};

} // namespace wavechroma
