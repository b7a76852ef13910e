#pragma once
#include <cstdint>
#include <optional>
#include <string_view>

namespace wavechroma::raw {

/// What is done with a tag that stands in a directory of raw samples.
enum class TagUse {
    Honoured, ///< it changes samples, their places or the neutral, and is applied
    Harmless, ///< it changes neither
    Refused,  ///< it would change them in a way that is not implemented
};

struct DngTag
{
    uint16_t id = 0;
    std::string_view name; ///< as in the specification
    TagUse use = TagUse::Harmless;
    /// Refused tags only: a single value of the tag that means the same as its absence. −1: there is none.
    int64_t harmlessValue = -1;
};

/// The row of a tag: TIFF 6.0, TIFF/EP (ISO 12234-2), Exif 3.0 and Digital Negative Specification 1.7.1.0.
/// Returns nothing for a tag that none of them defines: nobody can say what it changes.
[[nodiscard]] std::optional<DngTag> dngTag(uint16_t id);

namespace tag {
inline constexpr uint16_t NewSubfileType = 254, ImageWidth = 256, ImageLength = 257, BitsPerSample = 258,
                          Compression = 259, Photometric = 262, FillOrder = 266, StripOffsets = 273,
                          Orientation = 274, SamplesPerPixel = 277, RowsPerStrip = 278, StripByteCounts = 279,
                          PlanarConfiguration = 284, Predictor = 317, TileWidth = 322, TileLength = 323,
                          TileOffsets = 324, TileByteCounts = 325, SubIfds = 330, SampleFormat = 339,
                          CfaRepeatPatternDim = 33421, CfaPattern = 33422, DngVersion = 50706,
                          CfaPlaneColor = 50710, CfaLayout = 50711, LinearizationTable = 50712,
                          BlackLevelRepeatDim = 50713, BlackLevel = 50714, BlackLevelDeltaH = 50715,
                          BlackLevelDeltaV = 50716, WhiteLevel = 50717, ColorMatrix1 = 50721,
                          ColorMatrix2 = 50722, CameraCalibration1 = 50723, CameraCalibration2 = 50724,
                          AnalogBalance = 50727, AsShotNeutral = 50728, AsShotWhiteXy = 50729,
                          CalibrationIlluminant1 = 50778, CalibrationIlluminant2 = 50779, ActiveArea = 50829,
                          CameraCalibrationSignature = 50931, ProfileCalibrationSignature = 50932,
                          OpcodeList1 = 51008, OpcodeList2 = 51009, OpcodeList3 = 51022;
} // namespace tag

} // namespace wavechroma::raw
