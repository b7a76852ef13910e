#include "core/tasks/prove_task.h"

#include "core/tasks/reference_task.h"

namespace wavechroma {

Result<Proof> proveReading(const Calibration &calibration, const Reading &reading,
                           const std::string &reference)
{
    const auto chart = referencesOf(reading, reference);
    return chart ? prove(calibration, reading, *chart) : Result<Proof>(chart.error());
}

} // namespace wavechroma
