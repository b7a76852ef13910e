#pragma once
#include "core/formats/cube_lut.h"

namespace wavechroma {

/// A table as the Common LUT Format holds it (Academy S-2014-006, version 3; ISO 24231).
struct ClfTable
{
    CubeLut cube;             ///< 3D
    bool takesLinear = false; ///< its input goes through the sRGB transfer curve first
    std::string title = {};
};

/// A ProcessList of version 3: for linear input an Exponent of the style monCurveRev, then a LUT3D, blue
/// fastest. The note's lines become descriptions.
[[nodiscard]] std::string clfOf(const ClfTable &table, const std::string &note);
/// Reads what clfOf() writes. Unusable, naming the element, for anything else.
[[nodiscard]] Result<ClfTable> clfFrom(const std::string &text, const std::string &name);
[[nodiscard]] Vector3 applied(const ClfTable &table, const Vector3 &input);

} // namespace wavechroma
