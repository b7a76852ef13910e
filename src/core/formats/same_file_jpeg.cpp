#include "core/formats/same_file.h"

#include <csetjmp>
#include <cstdio>
#include <optional>
// after stdio, which it needs
#include <cstdlib>
#include <cstring>
#include <exiv2/exiv2.hpp>
#include <jpeglib.h>
#include <memory>

namespace wavechroma::same_file {

namespace {

struct Jumping
{
    jpeg_error_mgr manager;
    std::jmp_buf back;
};

void beQuiet(Jumping &faults)
{
    jpeg_std_error(&faults.manager);
    faults.manager.error_exit = [](j_common_ptr jpeg) {
        std::longjmp(reinterpret_cast<Jumping *>(jpeg->err)->back, 1);
    };
    faults.manager.output_message = [](j_common_ptr) {};
}

bool startsWith(const jpeg_saved_marker_ptr marker, std::string_view text)
{
    return marker->data_length >= text.size() && std::memcmp(marker->data, text.data(), text.size()) == 0;
}

/// Tables and sampling of the source, so that the file is as good, and as large, as it was.
void takeTables(jpeg_compress_struct &to, const jpeg_decompress_struct &from)
{
    if (from.jpeg_color_space != JCS_YCbCr || from.num_components != 3)
        return;
    for (int i = 0; i < NUM_QUANT_TBLS; ++i)
        if (const auto *table = from.quant_tbl_ptrs[i]) {
            if (!to.quant_tbl_ptrs[i])
                to.quant_tbl_ptrs[i] = jpeg_alloc_quant_table(reinterpret_cast<j_common_ptr>(&to));
            std::memcpy(to.quant_tbl_ptrs[i]->quantval, table->quantval, sizeof table->quantval);
            to.quant_tbl_ptrs[i]->sent_table = FALSE;
        }
    for (int c = 0; c < 3; ++c) {
        to.comp_info[c].quant_tbl_no = from.comp_info[c].quant_tbl_no;
        to.comp_info[c].h_samp_factor = from.comp_info[c].h_samp_factor;
        to.comp_info[c].v_samp_factor = from.comp_info[c].v_samp_factor;
    }
    if (from.progressive_mode)
        jpeg_simple_progression(&to);
}

/// Where a marker's image resources begin: behind a name that ends with a zero, each with a mark of its own.
std::optional<size_t> resourcesIn(const jpeg_marker_struct *marker)
{
    constexpr std::string_view kMark = "8BIM";
    const std::string_view data(reinterpret_cast<const char *>(marker->data), marker->data_length);
    const auto zero = data.find('\0');
    return zero != data.npos && data.substr(zero + 1).starts_with(kMark) ? std::optional(zero + 1)
                                                                         : std::nullopt;
}

/// All but what the library writes by itself (JFIF, the colour transform) and what points at small pictures.
void copyMarkers(jpeg_compress_struct &to, const jpeg_decompress_struct &from)
{
    for (auto *marker = from.marker_list; marker; marker = marker->next) {
        const bool isOwn =
            (marker->marker == JPEG_APP0 && (startsWith(marker, "JFIF") || startsWith(marker, "JFXX"))) ||
            (marker->marker == JPEG_APP0 + 14 && startsWith(marker, "Adobe")) ||
            (marker->marker == JPEG_APP0 + 2 && startsWith(marker, "MPF"));
        if (isOwn)
            continue;
        const auto resources = marker->marker == JPEG_APP0 + 13 ? resourcesIn(marker) : std::nullopt;
        if (resources) {
            const auto kept =
                withoutSmallPictures({marker->data + *resources, marker->data_length - *resources});
            jpeg_write_m_header(&to, marker->marker, unsigned(kept.size() + *resources));
            for (size_t i = 0; i < *resources; ++i)
                jpeg_write_m_byte(&to, marker->data[i]);
            for (const uint8_t byte : kept)
                jpeg_write_m_byte(&to, byte);
            continue;
        }
        jpeg_write_marker(&to, marker->marker, marker->data, marker->data_length);
    }
}

struct Jpegs
{
    jpeg_decompress_struct from{};
    jpeg_compress_struct to{};
    Jumping faults{};
    std::vector<uint8_t> line;
    unsigned char *out = nullptr;
    unsigned long size = 0;
};

/// The library leaves through longjmp, so this function keeps no object with a destructor.
bool fill(Jpegs &jpegs, const Bytes &source, const PictureCodes &picture, std::span<const uint16_t> codes)
{
    if (setjmp(jpegs.faults.back))
        return false;
    auto &from = jpegs.from;
    auto &to = jpegs.to;
    jpeg_create_decompress(&from);
    jpeg_create_compress(&to);
    jpeg_mem_src(&from, source.data(), source.size());
    for (int app = 0; app < 16; ++app)
        jpeg_save_markers(&from, JPEG_APP0 + app, 0xFFFF);
    jpeg_save_markers(&from, JPEG_COM, 0xFFFF);
    jpeg_read_header(&from, TRUE);
    jpeg_mem_dest(&to, &jpegs.out, &jpegs.size);
    to.image_width = JDIMENSION(picture.width);
    to.image_height = JDIMENSION(picture.height);
    to.input_components = 3;
    to.in_color_space = JCS_RGB;
    jpeg_set_defaults(&to);
    jpeg_set_quality(&to, 95, TRUE);
    takeTables(to, from);
    if (from.saw_JFIF_marker) {
        to.density_unit = from.density_unit;
        to.X_density = from.X_density;
        to.Y_density = from.Y_density;
    }
    jpeg_start_compress(&to, TRUE);
    copyMarkers(to, from);
    const uint16_t *at = codes.data();
    while (to.next_scanline < to.image_height) {
        for (auto &byte : jpegs.line)
            byte = uint8_t(*at++);
        JSAMPROW row = jpegs.line.data();
        jpeg_write_scanlines(&to, &row, 1);
    }
    jpeg_finish_compress(&to);
    return true;
}

/// The small picture that EXIF may hold of the large one shows the colours before.
std::optional<Bytes> withoutThumbnail(Bytes file)
{
    try {
        auto image = Exiv2::ImageFactory::open(file.data(), long(file.size()));
        image->readMetadata();
        Exiv2::ExifThumb thumb(image->exifData());
        if (thumb.copy().size_ == 0)
            return file;
        thumb.erase();
        image->writeMetadata();
        auto &io = image->io();
        const auto *bytes = io.mmap();
        return Bytes(bytes, bytes + io.size());
    } catch (const std::exception &) {
        return std::nullopt;
    }
}

} // namespace

std::optional<Bytes> jpegOf(const Bytes &source, const PictureCodes &picture, std::span<const uint16_t> codes)
{
    Jpegs jpegs;
    beQuiet(jpegs.faults);
    jpegs.from.err = jpegs.to.err = &jpegs.faults.manager;
    jpegs.line.resize(size_t(picture.width) * 3);
    const bool isFilled = fill(jpegs, source, picture, codes);
    jpeg_destroy_decompress(&jpegs.from);
    jpeg_destroy_compress(&jpegs.to);
    const std::unique_ptr<unsigned char, decltype(&std::free)> kept(jpegs.out, &std::free);
    return isFilled ? withoutThumbnail(Bytes(jpegs.out, jpegs.out + jpegs.size)) : std::nullopt;
}

} // namespace wavechroma::same_file
