#pragma once
#include "core/tasks/demo_task.h"

#include <QString>
#include <QtGlobal>
#include <filesystem>
#include <system_error>

namespace wavechroma::testing {

/// The demo day at a sixth of its size, in a folder of the test's own. A run of all tests makes it once and
/// tells where (see wavechroma_tests in cmake/); a test that is started by hand makes it anew.
inline void layDemoDay(const std::filesystem::path &folder)
{
    const std::filesystem::path made = qEnvironmentVariable("WAVECHROMA_DEMO_DAY").toStdString();
    std::error_code code;
    if (std::filesystem::exists(made / "job.sqlite", code)) {
        std::filesystem::copy(made, folder, std::filesystem::copy_options::recursive);
        return;
    }
    if (const auto done = makeDemo(folder, {6, 1}); !done)
        qFatal("%s", done.error().message.c_str());
}

/// Frames of a demo day that is laid as "day": a chart, the chart a stop brighter, a product of the same
/// setup.
inline const QString kGoodFrame = "day/frames/HR_0414.dng", kBrighterFrame = "day/frames/HR_0415.dng",
                     kProductFrame = "day/frames/HR_0416.dng";

} // namespace wavechroma::testing
