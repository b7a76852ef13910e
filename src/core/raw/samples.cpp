#include "core/raw/samples.h"

#include "core/raw/spare_files.h"

#include <atomic>
#include <cerrno>
#include <fcntl.h>
#include <new>
#include <sys/mman.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>
#include <utility>

namespace wavechroma {

namespace {

/// What a reader was told; a process reads one file, so that it is told once.
struct Sharing
{
    std::atomic<bool> isOn = false;
    std::atomic<int> file = -1; ///< for the next samples
    size_t bytes = 0;           ///< of it
} sharing;

/// A file in memory of so many bytes that cannot get shorter.
int sealedFile(size_t bytes)
{
    const int fd = Samples::newFile();
    if (fd >= 0 && (ftruncate(fd, off_t(bytes)) != 0 || fcntl(fd, F_ADD_SEALS, F_SEAL_SHRINK) != 0)) {
        close(fd);
        return -1;
    }
    return fd;
}

/// The file that was offered, made long enough; −1 where there is none.
int takeOffered(size_t bytes)
{
    const int file = sharing.file.exchange(-1);
    if (file >= 0 && sharing.bytes < bytes && ftruncate(file, off_t(bytes)) != 0) {
        const std::error_code why(errno, std::generic_category()); // a limit of files, perhaps, not of memory
        close(file);
        throw std::system_error(why);
    }
    return file;
}

} // namespace

int Samples::newFile()
{
    return memfd_create("wavechroma-samples", MFD_CLOEXEC | MFD_ALLOW_SEALING);
}

struct Samples::Memory
{
    void *data = MAP_FAILED;
    size_t bytes = 0;
    int file = -1;
    std::shared_ptr<raw::SpareFiles> spares;
    Memory() = default;
    Memory(const Memory &) = delete;
    Memory &operator=(const Memory &) = delete;
    ~Memory()
    {
        if (data != MAP_FAILED)
            munmap(data, bytes);
        if (file < 0)
            return;
        if (spares)
            spares->keep(file, bytes);
        else
            close(file);
    }
};

Samples::Samples(size_t count)
{
    if (count == 0)
        return;
    const auto memory = std::make_shared<Memory>();
    memory->bytes = count * sizeof(uint16_t);
    if (sharing.isOn) {
        // a reader cannot make files, so that what it makes beside the picture has no file
        memory->file = takeOffered(memory->bytes);
        if (memory->file < 0)
            memory->file = sealedFile(memory->bytes);
    }
    memory->data = mmap(nullptr, memory->bytes, PROT_READ | PROT_WRITE,
                        memory->file >= 0 ? MAP_SHARED : MAP_PRIVATE | MAP_ANONYMOUS, memory->file, 0);
    if (memory->data == MAP_FAILED)
        throw std::bad_alloc();
    m_memory = memory;
    m_data = static_cast<uint16_t *>(memory->data);
    m_size = count;
}

std::optional<Samples> Samples::of(int sharedFile, size_t count, std::shared_ptr<raw::SpareFiles> spares)
{
    struct stat info
    {
    };
    const int seals = fcntl(sharedFile, F_GET_SEALS);
    if (count == 0 || seals < 0 || !(seals & F_SEAL_SHRINK) || fstat(sharedFile, &info) != 0 ||
        size_t(info.st_size) / sizeof(uint16_t) < count)
        return std::nullopt;
    const auto memory = std::make_shared<Memory>();
    memory->bytes = count * sizeof(uint16_t);
    memory->data = mmap(nullptr, memory->bytes, PROT_READ, MAP_SHARED, sharedFile, 0);
    if (memory->data == MAP_FAILED)
        return std::nullopt;
    memory->file = fcntl(sharedFile, F_DUPFD_CLOEXEC, 0);
    memory->spares = std::move(spares);
    Samples out;
    out.m_memory = memory;
    out.m_data = static_cast<uint16_t *>(memory->data);
    out.m_size = count;
    return out;
}

void Samples::shareNew(int file, size_t bytes)
{
    sharing.bytes = bytes;
    if (const int before = sharing.file.exchange(file); before >= 0)
        close(before);
    sharing.isOn = true;
}

int Samples::sharedFile() const
{
    return m_memory ? m_memory->file : -1;
}

} // namespace wavechroma
