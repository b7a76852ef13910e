#pragma once
#include "core/base/result.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <span>
#include <string_view>
#include <vector>

namespace wavechroma {

using Bytes = std::vector<uint8_t>;
[[nodiscard]] Bytes bytesOf(std::string_view text);

struct OutputFile
{
    std::filesystem::path path;
    Bytes bytes;
};

/// Writes all files or none: each goes to a temporary name beside its place, is flushed to the disk, and only
/// when all are there are they renamed. An existing file is replaced and keeps its mode and owner where that
/// is allowed; through a link the file that it leads to is; into a device, pipe or socket it is written, last
/// of all. A failure leaves no temporary behind and names the file and the reason; what a killed program left
/// of the same file is removed. (Between the renames of several files a power cut can still part them; each
/// is whole all the same.)
[[nodiscard]] Result<Done> writeWhole(const std::vector<OutputFile> &files);

/// A file too large to hold in memory: it grows under a temporary name beside its place and is there whole or
/// not at all. What of writeWhole() holds, holds here, but for devices and pipes, which are refused.
class GrowingFile
{
public:
    /// `replace`: an existing file is; else it is refused, even one that comes into being until commit().
    [[nodiscard]] static Result<GrowingFile> begin(const std::filesystem::path &file, bool replace);
    GrowingFile(GrowingFile &&) noexcept;
    ~GrowingFile(); ///< removes what was not committed

    [[nodiscard]] int descriptorOfItsOwn() const;     ///< for a library that closes it; −1: failure()
    [[nodiscard]] std::filesystem::path path() const; ///< where it is to go
    [[nodiscard]] Result<Done> commit();
    [[nodiscard]] Error failure() const; ///< from errno

private:
    struct State;
    explicit GrowingFile(std::unique_ptr<State> state);
    std::unique_ptr<State> m_state;
};

/// The whole of a text or binary file of at most `most` bytes.
[[nodiscard]] Result<Bytes> readWhole(const std::filesystem::path &path, size_t most = 256U << 20);
[[nodiscard]] Result<std::string> readText(const std::filesystem::path &path, size_t most = 64U << 20);

} // namespace wavechroma
