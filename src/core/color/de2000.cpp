#include "core/color/de2000.h"

namespace wavechroma {

double de2000(const Lab &sample, const Lab &reference)
{
    const auto [l, c, h] =
        de2000Components<double>({sample.l, sample.a, sample.b}, {reference.l, reference.a, reference.b});
    return std::sqrt(l * l + c * c + h * h);
}

} // namespace wavechroma
