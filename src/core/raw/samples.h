#pragma once
#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>

namespace wavechroma {

/// Many codes of 16 bits, zero at first. Copies share them. Where shareNew() was asked for, new ones lie in
/// memory that can be handed to another process as an open file (memfd_create(2)), sealed so that it cannot
/// shrink under whoever has it.
class Samples
{
public:
    Samples() = default;
    explicit Samples(size_t count); ///< throws std::bad_alloc
    /// Another process' samples. Nothing where the file is not sealed or shorter than `count` codes. The file
    /// may be closed after.
    [[nodiscard]] static std::optional<Samples> of(int sharedFile, size_t count);
    static void shareNew();
    /// A file in memory without a byte, for another process' samples. −1: the system gives none.
    [[nodiscard]] static int newFile();

    /// Memory that was laid out once is used again, for the system takes long to lay it out: when the last of
    /// another process' samples go, `take` has their file, and closes it. Null: they are closed.
    using TakeFile = void (*)(int file, size_t bytes);
    static void keepFiles(TakeFile take);
    /// The next shared samples lie in this file of `bytes`, which is made longer where that is too little;
    /// they are not zero at first. −1: none.
    static void offer(int file, size_t bytes);

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
