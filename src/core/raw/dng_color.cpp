#include "core/raw/dng_color.h"

#include "core/color/camera_matrices.h"
#include "core/raw/dng_tags.h"

#include <algorithm>

namespace wavechroma::raw {

namespace {

std::optional<Matrix3> matrixIn(const DngDirectory &d, uint16_t id)
{
    const auto numbers = d.reals(id);
    if (numbers.size() != 9)
        return std::nullopt;
    Matrix3 out;
    for (int i = 0; i < 9; ++i)
        out(i / 3, i % 3) = double(float(numbers[size_t(i)])); // rationals of four digits: singles are enough
    return out;
}

/// AnalogBalance × CameraCalibration.
Matrix3 ofThisBody(const DngDirectory &d, uint16_t calibration)
{
    // A calibration holds for the profile whose signature it has; both are empty where they are missing.
    const bool isMeant = d.text(tag::CameraCalibrationSignature) == d.text(tag::ProfileCalibrationSignature);
    const auto calibrated = isMeant ? matrixIn(d, calibration) : std::nullopt;
    Matrix3 out = calibrated.value_or(identity());
    const auto balance = d.reals(tag::AnalogBalance);
    if (balance.size() == 3)
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j)
                out(i, j) *= balance[size_t(i)];
    return out;
}

void addMatrix(const DngDirectory &d, uint16_t matrix, uint16_t calibration, uint16_t illuminant,
               FileColor &to)
{
    const auto color = matrixIn(d, matrix);
    if (!color)
        return;
    const FileColorMatrix out{ofThisBody(d, calibration) * *color, int(d.whole(illuminant, 0))};
    if (inverse(out.cameraFromXyz))
        to.matrices.push_back(out);
}

std::optional<Vector3> neutralIn(const DngDirectory &d, const FileColor &color)
{
    if (const auto n = d.reals(tag::AsShotNeutral); n.size() == 3) {
        if (std::ranges::any_of(n, [](double v) { return !(v > 0); }))
            return std::nullopt;
        // As singles, which the raw library keeps multipliers in: a file has one neutral by either way.
        const auto multiplier = [&](size_t c) { return double(1 / float(n[c])); };
        return Vector3{multiplier(1) / multiplier(0), 1, multiplier(1) / multiplier(2)};
    }
    const auto xy = d.reals(tag::AsShotWhiteXy);
    if (xy.size() != 2 || !(xy[0] > 0 && xy[1] > 0 && xy[0] + xy[1] < 1))
        return std::nullopt;
    const Chromaticity light{xy[0], xy[1]};
    const auto matrix = cameraFromXyzFor(color, light);
    if (!matrix)
        return std::nullopt;
    const Vector3 n = *matrix * Vector3{light.x / light.y, 1, (1 - light.x - light.y) / light.y};
    if (!(n[0] > 0 && n[1] > 0 && n[2] > 0))
        return std::nullopt;
    return Vector3{n[0] / n[1], 1, n[2] / n[1]};
}

} // namespace

FileColor dngColorOf(const DngDirectory &first)
{
    FileColor out;
    addMatrix(first, tag::ColorMatrix1, tag::CameraCalibration1, tag::CalibrationIlluminant1, out);
    addMatrix(first, tag::ColorMatrix2, tag::CameraCalibration2, tag::CalibrationIlluminant2, out);
    out.asShotNeutral = neutralIn(first, out);
    return out;
}

} // namespace wavechroma::raw
