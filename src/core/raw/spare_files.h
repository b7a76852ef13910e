#pragma once
#include <cstddef>
#include <mutex>
#include <vector>

namespace wavechroma::raw {

/// Memory of samples that went, to be filled again: the system takes long to lay it out. Keeps the last two
/// files of 4 MB to 1 GB. Thread-safe.
class SpareFiles
{
public:
    SpareFiles() = default;
    ~SpareFiles();
    SpareFiles(const SpareFiles &) = delete;
    SpareFiles &operator=(const SpareFiles &) = delete;

    struct Spare
    {
        int file = -1; ///< −1: none
        size_t bytes = 0;
    };
    void keep(int file, size_t bytes); ///< closes it sooner or later
    [[nodiscard]] Spare take();        ///< it is the caller's to close

private:
    std::mutex m_mutex;
    std::vector<Spare> m_spares;
};

} // namespace wavechroma::raw
