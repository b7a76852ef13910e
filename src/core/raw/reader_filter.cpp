#include "core/raw/reader_filter.h"

#include <fcntl.h>
#include <linux/landlock.h>
#include <linux/seccomp.h>
#include <sched.h>
#include <seccomp.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <cerrno>
#include <cstdint>

namespace wavechroma::raw {

namespace {

constexpr int kForReaders[] = {SCMP_SYS(read),
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
                               SCMP_SYS(ftruncate),
                               SCMP_SYS(sendmsg),
                               SCMP_SYS(recvmsg),
                               SCMP_SYS(sendto),
                               SCMP_SYS(recvfrom),
                               SCMP_SYS(poll),
                               SCMP_SYS(futex),
                               SCMP_SYS(set_robust_list),
                               SCMP_SYS(rseq),
                               SCMP_SYS(sched_yield),
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
                               SCMP_SYS(sysinfo),
                               SCMP_SYS(restart_syscall),
                               SCMP_SYS(exit),
                               SCMP_SYS(exit_group)};

constexpr int kForTheMaker[] = {SCMP_SYS(wait4),   SCMP_SYS(pidfd_open),      SCMP_SYS(prctl),
                                SCMP_SYS(seccomp), SCMP_SYS(prlimit64),       SCMP_SYS(setrlimit),
                                SCMP_SYS(clone),   SCMP_SYS(set_tid_address), SCMP_SYS(getppid)};

void allow(scmp_filter_ctx filter, int call)
{
    seccomp_rule_add(filter, SCMP_ACT_ALLOW, call, 0);
}

void allowOnly(scmp_filter_ctx filter, int call, scmp_arg_cmp which)
{
    seccomp_rule_add(filter, SCMP_ACT_ALLOW, call, 1, which);
}

/// The program that the kernel runs for each call.
CallFilter programOf(scmp_filter_ctx filter)
{
    CallFilter out;
    const int file = memfd_create("filter", MFD_CLOEXEC);
    struct stat info
    {
    };
    if (file >= 0 && seccomp_export_bpf(filter, file) == 0 && fstat(file, &info) == 0) {
        out.resize(size_t(info.st_size) / sizeof(sock_filter));
        const auto bytes = ssize_t(out.size() * sizeof(sock_filter));
        if (pread(file, out.data(), size_t(bytes), 0) != bytes)
            out.clear();
    }
    if (file >= 0)
        close(file);
    return out;
}

CallFilter made(bool forTheMaker)
{
    const scmp_filter_ctx filter = seccomp_init(SCMP_ACT_ERRNO(EPERM));
    if (!filter)
        return {};
    for (const int call : kForReaders)
        allow(filter, call);
    for (const int command : {F_DUPFD_CLOEXEC, F_GETFL, F_GETFD})
        allowOnly(filter, SCMP_SYS(fcntl), {1, SCMP_CMP_EQ, scmp_datum_t(command), 0});
    // how many processors there are, for this process itself
    allowOnly(filter, SCMP_SYS(sched_getaffinity), {0, SCMP_CMP_EQ, 0, 0});
    // the newer call's flags cannot be looked at, so that it is said not to be there
    seccomp_rule_add(filter, SCMP_ACT_ERRNO(ENOSYS), SCMP_SYS(clone3), 0);
    if (forTheMaker)
        for (const int call : kForTheMaker)
            allow(filter, call);
    else
        allowOnly(filter, SCMP_SYS(clone), {0, SCMP_CMP_MASKED_EQ, CLONE_THREAD, CLONE_THREAD});
    auto out = programOf(filter);
    seccomp_release(filter);
    return out;
}

} // namespace

CallFilter readerFilter()
{
    return made(false);
}

CallFilter makerFilter()
{
    return made(true);
}

bool setFilter(const CallFilter &filter)
{
    const sock_fprog program{static_cast<unsigned short>(filter.size()),
                             const_cast<sock_filter *>(filter.data())};
    return !filter.empty() && prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) == 0 &&
           prctl(PR_SET_SECCOMP, SECCOMP_MODE_FILTER, &program) == 0;
}

void leaveTheFileSystem()
{
    // Users only: a network of its own takes the kernel ten milliseconds, and no call of the filter's makes a
    // socket or names a message queue.
    (void)unshare(CLONE_NEWUSER);
    prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
    constexpr uint64_t kAll = (1ULL << 13) - 1; // all that the first version of Landlock knows
    const landlock_ruleset_attr rules{kAll};
    const auto ruleset = int(syscall(SYS_landlock_create_ruleset, &rules, sizeof rules, 0));
    if (ruleset < 0)
        return;
    (void)syscall(SYS_landlock_restrict_self, ruleset, 0); // without one rule that allows anything
    close(ruleset);
}

} // namespace wavechroma::raw
