#pragma once
#include <linux/filter.h>
#include <vector>

/// Which calls of the system processes that decode frames may make (seccomp(2)). Not for other folders.
namespace wavechroma::raw {

using CallFilter = std::vector<sock_filter>;

/// Allows what a reader needs that has its file: memory, threads of its own, clocks, its socket, reading and
/// writing what is open. Arguments are looked at where they would lead further: fcntl(2) only copies a
/// descriptor or asks how it was opened; a clone has to be a thread; nothing names a path, a process, a
/// limit or an affinity. All else fails as not permitted, which libraries take for a thing that is not
/// there. Empty: the system has none.
[[nodiscard]] CallFilter readerFilter();
/// Allows the same for the process that makes readers, and what making one takes.
[[nodiscard]] CallFilter makerFilter();
/// Sets the filter for good. Returns false if the system does not filter.
[[nodiscard]] bool setFilter(const CallFilter &filter);

/// What else the kernel offers, from now on: no rights beyond its own files' (user_namespaces(7), where they
/// are given to this user), and no path of any file (landlock(7)).
void leaveTheFileSystem();

} // namespace wavechroma::raw
