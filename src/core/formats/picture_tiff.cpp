#include "core/formats/exif_writing.h"
#include "core/formats/picture_writers.h"

#include <algorithm>
#include <tiffio.h>

namespace wavechroma {

namespace {

constexpr int kRowsPerStrip = 64;

/// The library's messages are not for standard error; what went wrong is told by the answer.
TIFF *opened(GrowingFile &file)
{
    TIFFSetErrorHandler(nullptr);
    TIFFSetWarningHandler(nullptr);
    return TIFFFdOpen(file.descriptorOfItsOwn(), file.path().c_str(), "w");
}

void setText(TIFF *tiff, uint32_t tag, const std::string &text)
{
    if (!text.empty())
        TIFFSetField(tiff, tag, text.c_str());
}

class TiffFile : public PictureFile
{
public:
    TiffFile(GrowingFile file, const PictureFacts &facts, const Bytes &profile)
        : m_file(std::move(file)), m_facts(facts), m_tiff(opened(m_file))
    {
        if (!m_tiff)
            return;
        TIFFSetField(m_tiff, TIFFTAG_IMAGEWIDTH, uint32_t(facts.width));
        TIFFSetField(m_tiff, TIFFTAG_IMAGELENGTH, uint32_t(facts.height));
        TIFFSetField(m_tiff, TIFFTAG_SAMPLESPERPIXEL, uint16_t(3));
        TIFFSetField(m_tiff, TIFFTAG_BITSPERSAMPLE, uint16_t(16));
        TIFFSetField(m_tiff, TIFFTAG_PHOTOMETRIC, uint16_t(PHOTOMETRIC_RGB));
        TIFFSetField(m_tiff, TIFFTAG_PLANARCONFIG, uint16_t(PLANARCONFIG_CONTIG));
        TIFFSetField(m_tiff, TIFFTAG_ORIENTATION, uint16_t(1));
        TIFFSetField(m_tiff, TIFFTAG_ROWSPERSTRIP, uint32_t(kRowsPerStrip));
        TIFFSetField(m_tiff, TIFFTAG_COMPRESSION,
                     uint16_t(facts.deflate ? COMPRESSION_ADOBE_DEFLATE : COMPRESSION_NONE));
        if (facts.deflate)
            TIFFSetField(m_tiff, TIFFTAG_PREDICTOR, uint16_t(PREDICTOR_HORIZONTAL));
        TIFFSetField(m_tiff, TIFFTAG_ICCPROFILE, uint32_t(profile.size()), profile.data());
        setText(m_tiff, TIFFTAG_MAKE, facts.camera.make);
        setText(m_tiff, TIFFTAG_MODEL, facts.camera.model);
        setText(m_tiff, TIFFTAG_DATETIME, exifTime(facts.camera.capturedAt));
        if (facts.pixelsPerInch > 0) {
            TIFFSetField(m_tiff, TIFFTAG_RESOLUTIONUNIT, uint16_t(RESUNIT_INCH));
            TIFFSetField(m_tiff, TIFFTAG_XRESOLUTION, float(facts.pixelsPerInch));
            TIFFSetField(m_tiff, TIFFTAG_YRESOLUTION, float(facts.pixelsPerInch));
        }
    }
    ~TiffFile() override { close(); }

    Result<Done> add(const uint16_t *codes, int rows) override
    {
        if (!m_tiff)
            return m_file.failure();
        const size_t width = size_t(m_facts.width) * 3;
        for (int done = 0; done < rows;) {
            const int strip = std::min(kRowsPerStrip, m_facts.height - m_row),
                      wanted = strip - int(m_strip.size() / width), taken = std::min(wanted, rows - done);
            const uint16_t *from = codes + size_t(done) * width;
            done += taken;
            const bool isWhole = taken == strip && !m_facts.deflate; // goes as it is, without a copy
            if (!isWhole)
                m_strip.insert(m_strip.end(), from, from + size_t(taken) * width);
            if (taken == wanted && !write(isWhole ? from : m_strip.data(), strip))
                return m_file.failure();
        }
        return Done{};
    }

    Result<Done> finish() override
    {
        if (!m_tiff || !writeExif())
            return m_file.failure();
        close();
        return m_file.commit();
    }

private:
    bool write(const uint16_t *codes, int rows)
    {
        auto *data = const_cast<uint16_t *>(codes); // only packing changes it, and that has a copy
        const auto strip = uint32_t(m_row / kRowsPerStrip);
        const auto bytes = tmsize_t(rows) * m_facts.width * 6;
        const auto done = m_facts.deflate ? TIFFWriteEncodedStrip(m_tiff, strip, data, bytes)
                                          : TIFFWriteRawStrip(m_tiff, strip, data, bytes);
        m_row += rows;
        m_strip.clear();
        return done == bytes || (m_facts.deflate && done >= 0);
    }

    /// A directory of its own behind the pixels, which the first one points to.
    bool writeExif()
    {
        uint64_t at = 0;
        TIFFSetField(m_tiff, TIFFTAG_EXIFIFD, at);
        if (!TIFFWriteDirectory(m_tiff) || TIFFCreateEXIFDirectory(m_tiff) != 0)
            return false;
        const auto &camera = m_facts.camera;
        TIFFSetField(m_tiff, EXIFTAG_EXIFVERSION, "0231");
        TIFFSetField(m_tiff, EXIFTAG_FLASHPIXVERSION, "0100");
        if (camera.exposureSeconds > 0)
            TIFFSetField(m_tiff, EXIFTAG_EXPOSURETIME, camera.exposureSeconds);
        if (camera.fNumber > 0)
            TIFFSetField(m_tiff, EXIFTAG_FNUMBER, camera.fNumber);
        if (camera.focalMm > 0)
            TIFFSetField(m_tiff, EXIFTAG_FOCALLENGTH, camera.focalMm);
        if (camera.iso > 0) {
            const uint16_t iso = uint16_t(std::min(65535.0, camera.iso + 0.5));
            TIFFSetField(m_tiff, EXIFTAG_ISOSPEEDRATINGS, 1, &iso);
        }
        setText(m_tiff, EXIFTAG_DATETIMEORIGINAL, exifTime(camera.capturedAt));
        setText(m_tiff, EXIFTAG_LENSMODEL, camera.lens);
        setText(m_tiff, EXIFTAG_BODYSERIALNUMBER, camera.serial);
        TIFFSetField(m_tiff, EXIFTAG_COLORSPACE, uint16_t(m_facts.space.id == "srgb" ? 1 : 65535));
        if (!TIFFWriteCustomDirectory(m_tiff, &at) || !TIFFSetDirectory(m_tiff, 0))
            return false;
        TIFFSetField(m_tiff, TIFFTAG_EXIFIFD, at);
        return TIFFRewriteDirectory(m_tiff) == 1;
    }
    void close()
    {
        if (m_tiff)
            TIFFClose(m_tiff);
        m_tiff = nullptr;
    }

    GrowingFile m_file;
    PictureFacts m_facts;
    TIFF *m_tiff;
    int m_row = 0;
    std::vector<uint16_t> m_strip; ///< rows of one that is not whole yet
};

} // namespace

Result<std::unique_ptr<PictureFile>> tiffFile(GrowingFile file, const PictureFacts &facts, Bytes profile)
{
    return std::unique_ptr<PictureFile>(std::make_unique<TiffFile>(std::move(file), facts, profile));
}

} // namespace wavechroma
