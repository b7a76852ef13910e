#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/formats/agreement_document.h"
#include "core/tasks/picture_source.h"
#include "core/values/calibration.h"
#include "core/values/station_agreement.h"

#include <filesystem>

namespace wavechroma {

struct AgreeRequest
{
    std::filesystem::path job;
    bool drawTogether = false;
    double give = 0.03;             ///< share of its own mean error that a station may give up, 0…1
    bool apply = false;             ///< the drawn calibrations serve the stations' product frames
    std::filesystem::path out = {}; ///< folder that takes one calibration a station; empty: none
    std::string leader =
        {}; ///< station whose own calibration the others come to, the house standard; empty: none
};

struct Agreed
{
    StationAgreement agreement;
    std::vector<Calibration> drawn;  ///< in the stations' order; none where nothing was drawn or gained
    std::vector<std::string> unread; ///< files of frames that could not be opened; their things are not in it
};

/// The stations of a job that have a chart with a calibration, side by side: patches of the chart that most
/// of them shot, and the job's probes of one name on product frames of several (the honest witnesses: no fit
/// has seen them). Means of a station's frames stand for it. Drawing together is drawTogether(), over the
/// parts in use. Unusable with fewer than two such stations, and for a `give` outside 0…1.
[[nodiscard]] Result<Agreed> agreementOf(const AgreeRequest &request, const Progress &progress = {});
/// The same of a job that is open, which it does not change: `request.job` names it in messages,
/// `request.apply` is the caller's to do, by drawnChange().
[[nodiscard]] Result<Agreed> agreementOf(const PictureSource &source, const AgreeRequest &request,
                                         const Progress &progress = {});
/// Product frames of the stations served by calibrations that were drawn together.
[[nodiscard]] JobChange drawnChange(JobState state, const Stations &stations, const Agreed &agreed);

} // namespace wavechroma
