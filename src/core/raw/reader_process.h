#pragma once
#include <cstddef>

namespace wavechroma {

/// What a process that decodes a frame file may use. Memory: `bytes` and `bytesPerByte` for each byte of the
/// file (a plain picture packs some thousand times), at most `mostBytes`. Processor time, of all its threads:
/// `seconds` and `secondsPerMegabyte`.
struct ReaderLimits
{
    size_t bytes = size_t(768) << 20, bytesPerByte = 4000, mostBytes = size_t(4) << 30;
    double seconds = 8, secondsPerMegabyte = 1; // a small file is answered within ten
};

/// As long as one lives, openFrame() and what else decodes frame files do that in processes of their own:
/// what a file does to the libraries that read it happens there. They hold the opened file and memory for its
/// samples, and nothing else: where the system filters calls (seccomp(2)) they can open, connect and start
/// nothing. Two that die over a file, or one that uses more than it may, are an answer: Unusable, with the
/// file's name and why. They are kept between frames; one that refused its file is not used again.
///
/// Make it first in main(), before any thread: the process that makes the others is forked then, while there
/// is little to copy. Where the system gives no process, frames are decoded in this one. At most one at a
/// time.
class FrameReaders
{
public:
    explicit FrameReaders(const ReaderLimits &limits = {});
    ~FrameReaders(); ///< ends them all and waits for them
    FrameReaders(const FrameReaders &) = delete;
    FrameReaders &operator=(const FrameReaders &) = delete;
};

} // namespace wavechroma
