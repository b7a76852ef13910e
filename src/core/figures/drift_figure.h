#pragma once
#include "core/figures/figure.h"

namespace wavechroma {

/// One later look at a chart, for a control chart.
struct DriftPoint
{
    std::string at; ///< ISO 8601
    double mean = 0, stops = 0, mired = 0;
    bool passes = true;
};

/// Limits of a control chart from the scatter of its own points: mean ± 2.66 mean moving range (Shewhart's
/// individuals chart, ISO 7870-2). Nothing with fewer than four points.
struct ControlLimits
{
    double low = 0, middle = 0, high = 0;
};
[[nodiscard]] std::optional<ControlLimits> controlLimits(const std::vector<double> &values);

/// Mean ΔE, level and white point of a station's charts in the order of their time, each a strip with its own
/// limits as a band where there are enough points, and with the sheet's limit of the mean as a line. Points
/// that fail are full, the others open.
[[nodiscard]] Figure controlChart(const std::vector<DriftPoint> &points, double limit, double width,
                                  double height);

} // namespace wavechroma
