// The caller's side: readers that wait for frames, and what comes back.
#include "core/raw/reader_process.h"

#include "core/raw/frame_message.h"
#include "core/raw/reader_calls.h"

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <mutex>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

namespace wavechroma {

namespace {

std::mutex mutex; // of what follows
ReaderLimits limits;
pid_t maker = -1;
int makerSocket = -1;

struct Reader
{
    int socket = -1;   ///< −1: none
    bool isNew = true; ///< it has not read a frame yet, nor said that it is there
};
std::vector<Reader> waiting; ///< readers without work

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
        return {ends[0], true};
    close(ends[0]);
    return {};
}

Reader takeReader()
{
    constexpr int kTries = 3; // what waits may have been ended from outside
    for (int i = 0; i < kTries; ++i) {
        Reader reader;
        {
            const std::lock_guard lock(mutex);
            reader = waiting.empty() ? newReader() : waiting.back();
            if (!waiting.empty())
                waiting.pop_back();
        }
        if (reader.socket < 0 || !reader.isNew)
            return reader;
        const auto hello = raw::receive(reader.socket);
        if (hello && hello->bytes.size() == sizeof(raw::ReaderAnswer))
            return reader;
        close(reader.socket);
    }
    return {};
}

void giveBack(int socket)
{
    const std::lock_guard lock(mutex);
    if (makerSocket < 0)
        close(socket);
    else
        waiting.push_back({socket, false});
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

bool ask(int socket, raw::ReaderCall call, const std::string &name, const std::string &assume, int file)
{
    const auto spare = takeSpare();
    call.spare = spare.bytes;
    std::vector<uint8_t> bytes(sizeof call);
    std::memcpy(bytes.data(), &call, sizeof call);
    bytes.insert(bytes.end(), name.begin(), name.end());
    bytes.insert(bytes.end(), assume.begin(), assume.end());
    if (spare.file < 0)
        return raw::send(socket, bytes, {file});
    const bool isSent = raw::send(socket, bytes, {file, spare.file});
    close(spare.file);
    return isSent;
}

Error stopped(const std::string &name, const char *why)
{
    return unusable("{file}: could not be read: {why}", {{"file", name}, {"why", words::Phrase{why}}});
}

/// What a reader's answer holds; nothing where it is none.
std::optional<Result<RawFrame>> frameIn(const raw::Message &message, const raw::ReaderAnswer &answer,
                                        const std::shared_ptr<const raw::MappedFile> &file)
{
    const auto facts = Samples::of(message.files[0], answer.factsSize / 2 + 1);
    const auto samples = answer.samples > 0 ? Samples::of(message.files[1], answer.samples)
                                            : std::optional<Samples>(Samples());
    if (!facts || !samples)
        return std::nullopt;
    const auto *bytes = reinterpret_cast<const uint8_t *>(facts->data());
    return raw::frameOf({{bytes, bytes + answer.factsSize}, *samples}, file);
}

Result<RawFrame> answered(int socket, const raw::Message &message,
                          const std::shared_ptr<const raw::MappedFile> &file, const std::string &name)
{
    raw::ReaderAnswer answer;
    std::optional<Result<RawFrame>> frame;
    if (message.bytes.size() == sizeof answer) {
        std::memcpy(&answer, message.bytes.data(), sizeof answer);
        if (answer.kind == raw::ReaderAnswer::Kind::Frame)
            frame = frameIn(message, answer, file);
    }
    for (const int open : message.files)
        if (open >= 0)
            close(open);
    if (frame && *frame)
        giveBack(socket);
    else
        close(socket);
    if (frame)
        return *frame;
    switch (answer.kind) {
    case raw::ReaderAnswer::Kind::TooLong:
        return stopped(name, "it takes longer than a file of its size may");
    default:
        return stopped(name, "what it holds ended its reader");
    }
}

} // namespace

std::optional<Result<RawFrame>> raw::readElsewhere(ReaderStep step,
                                                   const std::shared_ptr<const MappedFile> &file,
                                                   const std::string &name, const std::string &assume)
{
    const auto call = callFor(step, name, assume, file->bytes().size());
    if (sizeof call + name.size() + assume.size() > kMostMessage)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(ENAMETOOLONG)}});
    constexpr int kMostDeaths = 2; // one alone may have come from outside
    int deaths = 0;
    for (auto reader = takeReader(); reader.socket >= 0; reader = takeReader()) {
        const bool isAsked = ask(reader.socket, call, name, assume, file->descriptor());
        const auto message = isAsked ? receive(reader.socket) : std::nullopt;
        if (message)
            return answered(reader.socket, *message, file, name);
        close(reader.socket);
        // one that is not new may have been ended while it waited
        if (reader.isNew && ++deaths == kMostDeaths)
            return stopped(name, "what it holds ended its reader");
    }
    return std::nullopt;
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
    if (makerSocket < 0)
        return;
    close(makerSocket);
    makerSocket = -1;
    while (waitpid(maker, nullptr, 0) < 0 && errno == EINTR) {
    }
    maker = -1;
}

} // namespace wavechroma
