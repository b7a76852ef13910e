#include "core/formats/agreement.h"

#include "core/base/filled.h"

#include <algorithm>
#include <numeric>

namespace wavechroma {

Agreement agreementOf(std::vector<double> errors)
{
    if (errors.empty())
        return {};
    std::sort(errors.begin(), errors.end());
    return {std::accumulate(errors.begin(), errors.end(), 0.0) / double(errors.size()),
            errors[size_t(double(errors.size() - 1) * 0.98)], errors.back()};
}

std::string textOf(const Agreement &agreement)
{
    return words::filled("its table is within ΔE {mean:2} of the calibration on average, {p98:2} for 98 %, "
                         "{worst:2} at worst",
                         {{"mean", agreement.mean}, {"p98", agreement.p98}, {"worst", agreement.worst}},
                         words::plain());
}

} // namespace wavechroma
