#pragma once
#include <algorithm>
#include <span>
#include <vector>

namespace wavechroma {

/// The value that half of them lie below: of an even count the upper of the middle two; 0 of none.
template <class T> [[nodiscard]] T medianIn(std::span<T> values) ///< puts them in another order
{
    if (values.empty())
        return {};
    const auto middle = values.begin() + ptrdiff_t(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}
[[nodiscard]] double medianOf(std::vector<double> values);

} // namespace wavechroma
