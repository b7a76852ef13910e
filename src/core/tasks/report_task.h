#pragma once
#include "core/base/progress.h"
#include "core/report/record_report.h"
#include "core/tasks/record_task.h"

#include <filesystem>
#include <optional>

namespace wavechroma {

struct ReportRequest
{
    RecordRequest record;
    Paper paper = Paper::A4;
    std::vector<std::filesystem::path> files; ///< each PDF or HTML, by its name's end
    std::filesystem::path recordFile = {};    ///< takes the record; empty: none
};

/// The evidence of a job as pages, with the record beside them: all files or none, in folders that are made.
/// Pictures are small views of the frames by what serves them; those that cannot be read are left out and
/// named. Unusable for another end of a name than .pdf, .html and .htm, and as recordOf() is.
[[nodiscard]] Result<JobRecord> makeReport(const PictureSource &source, const ReportRequest &request,
                                           const Progress &progress = {});

} // namespace wavechroma
