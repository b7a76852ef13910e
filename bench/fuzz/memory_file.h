#pragma once
#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <string>
#include <sys/mman.h>
#include <unistd.h>

/// Bytes that have a path, for functions that take a file; nothing is written to a disk.
class MemoryFile
{
public:
    MemoryFile(const uint8_t *data, size_t size) : m_descriptor(memfd_create("fuzz", 0))
    {
        if (m_descriptor < 0 || write(m_descriptor, data, size) != ssize_t(size))
            std::abort();
    }
    ~MemoryFile() { close(m_descriptor); }
    MemoryFile(const MemoryFile &) = delete;
    MemoryFile &operator=(const MemoryFile &) = delete;
    [[nodiscard]] std::filesystem::path path() const
    {
        return "/proc/self/fd/" + std::to_string(m_descriptor);
    }

private:
    int m_descriptor;
};

/// What holds for every input, however broken; where it does not, the run ends with a report.
inline void mustHold(bool condition)
{
    if (!condition)
        std::abort();
}
