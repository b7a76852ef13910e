#include "core/color/rgb_space.h"

#include "core/color/adaptation.h"

#include <cmath>

namespace wavechroma {

const std::vector<RgbSpace> &rgbSpaces()
{
    static const Chromaticity d65{0.3127, 0.3290};
    static const std::vector<RgbSpace> spaces{
        {"srgb", "sRGB", {0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}, d65, Transfer::Srgb},
        {"display-p3", "Display P3", {0.680, 0.320}, {0.265, 0.690}, {0.150, 0.060}, d65, Transfer::Srgb},
        {"oprgb", "opRGB", {0.64, 0.33}, {0.21, 0.71}, {0.15, 0.06}, d65, Transfer::OpRgb},
        {"romm",
         "ROMM RGB",
         {0.7347, 0.2653},
         {0.1596, 0.8404},
         {0.0366, 0.0001},
         {0.3457, 0.3585},
         Transfer::Romm},
    };
    return spaces;
}

const RgbSpace &rgbSpace(RgbSpaceId id)
{
    return rgbSpaces()[size_t(id)];
}

const RgbSpace &srgb()
{
    return rgbSpaces().front();
}

std::optional<RgbSpace> rgbSpaceFromId(std::string_view id)
{
    for (const auto &space : rgbSpaces())
        if (space.id == id)
            return space;
    return std::nullopt;
}

Matrix3 xyzFromRgbMatrix(const RgbSpace &space)
{
    const auto column = [](Chromaticity c) { return vectorOf(xyzFromChromaticity(c)); };
    Matrix3 primaries;
    const Vector3 columns[3] = {column(space.red), column(space.green), column(space.blue)};
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            primaries(i, j) = columns[j][size_t(i)];
    return primaries * diagonal(*inverse(primaries) * column(space.white));
}

Matrix3 xyzD50FromRgbMatrix(const RgbSpace &space)
{
    return adaptation(xyzFromChromaticity(space.white), kD50White) * xyzFromRgbMatrix(space);
}

LinearRgb rgbFromXyzD50(const RgbSpace &space, const Xyz &color)
{
    const Vector3 rgb = *inverse(xyzD50FromRgbMatrix(space)) * vectorOf(color);
    return {rgb[0], rgb[1], rgb[2]};
}

static double encodedPositive(Transfer transfer, double v)
{
    switch (transfer) {
    case Transfer::Linear:
        return v;
    case Transfer::Srgb:
        return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
    case Transfer::OpRgb:
        return std::pow(v, 256.0 / 563.0);
    case Transfer::Romm:
        return v < 1.0 / 512 ? 16 * v : std::pow(v, 1 / 1.8);
    }
    return v;
}

static double linearisedPositive(Transfer transfer, double v)
{
    switch (transfer) {
    case Transfer::Linear:
        return v;
    case Transfer::Srgb:
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    case Transfer::OpRgb:
        return std::pow(v, 563.0 / 256.0);
    case Transfer::Romm:
        return v < 1.0 / 32 ? v / 16 : std::pow(v, 1.8);
    }
    return v;
}

double encoded(Transfer transfer, double linear)
{
    return std::copysign(encodedPositive(transfer, std::abs(linear)), linear);
}

double linearised(Transfer transfer, double code)
{
    return std::copysign(linearisedPositive(transfer, std::abs(code)), code);
}

} // namespace wavechroma
