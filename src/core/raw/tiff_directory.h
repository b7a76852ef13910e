#pragma once
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// Directories of tags as TIFF 6.0 (section 2), DNG and DNG camera profiles have them, in either byte order.
namespace wavechroma {

/// "II" files have the lowest byte first, "MM" files the highest.
class ByteOrder
{
public:
    explicit ByteOrder(bool highestFirst = false) : m_highestFirst(highestFirst) {}
    [[nodiscard]] bool isHighestFirst() const { return m_highestFirst; }
    /// Reads a number of 1 to 4 bytes, which have to be there.
    [[nodiscard]] uint32_t get(std::span<const uint8_t> bytes, size_t at, int size) const
    {
        uint32_t value = 0;
        for (int i = 0; i < size; ++i)
            value |= uint32_t(bytes[at + size_t(i)]) << (8 * (m_highestFirst ? size - 1 - i : i));
        return value;
    }
    void put(std::vector<uint8_t> &out, uint32_t value, int size) const
    {
        for (int i = 0; i < size; ++i)
            out.push_back(uint8_t(value >> (8 * (m_highestFirst ? size - 1 - i : i))));
    }

private:
    bool m_highestFirst;
};

/// The first directory of a file, its entries unread.
struct TiffDirectory
{
    struct Entry
    {
        uint16_t id = 0, type = 0;
        uint32_t count = 0;
        size_t at =
            0; ///< of its 12 bytes in the file; what it holds, or where that lies, is in the last four
    };
    ByteOrder order;
    uint16_t magic = 0; ///< 42 for TIFF and DNG
    std::vector<Entry> entries;
    size_t end = 0; ///< of the place of the next directory
    [[nodiscard]] const Entry *find(uint16_t id) const;
};
/// Returns nothing for a file of another kind, or a truncated one.
[[nodiscard]] std::optional<TiffDirectory> tiffDirectoryOf(std::span<const uint8_t> file);
/// A directory at a place that another one names.
[[nodiscard]] std::optional<TiffDirectory> tiffDirectoryAt(std::span<const uint8_t> file, ByteOrder order,
                                                           size_t start);

} // namespace wavechroma
