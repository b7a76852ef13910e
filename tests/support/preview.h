#pragma once
#include <cstdint>
#include <cstring>
#include <vector>

namespace wavechroma::testing {

/// A raw file whose first directory is that of a JPEG picture, as cameras write them; what was first stands
/// below it (tag SubIFDs, Digital Negative Specification 1.4.0.0). `file` is lowest byte first.
[[nodiscard]] inline std::vector<uint8_t> withPreview(std::vector<uint8_t> file,
                                                      const std::vector<uint8_t> &jpeg, int width, int height)
{
    const auto put = [&](uint32_t value, int size) {
        for (int i = 0; i < size; ++i)
            file.push_back(uint8_t(value >> (8 * i)));
    };
    const auto even = [&] { file.resize((file.size() + 1) / 2 * 2); };
    uint32_t below = 0;
    std::memcpy(&below, file.data() + 4, 4);
    even();
    const auto picture = uint32_t(file.size());
    file.insert(file.end(), jpeg.begin(), jpeg.end());
    even();
    const auto bits = uint32_t(file.size());
    for (int i = 0; i < 3; ++i)
        put(8, 2);
    even();
    const auto make = uint32_t(file.size());
    for (const char c : {'S', 'k', 'e', 'r', 'r', 'o', 'w', '\0'})
        put(uint8_t(c), 1);
    const auto first = uint32_t(file.size());
    constexpr uint32_t kByte = 1, kText = 2, kShort = 3, kLong = 4;
    const struct
    {
        uint32_t tag, type, count, value;
    } entries[] = {{254, kLong, 1, 1}, // a smaller picture of what stands below
                   {256, kLong, 1, uint32_t(width)},
                   {257, kLong, 1, uint32_t(height)},
                   {258, kShort, 3, bits},
                   {259, kShort, 1, 7},
                   {262, kShort, 1, 6}, // luma and chroma
                   {271, kText, 8, make},
                   {273, kLong, 1, picture},
                   {277, kShort, 1, 3},
                   {278, kLong, 1, uint32_t(height)},
                   {279, kLong, 1, uint32_t(jpeg.size())},
                   {330, kLong, 1, below},
                   {50706, kByte, 4, 0x00000401}};
    put(uint32_t(std::size(entries)), 2);
    for (const auto &e : entries) {
        put(e.tag, 2);
        put(e.type, 2);
        put(e.count, 4);
        put(e.value, 4);
    }
    put(0, 4);
    std::memcpy(file.data() + 4, &first, 4);
    return file;
}

/// A raw file whose first directory names no others: their tag is one that nobody looks at. The picture that
/// the simulated camera put there is not found then. `file` is lowest byte first.
[[nodiscard]] inline std::vector<uint8_t> withoutPreview(std::vector<uint8_t> file)
{
    uint32_t at = 0;
    std::memcpy(&at, file.data() + 4, 4);
    const int count = file[at] | file[at + 1] << 8;
    for (int i = 0; i < count; ++i)
        if (uint8_t *entry = file.data() + at + 2 + 12 * i; (entry[0] | entry[1] << 8) == 330)
            entry[0] = 333 & 0xFF; // InkNames, which says nothing of a mosaic
    return file;
}

} // namespace wavechroma::testing
