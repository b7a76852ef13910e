#include "core/color/lab_difference.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

double de76(const Lab &sample, const Lab &reference)
{
    return std::hypot(sample.l - reference.l, sample.a - reference.a, sample.b - reference.b);
}

static double weighted94(const Lab &sample, const Lab &reference, double kL, double k1, double k2)
{
    const auto [dL, dC, dH] = lchDifference(sample, reference);
    const double c = std::hypot(reference.a, reference.b);
    return std::hypot(dL / kL, dC / (1 + k1 * c), dH / (1 + k2 * c));
}

double de94(const Lab &sample, const Lab &reference)
{
    return weighted94(sample, reference, 1, 0.045, 0.015);
}

double de94Textiles(const Lab &sample, const Lab &reference)
{
    return weighted94(sample, reference, 2, 0.048, 0.014);
}

LchDifference lchDifference(const Lab &result, const Lab &reference)
{
    const double c1 = std::hypot(result.a, result.b), c2 = std::hypot(reference.a, reference.b);
    const double da = result.a - reference.a, db = result.b - reference.b, dC = c1 - c2;
    // ΔH² = Δa² + Δb² − ΔC²; the sign is that of the turn from reference to result (CIE 15:2004, eq. 8.24).
    const double dH = std::sqrt(std::max(0.0, da * da + db * db - dC * dC));
    const double turn = reference.a * result.b - reference.b * result.a;
    return {result.l - reference.l, dC, turn < 0 ? -dH : dH};
}

} // namespace wavechroma
