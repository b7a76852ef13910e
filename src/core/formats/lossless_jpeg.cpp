#include "core/formats/lossless_jpeg.h"

#include <array>
#include <bit>

namespace wavechroma {

namespace {

/// Code lengths for the 17 size categories of a difference, made for photographs with shot noise: categories
/// 3…8 take three bits. The sum of 2^-length is below 1, as the all-ones code is reserved.
constexpr std::array<int, 17> kLength{6, 5, 4, 3, 3, 3, 3, 3, 3, 4, 5, 6, 7, 8, 9, 10, 11};

struct Code
{
    uint32_t bits = 0;
    int length = 0;
};

/// Canonical codes (T.81 annex C): by length, then by category.
struct Table
{
    std::array<Code, 17> codes;
    std::array<uint8_t, 16> counts{};
    Bytes order;

    Table()
    {
        uint32_t next = 0;
        for (int length = 1; length <= 16; ++length, next <<= 1)
            for (size_t category = 0; category < kLength.size(); ++category)
                if (kLength[category] == length) {
                    codes[category] = {next++, length};
                    ++counts[size_t(length - 1)];
                    order.push_back(uint8_t(category));
                }
    }
};

class BitWriter
{
public:
    explicit BitWriter(Bytes &out) : m_out(out) {}
    void put(uint32_t bits, int length)
    {
        m_word = (m_word << length) | (bits & ((1U << length) - 1));
        m_length += length;
        while (m_length >= 8) {
            m_length -= 8;
            const auto byte = uint8_t(m_word >> m_length);
            m_out.push_back(byte);
            if (byte == 0xFF)
                m_out.push_back(0); // stuffing: no marker
        }
    }
    void finish() { put(0x7F, m_length ? 8 - m_length : 0); }

private:
    Bytes &m_out;
    uint64_t m_word = 0;
    int m_length = 0;
};

void putWord(Bytes &out, int value)
{
    out.push_back(uint8_t(value >> 8));
    out.push_back(uint8_t(value));
}

void putHeaders(Bytes &out, const Table &table, int width, int height, int bits)
{
    putWord(out, 0xFFD8);
    putWord(out, 0xFFC4); // Huffman table
    putWord(out, 2 + 1 + 16 + int(table.order.size()));
    out.push_back(0);
    out.insert(out.end(), table.counts.begin(), table.counts.end());
    out.insert(out.end(), table.order.begin(), table.order.end());
    putWord(out, 0xFFC3); // frame, lossless
    putWord(out, 8 + 3 * 2);
    out.push_back(uint8_t(bits));
    putWord(out, height);
    putWord(out, width / 2);
    out.push_back(2);
    for (int c = 1; c <= 2; ++c)
        out.insert(out.end(), {uint8_t(c), 0x11, 0});
    putWord(out, 0xFFDA); // scan
    putWord(out, 6 + 2 * 2);
    out.insert(out.end(), {2, 1, 0, 2, 0, 1, 0, 0}); // two components, table 0, predictor 1
}

} // namespace

Bytes losslessJpeg(std::span<const uint16_t> samples, int width, int height, int bits)
{
    static const Table table;
    Bytes out;
    out.reserve(samples.size() * 3 / 2);
    putHeaders(out, table, width, height, bits);
    BitWriter writer(out);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const size_t at = size_t(y) * size_t(width) + size_t(x);
            // The first of a row is told from the one above, the very first from the middle of the range
            // (H.1.2.1).
            const int predicted = x >= 2  ? samples[at - 2]
                                  : y > 0 ? samples[at - size_t(width)]
                                          : 1 << (bits - 1);
            const auto difference = int(int16_t(uint16_t(samples[at] - predicted)));
            const auto size = unsigned(difference < 0 ? -difference : difference);
            const int category = int(std::bit_width(size));
            const auto &code = table.codes[size_t(category)];
            writer.put(code.bits, code.length);
            if (category > 0 && category < 16)
                writer.put(uint32_t(difference < 0 ? difference - 1 : difference), category);
        }
    writer.finish();
    putWord(out, 0xFFD9);
    return out;
}

} // namespace wavechroma
