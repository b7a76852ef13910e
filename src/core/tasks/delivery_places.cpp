#include "core/tasks/delivery_places.h"

#include "core/formats/whole_file.h"
#include "core/raw/file_digest.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>

namespace wavechroma {

namespace fs = std::filesystem;

FolderLock::FolderLock(const fs::path &file)
    : m_path(file), m_file(::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666))
{
}

FolderLock::~FolderLock()
{
    if (m_file >= 0)
        ::close(m_file);
}

bool FolderLock::isOurs() const
{
    return ::flock(m_file, LOCK_EX | LOCK_NB) == 0;
}

bool FolderLock::isInPlace() const
{
    struct stat own, there;
    return ::fstat(m_file, &own) == 0 && ::stat(m_path.c_str(), &there) == 0 && own.st_dev == there.st_dev &&
           own.st_ino == there.st_ino;
}

Result<Placed> placedAnew(const fs::path &grown, const fs::path &file)
{
    if (::renameat2(AT_FDCWD, grown.c_str(), AT_FDCWD, file.c_str(), RENAME_NOREPLACE) == 0)
        return Placed::There;
    if (errno == EEXIST)
        return Placed::InTheWay;
    const int why = errno;
    std::error_code code;
    if (why == EINVAL || why == ENOSYS) { // a file system that cannot tell
        if (fs::exists(fs::symlink_status(file, code)))
            return Placed::InTheWay;
        if (::rename(grown.c_str(), file.c_str()) == 0)
            return Placed::There;
    }
    return unusable("{file}: {why}", {{"file", file.string()}, {"why", std::strerror(errno)}});
}

// Both change places first, so that what is taken away can be looked at: what was changed since the plan goes
// back.
Result<Placed> placedInstead(const fs::path &grown, const fs::path &file, const std::string &sha256)
{
    const auto isStillOurs = [&](const fs::path &at) {
        const auto hash = sha256OfFile(at);
        return hash && *hash == sha256;
    };
    const auto exchange = [&] {
        return ::renameat2(AT_FDCWD, grown.c_str(), AT_FDCWD, file.c_str(), RENAME_EXCHANGE) == 0;
    };
    if (exchange()) {
        if (isStillOurs(grown))
            return Placed::There;
        if (exchange())
            return Placed::InTheWay;
        return unusable("{file}: was changed while it was replaced. The changed file is kept as {kept}",
                        {{"file", file.string()}, {"kept", grown.string()}});
    }
    if (errno == ENOENT) // gone meanwhile
        return placedAnew(grown, file);
    if (errno != EINVAL && errno != ENOSYS)
        return unusable("{file}: {why}", {{"file", file.string()}, {"why", std::strerror(errno)}});
    if (!isStillOurs(file))
        return Placed::InTheWay;
    if (::rename(grown.c_str(), file.c_str()) != 0)
        return unusable("{file}: {why}", {{"file", file.string()}, {"why", std::strerror(errno)}});
    return Placed::There;
}

Result<Placed> placedOver(const fs::path &grown, const fs::path &file)
{
    if (::rename(grown.c_str(), file.c_str()) == 0)
        return Placed::There;
    return unusable("{file}: {why}", {{"file", file.string()}, {"why", std::strerror(errno)}});
}

} // namespace wavechroma
