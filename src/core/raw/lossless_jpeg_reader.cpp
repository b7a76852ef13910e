#include "core/raw/lossless_jpeg_reader.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>
#include <memory>
#include <utility>
#include <vector>

namespace wavechroma::raw {

namespace {

/// Bits that one look-up sees: hardly any code is longer, and the table (16 KiB) stays in the nearest cache.
constexpr int kLook = 12;

/// What one look-up tells. Whole differences are the rule; what is parted is put together without asking
/// anything of its bits that no processor could foresee.
struct Entry
{
    enum Kind : uint8_t { Whole, Parted, Longer }; // Longer, too: no code, or one without bits behind it (16)

    int16_t difference = 0; ///< or, where it is parted, bits of the code and, times 256, of the difference
    uint8_t bits = 0;       ///< of both
    Kind kind = Longer;
};

/// Of a category, from bits whose first are the difference's (T.81, figure F.12), without a branch that no
/// processor could foresee.
int differenceOf(uint64_t bits, int category)
{
    const int value = int((bits >> 1) >> (63 - category)), isNegative = int(int64_t(~bits) >> 63);
    return value + (isNegative & (int(~0U << category) + 1));
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
        if (category == 16)
            return;
        const int rest = kLook - length, bits = length + category;
        auto *const entries = look.data() + (size_t(code) << rest);
        for (uint64_t after = 0; after < (1U << rest); ++after)
            entries[after] = category <= rest
                                 ? Entry{int16_t(differenceOf(after << 1 << (63 - rest), category)),
                                         uint8_t(bits), Entry::Whole}
                                 : Entry{int16_t(category << 8 | length), uint8_t(bits), Entry::Parted};
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

/// The next bits, highest first. A value of its own, so that it stays in registers.
struct Bits
{
    uint64_t next = 0;
    int count = 0; ///< that are sound

    [[nodiscard]] uint32_t peek(int n) const { return uint32_t(next >> (64 - n)); }
    void skip(int n)
    {
        next <<= n;
        count -= n;
    }
};

/// The bytes of an entropy-coded segment, with the zero after each 0xFF taken out a buffer at a time, so that
/// filling up is one load.
class SegmentBytes
{
public:
    explicit SegmentBytes(std::span<const uint8_t> bytes) : m_from(bytes.data()), m_end(m_from + bytes.size())
    {
        m_at = m_filled = m_buffer.data();
        fillBuffer();
    }

    /// At least 56 bits are there afterwards; zeros beyond the end.
    void refill(Bits &bits)
    {
        if (m_at > m_last) [[unlikely]]
            fillBuffer();
        uint64_t eight = 0;
        std::memcpy(&eight, m_at, 8);
        if constexpr (std::endian::native == std::endian::little)
            eight = __builtin_bswap64(eight);
        bits.next |= eight >> bits.count; // the same again where some bits of this byte were there
        m_at += (63 - bits.count) >> 3;
        bits.count |= 56;
    }
    [[nodiscard]] bool isPastEnd(const Bits &bits) const
    {
        return m_isOver && (m_gone + (m_at - m_buffer.data())) * 8 - bits.count > m_whole * 8;
    }

private:
    static constexpr ptrdiff_t kBuffer = 16384, kPad = 8;

    void fillBuffer()
    {
        const ptrdiff_t left = std::max<ptrdiff_t>(0, m_filled - m_at);
        m_gone += m_at - m_buffer.data();
        std::memmove(m_buffer.data(), m_at, size_t(left));
        m_at = m_buffer.data();
        m_filled = m_at + left;
        take();
        std::memset(m_filled, 0, kPad);
        // before the end eight bytes are loaded of what is there; at the end zeros follow
        m_last = m_isOver ? m_filled : m_filled - 8;
    }
    void take()
    {
        const uint8_t *const before = m_filled, *const full = m_buffer.data() + kBuffer;
        while (m_filled < full && !m_isOver) {
            const auto most = size_t(std::min(full - m_filled, m_end - m_from));
            const auto *mark = static_cast<const uint8_t *>(std::memchr(m_from, 0xFF, most));
            const size_t plain = mark ? size_t(mark - m_from) : most;
            std::memcpy(m_filled, m_from, plain);
            m_filled += plain;
            m_from += plain;
            if (mark && mark + 1 < m_end && mark[1] == 0) {
                *m_filled++ = 0xFF;
                m_from += 2;
            } else if (mark || m_from == m_end)
                m_isOver = true; // a marker, or the end
        }
        m_whole += m_filled - before;
    }

    const uint8_t *m_from, *m_end;                ///< what was not taken yet
    std::array<uint8_t, kBuffer + kPad> m_buffer; ///< without the zeros after 0xFF
    uint8_t *m_at, *m_filled,
        *m_last = nullptr;             ///< next to be loaded; end of what is there; last to load from
    ptrdiff_t m_gone = 0, m_whole = 0; ///< bytes before the buffer, and up to what was filled
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

struct Difference
{
    Bits after;
    int value = 0;
    bool isSound = true;
};

/// Of a code that one look-up does not tell. At least 32 bits are there.
Difference longDifference(const HuffmanTable &table, Bits bits)
{
    for (int length = 1; length <= 16; ++length) {
        const uint32_t code = bits.peek(length);
        const auto n = size_t(length);
        if (code < table.firstCode[n] || code - table.firstCode[n] >= table.counts[n])
            continue;
        const int category = table.categories[table.firstIndex[n] + code - table.firstCode[n]];
        bits.skip(length);
        if (category == 16)
            return {bits, -32768};
        const int value = differenceOf(bits.next, category);
        bits.skip(category);
        return {bits, value};
    }
    bits.skip(16);
    return {bits, 0, false};
}

/// Of N components side by side. What changes with each code lies in variables of a row's loop, and the loop
/// over components is written out, so that all of it stays in registers.
template <size_t N> class Unpacker
{
public:
    explicit Unpacker(const Stream &stream) : m_header(stream.header), m_bytes(stream.data)
    {
        for (size_t k = 0; k < N; ++k)
            m_tables[k] = stream.tables[size_t(stream.tableOf[k])].get();
        m_above.fill(uint16_t(1U << (m_header.bits - 1)));
    }

    bool run(uint16_t *out, ptrdiff_t stride, int width, int height)
    {
        const uint32_t tooLarge = m_header.bits == 16 ? 0 : ~0U << m_header.bits;
        for (int y = 0; y < height; ++y) {
            unpackRow(out + y * stride, width);
            if (!m_isSound || (m_seen & tooLarge) || m_bytes.isPastEnd(m_bits))
                return false;
        }
        return true;
    }

private:
    using Pixel = std::array<uint16_t, N>;

    void unpackRow(uint16_t *row, int width)
    {
        Bits bits = m_bits;
        Pixel left = m_above;
        uint32_t seen = m_seen;
        constexpr std::make_index_sequence<N> kAll;
        // inlined like all that it calls, or what it refers to would have to lie in memory
        const auto nextInto = [&](int first) __attribute__((always_inline))
        {
            Pixel pixel;
            nextPixel(bits, left, seen, pixel.data(), kAll);
            if (first < width) // of it, what lies within the picture
                std::copy_n(pixel.data(), std::min(width - first, int(N)), row + first);
        };
        nextInto(0);
        m_above = left;
        int i = 1;
        for (const int whole = std::min(m_header.width, width / int(N)); i < whole; ++i)
            nextPixel(bits, left, seen, row + i * int(N), kAll);
        for (; i < m_header.width; ++i) // a tile goes on beyond the picture's rim
            nextInto(i * int(N));
        m_bits = bits;
        m_seen = seen;
    }

    template <size_t... K>
    [[gnu::always_inline]] void nextPixel(Bits &bits, Pixel &left, uint32_t &seen, uint16_t *to,
                                          std::index_sequence<K...>)
    {
        ((left[K] = uint16_t(left[K] + nextDifference<K % 2 == 0>(*m_tables[K], bits)), seen |= left[K],
          to[K] = left[K]),
         ...);
    }

    /// One filling serves two: 12 + 15 bits each at most.
    template <bool mustRefill>
    [[gnu::always_inline]] int nextDifference(const HuffmanTable &table, Bits &bits)
    {
        if constexpr (mustRefill)
            m_bytes.refill(bits);
        const Entry entry = table.look[bits.peek(kLook)];
        if (entry.kind == Entry::Longer) [[unlikely]] {
            m_bytes.refill(bits);
            const auto longer = longDifference(table, bits);
            bits = longer.after;
            m_bytes.refill(bits);
            m_isSound &= longer.isSound;
            return longer.value;
        }
        const auto before = bits.next;
        bits.skip(entry.bits);
        return entry.kind == Entry::Whole
                   ? entry.difference
                   : differenceOf(before << (entry.difference & 0xFF), entry.difference >> 8);
    }

    const LosslessJpegHeader m_header;
    SegmentBytes m_bytes;
    Bits m_bits;
    std::array<const HuffmanTable *, N> m_tables{};
    Pixel m_above{};
    uint32_t m_seen = 0; ///< all bits of all samples
    bool m_isSound = true;
};

template <size_t N>
bool unpackRows(const Stream &stream, uint16_t *out, ptrdiff_t stride, int width, int height)
{
    return Unpacker<N>(stream).run(out, stride, width, height);
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

int losslessJpegPointTransform(std::span<const uint8_t> stream)
{
    constexpr uint8_t kMarker = 0xFF, kStart = 0xD8, kScan = 0xDA;
    size_t at = 0;
    while (at + 4 <= stream.size() && stream[at] == kMarker) {
        if (stream[at + 1] == kStart) {
            at += 2;
            continue;
        }
        const size_t length = size_t(stream[at + 2]) << 8 | stream[at + 3];
        if (stream[at + 1] == kScan)
            return at + 2 + length <= stream.size() && length >= 3 ? stream[at + 1 + length] & 0x0F : -1;
        at += 2 + length;
    }
    return -1;
}

} // namespace wavechroma::raw
