#include "core/tasks/match_task.h"

#include "core/measure/read_chart.h"
#include "core/raw/open_frame.h"
#include "core/tasks/read_task.h"
#include "core/tasks/refusals.h"

namespace wavechroma {

Result<Calibration> fitToPicture(const Reading &reading, const std::filesystem::path &picture,
                                 const std::filesystem::path &kept, FitRequest request,
                                 const Progress &progress)
{
    const auto chart = chartOf(reading);
    const auto frame = chart ? openFrame(picture) : Result<RawFrame>(chart.error());
    if (!frame)
        return frame.error();
    ReadRequest asked;
    asked.definition = *chart;
    const auto other = readFrame(*frame, asked, progress);
    return other ? fitToReading(reading, *other, kept, std::move(request), progress)
                 : Result<Calibration>(other.error());
}

Result<Calibration> fitToReading(const Reading &reading, const Reading &other,
                                 const std::filesystem::path &kept, FitRequest request,
                                 const Progress &progress)
{
    if (!other.found)
        return unusable("{file}: shows no chart of this kind, so that nothing can be matched to it",
                        {{"file", other.image}});
    if (const auto written = saveReading(kept, other); !written)
        return written.error();
    if (const auto spoilt = refusedReference(kept))
        return unusable(*spoilt);
    request.ask.reference = kept.string();
    return fitReading(reading, request, progress);
}

} // namespace wavechroma
