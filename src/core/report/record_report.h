#pragma once
#include "core/report/report.h"
#include "core/values/record.h"

#include <map>
#include <string>

namespace wavechroma {

/// Pictures that a report shows, where there are any.
struct RecordPictures
{
    std::map<std::string, ReportPicture> charts, setups; ///< by station
    std::map<std::string, ReportPicture> objects;        ///< by the frame's kept path
};

/// The evidence of a record as a report: a page for the client, a part for each station, agreement, and what
/// was delivered. Nothing in it that the record does not hold. `recordHash`: of the record's document.
[[nodiscard]] Report reportOf(const JobRecord &record, const RecordPictures &pictures, Paper paper,
                              const std::string &recordHash);

} // namespace wavechroma
