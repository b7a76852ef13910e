#include "core/formats/small_jpeg.h"

#include <csetjmp>
#include <cstdio>
#include <cstdlib>
// after stdio, which it needs
#include <jpeglib.h>
#include <optional>

namespace wavechroma {

namespace {

struct SmallJpeg
{
    jpeg_error_mgr faults;
    std::jmp_buf back;
    jpeg_compress_struct jpeg;
    unsigned char *bytes = nullptr;
    unsigned long size = 0;

    ~SmallJpeg()
    {
        jpeg_destroy_compress(&jpeg);
        std::free(bytes);
    }
};

/// The library's faults jump back here; nothing with a destructor lies between.
bool encodeSmall(SmallJpeg &to, std::span<const uint32_t> rgb, uint8_t *line, int width, int height,
                 int quality)
{
    if (setjmp(to.back))
        return false;
    jpeg_create_compress(&to.jpeg);
    jpeg_mem_dest(&to.jpeg, &to.bytes, &to.size);
    to.jpeg.image_width = JDIMENSION(width);
    to.jpeg.image_height = JDIMENSION(height);
    to.jpeg.input_components = 3;
    to.jpeg.in_color_space = JCS_RGB;
    jpeg_set_defaults(&to.jpeg);
    jpeg_set_quality(&to.jpeg, quality, TRUE);
    jpeg_start_compress(&to.jpeg, TRUE);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            const uint32_t pixel = rgb[size_t(y) * size_t(width) + size_t(x)];
            for (int c = 0; c < 3; ++c)
                line[3 * x + c] = uint8_t(pixel >> (16 - 8 * c));
        }
        jpeg_write_scanlines(&to.jpeg, &line, 1);
    }
    jpeg_finish_compress(&to.jpeg);
    return true;
}

} // namespace

std::optional<Bytes> smallJpegOf(std::span<const uint32_t> rgb, int width, int height, int quality)
{
    if (width < 1 || height < 1 || width > JPEG_MAX_DIMENSION || height > JPEG_MAX_DIMENSION ||
        rgb.size() < size_t(width) * size_t(height))
        return std::nullopt;
    SmallJpeg to{};
    to.jpeg.err = jpeg_std_error(&to.faults);
    to.jpeg.client_data = &to;
    to.faults.error_exit = [](j_common_ptr jpeg) {
        std::longjmp(static_cast<SmallJpeg *>(jpeg->client_data)->back, 1);
    };
    to.faults.output_message = [](j_common_ptr) {};
    std::vector<uint8_t> line(size_t(width) * 3);
    if (!encodeSmall(to, rgb, line.data(), width, height, quality))
        return std::nullopt;
    return Bytes(to.bytes, to.bytes + to.size);
}

} // namespace wavechroma
