#pragma once
#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>

namespace wavechroma {

namespace raw {
class SpareFiles;
}

/// Many codes of 16 bits, zero at first. Copies share them. Where shareNew() was asked for, new ones lie in
/// memory that can be handed to another process as an open file (memfd_create(2)), sealed so that it cannot
/// shrink under whoever has it.
class Samples
{
public:
    Samples() = default;
    explicit Samples(size_t count); ///< throws std::bad_alloc
    /// Another process' samples. Nothing where the file is not sealed or shorter than `count` codes. The file
    /// may be closed after. When the last of them go, their memory goes to `spares`, where there are any.
    [[nodiscard]] static std::optional<Samples> of(int sharedFile, size_t count,
                                                   std::shared_ptr<raw::SpareFiles> spares = {});
    /// New samples lie in files from now on, the next ones in `file` of `bytes`, which is made longer where
    /// that is too little, and they are not zero at first; −1: all in files of their own.
    static void shareNew(int file = -1, size_t bytes = 0);
    /// A file in memory without a byte, for another process' samples. −1: the system gives none.
    [[nodiscard]] static int newFile();

    [[nodiscard]] uint16_t *data() const { return m_data; }
    [[nodiscard]] size_t size() const { return m_size; }
    [[nodiscard]] bool empty() const { return m_size == 0; }
    [[nodiscard]] uint16_t *begin() const { return m_data; }
    [[nodiscard]] uint16_t *end() const { return m_data + m_size; }
    [[nodiscard]] uint16_t &operator[](size_t i) const { return m_data[i]; }
    [[nodiscard]] int sharedFile() const; ///< −1: of this process alone

private:
    struct Memory;
    std::shared_ptr<Memory> m_memory;
    uint16_t *m_data = nullptr;
    size_t m_size = 0;
};

} // namespace wavechroma
