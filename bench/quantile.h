#pragma once
#include <algorithm>
#include <vector>

/// The value below which this share of the values lies; 0 for none.
inline double quantile(std::vector<double> values, double share)
{
    if (values.empty())
        return 0;
    std::sort(values.begin(), values.end());
    return values[size_t(share * double(values.size() - 1))];
}
