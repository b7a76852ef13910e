#include "core/raw/decoders.h"
#include "core/raw/file_digest.h"

#include <array>
#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <openssl/evp.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace wavechroma {

namespace raw {

namespace {

/// Mappings whose files may be cut short under them.
struct Guarded
{
    std::atomic<uintptr_t> begin{0}, end{0};
    std::atomic<bool> isTaken{false}, isCut{false};
};
constexpr size_t kMostGuarded = 256;
Guarded guarded[kMostGuarded];
struct sigaction before;

/// From the page at fault on nothing is there any more: empty pages take its place.
void onBusError(int, siginfo_t *info, void *)
{
    const auto at = reinterpret_cast<uintptr_t>(info->si_addr);
    for (auto &range : guarded) {
        const uintptr_t begin = range.begin.load(), end = range.end.load();
        if (begin == 0 || at < begin || at >= end)
            continue;
        const uintptr_t page = at & ~uintptr_t(4095);
        range.isCut = true;
        if (mmap(reinterpret_cast<void *>(page), end - page, PROT_READ,
                 MAP_PRIVATE | MAP_ANONYMOUS | MAP_FIXED, -1, 0) != MAP_FAILED)
            return;
    }
    sigaction(SIGBUS, &before, nullptr); // not ours: it comes again, and goes where it went before
}

int guard(const void *data, size_t size)
{
    static const bool isSet = [] {
        struct sigaction action
        {
        };
        action.sa_sigaction = onBusError;
        action.sa_flags = SA_SIGINFO | SA_NODEFER;
        return sigaction(SIGBUS, &action, &before) == 0;
    }();
    for (size_t i = 0; isSet && i < kMostGuarded; ++i) {
        bool isFree = false;
        if (!guarded[i].isTaken.compare_exchange_strong(isFree, true))
            continue;
        guarded[i].isCut = false;
        guarded[i].end = reinterpret_cast<uintptr_t>(data) + size;
        guarded[i].begin = reinterpret_cast<uintptr_t>(data);
        return int(i);
    }
    return -1;
}

void unguard(int slot)
{
    if (slot < 0)
        return;
    guarded[slot].begin = 0;
    guarded[slot].end = 0;
    guarded[slot].isTaken = false;
}

/// The system's call of that name. The C library's goes by newfstatat(2), which names any path, so that a
/// reader may not have it.
int statusOf(int descriptor, struct stat &info)
{
#ifdef SYS_fstat
    return int(::syscall(SYS_fstat, descriptor, &info));
#else
    return ::fstat(descriptor, &info);
#endif
}

} // namespace

Result<std::shared_ptr<const MappedFile>> MappedFile::open(const std::filesystem::path &path)
{
    const std::string name = path.string();
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK); // a pipe must not make us wait
    if (fd < 0)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(errno)}});
    return of(fd, name);
}

Result<std::shared_ptr<const MappedFile>> MappedFile::of(int fd, const std::string &name)
{
    struct stat info
    {
    };
    if (statusOf(fd, info) != 0 || !S_ISREG(info.st_mode)) {
        ::close(fd);
        return unusable(S_ISDIR(info.st_mode) ? "{file}: is a folder, not a picture"
                                              : "{file}: is not a regular file",
                        {{"file", name}});
    }
    if (info.st_size == 0) {
        ::close(fd);
        return unusable("{file}: the file is empty", {{"file", name}});
    }
    void *data = mmap(nullptr, size_t(info.st_size), PROT_READ, MAP_PRIVATE, fd, 0);
    if (data == MAP_FAILED) {
        const int mapError = errno;
        ::close(fd);
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(mapError)}});
    }
    std::shared_ptr<MappedFile> file(new MappedFile);
    file->m_data = static_cast<const uint8_t *>(data);
    file->m_size = size_t(info.st_size);
    file->m_descriptor = fd;
    file->m_stamp = stampOf(info);
    file->m_guard = guard(data, file->m_size);
    return std::shared_ptr<const MappedFile>(std::move(file));
}

MappedFile::Stamp MappedFile::stampOf(const struct stat &info)
{
    return {uint64_t(info.st_size), info.st_mtim.tv_sec, info.st_mtim.tv_nsec};
}

MappedFile::~MappedFile()
{
    unguard(m_guard);
    if (m_data)
        munmap(const_cast<uint8_t *>(m_data), m_size);
    if (m_descriptor >= 0)
        ::close(m_descriptor);
}

void MappedFile::passed(size_t at) const
{
    constexpr size_t kStep = 16 << 20, kPage = 4096;
    const size_t since = m_passed;
    if (at >= since && at - since < kStep)
        return;
    m_passed = at;
    madvise(const_cast<uint8_t *>(m_data), std::min(at, m_size) / kPage * kPage, MADV_DONTNEED);
}

bool MappedFile::hasChanged() const
{
    if (m_guard >= 0 && guarded[m_guard].isCut)
        return true;
    struct stat info
    {
    };
    return statusOf(m_descriptor, info) != 0 || !(stampOf(info) == m_stamp);
}

} // namespace raw

static std::string hexOf(const std::array<unsigned char, 32> &digest)
{
    std::string hex;
    for (const unsigned char byte : digest) {
        hex += "0123456789abcdef"[byte >> 4];
        hex += "0123456789abcdef"[byte & 15];
    }
    return hex;
}

std::string sha256Of(std::string_view text)
{
    std::array<unsigned char, 32> digest{};
    EVP_Digest(text.data(), text.size(), digest.data(), nullptr, EVP_sha256(), nullptr);
    return hexOf(digest);
}

Result<std::string> sha256OfFile(const std::filesystem::path &path, const Progress &progress)
{
    const auto file = raw::MappedFile::open(path);
    if (!file)
        return file.error();
    const std::unique_ptr<EVP_MD_CTX, decltype(&EVP_MD_CTX_free)> context(EVP_MD_CTX_new(), &EVP_MD_CTX_free);
    if (!context || EVP_DigestInit_ex(context.get(), EVP_sha256(), nullptr) != 1)
        return internalError("SHA-256 is not available");
    const auto bytes = (*file)->bytes();
    constexpr size_t kBlock = 1 << 22;
    for (size_t at = 0; at < bytes.size(); at += kBlock) {
        if (progress.stopped())
            return unusable("{file}: stopped", {{"file", path.string()}});
        EVP_DigestUpdate(context.get(), bytes.data() + at, std::min(kBlock, bytes.size() - at));
        (*file)->passed(at);
    }
    if ((*file)->hasChanged())
        return unusable("{file}: could not be read: it changed while it was read", {{"file", path.string()}});
    std::array<unsigned char, 32> digest{};
    EVP_DigestFinal_ex(context.get(), digest.data(), nullptr);
    return hexOf(digest);
}

} // namespace wavechroma
