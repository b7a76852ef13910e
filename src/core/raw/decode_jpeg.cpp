#include "core/base/result.h"
#include "core/base/said.h"
#include "core/raw/decoders.h"

#include <csetjmp>
#include <cstdio>

#include <jpeglib.h>
#include <span>

namespace wavechroma::raw {

namespace {

struct JumpingError
{
    jpeg_error_mgr base;
    jmp_buf jump;
    char message[JMSG_LENGTH_MAX];
    bool truncated;
};

void onError(j_common_ptr info)
{
    auto *error = reinterpret_cast<JumpingError *>(info->err);
    info->err->format_message(info, error->message);
    longjmp(error->jump, 1);
}

void onMessage(j_common_ptr info, int level)
{
    // Warnings (level −1) mean corrupt or missing data: the library fills in grey, which must not be
    // measured.
    if (level < 0) {
        auto *error = reinterpret_cast<JumpingError *>(info->err);
        info->err->format_message(info, error->message);
        error->truncated = true;
    }
}

/// A progressive file goes over all of its picture once a scan; some thousand scans fit into a few kilobytes.
constexpr int kMostScans = 64;
constexpr double kMostPixelsAByte = 500; ///< of the plainest picture

void onProgress(j_common_ptr info)
{
    if (info->is_decompressor && reinterpret_cast<j_decompress_ptr>(info)->input_scan_number > kMostScans) {
        auto *error = reinterpret_cast<JumpingError *>(info->err);
        std::snprintf(error->message, sizeof error->message, words::said("has more than %d scans"),
                      kMostScans);
        longjmp(error->jump, 1);
    }
}

/// libjpeg leaves through longjmp, so this function keeps no object with a destructor.
bool decodeInto(jpeg_decompress_struct &info, JumpingError &error, std::span<const uint8_t> bytes,
                CodedPicture &out, std::vector<uint8_t> &row)
{
    if (setjmp(error.jump))
        return false;
    jpeg_mem_src(&info, bytes.data(), bytes.size());
    jpeg_save_markers(&info, JPEG_APP0 + 2, 0xFFFF);
    jpeg_read_header(&info, TRUE);
    const double pixels = double(info.image_width) * info.image_height;
    const bool isTooLarge = pixels > double(kMostPixels);
    if (isTooLarge || info.num_components == 4 || !canHold(bytes.size(), pixels, kMostPixelsAByte)) {
        std::snprintf(error.message, sizeof error.message, "%s",
                      info.num_components == 4 ? words::said("four-colour (CMYK) pictures cannot be measured")
                      : isTooLarge             ? "is too large"
                                               : words::said("claims more pixels than its size can hold"));
        return false;
    }
    info.out_color_space = info.num_components == 1 ? JCS_GRAYSCALE : JCS_RGB;
    jpeg_start_decompress(&info);
    out.width = int(info.output_width);
    out.height = int(info.output_height);
    out.channels = info.output_components;
    const size_t rowSize = size_t(out.width) * size_t(out.channels);
    out.codes = Samples(rowSize * size_t(out.height));
    row.resize(rowSize);
    while (info.output_scanline < info.output_height) {
        uint16_t *target = out.codes.data() + rowSize * info.output_scanline;
        JSAMPROW rows[] = {row.data()};
        jpeg_read_scanlines(&info, rows, 1);
        for (size_t i = 0; i < rowSize; ++i)
            target[i] = row[i];
    }
    JOCTET *icc = nullptr;
    unsigned int iccSize = 0;
    if (jpeg_read_icc_profile(&info, &icc, &iccSize)) {
        out.iccProfile.assign(icc, icc + iccSize);
        free(icc);
    }
    return true;
}

} // namespace

Result<CodedPicture> decodeJpeg(std::span<const uint8_t> bytes, const std::string &name)
{
    jpeg_decompress_struct info{};
    JumpingError error{};
    info.err = jpeg_std_error(&error.base);
    error.base.error_exit = onError;
    error.base.emit_message = onMessage;
    jpeg_create_decompress(&info);
    jpeg_progress_mgr progress{};
    progress.progress_monitor = onProgress;
    info.progress = &progress;
    info.mem->max_memory_to_use = 512L << 20;
    CodedPicture picture;
    std::vector<uint8_t> row;
    const bool fine = decodeInto(info, error, bytes, picture, row);
    jpeg_destroy_decompress(&info);
    if (!fine || error.truncated)
        return unusable("{file}: {why}", {{"file", name}, {"why", error.message}});
    return picture;
}

} // namespace wavechroma::raw
