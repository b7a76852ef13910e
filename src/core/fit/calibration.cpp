#include "core/fit/calibration.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

ErrorSummary summaryOf(std::vector<double> values)
{
    if (values.empty())
        return {};
    std::sort(values.begin(), values.end());
    const auto quantile = [&](double share) {
        const double at = share * double(values.size() - 1);
        const auto below = size_t(std::floor(at));
        const auto above = std::min(below + 1, values.size() - 1);
        return values[below] + (at - double(below)) * (values[above] - values[below]);
    };
    double sum = 0;
    for (const double v : values)
        sum += v;
    return {sum / double(values.size()), quantile(0.5), quantile(0.95), values.back()};
}

BalancedRgb balancedFrom(const Calibration &calibration, const CameraRgb &rgb)
{
    const auto &m = calibration.multipliers;
    const double s = calibration.exposureScale;
    return {rgb.r * m[0] * s, rgb.g * m[1] * s, rgb.b * m[2] * s};
}

Xyz xyzFromCamera(const Calibration &calibration, const CameraRgb &rgb)
{
    return xyzOf(calibration.matrix * vectorOf(balancedFrom(calibration, rgb)));
}

} // namespace wavechroma
