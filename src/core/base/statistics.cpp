#include "core/base/statistics.h"

namespace wavechroma {

double medianOf(std::vector<double> values)
{
    return medianIn<double>(values);
}

} // namespace wavechroma
