// The reader's side: a process that decodes the one file it is sent, and can do nothing else.
#include "core/raw/frame_message.h"
#include "core/raw/reader_calls.h"
#include "core/raw/reader_filter.h"

#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <ctime>
#include <fcntl.h>
#include <malloc.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

namespace wavechroma::raw {

namespace {

int answerTo = -1;

/// The kernel's notice that the time is used up.
void onTimeUsedUp(int)
{
    const ReaderAnswer answer{ReaderAnswer::Kind::TooLong, 0, 0};
    (void)!::send(answerTo, &answer, sizeof answer, MSG_NOSIGNAL);
    _exit(1);
}

void limit(int what, uint64_t soft, uint64_t hard)
{
    const rlimit both{rlim_t(soft), rlim_t(hard)};
    setrlimit(__rlimit_resource(what), &both);
}

/// For good: hard limits, and no call to lift them is allowed afterwards.
void limitTime(uint32_t seconds)
{
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    const auto end = uint64_t(used.ru_utime.tv_sec + used.ru_stime.tv_sec) + 1 + seconds;
    limit(RLIMIT_CPU, end, end + 1); // whoever does not heed the notice is ended by the system
}

#ifndef WAVECHROMA_SANITIZE // whose own work needs more calls and memory than can be foreseen

uint64_t ownAddresses = 0; ///< of the process that makes readers, before any file

uint64_t addressSpace()
{
    unsigned long long pages = 0;
    if (std::FILE *file = std::fopen("/proc/self/statm", "r")) {
        if (std::fscanf(file, "%llu", &pages) != 1)
            pages = 0;
        std::fclose(file);
    }
    return pages * uint64_t(sysconf(_SC_PAGESIZE));
}

/// Memory that is mapped, and what lies in the files that it fills: these are two, and it can make no others.
void limitMemory(uint64_t more)
{
    if (ownAddresses > 0)
        limit(RLIMIT_AS, ownAddresses + more, ownAddresses + more);
    limit(RLIMIT_FSIZE, more, more);
    limit(RLIMIT_NOFILE, 16, 16);
}

struct Filters
{
    CallFilter reader, maker;
};
Filters filters;

void prepare()
{
    ownAddresses = addressSpace();
    filters = {readerFilter(), makerFilter()};
    leaveTheFileSystem();
    (void)setFilter(filters.maker); // where the system has none, limits alone hold
}
void allowLittle()
{
    (void)setFilter(filters.reader);
}
#else
void limitMemory(uint64_t) {}
void prepare() {}
void allowLittle() {}
#endif

bool writeAll(int file, std::span<const uint8_t> bytes)
{
    while (!bytes.empty()) {
        const auto written = write(file, bytes.data(), bytes.size());
        if (written <= 0)
            return false;
        bytes = bytes.subspan(size_t(written));
    }
    return true;
}

/// Samples that do not lie in the file that was given for them, because something else came to lie there.
bool copyInto(int file, const Samples &samples)
{
    const size_t bytes = samples.size() * sizeof(uint16_t);
    if (ftruncate(file, off_t(bytes)) != 0)
        return false;
    void *to = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, file, 0);
    if (to == MAP_FAILED)
        return false;
    std::memcpy(to, samples.data(), bytes);
    munmap(to, bytes);
    return true;
}

void answer(int socket, const Result<RawFrame> &frame, std::span<const uint8_t> file, int factsFile,
            int samplesFile)
{
    const auto message = messageOf(frame, file);
    const ReaderAnswer head{ReaderAnswer::Kind::Frame, message.facts.size(), message.samples.size()};
    const std::span bytes(reinterpret_cast<const uint8_t *>(&head), sizeof head);
    const bool isThere = message.samples.empty() || message.samples.sharedFile() >= 0 ||
                         copyInto(samplesFile, message.samples);
    _exit(isThere && writeAll(factsFile, message.facts) && send(socket, bytes) ? 0 : 1);
}

[[noreturn]] void readOne(int socket, const Message &asked)
{
    ReaderCall call;
    const bool hasFiles = asked.files[0] >= 0 && asked.files[1] >= 0 && asked.files[2] >= 0;
    if (asked.bytes.size() < sizeof call || !hasFiles)
        _exit(1);
    std::memcpy(&call, asked.bytes.data(), sizeof call);
    if (asked.bytes.size() != sizeof call + call.nameSize + call.assumeSize)
        _exit(1);
    const char *texts = reinterpret_cast<const char *>(asked.bytes.data()) + sizeof call;
    const std::string name(texts, call.nameSize), assume(texts + call.nameSize, call.assumeSize);
    const int samplesFile = fcntl(asked.files[2], F_DUPFD_CLOEXEC, 0);
    Samples::shareNew(asked.files[2], call.spare);
    limitMemory(call.memory);
    limitTime(call.seconds);
    allowLittle();
    const auto file = MappedFile::of(asked.files[0], name);
    if (!file)
        answer(socket, file.error(), {}, asked.files[1], samplesFile);
    const auto read = [&] {
        switch (call.step) {
        case ReaderStep::LibraryPicture:
            return libraryPictureHere(**file, name);
        case ReaderStep::EmbeddedPicture:
            return embeddedPictureHere(**file, name);
        case ReaderStep::PictureCodes:
            return pictureCodesHere(**file, name, assume);
        default:
            return openHere(*file, name, assume);
        }
    };
    answer(socket, read(), (*file)->bytes(), asked.files[1], samplesFile);
    _exit(1);
}

/// The life of a reader: one file.
[[noreturn]] void beReader(int socket)
{
    prctl(PR_SET_NAME, "frame-reader");
    prctl(PR_SET_PDEATHSIG, SIGKILL); // with the process that made it
    answerTo = socket;
    std::signal(SIGXCPU, onTimeUsedUp);
    std::signal(SIGXFSZ, SIG_IGN);
    limit(RLIMIT_CORE, 0, 0);
    try {
        if (const auto asked = receive(socket))
            readOne(socket, *asked);
    } catch (...) { // no memory even for an answer
    }
    _exit(1);
}

/// Standard input, output and error are not a reader's, nor what the program was started with.
int closedButFor(int socket)
{
    constexpr int kOwn = 3;
    const int nowhere = open("/dev/null", O_RDWR);
    for (int standard = 0; standard < kOwn && nowhere >= 0; ++standard)
        dup2(nowhere, standard);
    if (socket != kOwn && dup2(socket, kOwn) == kOwn)
        socket = kOwn;
    close_range(kOwn + 1, ~0U, 0);
    return socket;
}

} // namespace

void makeReaders(int socket)
{
    prctl(PR_SET_NAME, "frame-readers");
    prctl(PR_SET_PDEATHSIG, SIGKILL);
    socket = closedButFor(socket);
    std::signal(SIGINT, SIG_IGN); // ends with the process that it serves
    std::signal(SIGHUP, SIG_IGN);
    mallopt(M_ARENA_MAX, 2); // each takes 64 MB of addresses
    tzset();                 // while its file can be read
    prepare();
    prctl(PR_SET_PDEATHSIG, SIGKILL); // again: a space of users of its own has taken it back
    while (const auto asked = receive(socket)) {
        while (waitpid(-1, nullptr, WNOHANG) > 0) {
        }
        const int end = asked->files[0];
        if (end < 0)
            continue;
        const pid_t reader = fork();
        if (reader == 0) {
            close(socket);
            beReader(end);
        }
        const auto handle = reader > 0 ? int(syscall(SYS_pidfd_open, reader, 0)) : -1;
        const ReaderAnswer hello;
        if (handle >= 0) {
            (void)send(end, std::span(reinterpret_cast<const uint8_t *>(&hello), sizeof hello), {handle});
            close(handle);
        }
        close(end);
    }
    while (waitpid(-1, nullptr, WNOHANG) > 0) { // so that their time is counted as this one's
    }
    _exit(0); // readers that are still at it are ended by the system
}

} // namespace wavechroma::raw
