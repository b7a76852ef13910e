#include "core/render/display_picture.h"

#include "core/color/rgb_space.h"
#include "core/fit/fit_balance.h"
#include "core/fit/fit_matrix.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

/// Burnt areas: once one channel saturates the others tell nothing, so all stop where the first balanced one would.
Vector3 clipFor(const Vector3 &multipliers)
{
    const double least = *std::min_element(multipliers.begin(), multipliers.end());
    return {least / multipliers[0], least / multipliers[1], least / multipliers[2]};
}

/// Green level that 99 % of the frame stays under.
double brightGreen(const RawFrame &frame)
{
    const auto overview = overviewOf(frame, std::max(1, std::max(frame.width, frame.height) / 300));
    std::vector<float> greens;
    for (size_t i = 1; i < overview.rgb.size(); i += 3)
        greens.push_back(overview.rgb[i]);
    if (greens.empty())
        return 1;
    const auto at = greens.begin() + ptrdiff_t(double(greens.size() - 1) * 0.99);
    std::nth_element(greens.begin(), at, greens.end());
    return std::max(1e-4, double(*at));
}

constexpr int kCodes = 4096;

const std::array<uint8_t, kCodes + 1> &srgbCodes()
{
    static const auto table = [] {
        std::array<uint8_t, kCodes + 1> t{};
        for (size_t i = 0; i < t.size(); ++i)
            t[i] = uint8_t(std::lround(255 * encoded(Transfer::Srgb, double(i) / kCodes)));
        return t;
    }();
    return table;
}

} // namespace

DisplayColor displayColorOf(const Calibration &c)
{
    return {joined(c.multipliers, c.exposureScale, c.matrix).xyzFromCamera, clipFor(c.multipliers)};
}

DisplayColor displayColorOf(const RawFrame &frame)
{
    if (frame.rendered)
        return {xyzD50FromRgbMatrix(srgb()), {1, 1, 1}};
    const Vector3 neutral = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    const Vector3 multipliers{neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    return {joined(multipliers, 0.9 / brightGreen(frame), fileMatrix(frame.fileColor, neutral)).xyzFromCamera, clipFor(multipliers)};
}

DisplayPicture displayPicture(const RawFrame &frame, const DisplayColor &color, int block, const Progress &progress)
{
    progress.at(0, "making the picture");
    const auto overview = overviewOf(frame, block);
    DisplayPicture out{overview.width, overview.height, overview.block, {}};
    if (progress.stopped())
        return {};
    const auto toRgb = *inverse(xyzD50FromRgbMatrix(srgb())) * color.xyzFromCamera;
    float m[9], clip[3];
    for (int i = 0; i < 9; ++i)
        m[i] = float(toRgb(i / 3, i % 3));
    for (size_t c = 0; c < 3; ++c)
        clip[c] = float(color.clip[c]);
    out.rgb.resize(overview.rgb.size());
    const auto &codes = srgbCodes();
    tbb::parallel_for(0, out.height, [&](int y) {
        const size_t from = size_t(y) * size_t(out.width) * 3;
        for (size_t i = from; i < from + size_t(out.width) * 3; i += 3) {
            const float r = std::min(overview.rgb[i], clip[0]), g = std::min(overview.rgb[i + 1], clip[1]),
                        b = std::min(overview.rgb[i + 2], clip[2]);
            for (size_t c = 0; c < 3; ++c) {
                const float v = m[3 * c] * r + m[3 * c + 1] * g + m[3 * c + 2] * b;
                out.rgb[i + c] = codes[size_t(std::clamp(v, 0.0F, 1.0F) * kCodes)];
            }
        }
    });
    return out;
}

} // namespace wavechroma
