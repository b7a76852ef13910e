// The reader's side: a process that decodes what it is sent, and can do nothing else.
#include "core/raw/frame_message.h"
#include "core/raw/reader_calls.h"

#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <ctime>
#include <fcntl.h>
#include <linux/sched.h>
#include <malloc.h>
#include <seccomp.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
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

#ifndef WAVECHROMA_SANITIZE // whose own work needs more calls and memory than can be foreseen

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

void limitMemory(uint64_t more)
{
    static const uint64_t own = addressSpace(); // asked before files can no longer be opened
    const rlimit limit{rlim_t(own + more), RLIM_INFINITY};
    if (own > 0 && more > 0)
        setrlimit(RLIMIT_AS, &limit);
}

/// Memory, threads, clocks, the socket and files that are open already. All else fails as not permitted,
/// which libraries take for a file that is not there.
void allowLittle()
{
    const scmp_filter_ctx filter = seccomp_init(SCMP_ACT_ERRNO(EPERM));
    if (!filter)
        return;
    for (const int call : {SCMP_SYS(read),
                           SCMP_SYS(pread64),
                           SCMP_SYS(write),
                           SCMP_SYS(close),
                           SCMP_SYS(lseek),
                           SCMP_SYS(fstat),
                           SCMP_SYS(mmap),
                           SCMP_SYS(munmap),
                           SCMP_SYS(mremap),
                           SCMP_SYS(mprotect),
                           SCMP_SYS(madvise),
                           SCMP_SYS(brk),
                           SCMP_SYS(memfd_create),
                           SCMP_SYS(ftruncate),
                           SCMP_SYS(fcntl),
                           SCMP_SYS(sendmsg),
                           SCMP_SYS(recvmsg),
                           SCMP_SYS(sendto),
                           SCMP_SYS(recvfrom),
                           SCMP_SYS(futex),
                           SCMP_SYS(set_robust_list),
                           SCMP_SYS(rseq),
                           SCMP_SYS(sched_yield),
                           SCMP_SYS(sched_getaffinity),
                           SCMP_SYS(sched_setaffinity),
                           SCMP_SYS(getrandom),
                           SCMP_SYS(clock_gettime),
                           SCMP_SYS(clock_nanosleep),
                           SCMP_SYS(nanosleep),
                           SCMP_SYS(gettimeofday),
                           SCMP_SYS(getpid),
                           SCMP_SYS(gettid),
                           SCMP_SYS(rt_sigaction),
                           SCMP_SYS(rt_sigprocmask),
                           SCMP_SYS(rt_sigreturn),
                           SCMP_SYS(sigaltstack),
                           SCMP_SYS(getrusage),
                           SCMP_SYS(setrlimit),
                           SCMP_SYS(sysinfo),
                           SCMP_SYS(restart_syscall),
                           SCMP_SYS(exit),
                           SCMP_SYS(exit_group)})
        seccomp_rule_add(filter, SCMP_ACT_ALLOW, call, 0);
    const auto only = [&](int call, scmp_arg_cmp which) {
        seccomp_rule_add(filter, SCMP_ACT_ALLOW, call, 1, which);
    };
    // its own limits and signals, and files that are open
    only(SCMP_SYS(prlimit64), {0, SCMP_CMP_EQ, 0, 0});
    only(SCMP_SYS(tgkill), {0, SCMP_CMP_EQ, scmp_datum_t(getpid()), 0});
    only(SCMP_SYS(newfstatat), {3, SCMP_CMP_MASKED_EQ, AT_EMPTY_PATH, AT_EMPTY_PATH});
    // threads, no processes; the newer call's flags cannot be looked at, so that it is said not to be there
    only(SCMP_SYS(clone), {0, SCMP_CMP_MASKED_EQ, CLONE_THREAD, CLONE_THREAD});
    seccomp_rule_add(filter, SCMP_ACT_ERRNO(ENOSYS), SCMP_SYS(clone3), 0);
    seccomp_load(filter); // where the system has none, limits alone hold
    seccomp_release(filter);
}
#else
void limitMemory(uint64_t) {}
void allowLittle() {}
#endif

void limitTime(uint32_t more)
{
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    const rlimit limit{rlim_t(used.ru_utime.tv_sec + used.ru_stime.tv_sec + 1 + long(more)), RLIM_INFINITY};
    setrlimit(RLIMIT_CPU, &limit);
}

void answer(int socket, const Result<RawFrame> &frame, std::span<const uint8_t> file)
{
    const auto message = messageOf(frame, file);
    Samples facts(message.facts.size() / 2 + 1); // a file in memory like any other
    std::memcpy(facts.data(), message.facts.data(), message.facts.size());
    const ReaderAnswer head{ReaderAnswer::Kind::Frame, message.facts.size(), message.samples.size()};
    const std::span bytes(reinterpret_cast<const uint8_t *>(&head), sizeof head);
    const bool isSent = message.samples.empty()
                            ? send(socket, bytes, {facts.sharedFile()})
                            : send(socket, bytes, {facts.sharedFile(), message.samples.sharedFile()});
    if (!isSent || !frame)
        _exit(isSent ? 0 : 1); // what a file that cannot be read left behind here goes with it
}

void readOne(int socket, const Message &asked)
{
    ReaderCall call;
    if (asked.bytes.size() < sizeof call || asked.files[0] < 0)
        _exit(1);
    std::memcpy(&call, asked.bytes.data(), sizeof call);
    if (asked.bytes.size() != sizeof call + call.nameSize + call.assumeSize)
        _exit(1);
    const char *texts = reinterpret_cast<const char *>(asked.bytes.data()) + sizeof call;
    const std::string name(texts, call.nameSize), assume(texts + call.nameSize, call.assumeSize);
    Samples::offer(asked.files[1], call.spare);
    limitMemory(call.memory);
    limitTime(call.seconds);
    const auto file = MappedFile::of(asked.files[0], name);
    if (!file)
        return answer(socket, file.error(), {});
    const auto read = [&] {
        switch (call.step) {
        case ReaderStep::LibraryPicture:
            return libraryPictureHere(**file, name);
        case ReaderStep::EmbeddedPicture:
            return embeddedPictureHere(**file, name);
        default:
            return openHere(*file, name, assume);
        }
    };
    answer(socket, read(), (*file)->bytes());
    Samples::offer(-1, 0);
}

} // namespace

void readFrames(int socket)
{
    answerTo = socket;
    std::signal(SIGXCPU, onTimeUsedUp);
    const rlimit none{0, 0};
    setrlimit(RLIMIT_CORE, &none);
    mallopt(M_ARENA_MAX, 2); // each takes 64 MB of addresses
    tzset();                 // while its file can be read
    Samples::shareNew();
    limitMemory(0); // notes what the process has
    allowLittle();
    const ReaderAnswer hello;
    if (!send(socket, std::span(reinterpret_cast<const uint8_t *>(&hello), sizeof hello)))
        _exit(1);
    try {
        while (const auto asked = receive(socket))
            readOne(socket, *asked);
    } catch (...) { // no memory even for an answer
        _exit(1);
    }
    _exit(0);
}

void makeReaders(int socket)
{
    prctl(PR_SET_NAME, "frame-readers");
    constexpr int kOwn = 3; // beyond the three of every process, nothing that it was started with
    if (socket != kOwn && dup2(socket, kOwn) == kOwn)
        socket = kOwn;
    close_range(kOwn + 1, ~0U, 0);
    std::signal(SIGINT, SIG_IGN); // ends with the process that it serves
    std::signal(SIGHUP, SIG_IGN);
    while (const auto asked = receive(socket)) {
        while (waitpid(-1, nullptr, WNOHANG) > 0) {
        }
        if (asked->files[0] < 0)
            continue;
        if (fork() == 0) {
            close(socket);
            prctl(PR_SET_NAME, "frame-reader");
            readFrames(asked->files[0]);
        }
        close(asked->files[0]);
    }
    while (waitpid(-1, nullptr, 0) > 0 || errno == EINTR) {
    }
    _exit(0);
}

} // namespace wavechroma::raw
