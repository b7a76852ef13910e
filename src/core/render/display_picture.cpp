#include "core/render/display_picture.h"

#include "core/base/progress.h"
#include "core/color/rgb_space.h"
#include "core/fit/fit_matrix.h"
#include "core/fit/part_balance.h"
#include "core/raw/lone_samples.h"
#include "core/raw/overview.h"

#include <Eigen/Core>
#include <algorithm>
#include <array>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

/// Clipped areas: once one channel saturates the others tell nothing, so all stop where the first balanced
/// one would.
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

/// Codes 0…1 of colours, clipped to what is shown anyway.
void codesOf(const std::vector<Xyz> &colors, const Screen *screen, std::vector<float> &codes)
{
    codes.resize(colors.size() * 3);
    if (screen)
        return screen->codesOf(colors.data(), codes.data(), colors.size());
    static const auto toRgb = *inverse(xyzD50FromRgbMatrix(srgb()));
    for (size_t i = 0; i < colors.size(); ++i) {
        const auto c = toRgb * vectorOf(colors[i]);
        for (size_t k = 0; k < 3; ++k)
            codes[3 * i + k] = float(encoded(Transfer::Srgb, std::clamp(c[k], 0.0, 1.0)));
    }
}

/// A colour for balanced RGB on a lattice.
template <class ColorOf> std::vector<float> tableOf(const ColorOf &colorOf, const Screen *screen)
{
    constexpr int n = DisplayColor::kSide;
    std::vector<float> table(size_t(n * n * n) * 4);
    std::array<double, size_t(n)> levels;
    for (int i = 0; i < n; ++i)
        levels[size_t(i)] = linearised(Transfer::Srgb, double(i) / (n - 1));
    tbb::parallel_for(0, n, [&](int b) {
        std::vector<Xyz> colors;
        std::vector<float> codes;
        for (int g = 0; g < n; ++g)
            for (int r = 0; r < n; ++r)
                colors.push_back(
                    colorOf(BalancedRgb{levels[size_t(r)], levels[size_t(g)], levels[size_t(b)]}));
        codesOf(colors, screen, codes);
        float *entry = &table[size_t(b * n * n) * 4];
        for (size_t i = 0; i < colors.size(); ++i, entry += 4)
            for (size_t k = 0; k < 3; ++k)
                entry[k] = 0.5F + 255 * codes[3 * i + k];
    });
    return table;
}

uint32_t packed(uint8_t r, uint8_t g, uint8_t b)
{
    return 0xFF000000U | uint32_t(r) << 16 | uint32_t(g) << 8 | b;
}

/// Where linear light lies on the lattice, in nodes, which are even in sRGB codes; a little under the last
/// one, so that there always is a next.
const std::array<float, kCodes + 1> &latticePlaces()
{
    static const auto table = [] {
        constexpr float kLast = DisplayColor::kSide - 1;
        std::array<float, kCodes + 1> t{};
        for (size_t i = 0; i < t.size(); ++i)
            t[i] = std::min(float(encoded(Transfer::Srgb, double(i) / kCodes)) * kLast, kLast * 0.999999F);
        return t;
    }();
    return table;
}

/// Trilinear, in codes on both sides; four numbers at a time, as processors have them.
inline uint32_t lookUp(const float *table, const std::array<float, kCodes + 1> &places, const float *rgb)
{
    using Four = Eigen::Array4f;
    constexpr int n = DisplayColor::kSide;
    struct Place
    {
        int lower;
        float share;
    };
    const auto placeOf = [&](float linear) -> Place {
        const float place = places[size_t(std::clamp(linear, 0.0F, 1.0F) * kCodes)];
        const int lower = int(place);
        return {lower, place - float(lower)};
    };
    const Place r = placeOf(rgb[0]), g = placeOf(rgb[1]), b = placeOf(rgb[2]);
    const float *from = table + 4 * ((b.lower * n + g.lower) * n + r.lower);
    const auto along = [&](int steps) -> Four { // red
        const Eigen::Map<const Four> left(from + 4 * steps), right(from + 4 * steps + 4);
        return left + r.share * (right - left);
    };
    const Four upper = along(0), lowerRow = along(n), upperBehind = along(n * n),
               lowerBehind = along(n * n + n);
    const Four front = upper + g.share * (lowerRow - upper),
               back = upperBehind + g.share * (lowerBehind - upperBehind);
    const Four codes = front + b.share * (back - front);
    const Eigen::Array4i whole = codes.cast<int>();
    return 0xFF000000U | uint32_t(whole[0]) << 16 | uint32_t(whole[1]) << 8 | uint32_t(whole[2]);
}

} // namespace

DisplayColor displayColorOf(const ColorModel &c, const Screen *screen)
{
    DisplayColor out{
        joined(c.multipliers, c.exposureScale, c.matrix).xyzFromCamera, clipFor(c.multipliers), {}, {}};
    if (!c.isLinear() || screen) {
        out.gains = {c.exposureScale * c.multipliers[0], c.exposureScale, c.exposureScale * c.multipliers[2]};
        out.table = tableOf([&](const BalancedRgb &rgb) { return xyzFromBalanced(c, rgb); }, screen);
    }
    return out;
}

DisplayColor displayColorOf(const ModelBlend &models, const Screen *screen)
{
    const auto &first = models.parts.front().second; // all of a blend are balanced alike
    if (models.parts.size() == 1)
        return displayColorOf(first, screen);
    auto out = displayColorOf(first, nullptr);
    out.gains = {first.exposureScale * first.multipliers[0], first.exposureScale,
                 first.exposureScale * first.multipliers[2]};
    const auto colorOf = [&](const BalancedRgb &rgb) {
        return xyzFromCamera(models, {rgb.r / out.gains[0], rgb.g / out.gains[1], rgb.b / out.gains[2]});
    };
    out.table = tableOf(colorOf, screen);
    return out;
}

void evenOut(Overview &level, const GainMap &flat)
{
    tbb::parallel_for(0, level.height, [&](int y) {
        float *out = &level.rgb[size_t(y) * size_t(level.width) * 3];
        for (int x = 0; x < level.width; ++x)
            for (size_t c = 0; c < 3; ++c)
                *out++ *= flat.at(c, (x + 0.5) * level.block, (y + 0.5) * level.block);
    });
}

DisplayColor displayColorOf(const RawFrame &frame, const Screen *screen)
{
    ColorModel model;
    if (frame.rendered) {
        model.matrix = fileMatrix(frame.fileColor, {1, 1, 1});
        return displayColorOf(model, screen);
    }
    const Vector3 neutral = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    model.multipliers = {neutral[1] / neutral[0], 1, neutral[1] / neutral[2]};
    model.exposureScale = 0.9 / brightGreen(frame);
    model.matrix = fileMatrix(frame.fileColor, neutral);
    return displayColorOf(model, screen);
}

/// Means of 2 × 2; an odd last row or column goes on alone.
/// In a block of one period the sites of red and blue do not lie in its middle, which shows as coloured
/// fringes: each is taken there, between its own block and the next.
static Overview centred(Overview level, const RawFrame &frame)
{
    const auto *m = frame.mosaic.get();
    if (!m || level.block != 2 || m->periodX != 2 || m->periodY != 2)
        return level;
    Overview out = level;
    for (int site = 0; site < 4; ++site) {
        const size_t c = m->channel[size_t(site)];
        if (c == 1) // both green sites together lie in the middle
            continue;
        const int dx = site % 2 == 0 ? 1 : -1, dy = site / 2 == 0 ? 1 : -1;
        tbb::parallel_for(0, level.height, [&](int y) {
            const int next = std::clamp(y + dy, 0, level.height - 1);
            const auto at = [&](int px, int py) {
                return level.rgb[(size_t(py) * size_t(level.width) + size_t(px)) * 3 + c];
            };
            for (int x = 0; x < level.width; ++x) {
                const int beside = std::clamp(x + dx, 0, level.width - 1);
                out.rgb[(size_t(y) * size_t(level.width) + size_t(x)) * 3 + c] =
                    0.75F * (0.75F * at(x, y) + 0.25F * at(beside, y)) +
                    0.25F * (0.75F * at(x, next) + 0.25F * at(beside, next));
            }
        });
    }
    return out;
}

static Overview halved(const Overview &level)
{
    Overview out{(level.width + 1) / 2, (level.height + 1) / 2, level.block * 2, {}, {}};
    out.rgb.resize(size_t(out.width) * size_t(out.height) * 3);
    tbb::parallel_for(0, out.height, [&](int y) {
        const int y0 = 2 * y, y1 = std::min(y0 + 1, level.height - 1);
        for (int x = 0; x < out.width; ++x) {
            const int x0 = 2 * x, x1 = std::min(x0 + 1, level.width - 1);
            for (size_t c = 0; c < 3; ++c) {
                const auto at = [&](int px, int py) {
                    return level.rgb[(size_t(py) * size_t(level.width) + size_t(px)) * 3 + c];
                };
                out.rgb[(size_t(y) * size_t(out.width) + size_t(x)) * 3 + c] =
                    (at(x0, y0) + at(x1, y0) + at(x0, y1) + at(x1, y1)) / 4;
            }
        }
    });
    return out;
}

std::vector<Overview> overviewLevelsOf(const RawFrame &frame, int block, const Progress &progress)
{
    constexpr int kSmallest = 400;
    progress.at(0, "making the picture");
    std::vector<Overview> levels;
    levels.push_back(centred(seenOverviewOf(frame, block), frame));
    while (!progress.stopped() && std::max(levels.back().width, levels.back().height) > kSmallest)
        levels.push_back(halved(levels.back()));
    return progress.stopped() ? std::vector<Overview>() : levels;
}

DisplayPicture lookOf(const Overview &level, const DisplayColor &color)
{
    DisplayPicture out{level.width, level.height, level.block, {}};
    const auto toRgb = *inverse(xyzD50FromRgbMatrix(srgb())) * color.xyzFromCamera;
    float m[9], clip[3], gains[3];
    for (int i = 0; i < 9; ++i)
        m[i] = float(toRgb(i / 3, i % 3));
    for (size_t c = 0; c < 3; ++c) {
        clip[c] = float(color.clip[c]);
        gains[c] = float(color.gains[c]);
    }
    out.rgb.resize(size_t(out.width) * size_t(out.height));
    const auto &codes = srgbCodes();
    const auto &places = latticePlaces();
    const auto code = [&](float v) { return codes[size_t(std::clamp(v, 0.0F, 1.0F) * kCodes)]; };
    tbb::parallel_for(0, out.height, [&](int y) {
        const size_t from = size_t(y) * size_t(out.width);
        for (size_t i = from; i < from + size_t(out.width); ++i) {
            const float *seen = &level.rgb[3 * i];
            const float r = std::min(seen[0], clip[0]), g = std::min(seen[1], clip[1]),
                        b = std::min(seen[2], clip[2]);
            if (!color.table.empty()) {
                const float balanced[] = {r * gains[0], g * gains[1], b * gains[2]};
                out.rgb[i] = lookUp(color.table.data(), places, balanced);
                continue;
            }
            out.rgb[i] = packed(code(m[0] * r + m[1] * g + m[2] * b), code(m[3] * r + m[4] * g + m[5] * b),
                                code(m[6] * r + m[7] * g + m[8] * b));
        }
    });
    return out;
}

DisplayPicture displayPicture(const RawFrame &frame, const DisplayColor &color, int block,
                              const Progress &progress)
{
    progress.at(0, "making the picture");
    const auto overview = centred(seenOverviewOf(frame, block), frame);
    return progress.stopped() ? DisplayPicture{} : lookOf(overview, color);
}

} // namespace wavechroma
