#include "core/raw/inflated.h"

#include <zlib.h>

namespace wavechroma::raw {

namespace {

/// Exactly so many bytes; nothing where the stream gives fewer. What follows them is left alone.
std::optional<std::vector<uint8_t>> unzipped(std::span<const uint8_t> from, size_t size)
{
    std::vector<uint8_t> out(size);
    z_stream stream{};
    if (inflateInit(&stream) != Z_OK)
        return std::nullopt;
    stream.next_in = const_cast<uint8_t *>(from.data());
    stream.avail_in = uInt(std::min<size_t>(from.size(), UINT32_MAX));
    stream.next_out = out.data();
    stream.avail_out = uInt(size);
    const int code = inflate(&stream, Z_FINISH);
    inflateEnd(&stream);
    if (stream.avail_out != 0 || (code != Z_STREAM_END && code != Z_BUF_ERROR && code != Z_OK))
        return std::nullopt;
    return out;
}

/// Whole numbers: each is the difference to the one `step` before.
void undoWhole(uint8_t *row, size_t count, size_t step, int size, ByteOrder order)
{
    const auto at = [&](size_t i) { return row + i * size_t(size); };
    for (size_t i = step; i < count; ++i) {
        const uint32_t value =
            order.get({at(i), size_t(size)}, 0, size) + order.get({at(i - step), size_t(size)}, 0, size);
        for (int b = 0; b < size; ++b)
            at(i)[b] = uint8_t(value >> (8 * (order.isHighestFirst() ? size - 1 - b : b)));
    }
}

/// Floating point: bytes of a row are sorted by their weight, the highest first, then differences.
void undoFloat(uint8_t *row, size_t count, size_t step, size_t size, std::vector<uint8_t> &scratch)
{
    for (size_t i = step; i < count * size; ++i)
        row[i] = uint8_t(row[i] + row[i - step]);
    scratch.assign(row, row + count * size);
    for (size_t i = 0; i < count; ++i)
        for (size_t b = 0; b < size; ++b)
            row[i * size + b] = scratch[b * count + i];
}

} // namespace

std::optional<DngPredictor> predictorOf(const DngLayout &l)
{
    using Kind = DngPredictor::Kind;
    DngPredictor out;
    switch (l.predictor) {
    case 1:
        return out;
    case 2:
        out = {Kind::Whole, 1};
        break;
    case 34892:
        out = {Kind::Whole, 2};
        break;
    case 34893:
        out = {Kind::Whole, 4};
        break;
    case 3:
        out = {Kind::Float, 1};
        break;
    case 34894:
        out = {Kind::Float, 2};
        break;
    case 34895:
        out = {Kind::Float, 4};
        break;
    default:
        return std::nullopt;
    }
    const bool fits = out.kind == Kind::Float ? l.isFloat : !l.isFloat && l.bits % 8 == 0;
    return fits ? std::optional(out) : std::nullopt;
}

std::optional<InflatedPiece> inflated(const DngPiece &piece, const DngLayout &l,
                                      const DngPredictor &predictor)
{
    const size_t perPixel = l.isPlanar ? 1 : size_t(l.samples), count = size_t(piece.packedWidth) * perPixel;
    const size_t rowBytes = (count * size_t(l.bits) + 7) / 8;
    auto bytes = unzipped(piece.bytes, rowBytes * size_t(piece.height));
    if (!bytes)
        return std::nullopt;
    const size_t step = perPixel * size_t(predictor.distance);
    std::vector<uint8_t> scratch;
    for (int y = 0; y < piece.height; ++y) {
        auto *const row = bytes->data() + size_t(y) * rowBytes;
        if (predictor.kind == DngPredictor::Kind::Whole)
            undoWhole(row, count, step, l.bits / 8, l.order);
        else if (predictor.kind == DngPredictor::Kind::Float)
            undoFloat(row, count, step, size_t(l.bits / 8), scratch);
    }
    const bool isSorted = predictor.kind == DngPredictor::Kind::Float;
    return InflatedPiece{std::move(*bytes), isSorted ? ByteOrder(true) : l.order};
}

} // namespace wavechroma::raw
