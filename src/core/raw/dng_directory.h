#pragma once
#include "core/raw/tiff_directory.h"

#include <optional>
#include <string>
#include <utility>

namespace wavechroma::raw {

/// The values of one directory of a TIFF or DNG file, in the file's byte order.
class DngDirectory
{
public:
    DngDirectory(std::span<const uint8_t> file, TiffDirectory directory)
        : m_file(file), m_directory(std::move(directory))
    {
    }
    [[nodiscard]] bool has(uint16_t id) const { return m_directory.find(id) != nullptr; }
    /// Whole numbers (BYTE, SHORT, LONG, IFD). Empty where the tag is missing, of another type, or points
    /// outside the file.
    [[nodiscard]] std::vector<uint32_t> wholes(uint16_t id) const;
    /// The tag's only value; `otherwise` where it is missing or has several.
    [[nodiscard]] uint32_t whole(uint16_t id, uint32_t otherwise) const;
    /// Numbers of any numeric type. Empty as for wholes(), and where one is not finite.
    [[nodiscard]] std::vector<double> reals(uint16_t id) const;
    /// The bytes of a BYTE, ASCII or UNDEFINED tag.
    [[nodiscard]] std::span<const uint8_t> bytes(uint16_t id) const;
    [[nodiscard]] std::string text(uint16_t id) const; ///< up to its first zero
    /// Does the tag, where it is there, hold values inside the file?
    [[nodiscard]] bool isReadable(uint16_t id) const;
    [[nodiscard]] const std::vector<TiffDirectory::Entry> &entries() const { return m_directory.entries; }
    [[nodiscard]] ByteOrder order() const { return m_directory.order; }

private:
    /// The bytes of an entry's values; nothing where they do not lie in the file.
    [[nodiscard]] std::optional<std::span<const uint8_t>> valuesOf(const TiffDirectory::Entry &entry) const;

    std::span<const uint8_t> m_file;
    TiffDirectory m_directory;
};

} // namespace wavechroma::raw
