// The caller's side: readers that wait for frames, and what comes back.
#include "core/raw/reader_process.h"

#include "core/raw/frame_message.h"
#include "core/raw/reader_calls.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <mutex>
#include <poll.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

namespace wavechroma {

namespace {

std::mutex mutex; // of what follows
ReaderLimits limits;
pid_t maker = -1;
int makerSocket = -1;

bool isStarted = false; ///< readers read what is opened, and nothing is decoded here

struct Reader
{
    int socket = -1; ///< −1: none
    int handle = -1; ///< the process (pidfd), once it said that it is there
};
std::vector<Reader> waiting; ///< readers that are ready, or on their way
int filesRead = 0;

/// Memory of samples that went, the last ones; see Samples::keepFiles().
struct Spare
{
    int file = -1;
    size_t bytes = 0;
};
constexpr size_t kMostSpares = 2, kLeastSpare = 4 << 20, kMostSpare = size_t(1) << 30; ///< bytes
std::mutex sparesMutex;
std::vector<Spare> spares;

void keepSpare(int file, size_t bytes)
{
    const std::lock_guard lock(sparesMutex);
    if (bytes < kLeastSpare || bytes > kMostSpare) {
        close(file);
        return;
    }
    spares.push_back({file, bytes});
    if (spares.size() > kMostSpares) {
        close(spares.front().file);
        spares.erase(spares.begin());
    }
}

Spare takeSpare()
{
    const std::lock_guard lock(sparesMutex);
    if (spares.empty())
        return {};
    const auto last = spares.back();
    spares.pop_back();
    return last;
}

/// One that is on its way; none where there is none to be had.
Reader newReader()
{
    int ends[2] = {-1, -1};
    if (makerSocket < 0 || socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, ends) != 0)
        return {};
    const uint8_t one = 1;
    const bool isAsked = raw::send(makerSocket, {&one, 1}, {ends[1]});
    close(ends[1]);
    if (isAsked)
        return {ends[0], -1};
    close(ends[0]);
    return {};
}

/// Ends the process and waits until it is gone: whatever it shares with this one stays as it is from then on.
void end(const Reader &reader)
{
    if (reader.handle >= 0) {
        (void)syscall(SYS_pidfd_send_signal, reader.handle, SIGKILL, nullptr, 0);
        pollfd gone{reader.handle, POLLIN, 0};
        while (poll(&gone, 1, -1) < 0 && errno == EINTR) {
        }
        close(reader.handle);
    }
    if (reader.socket >= 0)
        close(reader.socket);
}

/// One for a file. Each reads one, so that what a file does to its reader is over with it.
Reader takeReader()
{
    constexpr int kTries = 3; // one may have been ended from outside while it waited
    constexpr double kMostSeconds = 20;
    for (int i = 0; i < kTries; ++i) {
        Reader reader;
        {
            const std::lock_guard lock(mutex);
            reader = waiting.empty() ? newReader() : waiting.back();
            if (!waiting.empty())
                waiting.pop_back();
        }
        if (reader.socket < 0)
            return reader;
        const auto hello = raw::receive(reader.socket, kMostSeconds);
        reader.handle = hello ? hello->files[0] : -1;
        if (reader.handle >= 0)
            return reader;
        end(reader);
    }
    return {};
}

/// The next one gets ready while the last one's frame is looked at, where there has been a second file: most
/// calls of the command line read one.
void makeNextReady()
{
    const std::lock_guard lock(mutex);
    if (++filesRead < 2 || !waiting.empty() || makerSocket < 0)
        return;
    if (const auto next = newReader(); next.socket >= 0)
        waiting.push_back(next);
}

raw::ReaderCall callFor(raw::ReaderStep step, const std::string &name, const std::string &assume,
                        size_t fileSize)
{
    const double memory = double(limits.bytes) + double(limits.bytesPerByte) * double(fileSize);
    raw::ReaderCall call;
    call.step = step;
    call.nameSize = uint32_t(name.size());
    call.assumeSize = uint32_t(assume.size());
    call.memory = fileSize + uint64_t(std::min(memory, double(limits.mostBytes)));
    call.seconds = uint32_t(std::ceil(limits.seconds + limits.secondsPerMegabyte * double(fileSize) / 1e6));
    return call;
}

/// Files in memory that a reader fills.
struct Filled
{
    Filled() : facts(Samples::newFile()), samples(takeSpare())
    {
        if (samples.file < 0)
            samples = {Samples::newFile(), 0};
    }
    ~Filled()
    {
        for (const int file : {facts, samples.file})
            if (file >= 0)
                close(file);
    }
    Filled(const Filled &) = delete;
    Filled &operator=(const Filled &) = delete;
    int facts;
    Spare samples;
};

bool ask(int socket, raw::ReaderCall call, const std::string &name, const std::string &assume, int file,
         const Filled &to)
{
    call.spare = to.samples.bytes;
    std::vector<uint8_t> bytes(sizeof call);
    std::memcpy(bytes.data(), &call, sizeof call);
    bytes.insert(bytes.end(), name.begin(), name.end());
    bytes.insert(bytes.end(), assume.begin(), assume.end());
    return raw::send(socket, bytes, {file, to.facts, to.samples.file});
}

Error stopped(const std::string &name, const char *why)
{
    return unusable("{file}: could not be read: {why}", {{"file", name}, {"why", words::Phrase{why}}});
}

/// The facts that a reader wrote; nothing where they are more than any frame has, or are not there.
std::optional<std::vector<uint8_t>> factsIn(const raw::ReaderAnswer &answer, int file)
{
    if (answer.factsSize > raw::kMostFacts)
        return std::nullopt;
    std::vector<uint8_t> out(answer.factsSize);
    if (pread(file, out.data(), out.size(), 0) != ssize_t(out.size()))
        return std::nullopt;
    return out;
}

/// What a reader's answer holds, once it is gone; nothing where it is none.
std::optional<Result<RawFrame>> frameIn(const raw::ReaderAnswer &answer, const Filled &filled,
                                        const std::shared_ptr<const raw::MappedFile> &file)
{
    const auto facts = factsIn(answer, filled.facts);
    const bool isSealed = fcntl(filled.samples.file, F_ADD_SEALS, F_SEAL_SHRINK) == 0;
    const auto samples = answer.samples > 0 ? Samples::of(filled.samples.file, answer.samples)
                                            : std::optional<Samples>(Samples());
    if (!facts || !samples || !isSealed)
        return std::nullopt;
    return raw::frameOf({*facts, *samples}, file);
}

Result<RawFrame> answered(const raw::Message &message, const Filled &filled,
                          const std::shared_ptr<const raw::MappedFile> &file, const std::string &name)
{
    raw::ReaderAnswer answer;
    if (message.bytes.size() == sizeof answer)
        std::memcpy(&answer, message.bytes.data(), sizeof answer);
    for (const int open : message.files)
        if (open >= 0)
            close(open);
    if (answer.kind == raw::ReaderAnswer::Kind::TooLong)
        return stopped(name, "it took longer than a file of its size is allowed");
    if (answer.kind == raw::ReaderAnswer::Kind::Frame)
        if (const auto frame = frameIn(answer, filled, file))
            return *frame;
    return stopped(name, "its contents crashed the reader");
}

} // namespace

std::optional<Result<RawFrame>> raw::readElsewhere(ReaderStep step,
                                                   const std::shared_ptr<const MappedFile> &file,
                                                   const std::string &name, const std::string &assume)
{
    if (!isStarted)
        return std::nullopt;
    const auto call = callFor(step, name, assume, file->bytes().size());
    if (sizeof call + name.size() + assume.size() > kMostMessage)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(ENAMETOOLONG)}});
    const double deadline = limits.waitingSeconds + limits.waitingPerSecond * call.seconds;
    constexpr int kMostDeaths = 2; // one alone may have come from outside
    for (int deaths = 0; deaths < kMostDeaths; ++deaths) {
        const Filled filled;
        if (filled.facts < 0 || filled.samples.file < 0)
            return unusable("{file}: could not be read: {why}",
                            {{"file", name}, {"why", std::strerror(errno)}});
        errno = 0; // what is said of it below is of this
        const auto reader = takeReader();
        if (reader.socket < 0) // nothing is decoded here: that is what files of this kind want
            return unusable("{file}: could not be read: no reader process could be started ({why}). Start "
                            "the program again",
                            {{"file", name}, {"why", errno ? std::strerror(errno) : "it was ended"}});
        const auto start = std::chrono::steady_clock::now();
        const bool isAsked = ask(reader.socket, call, name, assume, file->descriptor(), filled);
        const auto message = isAsked ? receive(reader.socket, deadline) : std::nullopt;
        const double taken = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        end(reader);
        makeNextReady();
        if (message)
            return answered(*message, filled, file, name);
        if (isAsked && taken >= deadline)
            return stopped(name, "it took longer than a file of its size is allowed");
    }
    return stopped(name, "its contents crashed the reader");
}

FrameReaders::FrameReaders(const ReaderLimits &asked)
{
    int ends[2] = {-1, -1};
    if (socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, ends) != 0)
        return;
    const pid_t pid = fork();
    if (pid == 0) {
        close(ends[0]);
        raw::makeReaders(ends[1]);
    }
    close(ends[1]);
    if (pid < 0) {
        close(ends[0]);
        return;
    }
    const std::lock_guard lock(mutex);
    limits = asked;
    maker = pid;
    makerSocket = ends[0];
    isStarted = true;
    filesRead = 0;
    Samples::keepFiles(keepSpare);
    if (const auto first = newReader(); first.socket >= 0) // is ready by the time that it is asked for
        waiting.push_back(first);
}

FrameReaders::~FrameReaders()
{
    const std::lock_guard lock(mutex);
    for (const auto &reader : waiting)
        close(reader.socket);
    waiting.clear();
    Samples::keepFiles(nullptr);
    for (auto spare = takeSpare(); spare.file >= 0; spare = takeSpare())
        close(spare.file);
    isStarted = false;
    if (makerSocket < 0)
        return;
    close(makerSocket); // at which it ends by itself, and its readers with it, whatever they are at
    makerSocket = -1;
    constexpr int kMostWait = 100; // ms
    pollfd gone{int(syscall(SYS_pidfd_open, maker, 0)), POLLIN, 0};
    if (gone.fd < 0 || poll(&gone, 1, kMostWait) != 1)
        kill(maker, SIGKILL);
    if (gone.fd >= 0)
        close(gone.fd);
    while (waitpid(maker, nullptr, 0) < 0 && errno == EINTR) {
    }
    maker = -1;
}

} // namespace wavechroma
