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

double lightRangeOf(const TakenOut &t)
{
    double least = 0, most = 0; // log gain over the chart
    for (int i = -4; i <= 4; ++i)
        for (int j = -4; j <= 4; ++j) {
            const double u = i / 4.0, v = j / 4.0;
            const double g =
                t.gain[0] * u + t.gain[1] * v + t.gain[2] * u * u + t.gain[3] * u * v + t.gain[4] * v * v;
            least = i == -4 && j == -4 ? g : std::min(least, g);
            most = i == -4 && j == -4 ? g : std::max(most, g);
        }
    return 1 - std::exp(least - most);
}

} // namespace wavechroma
