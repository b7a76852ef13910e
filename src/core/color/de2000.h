#pragma once
#include "core/color/colors.h"

#include <array>
#include <cmath>
#include <numbers>

namespace wavechroma {

/// CIEDE2000 difference of two Lab colours, kL = kC = kH = 1. Unitless, ≥ 0, symmetric; never fails.
/// A hue without chroma counts as 0. Source: Sharma, Wu, Dalal 2005, Color Res. Appl. 30(1), eqs. 2–22;
/// variable names are the paper's.
[[nodiscard]] double de2000(const Lab &sample, const Lab &reference);

/// Returns the same difference as three numbers whose squares sum to ΔE²: with l, c, h the weighted terms of
/// eq. 22 and R_T its rotation, l² + c² + h² + R_T c h = l² + (c + R_T h/2)² + (1 − R_T²/4) h². |R_T| < 2,
/// so the root is real. Least-squares solvers want this form; a template so that they can differentiate
/// through it.
template <class T>
std::array<T, 3> de2000Components(const std::array<T, 3> &sample, const std::array<T, 3> &reference)
{
    using std::abs;
    using std::atan2;
    using std::cos;
    using std::exp;
    using std::sin;
    using std::sqrt;
    // Far below the 1e-4 the paper prints; keeps the derivative of the roots finite at zero chroma.
    const double kTiny = 1e-20;
    const double pi = std::numbers::pi;
    const double degree = pi / 180;
    const auto power7 = [](const T &v) { return v * v * v * v * v * v * v; };
    const double k25to7 = 6103515625.0;

    const T c1 = sqrt(sample[1] * sample[1] + sample[2] * sample[2] + kTiny);
    const T c2 = sqrt(reference[1] * reference[1] + reference[2] * reference[2] + kTiny);
    const T cBar7 = power7((c1 + c2) * 0.5);
    const T g = (1.0 - sqrt(cBar7 / (cBar7 + k25to7) + kTiny)) * 0.5; // eq. 4
    const T a1 = (1.0 + g) * sample[1], a2 = (1.0 + g) * reference[1];
    const T c1Prime = sqrt(a1 * a1 + sample[2] * sample[2] + kTiny);
    const T c2Prime = sqrt(a2 * a2 + reference[2] * reference[2] + kTiny);
    const auto hue = [&](const T &b, const T &a) {
        T h = (a == T(0) && b == T(0)) ? T(0) : atan2(b, a);
        if (h < T(0))
            h += 2 * pi;
        return h;
    };
    const T h1 = hue(sample[2], a1), h2 = hue(reference[2], a2); // eq. 7, in radians
    const bool colourless = c1Prime * c2Prime < T(1e-9);

    const T dL = sample[0] - reference[0];
    const T dC = c1Prime - c2Prime;
    T dh = h1 - h2; // eq. 10
    if (colourless)
        dh = T(0);
    else if (dh > T(pi))
        dh -= 2 * pi;
    else if (dh < T(-pi))
        dh += 2 * pi;
    const T dH = 2.0 * sqrt(c1Prime * c2Prime) * sin(dh * 0.5); // eq. 11

    const T lBar = (sample[0] + reference[0]) * 0.5;
    const T cBar = (c1Prime + c2Prime) * 0.5;
    T hBar = h1 + h2; // eq. 14
    if (!colourless) {
        if (abs(h1 - h2) > T(pi))
            hBar += hBar < T(2 * pi) ? 2 * pi : -2 * pi;
        hBar *= T(0.5);
    }
    const T t = 1.0 - 0.17 * cos(hBar - 30 * degree) + 0.24 * cos(2.0 * hBar) +
                0.32 * cos(3.0 * hBar + 6 * degree) - 0.20 * cos(4.0 * hBar - 63 * degree);
    const T hOff = (hBar / degree - 275.0) / 25.0;
    const T dTheta = 30 * degree * exp(-hOff * hOff);
    const T cPrimeBar7 = power7(cBar);
    const T rC = 2.0 * sqrt(cPrimeBar7 / (cPrimeBar7 + k25to7) + kTiny);
    const T lOff2 = (lBar - 50.0) * (lBar - 50.0);
    const T sL = 1.0 + 0.015 * lOff2 / sqrt(20.0 + lOff2);
    const T sC = 1.0 + 0.045 * cBar;
    const T sH = 1.0 + 0.015 * cBar * t;
    const T rT = -sin(2.0 * dTheta) * rC;

    const T l = dL / sL, c = dC / sC, h = dH / sH;
    return {l, c + rT * h * 0.5, sqrt(1.0 - rT * rT * 0.25) * h};
}

} // namespace wavechroma
