#pragma once
#include "core/base/result.h"
#include "core/raw/dng_directory.h"
#include "core/raw/dng_opcodes.h"

namespace wavechroma::raw {

/// A strip or tile: where it lies in the file and in the raw area.
struct DngPiece
{
    std::span<const uint8_t> bytes;
    int x = 0, y = 0, width = 0, height = 0; ///< of what lies inside the raw area
    int packedWidth = 0, packedHeight = 0;   ///< with what lies beyond it
    int plane = 0;                           ///< of planar files: which sample of a pixel
};

/// How a DNG file stores the samples of its main raw picture, and what they mean, as its tags say (Digital
/// Negative Specification 1.7.1.0, chapters 2 to 5). Nothing is applied yet.
struct DngLayout
{
    int width = 0, height = 0;                                  ///< of the raw area, masked margins too
    int left = 0, top = 0, visibleWidth = 0, visibleHeight = 0; ///< ActiveArea
    int samples = 1;                                            ///< a pixel: 1 behind a filter, else 3
    int bits = 16;                                              ///< 8…32
    bool isFloat = false;                                       ///< then 16, 24 or 32 bits
    uint32_t compression = 1, predictor = 1;
    bool isPlanar = false, isTiled = false;
    uint32_t version = 0; ///< 0x01040000 is 1.4.0.0
    ByteOrder order;
    std::vector<DngPiece> pieces;

    int filterRows = 0, filterColumns = 0; ///< 0: three samples a pixel
    std::vector<uint8_t> filter;           ///< row by row from the visible area's corner: 0 R, 1 G, 2 B

    std::vector<uint16_t> linearization; ///< of stored codes; empty: none
    int blackRows = 1, blackColumns = 1;
    std::vector<double> black; ///< blackRows × blackColumns × samples, from the same corner
    std::vector<double> blackColumn, blackByRow; ///< added by column, by row of the visible area; or empty
    std::vector<double> white;                   ///< a number for each sample of a pixel
    std::vector<DngOpcode> ofCodes, ofLight, ofPicture; ///< OpcodeList1, 2 and 3

    /// The filter's channel at a place of the visible area.
    [[nodiscard]] uint8_t channelAt(int x, int y) const
    {
        return filter[size_t(y % filterRows) * size_t(filterColumns) + size_t(x % filterColumns)];
    }
    /// Returns the black level at a place of the visible area, in linearised codes.
    [[nodiscard]] double blackAt(int x, int y, int sample) const
    {
        const auto cell = size_t(y % blackRows) * size_t(blackColumns) + size_t(x % blackColumns);
        double out = black[cell * size_t(samples) + size_t(sample)];
        if (!blackColumn.empty())
            out += blackColumn[size_t(x)];
        if (!blackByRow.empty())
            out += blackByRow[size_t(y)];
        return out;
    }
};

/// The layout of the file's largest main raw picture. Unusable, naming the tag, where a tag of its directory
/// changes samples in a way that is not implemented, is defined nowhere, cannot be read, or contradicts
/// another one; and where a piece lies beyond the file's end.
[[nodiscard]] Result<DngLayout> dngLayoutOf(std::span<const uint8_t> file, const std::string &name);

} // namespace wavechroma::raw
