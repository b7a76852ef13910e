#include "core/raw/own_dng.h"

#include "core/raw/inflated.h"
#include "core/raw/lossless_jpeg_reader.h"

#include <Eigen/Core>
#include <atomic>
#include <bit>
#include <cmath>
#include <cstring>
#include <limits>
#include <tbb/parallel_for.h>

namespace wavechroma::raw {

namespace {

constexpr uint32_t kPlain = 1, kJpeg = 7, kDeflate = 8;

bool isOfCodes(const DngLayout &l)
{
    return !l.isFloat && l.bits <= 16;
}

size_t samplesInPiece(const DngLayout &l)
{
    return l.isPlanar ? 1 : size_t(l.samples);
}

std::shared_ptr<OwnSamples> emptySamples(const DngLayout &l)
{
    const auto out = std::make_shared<OwnSamples>();
    const size_t count = size_t(l.width) * size_t(l.height) * size_t(l.samples);
    out->rowStride = ptrdiff_t(l.width) * l.samples;
    if (isOfCodes(l)) {
        out->unpacked = Samples(count);
        out->samples = out->unpacked.data();
    } else {
        out->numbers.resize(count);
    }
    return out;
}

std::shared_ptr<const OwnSamples> unpackJpeg(const DngLayout &l)
{
    const auto perPixel = int(samplesInPiece(l));
    for (const auto &piece : l.pieces) { // each row of a piece is a row of its stream
        const auto header = losslessJpegHeaderOf(piece.bytes);
        if (!header || header->width * header->components != piece.packedWidth * perPixel ||
            header->height < piece.height)
            return nullptr;
    }
    const auto out = emptySamples(l);
    std::atomic<bool> isSound = true;
    tbb::parallel_for(size_t(0), l.pieces.size(), [&](size_t i) {
        const auto &p = l.pieces[i];
        auto *const to = out->unpacked.data() + ptrdiff_t(p.y) * out->rowStride + ptrdiff_t(p.x) * l.samples;
        if (!l.isPlanar) {
            if (!unpackLosslessJpeg(p.bytes, to, out->rowStride, p.width * perPixel, p.height))
                isSound = false;
            return;
        }
        std::vector<uint16_t> plane(size_t(p.width) * size_t(p.height));
        if (!unpackLosslessJpeg(p.bytes, plane.data(), p.width, p.width, p.height))
            isSound = false;
        for (int y = 0; y < p.height; ++y)
            for (int x = 0; x < p.width; ++x)
                to[y * out->rowStride + ptrdiff_t(x) * l.samples + p.plane] =
                    plane[size_t(y) * size_t(p.width) + size_t(x)];
    });
    out->isDamaged = !isSound;
    return out;
}

/// The file's own bytes where they lie as the machine has them.
std::shared_ptr<const OwnSamples> inPlace(const DngLayout &l)
{
    const auto bytes = l.pieces.front().bytes;
    const auto out = std::make_shared<OwnSamples>();
    out->rowStride = l.width;
    out->samples = reinterpret_cast<const uint16_t *>(bytes.data());
    out->isDamaged = bytes.size() < size_t(l.width) * size_t(l.height) * 2;
    return out;
}

bool liesAsTheMachineHasIt(const DngLayout &l)
{
    const bool isNative = l.order.isHighestFirst() == (std::endian::native == std::endian::big);
    const auto at = reinterpret_cast<uintptr_t>(l.pieces.front().bytes.data());
    return l.compression == kPlain && l.bits == 16 && !l.isFloat && l.samples == 1 && isNative &&
           at % alignof(uint16_t) == 0 && l.pieces.size() == 1 && !l.isTiled;
}

/// A row of samples of 8 to 16 bits, the highest bit first; whole bytes as they are, in the file's order.
void unpackCodes(const uint8_t *from, int bits, bool isHighestFirst, uint16_t *to, size_t count)
{
    if (bits == 8) {
        std::copy_n(from, count, to);
    } else if (bits == 16) {
        for (size_t x = 0; x < count; ++x, from += 2)
            to[x] = isHighestFirst ? uint16_t(from[0] << 8 | from[1]) : uint16_t(from[1] << 8 | from[0]);
    } else {
        uint32_t held = 0;
        int bitsHeld = 0;
        for (size_t x = 0; x < count; ++x) {
            while (bitsHeld < bits) {
                held = held << 8 | *from++;
                bitsHeld += 8;
            }
            bitsHeld -= bits;
            to[x] = uint16_t(held >> bitsHeld & ((1U << bits) - 1));
        }
    }
}

/// Floating point of 24 bits: a sign, 7 bits of exponent with bias 64, 16 of mantissa (DNG specification,
/// "SampleFormat").
float fromFloat24(uint32_t bits)
{
    const auto exponent = int(bits >> 16 & 0x7F);
    const auto mantissa = float(bits & 0xFFFF) / 65536;
    const float size = exponent == 0      ? std::ldexp(mantissa, -62)
                       : exponent == 0x7F ? std::numeric_limits<float>::quiet_NaN()
                                          : std::ldexp(1 + mantissa, exponent - 63);
    return bits >> 23 ? -size : size;
}

void unpackNumbers(const uint8_t *from, const DngLayout &l, ByteOrder order, float *to, size_t count)
{
    const auto size = size_t(l.bits / 8);
    for (size_t x = 0; x < count; ++x, from += size) {
        const uint32_t bits = order.get({from, size}, 0, int(size));
        to[x] = !l.isFloat     ? float(bits)
                : l.bits == 16 ? float(Eigen::numext::bit_cast<Eigen::half>(uint16_t(bits)))
                : l.bits == 24 ? fromFloat24(bits)
                               : std::bit_cast<float>(bits);
    }
}

/// Rows begin with whole bytes (TIFF 6.0, section 3). False where the piece is too short.
bool putPiece(const DngPiece &p, std::span<const uint8_t> bytes, const DngLayout &l, ByteOrder order,
              OwnSamples &out)
{
    const size_t perPixel = samplesInPiece(l), count = size_t(p.width) * perPixel;
    const size_t rowBytes = (size_t(p.packedWidth) * perPixel * size_t(l.bits) + 7) / 8;
    if (bytes.size() < rowBytes * size_t(p.height))
        return false;
    std::vector<uint16_t> codes(l.isPlanar && out.samples ? count : 0);
    std::vector<float> numbers(l.isPlanar && !out.samples ? count : 0);
    for (int y = 0; y < p.height; ++y) {
        const uint8_t *from = bytes.data() + size_t(y) * rowBytes;
        const size_t place = size_t(p.y + y) * size_t(out.rowStride) + size_t(p.x) * size_t(l.samples);
        const auto put = [&](auto *all, auto &row, auto unpack) {
            if (!l.isPlanar)
                return unpack(all + place);
            unpack(row.data());
            for (size_t x = 0; x < count; ++x)
                all[place + x * size_t(l.samples) + size_t(p.plane)] = row[x];
        };
        if (out.samples)
            put(out.unpacked.data(), codes,
                [&](uint16_t *to) { unpackCodes(from, l.bits, order.isHighestFirst(), to, count); });
        else
            put(out.numbers.data(), numbers, [&](float *to) { unpackNumbers(from, l, order, to, count); });
    }
    return true;
}

template <typename Put> std::shared_ptr<const OwnSamples> fromPieces(const DngLayout &l, Put put)
{
    const auto out = emptySamples(l);
    std::atomic<bool> isSound = true;
    tbb::parallel_for(size_t(0), l.pieces.size(), [&](size_t i) {
        if (!put(l.pieces[i], *out))
            isSound = false;
    });
    out->isDamaged = !isSound || std::ranges::any_of(out->numbers, [](float v) { return !std::isfinite(v); });
    return out;
}

std::shared_ptr<const OwnSamples> unpackDeflate(const DngLayout &l)
{
    const auto predictor = predictorOf(l);
    if (!predictor)
        return nullptr;
    return fromPieces(l, [&](const DngPiece &p, OwnSamples &out) {
        const auto bytes = inflated(p, l, *predictor);
        return bytes && putPiece(p, bytes->bytes, l, bytes->order, out);
    });
}

} // namespace

std::shared_ptr<const OwnSamples> ownSamplesOf(const DngLayout &l)
{
    const bool hasWholeBytes = l.isFloat || l.bits <= 16 || l.bits == 32;
    if (!hasWholeBytes)
        return nullptr;
    if (l.compression == kJpeg)
        return isOfCodes(l) && l.version >= 0x01010000 // differences of 16 bits mean others before
                   ? unpackJpeg(l)
                   : nullptr;
    if (l.compression == kDeflate)
        return unpackDeflate(l);
    if (l.compression != kPlain || l.predictor != 1)
        return nullptr;
    if (liesAsTheMachineHasIt(l))
        return inPlace(l);
    return fromPieces(
        l, [&](const DngPiece &p, OwnSamples &out) { return putPiece(p, p.bytes, l, l.order, out); });
}

bool isSafeForLibrary(const DngLayout &l)
{
    return l.compression == kJpeg && l.filterRows > 0 && (l.isTiled || l.pieces.size() == 1) &&
           std::ranges::all_of(l.pieces, [&](const DngPiece &p) {
               return p.packedWidth <= l.width && losslessJpegPointTransform(p.bytes) == 0;
           });
}

} // namespace wavechroma::raw
