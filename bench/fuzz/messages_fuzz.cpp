// What a reader process says, which a hostile file may have taken over: a frame whose samples lie where there
// are some, and whose light is finite; or nothing. Byte 0 of an input: are samples beside it? The rest:
// facts. First `--seeds FRAME… FOLDER`: writes what readers say of these frames.
#include "bench/fuzz/sound_frame.h"
#include "core/raw/frame_message.h"
#include "core/raw/reader_calls.h"

#include <cstring>
#include <fstream>

using namespace wavechroma;

namespace {

constexpr size_t kFileBytes = 16 << 20, kSamples = kFileBytes / 2; // more than the seeds' frames have

std::shared_ptr<const raw::MappedFile> mapped(const std::filesystem::path &path)
{
    const auto file = raw::MappedFile::open(path);
    mustHold(bool(file));
    return *file;
}

int writeSeeds(int count, char **paths)
{
    const std::filesystem::path folder = paths[count - 1];
    for (int i = 0; i + 1 < count; ++i) {
        const auto file = mapped(paths[i]);
        const auto message = raw::messageOf(raw::openHere(file, "frame", "srgb"), file->bytes());
        std::ofstream out(folder / ("message" + std::to_string(i)), std::ios::binary);
        out.put(message.samples.empty() ? '\0' : '\1');
        out.write(reinterpret_cast<const char *>(message.facts.data()),
                  std::streamsize(message.facts.size()));
    }
    return 0;
}

} // namespace

extern "C" int LLVMFuzzerInitialize(int *count, char ***arguments)
{
    if (*count > 3 && std::strcmp((*arguments)[1], "--seeds") == 0)
        std::exit(writeSeeds(*count - 2, *arguments + 2));
    return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    static const std::vector<uint8_t> zeros(kFileBytes);
    static const MemoryFile memory(zeros.data(), zeros.size());
    static const auto file = mapped(memory.path());
    static const Samples samples(kSamples);
    if (size == 0)
        return 0;
    const raw::FrameMessage message{{data + 1, data + size}, data[0] & 1 ? samples : Samples()};
    const auto frame = raw::frameOf(message, file);
    if (!frame || !*frame)
        return 0;
    if (double((*frame)->width) * (*frame)->height < 1e5) // for speed
        mustBeSound(**frame, 16);
    return 0;
}
