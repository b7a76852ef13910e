#pragma once
#include <cstddef>
#include <memory>

namespace wavechroma {

namespace raw {
class ReaderPool;
}

/// What a process that decodes a frame file may use. Memory: `bytes` and `bytesPerByte` for each byte of the
/// file (a plain picture packs some thousand times), at most `mostBytes`. Processor time, of all its threads:
/// `seconds` and `secondsPerMegabyte`.
struct ReaderLimits
{
    size_t bytes = size_t(768) << 20, bytesPerByte = 4000, mostBytes = size_t(4) << 30;
    double seconds = 8, secondsPerMegabyte = 1; // a small file is answered within ten
    /// Limit by the clock, since a reader that waits uses no processor time: so many seconds, plus so many
    /// for each second of processor time.
    double waitingSeconds = 20, waitingPerSecond = 4;
};

/// As long as one lives, openFrame() and what else decodes frame files do that in processes of their own, one
/// for each file: what a file does to the libraries that read it happens there, and is over with it. A reader
/// holds the opened file, two files in memory for what it finds, and a socket; limits are hard; where the
/// system filters calls (seccomp(2)) it can open, connect, start, signal and wait for nothing, and name no
/// path, process or limit. It is ended before its answer is looked at, so that nothing of it changes
/// afterwards. Two that die over a file, or one that uses more than it may, or is silent for too long, are an
/// answer: Unusable, with the file's name and why.
///
/// Make it first in main(), before any thread: the process that makes the others is forked then, while there
/// is little to copy. Where the system gives no process, frames are decoded in this one; but once readers
/// have been there, a file that none can be had for is refused. All end with this process, however it ends.
/// At most one at a time.
class FrameReaders
{
public:
    explicit FrameReaders(const ReaderLimits &limits = {});
    ~FrameReaders(); ///< ends them all
    FrameReaders(const FrameReaders &) = delete;
    FrameReaders &operator=(const FrameReaders &) = delete;

private:
    std::unique_ptr<raw::ReaderPool> m_pool;
};

} // namespace wavechroma
