#include "core/color/camera_matrices.h"

#include "core/color/temperature.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

double kelvinOfExifCode(int code)
{
    switch (code) {
    case 3:
    case 17:
    case 24: // tungsten, A, studio tungsten
        return 2850;
    case 2:
    case 14: // fluorescent, cool white
        return 4150;
    case 1:
    case 4:
    case 9:
    case 18:
    case 20: // daylight, flash, fine weather, B, D55
        return 5500;
    case 23:
        return 5000;
    case 10:
    case 19:
    case 21: // cloudy, C, D65
        return 6500;
    case 11:
    case 22: // shade, D75
        return 7500;
    case 12:
        return 6400;
    case 13:
        return 5050;
    case 15:
        return 3525;
    default:
        return 5000;
    }
}

std::optional<Matrix3> cameraFromXyzFor(const FileColor &color, const Chromaticity &light)
{
    if (color.matrices.empty())
        return std::nullopt;
    const auto &first = color.matrices.front(), &last = color.matrices.back();
    const double a = 1e6 / kelvinOfExifCode(first.illuminantCode),
                 b = 1e6 / kelvinOfExifCode(last.illuminantCode);
    if (color.matrices.size() == 1 || std::abs(a - b) < 1)
        return first.cameraFromXyz;
    const double share = std::clamp((1e6 / temperatureOf(light).cctKelvin - a) / (b - a), 0.0, 1.0);
    Matrix3 m;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            m(i, j) = (1 - share) * first.cameraFromXyz(i, j) + share * last.cameraFromXyz(i, j);
    return m;
}

} // namespace wavechroma
