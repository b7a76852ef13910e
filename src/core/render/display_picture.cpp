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

/// Burnt areas: once one channel saturates the others tell nothing, so all stop where the first balanced one
/// would.
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

/// The model on a lattice, clipped to what the screen shows anyway.
std::vector<float> tableOf(const ColorModel &model)
{
    constexpr int n = DisplayColor::kSide;
    std::vector<float> table(size_t(n * n * n) * 3);
    tbb::parallel_for(0, n, [&](int b) {
        const auto level = [](int i) { return linearised(Transfer::Srgb, double(i) / (n - 1)); };
        for (int g = 0; g < n; ++g)
            for (int r = 0; r < n; ++r) {
                const auto c = rgbFromXyzD50(srgb(), xyzFromBalanced(model, {level(r), level(g), level(b)}));
                float *entry = &table[size_t((b * n + g) * n + r) * 3];
                entry[0] = float(encoded(Transfer::Srgb, std::clamp(c.r, 0.0, 1.0)));
                entry[1] = float(encoded(Transfer::Srgb, std::clamp(c.g, 0.0, 1.0)));
                entry[2] = float(encoded(Transfer::Srgb, std::clamp(c.b, 0.0, 1.0)));
            }
    });
    return table;
}

/// Trilinear, in codes on both sides.
void lookUp(const DisplayColor &color, const float *rgb, uint8_t *out)
{
    constexpr int n = DisplayColor::kSide;
    int from[3];
    float share[3];
    for (size_t c = 0; c < 3; ++c) {
        const float at = float(srgbCodes()[size_t(std::clamp(rgb[c], 0.0F, 1.0F) * kCodes)]) / 255 * (n - 1);
        from[c] = std::min(int(at), n - 2);
        share[c] = at - float(from[c]);
    }
    float sum[3] = {0, 0, 0};
    for (int corner = 0; corner < 8; ++corner) {
        const int r = corner & 1, g = corner >> 1 & 1, b = corner >> 2;
        const float w =
            (r ? share[0] : 1 - share[0]) * (g ? share[1] : 1 - share[1]) * (b ? share[2] : 1 - share[2]);
        const float *entry = &color.table[size_t(((from[2] + b) * n + from[1] + g) * n + from[0] + r) * 3];
        for (size_t c = 0; c < 3; ++c)
            sum[c] += w * entry[c];
    }
    for (size_t c = 0; c < 3; ++c)
        out[c] = uint8_t(sum[c] * 255 + 0.5F);
}

} // namespace

DisplayColor displayColorOf(const Calibration &c)
{
    DisplayColor out{
        joined(c.multipliers, c.exposureScale, c.matrix).xyzFromCamera, clipFor(c.multipliers), {}, {}};
    if (!c.isLinear()) {
        out.gains = {c.exposureScale * c.multipliers[0], c.exposureScale, c.exposureScale * c.multipliers[2]};
        out.table = tableOf(c);
    }
    return out;
}

DisplayColor displayColorOf(const RawFrame &frame)
{
    if (frame.rendered)
        return {fileMatrix(frame.fileColor, {1, 1, 1}), {1, 1, 1}, {}, {}};
    const Vector3 neutral = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    const Vector3 multipliers{neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    return {joined(multipliers, 0.9 / brightGreen(frame), fileMatrix(frame.fileColor, neutral)).xyzFromCamera,
            clipFor(multipliers),
            {},
            {}};
}

DisplayPicture displayPicture(const RawFrame &frame, const DisplayColor &color, int block,
                              const Progress &progress)
{
    progress.at(0, "making the picture");
    const auto overview = overviewOf(frame, block);
    DisplayPicture out{overview.width, overview.height, overview.block, {}};
    if (progress.stopped())
        return {};
    const auto toRgb = *inverse(xyzD50FromRgbMatrix(srgb())) * color.xyzFromCamera;
    float m[9], clip[3], gains[3];
    for (int i = 0; i < 9; ++i)
        m[i] = float(toRgb(i / 3, i % 3));
    for (size_t c = 0; c < 3; ++c) {
        clip[c] = float(color.clip[c]);
        gains[c] = float(color.gains[c]);
    }
    out.rgb.resize(overview.rgb.size());
    const auto &codes = srgbCodes();
    tbb::parallel_for(0, out.height, [&](int y) {
        const size_t from = size_t(y) * size_t(out.width) * 3;
        for (size_t i = from; i < from + size_t(out.width) * 3; i += 3) {
            const float r = std::min(overview.rgb[i], clip[0]), g = std::min(overview.rgb[i + 1], clip[1]),
                        b = std::min(overview.rgb[i + 2], clip[2]);
            if (!color.table.empty()) {
                const float balanced[] = {r * gains[0], g * gains[1], b * gains[2]};
                lookUp(color, balanced, &out.rgb[i]);
                continue;
            }
            for (size_t c = 0; c < 3; ++c) {
                const float v = m[3 * c] * r + m[3 * c + 1] * g + m[3 * c + 2] * b;
                out.rgb[i + c] = codes[size_t(std::clamp(v, 0.0F, 1.0F) * kCodes)];
            }
        }
    });
    return out;
}

} // namespace wavechroma
