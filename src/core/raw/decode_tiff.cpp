#include "core/base/phrase.h"
#include "core/base/result.h"
#include "core/base/said.h"
#include "core/raw/decoders.h"

#include <algorithm>
#include <cstring>
#include <span>
#include <tiffio.h>

namespace wavechroma::raw {

namespace {

struct TiffSource
{
    const MappedFile &file;
    std::span<const uint8_t> bytes;
    toff_t at = 0;
};

TiffSource &sourceOf(thandle_t handle)
{
    return *static_cast<TiffSource *>(handle);
}

tmsize_t readBytes(thandle_t handle, void *target, tmsize_t count)
{
    auto &s = sourceOf(handle);
    if (s.at >= s.bytes.size())
        return 0;
    const auto n = std::min(size_t(count), s.bytes.size() - size_t(s.at));
    std::memcpy(target, s.bytes.data() + s.at, n);
    s.at += n;
    s.file.passed(size_t(s.at));
    return tmsize_t(n);
}

toff_t seek(thandle_t handle, toff_t offset, int whence)
{
    auto &s = sourceOf(handle);
    const toff_t base = whence == SEEK_CUR ? s.at : whence == SEEK_END ? s.bytes.size() : 0;
    return s.at = base + offset;
}

struct CloseTiff
{
    void operator()(TIFF *tiff) const { TIFFClose(tiff); }
};

/// Which sample of a pixel is opacity that colours were multiplied by (TIFF 6.0, section 18); −1: none.
int associatedAlpha(TIFF *tiff, int channels)
{
    uint16_t count = 0;
    const uint16_t *kinds = nullptr;
    if (!TIFFGetField(tiff, TIFFTAG_EXTRASAMPLES, &count, &kinds))
        return -1;
    for (int i = 0; i < count; ++i)
        if (kinds[i] == EXTRASAMPLE_ASSOCALPHA)
            return channels + i;
    return -1;
}

uint16_t withoutAlpha(uint16_t code, uint16_t alpha, int maxCode)
{
    return alpha == 0 ? 0
                      : uint16_t(std::min((uint32_t(code) * uint32_t(maxCode) + alpha / 2U) / alpha,
                                          uint32_t(maxCode)));
}

Result<Done> readStrips(TIFF *tiff, CodedPicture &out, int samples, int bits, const std::string &name)
{
    const int alphaAt = associatedAlpha(tiff, out.channels);
    if (alphaAt >= samples)
        return unusable("{file}: its ExtraSamples do not fit its samples", {{"file", name}});
    const size_t rowSamples = size_t(out.width) * size_t(samples);
    const tmsize_t lineSize = TIFFScanlineSize(tiff);
    if (lineSize < tmsize_t(rowSamples * size_t(bits) / 8))
        return unusable("{file}: the rows are shorter than the width says", {{"file", name}});
    std::vector<uint8_t> line(static_cast<size_t>(lineSize));
    out.codes = Samples(size_t(out.width) * size_t(out.channels) * size_t(out.height));
    for (int y = 0; y < out.height; ++y) {
        if (TIFFReadScanline(tiff, line.data(), uint32_t(y)) != 1)
            return unusable("{file}: ends or is damaged at row {row} of {rows}",
                            {{"file", name}, {"row", double(y + 1)}, {"rows", double(out.height)}});
        const auto codeAt = [&](int x, int sample) {
            const size_t from = size_t(x) * size_t(samples) + size_t(sample);
            uint16_t code = line[from];
            if (bits == 16)
                std::memcpy(&code, line.data() + 2 * from, 2);
            return code;
        };
        auto *to = out.codes.data() + size_t(y) * size_t(out.width) * size_t(out.channels);
        for (int x = 0; x < out.width; ++x)
            for (int c = 0; c < out.channels; ++c)
                *to++ =
                    alphaAt < 0 ? codeAt(x, c) : withoutAlpha(codeAt(x, c), codeAt(x, alphaAt), out.maxCode);
    }
    return Done{};
}

const char *kindOf(uint16_t photometric)
{
    switch (photometric) {
    case PHOTOMETRIC_PALETTE:
        return "palette colours";
    case PHOTOMETRIC_SEPARATED:
        return "inks (CMYK)";
    case PHOTOMETRIC_YCBCR:
        return words::said("luma and chroma (YCbCr)");
    case PHOTOMETRIC_CIELAB:
    case PHOTOMETRIC_ICCLAB:
    case PHOTOMETRIC_ITULAB:
        return "Lab";
    case PHOTOMETRIC_MINISWHITE:
        return "inverted grey";
    default:
        return "unnamed colours";
    }
}

} // namespace

Result<CodedPicture> decodeTiff(const MappedFile &file, const std::string &name)
{
    TIFFSetErrorHandler(nullptr);
    TIFFSetWarningHandler(nullptr);
    const auto bytes = file.bytes();
    TiffSource source{file, bytes};
    const std::unique_ptr<TIFF, CloseTiff> tiff(TIFFClientOpen(
        name.c_str(), "rm", &source, readBytes, [](thandle_t, void *, tmsize_t) -> tmsize_t { return 0; },
        seek, [](thandle_t) { return 0; }, [](thandle_t h) -> toff_t { return sourceOf(h).bytes.size(); },
        nullptr, nullptr));
    if (!tiff)
        return unusable("{file}: is not a readable TIFF file", {{"file", name}});
    uint32_t width = 0, height = 0;
    uint16_t samples = 1, bits = 1, photometric = 0, planar = PLANARCONFIG_CONTIG, format = SAMPLEFORMAT_UINT;
    TIFFGetField(tiff.get(), TIFFTAG_IMAGEWIDTH, &width);
    TIFFGetField(tiff.get(), TIFFTAG_IMAGELENGTH, &height);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_SAMPLESPERPIXEL, &samples);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_BITSPERSAMPLE, &bits);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_PLANARCONFIG, &planar);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_SAMPLEFORMAT, &format);
    TIFFGetField(tiff.get(), TIFFTAG_PHOTOMETRIC, &photometric);
    const bool rgb = photometric == PHOTOMETRIC_RGB, grey = photometric == PHOTOMETRIC_MINISBLACK;
    if (width == 0 || height == 0 || size_t(width) * height > kMostPixels || width > 65500 || height > 65500)
        return unusable("{file}: has no usable picture size", {{"file", name}});
    if (!(rgb && samples >= 3) && !(grey && samples >= 1))
        return unusable("{file}: is a TIFF picture in {kind}; only RGB and grey ones can be measured",
                        {{"file", name}, {"kind", words::Phrase{kindOf(photometric)}}});
    uint16_t compression = COMPRESSION_NONE;
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_COMPRESSION, &compression);
    const double pixelBytes = double(width) * height * samples * bits / 8;
    if (!canHold(bytes.size(), pixelBytes, compression == COMPRESSION_NONE ? 1 : 1100))
        return unusable("{file}: claims more pixels than its size can hold", {{"file", name}});
    if ((bits != 8 && bits != 16) || format != SAMPLEFORMAT_UINT)
        return unusable("{file}: only 8 and 16 bit whole-number TIFF pictures can be measured",
                        {{"file", name}});
    if (planar != PLANARCONFIG_CONTIG || TIFFIsTiled(tiff.get()))
        return unusable("{file}: TIFF pictures in tiles or separate planes are not supported",
                        {{"file", name}});
    CodedPicture picture;
    picture.width = int(width);
    picture.height = int(height);
    picture.channels = rgb ? 3 : 1;
    picture.maxCode = bits == 16 ? 65535 : 255;
    uint32_t iccSize = 0;
    void *icc = nullptr;
    if (TIFFGetField(tiff.get(), TIFFTAG_ICCPROFILE, &iccSize, &icc) && icc)
        picture.iccProfile.assign(static_cast<uint8_t *>(icc), static_cast<uint8_t *>(icc) + iccSize);
    if (const auto fine = readStrips(tiff.get(), picture, samples, bits, name); !fine)
        return fine.error();
    picture.leaves = samples > picture.channels           ? words::said("transparency or another channel")
                     : TIFFReadDirectory(tiff.get()) == 1 ? words::said("more pages")
                                                          : nullptr;
    return picture;
}

} // namespace wavechroma::raw
