// The caller's side: readers that wait for frames, and what comes back.
#include "core/raw/reader_pool.h"

#include "core/raw/frame_message.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

namespace wavechroma::raw {

/// Files in memory that a reader fills.
struct ReaderPool::Filled
{
    explicit Filled(SpareFiles &spares) : facts(Samples::newFile()), samples(spares.take())
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
    SpareFiles::Spare samples;
};

namespace {

Error stopped(const std::string &name, const char *why)
{
    return unusable("{file}: could not be read: {why}", {{"file", name}, {"why", words::Phrase{why}}});
}

/// The facts that a reader wrote; nothing where they are more than any frame has, or are not there.
std::optional<std::vector<uint8_t>> factsIn(const ReaderAnswer &answer, int file)
{
    if (answer.factsSize > kMostFacts)
        return std::nullopt;
    std::vector<uint8_t> out(answer.factsSize);
    if (pread(file, out.data(), out.size(), 0) != ssize_t(out.size()))
        return std::nullopt;
    return out;
}

bool ask(int socket, ReaderCall call, const std::string &name, const std::string &assume, int file, int facts,
         const SpareFiles::Spare &samples)
{
    call.spare = samples.bytes;
    std::vector<uint8_t> bytes(sizeof call);
    std::memcpy(bytes.data(), &call, sizeof call);
    bytes.insert(bytes.end(), name.begin(), name.end());
    bytes.insert(bytes.end(), assume.begin(), assume.end());
    return send(socket, bytes, {file, facts, samples.file});
}

} // namespace

ReaderPool::ReaderPool(const ReaderLimits &limits) : m_limits(limits)
{
    int ends[2] = {-1, -1};
    if (socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, ends) != 0)
        return;
    const pid_t pid = fork();
    if (pid == 0) {
        close(ends[0]);
        makeReaders(ends[1]);
    }
    close(ends[1]);
    if (pid < 0) {
        close(ends[0]);
        return;
    }
    m_maker = pid;
    m_makerSocket = ends[0];
    if (const auto first = newReader(); first.socket >= 0) // is ready by the time that it is asked for
        m_waiting.push_back(first);
}

ReaderPool::~ReaderPool()
{
    for (const auto &reader : m_waiting)
        close(reader.socket);
    if (!isThere())
        return;
    close(m_makerSocket); // at which it ends by itself, and its readers with it, whatever they are at
    constexpr int kMostWait = 100; // ms
    pollfd gone{int(syscall(SYS_pidfd_open, m_maker, 0)), POLLIN, 0};
    if (gone.fd < 0 || poll(&gone, 1, kMostWait) != 1)
        kill(m_maker, SIGKILL);
    if (gone.fd >= 0)
        close(gone.fd);
    while (waitpid(m_maker, nullptr, 0) < 0 && errno == EINTR) {
    }
}

/// One that is on its way; none where there is none to be had.
ReaderPool::Reader ReaderPool::newReader() const
{
    int ends[2] = {-1, -1};
    if (socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, ends) != 0)
        return {};
    const uint8_t one = 1;
    const bool isAsked = send(m_makerSocket, {&one, 1}, {ends[1]});
    close(ends[1]);
    if (isAsked)
        return {ends[0], -1};
    close(ends[0]);
    return {};
}

/// Ends the process and waits until it is gone: whatever it shares with this one stays as it is from then on.
void ReaderPool::end(const Reader &reader)
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
ReaderPool::Reader ReaderPool::takeReader()
{
    constexpr int kTries = 3; // one may have been ended from outside while it waited
    constexpr double kMostSeconds = 20;
    for (int i = 0; i < kTries; ++i) {
        Reader reader;
        {
            const std::lock_guard lock(m_mutex);
            reader = m_waiting.empty() ? newReader() : m_waiting.back();
            if (!m_waiting.empty())
                m_waiting.pop_back();
        }
        if (reader.socket < 0)
            return reader;
        const auto hello = receive(reader.socket, kMostSeconds);
        reader.handle = hello ? hello->files[0] : -1;
        if (reader.handle >= 0)
            return reader;
        end(reader);
    }
    return {};
}

/// The next one gets ready while the last one's frame is looked at, where there has been a second file: most
/// calls of the command line read one.
void ReaderPool::makeNextReady()
{
    const std::lock_guard lock(m_mutex);
    if (++m_filesRead < 2 || !m_waiting.empty())
        return;
    if (const auto next = newReader(); next.socket >= 0)
        m_waiting.push_back(next);
}

ReaderCall ReaderPool::callFor(ReaderStep step, const std::string &name, const std::string &assume,
                               size_t fileSize) const
{
    const double memory = double(m_limits.bytes) + double(m_limits.bytesPerByte) * double(fileSize);
    ReaderCall call;
    call.step = step;
    call.nameSize = uint32_t(name.size());
    call.assumeSize = uint32_t(assume.size());
    call.memory = fileSize + uint64_t(std::min(memory, double(m_limits.mostBytes)));
    call.seconds =
        uint32_t(std::ceil(m_limits.seconds + m_limits.secondsPerMegabyte * double(fileSize) / 1e6));
    return call;
}

/// What a reader's answer holds, once it is gone; nothing where it is none.
std::optional<Result<RawFrame>> ReaderPool::frameIn(const ReaderAnswer &answer, const Filled &filled,
                                                    const std::shared_ptr<const MappedFile> &file) const
{
    const auto facts = factsIn(answer, filled.facts);
    const bool isSealed = fcntl(filled.samples.file, F_ADD_SEALS, F_SEAL_SHRINK) == 0;
    const auto samples = answer.samples > 0 ? Samples::of(filled.samples.file, answer.samples, m_spares)
                                            : std::optional<Samples>(Samples());
    if (!facts || !samples || !isSealed)
        return std::nullopt;
    return frameOf({*facts, *samples}, file);
}

Result<RawFrame> ReaderPool::answered(const Message &message, const Filled &filled,
                                      const std::shared_ptr<const MappedFile> &file,
                                      const std::string &name) const
{
    ReaderAnswer answer;
    if (message.bytes.size() == sizeof answer)
        std::memcpy(&answer, message.bytes.data(), sizeof answer);
    for (const int open : message.files)
        if (open >= 0)
            close(open);
    if (answer.kind == ReaderAnswer::Kind::TooLong)
        return stopped(name, "it took longer than a file of its size is allowed");
    if (answer.kind == ReaderAnswer::Kind::Frame)
        if (const auto frame = frameIn(answer, filled, file))
            return *frame;
    return stopped(name, "its contents crashed the reader");
}

Result<RawFrame> ReaderPool::read(ReaderStep step, const std::shared_ptr<const MappedFile> &file,
                                  const std::string &name, const std::string &assume)
{
    const auto call = callFor(step, name, assume, file->bytes().size());
    if (sizeof call + name.size() + assume.size() > kMostMessage)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(ENAMETOOLONG)}});
    const double deadline = m_limits.waitingSeconds + m_limits.waitingPerSecond * call.seconds;
    constexpr int kMostDeaths = 2; // one alone may have come from outside
    for (int deaths = 0; deaths < kMostDeaths; ++deaths) {
        const Filled filled(*m_spares);
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
        const bool isAsked =
            ask(reader.socket, call, name, assume, file->descriptor(), filled.facts, filled.samples);
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

} // namespace wavechroma::raw
