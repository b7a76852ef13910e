#include "core/raw/lossless_jpeg_reader.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>
#include <memory>
#include <vector>

namespace wavechroma::raw {

namespace {

constexpr int kLook = 14; ///< bits that one look-up sees

/// One look-up: a whole difference where code and bits fit together, else what the code says.
struct Entry
{
    int16_t difference = 0;
    uint8_t bits = 0;     ///< of code and difference, or of the code alone; 0: a longer code, or none
    uint8_t category = 0; ///< bits of the difference still to come; 0: it is whole
};

int differenceOf(uint32_t bits, int category)
{
    return category == 0 ? 0 : int(bits) - ((bits >> (category - 1)) ? 0 : (1 << category) - 1);
}

/// A Huffman table (T.81, annex C), spread over all that may follow.
struct HuffmanTable
{
    std::vector<Entry> look;
    std::array<uint32_t, 17> firstCode{}, firstIndex{}, counts{}; ///< by length, for codes that are longer
    std::vector<uint8_t> categories;

    bool fill(std::span<const uint8_t> lengths, std::span<const uint8_t> values)
    {
        uint32_t code = 0, index = 0;
        look.assign(size_t(1) << kLook, {});
        categories.assign(values.begin(), values.end());
        for (int length = 1; length <= 16; ++length, code <<= 1) {
            firstCode[size_t(length)] = code;
            firstIndex[size_t(length)] = index;
            counts[size_t(length)] = lengths[size_t(length - 1)];
            for (uint32_t i = 0; i < lengths[size_t(length - 1)]; ++i, ++code, ++index) {
                if (code >> length || index >= values.size() || values[index] > 16)
                    return false;
                if (length <= kLook)
                    spread(code, length, values[index]);
            }
        }
        return index == values.size();
    }

private:
    void spread(uint32_t code, int length, int category)
    {
        const int rest = kLook - length;
        const bool isWhole = category <= rest && category < 16;
        for (uint32_t after = 0; after < (1U << rest); ++after) {
            auto &entry = look[(code << rest) | after];
            entry.category = uint8_t(isWhole || category == 16 ? 0 : category);
            entry.bits = uint8_t(length + (isWhole ? category : 0));
            entry.difference = category == 16 ? int16_t(-32768)
                               : isWhole      ? int16_t(differenceOf(after >> (rest - category), category))
                                              : int16_t(0);
        }
    }
};

/// Of a definition: 16 counts of codes by length, then what they stand for. The tiles of a frame mostly share
/// theirs, so a thread keeps the last few. Nothing for one that is none.
std::shared_ptr<const HuffmanTable> tableDefinedBy(std::span<const uint8_t> definition)
{
    struct Known
    {
        std::vector<uint8_t> definition;
        std::shared_ptr<const HuffmanTable> table;
    };
    thread_local std::array<Known, 4> known;
    thread_local size_t next = 0;
    for (const auto &one : known)
        if (one.table && std::ranges::equal(one.definition, definition))
            return one.table;
    const auto made = std::make_shared<HuffmanTable>();
    if (!made->fill(definition.first(16), definition.subspan(16)))
        return nullptr;
    known[next] = {{definition.begin(), definition.end()}, made};
    next = (next + 1) % known.size();
    return made;
}

/// Bits of an entropy-coded segment, highest first, with the zero after each 0xFF taken out.
class BitReader
{
public:
    explicit BitReader(std::span<const uint8_t> bytes) : m_at(bytes.data()), m_end(m_at + bytes.size()) {}

    /// At least 32 bits are there afterwards; zeros beyond the end.
    void refill()
    {
        if (m_count >= 32)
            return;
        if (m_end - m_at >= 4) { // four bytes at once where none of them is 0xFF
            uint32_t four = 0;
            std::memcpy(&four, m_at, 4);
            const uint32_t inverted = ~four;
            if (((inverted - 0x01010101U) & ~inverted & 0x80808080U) == 0) {
                if constexpr (std::endian::native == std::endian::little)
                    four = __builtin_bswap32(four);
                m_bits |= uint64_t(four) << (32 - m_count);
                m_count += 32;
                m_at += 4;
                return;
            }
        }
        while (m_count <= 56 && !m_isOver)
            take();
        if (m_isOver) {
            m_beyond += 64 - m_count;
            m_count = 64;
        }
    }
    [[nodiscard]] uint32_t peek(int n) const { return uint32_t(m_bits >> (64 - n)); }
    void skip(int n)
    {
        m_bits <<= n;
        m_count -= n;
    }
    [[nodiscard]] bool isPastEnd() const { return m_isOver && m_count < m_beyond; }

private:
    void take()
    {
        if (m_at == m_end || (m_at[0] == 0xFF && (m_at + 1 == m_end || m_at[1] != 0))) {
            m_isOver = true; // the end, or a marker
            return;
        }
        m_bits |= uint64_t(*m_at) << (56 - m_count);
        m_count += 8;
        m_at += *m_at == 0xFF ? 2 : 1;
    }

    const uint8_t *m_at, *m_end;
    uint64_t m_bits = 0;
    int m_count = 0;  ///< of bits at hand
    int m_beyond = 0; ///< of these, zeros that are not in the stream
    bool m_isOver = false;
};

struct Stream
{
    LosslessJpegHeader header;
    std::array<std::shared_ptr<const HuffmanTable>, 4> tables;
    std::array<int, 4> tableOf{}; ///< of a component
    std::span<const uint8_t> data;
};

/// Marker segments up to the entropy-coded data.
class SegmentReader
{
public:
    explicit SegmentReader(std::span<const uint8_t> bytes) : m_bytes(bytes) {}

    std::optional<Stream> read(bool withTables)
    {
        if (m_bytes.size() < 4 || m_bytes[0] != 0xFF || m_bytes[1] != 0xD8)
            return std::nullopt;
        size_t at = 2;
        while (at + 4 <= m_bytes.size() && m_bytes[at] == 0xFF) {
            const int marker = m_bytes[at + 1];
            const size_t length = size_t(m_bytes[at + 2]) << 8 | m_bytes[at + 3];
            if (length < 2 || at + 2 + length > m_bytes.size())
                return std::nullopt;
            const auto body = m_bytes.subspan(at + 4, length - 2);
            at += 2 + length;
            if (marker == 0xDA) {
                if (!scan(body))
                    return std::nullopt;
                m_stream.data = m_bytes.subspan(at);
                return std::move(m_stream);
            }
            const bool sound = marker == 0xC3                     ? frame(body)
                               : marker == 0xC4 && withTables     ? tables(body)
                               : marker == 0xC4                   ? true
                               : marker == 0xDD                   ? restarts(body)
                               : marker >= 0xC0 && marker <= 0xCF ? false // another process
                                                                  : true;
            if (!sound)
                return std::nullopt;
        }
        return std::nullopt;
    }

private:
    bool frame(std::span<const uint8_t> b)
    {
        auto &h = m_stream.header;
        if (b.size() < 6)
            return false;
        h = {b[3] << 8 | b[4], b[1] << 8 | b[2], b[5], b[0]};
        if (h.bits < 2 || h.bits > 16 || h.width == 0 || h.height == 0 || h.components < 1 ||
            h.components > 4 || b.size() < 6 + 3 * size_t(h.components))
            return false;
        for (int c = 0; c < h.components; ++c) {
            m_ids[size_t(c)] = b[6 + 3 * size_t(c)];
            if (b[7 + 3 * size_t(c)] != 0x11) // subsampled
                return false;
        }
        return true;
    }
    bool tables(std::span<const uint8_t> b)
    {
        while (!b.empty()) {
            if (b.size() < 17 || b[0] > 3)
                return false;
            size_t count = 0;
            for (size_t i = 1; i <= 16; ++i)
                count += b[i];
            if (b.size() < 17 + count)
                return false;
            auto &table = m_stream.tables[b[0]];
            table = tableDefinedBy(b.subspan(1, 16 + count));
            if (!table)
                return false;
            m_has[b[0]] = true;
            b = b.subspan(17 + count);
        }
        return true;
    }
    bool restarts(std::span<const uint8_t> b) const { return b.size() >= 2 && b[0] == 0 && b[1] == 0; }
    bool scan(std::span<const uint8_t> b)
    {
        const size_t n = size_t(m_stream.header.components);
        if (n == 0 || b.size() < 4 + 2 * n || b[0] != n)
            return false;
        for (size_t c = 0; c < n; ++c) {
            m_stream.tableOf[c] = b[2 + 2 * c] >> 4;
            if (b[1 + 2 * c] != m_ids[c] || m_stream.tableOf[c] > 3)
                return false;
            m_needed[size_t(m_stream.tableOf[c])] = true;
        }
        return b[1 + 2 * n] == 1 && (b[3 + 2 * n] & 15) == 0; // predictor, point transform
    }

public:
    [[nodiscard]] bool hasTables() const
    {
        for (size_t i = 0; i < 4; ++i)
            if (m_needed[i] && !m_has[i])
                return false;
        return true;
    }

private:
    std::span<const uint8_t> m_bytes;
    Stream m_stream;
    std::array<uint8_t, 4> m_ids{};
    std::array<bool, 4> m_has{}, m_needed{};
};

/// Of a code that is longer than what one look-up sees. At least 32 bits are there.
int longDifference(const HuffmanTable &table, BitReader &bits, bool &isSound)
{
    for (int length = kLook + 1; length <= 16; ++length) {
        const uint32_t code = bits.peek(length);
        const auto n = size_t(length);
        if (code < table.firstCode[n] || code - table.firstCode[n] >= table.counts[n])
            continue;
        const int category = table.categories[table.firstIndex[n] + code - table.firstCode[n]];
        bits.skip(length);
        if (category == 16)
            return -32768;
        if (category == 0)
            return 0;
        const uint32_t rest = bits.peek(category);
        bits.skip(category);
        return differenceOf(rest, category);
    }
    isSound = false;
    bits.skip(16);
    return 0;
}

[[gnu::always_inline]] inline int nextDifference(const HuffmanTable &table, BitReader &bits, bool &isSound)
{
    bits.refill();
    const Entry entry = table.look[bits.peek(kLook)];
    bits.skip(entry.bits);
    if (entry.category == 0) {
        if (entry.bits == 0)
            return longDifference(table, bits, isSound);
        return entry.difference;
    }
    const uint32_t rest = bits.peek(entry.category); // 14 + 15 bits at most
    bits.skip(entry.category);
    return differenceOf(rest, entry.category);
}

/// Of N components; the loop over them is one that the compiler unrolls.
template <size_t N>
bool unpackRows(const Stream &stream, uint16_t *out, ptrdiff_t stride, int width, int height)
{
    const auto &h = stream.header;
    const uint32_t tooLarge = h.bits == 16 ? 0 : ~0U << h.bits;
    std::array<const HuffmanTable *, N> tables;
    for (size_t k = 0; k < N; ++k)
        tables[k] = stream.tables[size_t(stream.tableOf[k])].get();
    BitReader bits(stream.data);
    std::array<uint16_t, N> above;
    above.fill(uint16_t(1U << (h.bits - 1)));
    bool isSound = true;
    uint32_t seen = 0;
    const int whole = std::min(h.width, width / int(N));
    for (int y = 0; y < height && isSound; ++y) {
        uint16_t *row = out + y * stride;
        auto left = above;
        const auto next = [&] {
            for (size_t k = 0; k < N; ++k) {
                left[k] = uint16_t(left[k] + nextDifference(*tables[k], bits, isSound));
                seen |= left[k];
            }
        };
        int i = 0;
        for (; i < whole; ++i) {
            next();
            std::copy_n(left.data(), N, row + i * int(N));
            if (i == 0)
                above = left;
        }
        for (; i < h.width; ++i) { // a tile goes on beyond the picture's rim
            next();
            if (i * int(N) < width)
                std::copy_n(left.data(), width - i * int(N), row + i * int(N));
            if (i == 0)
                above = left;
        }
        isSound = isSound && !(seen & tooLarge) && !bits.isPastEnd();
    }
    return isSound;
}

} // namespace

std::optional<LosslessJpegHeader> losslessJpegHeaderOf(std::span<const uint8_t> stream)
{
    const auto read = SegmentReader(stream).read(false);
    return read ? std::optional(read->header) : std::nullopt;
}

bool unpackLosslessJpeg(std::span<const uint8_t> stream, uint16_t *out, ptrdiff_t stride, int width,
                        int height)
{
    SegmentReader reader(stream);
    const auto read = reader.read(true);
    if (!read || !reader.hasTables() || width > read->header.width * read->header.components ||
        height > read->header.height)
        return false;
    switch (read->header.components) {
    case 1:
        return unpackRows<1>(*read, out, stride, width, height);
    case 2:
        return unpackRows<2>(*read, out, stride, width, height);
    case 3:
        return unpackRows<3>(*read, out, stride, width, height);
    default:
        return unpackRows<4>(*read, out, stride, width, height);
    }
}

} // namespace wavechroma::raw
