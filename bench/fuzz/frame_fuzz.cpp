// Frame files: raw, TIFF, PNG, JPEG and their metadata. What is opened has finite light, wherever it is
// looked at.
#include "bench/fuzz/sound_frame.h"
#include "core/capture/frame_levels.h"
#include "core/raw/file_extent.h"
#include "core/raw/open_frame.h"

using namespace wavechroma;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    const MemoryFile file(data, size);
    (void)extentOf(file.path());
    const auto frame = openFrame(file.path());
    if (!frame)
        return 0;
    mustBeSound(*frame, 8);
    if (double(frame->width) * frame->height < 4e6)
        (void)frameLevels(*frame);
    return 0;
}
