#pragma once
#include "core/base/camera_facts.h"
#include "core/formats/tag_directory.h"
#include "core/formats/whole_file.h"
#include "core/raw/raw_frame.h"

#include <optional>
#include <vector>

namespace wavechroma {

/// What a camera's maker keeps in Exif in a form of its own. Its places count from the head of the file that
/// it was read from, so that they are kept with it.
struct MakerNote
{
    Bytes bytes;
    uint32_t place = 0; ///< in that file
    bool isHighestFirst = false;
};

/// A raw frame to be written as DNG 1.4 (Digital Negative Specification 1.4.0.0).
struct DngFrame
{
    int width = 0, height = 0;
    std::span<const uint16_t> samples; ///< row by row
    std::vector<uint8_t> filter;       ///< row by row: 0 R, 1 G, 2 B
    int black = 0, white = 0;
    CameraFacts camera;
    Matrix3 colorMatrix;             ///< XYZ under D65 → camera RGB
    Vector3 asShotNeutral{};         ///< camera RGB of a neutral, green 1
    int orientation = 1;             ///< EXIF 1…8
    std::string comment;             ///< goes into ImageDescription
    int filterColumns = 0;           ///< 0: it is a square, 2 × 2 or 6 × 6
    std::vector<double> blacks = {}; ///< in place of `black`: for each cell of the filter
    std::string software = "Wavechroma simulated studio";
    std::string artist = {}, copyright = {};
    Bytes xmp = {};                             ///< packet; empty: none
    std::vector<tags::Tag> exif = {}, gps = {}; ///< beside the facts above, which come first
    std::optional<MakerNote> makerNote = {};
    Bytes preview = {}; ///< a JPEG of it, as cameras put beside their raw samples; empty: none
    int previewWidth = 0, previewHeight = 0;
};

enum class DngPacking { None, LosslessJpeg }; ///< the latter needs an even width; None is used otherwise

/// The visible area of a raw frame of any format, ready to be written: samples equal to the bit, levels,
/// filter and facts; whoever shot it, all of Exif with the place (GPS) and the maker's note, and XMP, from
/// `file`, the frame's own bytes. `memory` keeps the samples. Unusable for a frame without a mosaic.
[[nodiscard]] Result<DngFrame> dngFrameOf(const RawFrame &frame, const Bytes &file,
                                          std::vector<uint16_t> &memory);

[[nodiscard]] Bytes dngFileOf(const DngFrame &frame, DngPacking packing = DngPacking::LosslessJpeg);

} // namespace wavechroma
