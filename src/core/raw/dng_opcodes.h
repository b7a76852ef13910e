#pragma once
#include "core/base/result.h"

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wavechroma::raw {

/// One step of an opcode list (Digital Negative Specification 1.7.1.0, chapter 7) that changes values.
struct DngOpcode
{
    enum class Kind : uint32_t {
        FixVignetteRadial = 3,
        MapTable = 7,
        MapPolynomial = 8,
        GainMap = 9,
        DeltaPerRow = 10,
        DeltaPerColumn = 11,
        ScalePerRow = 12,
        ScalePerColumn = 13
    } kind = Kind::MapTable;
    uint32_t top = 0, left = 0, bottom = 0, right = 0, plane = 0, planes = 1, rowPitch = 1, columnPitch = 1;
    std::vector<float> values; ///< table, factors or summands, or a gain map's rows of points of planes
    std::vector<double> terms; ///< coefficients of a polynomial, constant first; of a vignette, with centre
    uint32_t pointsDown = 0, pointsAcross = 0, mapPlanes = 0;                    ///< of a gain map
    double spacingDown = 0, spacingAcross = 0, originDown = 0, originAcross = 0; ///< in the picture's size

    [[nodiscard]] bool isGain() const { return kind == Kind::GainMap || kind == Kind::FixVignetteRadial; }
    [[nodiscard]] bool covers(int x, int y, int sample) const
    {
        const auto ux = uint32_t(x), uy = uint32_t(y), us = uint32_t(sample);
        return uy >= top && uy < bottom && ux >= left && ux < right && us >= plane && us - plane < planes &&
               (uy - top) % rowPitch == 0 && (ux - left) % columnPitch == 0;
    }
};

/// The steps that change values, in order. Steps that move pixels (lens corrections) or mend defective ones
/// are left out: places are those of the sensor, and a patch's mean leaves defects out. An unknown step is
/// left out where the file calls it optional. Unusable for one that is not optional, for one that is cut
/// short, and for lists that would crop the picture.
[[nodiscard]] Result<std::vector<DngOpcode>> dngOpcodesOf(std::span<const uint8_t> list,
                                                          std::string_view tagName, const std::string &name);

/// A value after the step, at a place of its picture. `unit`: what the value 1 means there, 1 for light of
/// 0…1 and 65535 for codes. For steps that are no gains.
[[nodiscard]] double appliedTo(const DngOpcode &step, double value, int x, int y, double unit);

/// The factor of a gain step at a relative place of the picture (0…1 each way), of a sample of the pixel.
/// `aspect`: the picture's width and height in pixels.
[[nodiscard]] double gainAt(const DngOpcode &step, double u, double v, int sample, double width,
                            double height);

} // namespace wavechroma::raw
