#include "core/formats/exif_writing.h"
#include "core/formats/picture_writers.h"

#include <cmath>
#include <csetjmp>
#include <cstdio>
// after stdio, which it needs
#include <algorithm>
#include <jpeglib.h>

namespace wavechroma {

namespace {

struct Faults
{
    jpeg_error_mgr manager;
    std::jmp_buf back;
};

/// The library's faults jump back here instead of ending the program; nothing with a destructor lies between.
class JpegFile : public PictureFile
{
public:
    JpegFile(GrowingFile file, const PictureFacts &facts, Bytes profile)
        : m_file(std::move(file)), m_facts(facts), m_profile(std::move(profile)),
          m_exif(bytesOf(std::string_view("Exif\0\0", 6))),
          m_stream(::fdopen(m_file.descriptorOfItsOwn(), "wb")), m_line(size_t(facts.width) * 3)
    {
        const auto exif =
            exifOf({facts.camera, facts.pixelsPerInch, facts.width, facts.height, facts.space.id == "srgb"});
        m_exif.insert(m_exif.end(), exif.begin(), exif.end());
        m_jpeg.err = jpeg_std_error(&m_faults.manager);
        m_faults.manager.error_exit = [](j_common_ptr jpeg) {
            std::longjmp(reinterpret_cast<Faults *>(jpeg->err)->back, 1);
        };
        m_faults.manager.output_message = [](j_common_ptr) {};
        m_isSound = m_stream && begin();
    }
    ~JpegFile() override
    {
        jpeg_destroy_compress(&m_jpeg);
        if (m_stream)
            std::fclose(m_stream);
    }

    Result<Done> add(const uint16_t *codes, int rows) override
    {
        for (int y = 0; y < rows && m_isSound; ++y, codes += m_line.size()) {
            for (size_t i = 0; i < m_line.size(); ++i)
                m_line[i] = uint8_t((codes[i] * 255U + 32767U) / 65535U);
            m_isSound = write(m_line.data());
        }
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
        if (setjmp(m_faults.back))
            return false;
        jpeg_create_compress(&m_jpeg);
        jpeg_stdio_dest(&m_jpeg, m_stream);
        m_jpeg.image_width = JDIMENSION(m_facts.width);
        m_jpeg.image_height = JDIMENSION(m_facts.height);
        m_jpeg.input_components = 3;
        m_jpeg.in_color_space = JCS_RGB;
        jpeg_set_defaults(&m_jpeg);
        jpeg_set_quality(&m_jpeg, m_facts.quality, TRUE);
        m_jpeg.comp_info[0].h_samp_factor = m_jpeg.comp_info[0].v_samp_factor =
            1;                          // colours as sharp as the rest
        m_jpeg.optimize_coding = FALSE; // else all coefficients are held until the end
        if (m_facts.pixelsPerInch > 0) {
            m_jpeg.density_unit = 1;
            m_jpeg.X_density = m_jpeg.Y_density =
                UINT16(std::lround(std::min(65535.0, m_facts.pixelsPerInch)));
        }
        jpeg_start_compress(&m_jpeg, TRUE);
        jpeg_write_marker(&m_jpeg, JPEG_APP0 + 1, m_exif.data(), unsigned(m_exif.size()));
        jpeg_write_icc_profile(&m_jpeg, m_profile.data(), unsigned(m_profile.size()));
        return true;
    }
    bool write(uint8_t *line)
    {
        if (setjmp(m_faults.back))
            return false;
        jpeg_write_scanlines(&m_jpeg, &line, 1);
        return true;
    }
    bool end()
    {
        if (setjmp(m_faults.back))
            return false;
        jpeg_finish_compress(&m_jpeg);
        return true;
    }

    GrowingFile m_file;
    PictureFacts m_facts;
    Bytes m_profile, m_exif;
    std::FILE *m_stream;
    std::vector<uint8_t> m_line;
    jpeg_compress_struct m_jpeg{};
    Faults m_faults{};
    bool m_isSound = false;
};

} // namespace

Result<std::unique_ptr<PictureFile>> jpegFile(GrowingFile file, const PictureFacts &facts, Bytes profile)
{
    return std::unique_ptr<PictureFile>(
        std::make_unique<JpegFile>(std::move(file), facts, std::move(profile)));
}

} // namespace wavechroma
