#include "core/formats/exif_writing.h"
#include "core/formats/picture_writers.h"

#include <bit>
#include <cmath>
#include <cstdio>
#include <png.h>

namespace wavechroma {

namespace {

/// The library's faults jump back here instead of ending the program; nothing with a destructor lies between.
class PngFile : public PictureFile
{
public:
    PngFile(GrowingFile file, const PictureFacts &facts, Bytes profile)
        : m_file(std::move(file)), m_facts(facts), m_profile(std::move(profile)),
          m_exif(exifOf(
              {facts.camera, facts.pixelsPerInch, facts.width, facts.height, facts.space.id == "srgb"})),
          m_stream(::fdopen(m_file.descriptorOfItsOwn(), "wb"))
    {
        // the answer says what went wrong, not standard error
        m_png = png_create_write_struct(
            PNG_LIBPNG_VER_STRING, nullptr, [](png_structp png, png_const_charp) { png_longjmp(png, 1); },
            [](png_structp, png_const_charp) {});
        m_info = m_png ? png_create_info_struct(m_png) : nullptr;
        m_isSound = m_stream && m_info && begin();
    }
    ~PngFile() override
    {
        png_destroy_write_struct(&m_png, &m_info);
        if (m_stream)
            std::fclose(m_stream);
    }

    Result<Done> add(const uint16_t *codes, int rows) override
    {
        m_isSound = m_isSound && write(codes, rows);
        return m_isSound ? Result<Done>(Done{}) : m_file.failure();
    }

    Result<Done> finish() override
    {
        m_isSound = m_isSound && end();
        m_isSound = std::fclose(std::exchange(m_stream, nullptr)) == 0 && m_isSound;
        return m_isSound ? m_file.commit() : m_file.failure();
    }

private:
    bool begin()
    {
        if (setjmp(png_jmpbuf(m_png)))
            return false;
        png_init_io(m_png, m_stream);
        png_set_user_limits(m_png, 0x7fffffff, 0x7fffffff);
        png_set_compression_level(m_png, 4);
        png_set_IHDR(m_png, m_info, png_uint_32(m_facts.width), png_uint_32(m_facts.height), 16,
                     PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT,
                     PNG_FILTER_TYPE_DEFAULT);
        png_set_iCCP(m_png, m_info, "icc", PNG_COMPRESSION_TYPE_BASE, m_profile.data(),
                     png_uint_32(m_profile.size()));
        png_set_eXIf_1(m_png, m_info, png_uint_32(m_exif.size()), m_exif.data());
        if (m_facts.pixelsPerInch > 0) {
            const auto perMetre = png_uint_32(std::lround(m_facts.pixelsPerInch / 0.0254));
            png_set_pHYs(m_png, m_info, perMetre, perMetre, PNG_RESOLUTION_METER);
        }
        png_write_info(m_png, m_info);
        if constexpr (std::endian::native == std::endian::little)
            png_set_swap(m_png);
        return true;
    }
    bool write(const uint16_t *codes, int rows)
    {
        if (setjmp(png_jmpbuf(m_png)))
            return false;
        for (int y = 0; y < rows; ++y)
            png_write_row(m_png,
                          reinterpret_cast<png_const_bytep>(codes + size_t(y) * size_t(m_facts.width) * 3));
        return true;
    }
    bool end()
    {
        if (setjmp(png_jmpbuf(m_png)))
            return false;
        png_write_end(m_png, nullptr);
        return true;
    }

    GrowingFile m_file;
    PictureFacts m_facts;
    Bytes m_profile, m_exif;
    std::FILE *m_stream;
    png_structp m_png = nullptr;
    png_infop m_info = nullptr;
    bool m_isSound = false;
};

} // namespace

Result<std::unique_ptr<PictureFile>> pngFile(GrowingFile file, const PictureFacts &facts, Bytes profile)
{
    return std::unique_ptr<PictureFile>(
        std::make_unique<PngFile>(std::move(file), facts, std::move(profile)));
}

} // namespace wavechroma
