// Frame files: raw, TIFF, PNG, JPEG and their metadata. What is opened has finite light, wherever it is
// looked at.
#include "bench/fuzz/memory_file.h"
#include "core/capture/frame_levels.h"
#include "core/raw/file_extent.h"
#include "core/raw/raw_frame.h"

#include <cmath>

using namespace wavechroma;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    const MemoryFile file(data, size);
    (void)extentOf(file.path());
    const auto frame = openFrame(file.path());
    if (!frame || double(frame->width) * frame->height > 4e6)
        return 0;
    for (const float light : overviewOf(*frame, 8).rgb)
        mustHold(std::isfinite(light));
    (void)frameLevels(*frame);
    return 0;
}
