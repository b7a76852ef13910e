#pragma once
#include <cmath>

namespace wavechroma {

/// f(t) of CIE 15:2004 eq. 8.7–8.8. A template so that a solver can differentiate through it.
template <class T> T labFunction(const T &t)
{
    using std::cbrt;
    using std::pow;
    constexpr double kLimit = 216.0 / 24389.0; // (6/29)³
    if (t > T(kLimit)) {
        if constexpr (std::is_same_v<T, double>)
            return cbrt(t);
        else
            return pow(t, 1.0 / 3.0);
    }
    return t * T(841.0 / 108.0) + T(4.0 / 29.0);
}

} // namespace wavechroma
