// Whatever `inspect` may be asked about, profiles of monitors, and a profile put back into what it came from.
#include "bench/fuzz/memory_file.h"
#include "core/formats/camera_profile.h"
#include "core/formats/dng_embed.h"
#include "core/formats/inspect.h"
#include "core/render/screen.h"

using namespace wavechroma;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    const Bytes bytes(data, data + size);
    const MemoryFile file(data, size);
    (void)inspectFile(file.path());
    (void)Screen::from(file.path());
    if (const auto profile = cameraProfileFrom(bytes, "profile"))
        (void)withProfile(bytes, *profile, {0.5, 1, 0.6}, "frame");
    return 0;
}
