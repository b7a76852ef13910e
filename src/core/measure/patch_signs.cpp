#include "core/measure/patch_signs.h"

#include "core/base/least_squares.h"
#include "core/base/statistics.h"
#include "core/raw/overview.h"

#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include <optional>

namespace wavechroma::measure {

namespace {

constexpr int kCells = 5;        // a side
constexpr double kWindow = 0.76; // of the patch's sides: prints are up to a twentieth smaller than drawn
constexpr double kLeastUnevenness = 0.03, kNoises = 5, kTextures = 3;
constexpr double kFloor = 0.04; // of the lightest patch
constexpr double kLeastGapChange = 0.015, kGapDeviations = 6;
constexpr size_t kFewestGaps = 12;

/// The chart's surroundings, small enough to be gone through many times.
struct Surroundings
{
    PixelArea area;
    Overview picture;

    [[nodiscard]] const float *at(const PixelPoint &p) const
    {
        const double x = (p.x - area.x) / picture.block, y = (p.y - area.y) / picture.block;
        if (!(x >= 0 && y >= 0 && x < picture.width && y < picture.height))
            return nullptr;
        return &picture.rgb[(size_t(y) * size_t(picture.width) + size_t(x)) * 3];
    }
};

Surroundings surroundingsOf(const RawFrame &frame, const ChartDefinition &chart, const Homography &place)
{
    const double pitch = pitchPixels(chart, place);
    PixelPoint least{1e9, 1e9}, most{-1e9, -1e9};
    for (const auto &p : cornersFrom(chart, place)) {
        least = {std::min(least.x, p.x), std::min(least.y, p.y)};
        most = {std::max(most.x, p.x), std::max(most.y, p.y)};
    }
    const auto inside = [](double v, int size) { return int(std::clamp(v, 0.0, double(size))); };
    Surroundings out;
    out.area = {inside(least.x - pitch, frame.width), inside(least.y - pitch, frame.height), 0, 0};
    out.area.width = inside(most.x + pitch, frame.width) - out.area.x;
    out.area.height = inside(most.y + pitch, frame.height) - out.area.y;
    out.picture = overviewOf(frame, std::max(1, int(pitch / 60)), out.area);
    return out;
}

/// The median over a rectangle of the chart, which hot pixels do not move; nothing where any of it lies
/// outside the picture.
std::optional<Vector3> middleOf(const Surroundings &around, const Homography &place, const ChartPoint &centre,
                                double width, double height)
{
    constexpr int kSide = 5;
    std::array<std::array<float, kSide * kSide>, 3> values;
    for (int k = 0; k < kSide * kSide; ++k) {
        const auto *rgb = around.at(place.at({centre.x + ((k % kSide + 0.5) / kSide - 0.5) * width,
                                              centre.y + ((k / kSide + 0.5) / kSide - 0.5) * height}));
        if (!rgb)
            return std::nullopt;
        for (size_t c = 0; c < 3; ++c)
            values[c][size_t(k)] = rgb[c];
    }
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c) {
        const auto middle = values[c].begin() + kSide * kSide / 2;
        std::nth_element(values[c].begin(), middle, values[c].end());
        out[c] = double(*middle);
    }
    return out;
}

struct Levels
{
    Vector3 lightest{};      ///< a channel's level on the patch that has most of it
    Vector3 noisePerLevel{}; ///< variance of one pixel over its level, as shot noise has it
};

Levels levelsOf(const std::vector<PatchReading> &patches)
{
    Levels out;
    for (size_t c = 0; c < 3; ++c) {
        std::vector<double> ratios;
        for (const auto &patch : patches) {
            const double mean = vectorOf(patch.mean)[c], sd = vectorOf(patch.sd)[c];
            if (patch.count == 0)
                continue;
            out.lightest[c] = std::max(out.lightest[c], mean);
            if (mean > 0)
                ratios.push_back(sd * sd / mean);
        }
        out.noisePerLevel[c] = ratios.empty() ? 0 : medianOf(ratios);
    }
    return out;
}

struct Unevenness
{
    double furthest = 0, noise = 0; ///< both relative
};

Unevenness unevennessOf(const Surroundings &around, const ChartDefinition &chart, const Homography &place,
                        size_t patch, const Levels &levels)
{
    const int row = int(patch) / chart.columns, column = int(patch) % chart.columns;
    const auto centre = patchCentre(chart, row, column), size = patchSize(chart, row, column);
    const double width = kWindow * size.x / kCells, height = kWindow * size.y / kCells;
    std::array<std::vector<double>, 3> cells;
    for (int k = 0; k < kCells * kCells; ++k) {
        const auto middle = middleOf(
            around, place,
            {centre.x + (k % kCells - kCells / 2) * width, centre.y + (k / kCells - kCells / 2) * height},
            width, height);
        if (!middle)
            return {};
        for (size_t c = 0; c < 3; ++c)
            cells[c].push_back((*middle)[c]);
    }
    // a cell has a quarter of its pixels in one channel, but no more than the places that were looked at
    const double pitch = pitchPixels(chart, place) / kCells * kWindow, block = around.picture.block;
    const double samples = std::clamp(pitch * pitch / 4, 1.0, 25 * std::max(1.0, block * block / 4));
    Unevenness out;
    for (size_t c = 0; c < 3; ++c) {
        const double middle = medianOf(cells[c]), level = std::max(0.0, middle) + kFloor * levels.lightest[c];
        for (const double cell : cells[c])
            out.furthest = std::max(out.furthest, std::abs(cell - middle) / std::max(1e-9, level));
        out.noise =
            std::max(out.noise, std::sqrt(levels.noisePerLevel[c] * level / samples) / std::max(1e-9, level));
    }
    return out;
}

/// A strip between two neighbouring patches.
struct Gap
{
    size_t one = 0, other = 0;
    ChartPoint centre;
    Vector3 seen{};
};

std::vector<Gap> gapsOf(const Surroundings &around, const ChartDefinition &chart, const Homography &place)
{
    std::vector<Gap> out;
    if (!chart.places.empty()) // neighbours have no strip in common
        return out;
    const double across = chart.pitchXMm - chart.patchWidthMm, down = chart.pitchYMm - chart.patchHeightMm;
    const double pixels = pitchPixels(chart, place) / chart.pitchXMm;
    const auto add = [&](int row, int column, bool isAcross) {
        const auto a = patchCentre(chart, row, column),
                   b = patchCentre(chart, row + !isAcross, column + isAcross);
        Gap gap{size_t(row * chart.columns + column),
                size_t((row + !isAcross) * chart.columns + column + isAcross),
                {(a.x + b.x) / 2, (a.y + b.y) / 2},
                {}};
        const auto seen = isAcross
                              ? middleOf(around, place, gap.centre, 0.3 * across, 0.6 * chart.patchHeightMm)
                              : middleOf(around, place, gap.centre, 0.6 * chart.patchWidthMm, 0.3 * down);
        if (!seen)
            return;
        gap.seen = *seen;
        out.push_back(gap);
    };
    const double narrowest = 3.5 * around.picture.block; // narrower ones are all spill
    for (const auto &panel : panelsOf(chart))
        for (int row = 0; row < chart.rows; ++row)
            for (int column = panel.firstColumn; column < panel.firstColumn + panel.columns; ++column) {
                if (across * pixels >= narrowest && column + 1 < panel.firstColumn + panel.columns)
                    add(row, column, true);
                if (down * pixels >= narrowest && row + 1 < chart.rows)
                    add(row, column, false);
            }
    return out;
}

/// How far each strip's channel is from what all say, over its limit: a line in the light's slope and the two
/// patches beside it, by reweighted least squares.
std::vector<double> gapMisfits(const std::vector<Gap> &gaps, const std::vector<PatchReading> &patches,
                               size_t channel, double lightest)
{
    const auto count = Eigen::Index(gaps.size());
    Eigen::MatrixXd terms(count, 4);
    Eigen::VectorXd seen(count);
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &gap = gaps[size_t(i)];
        terms.row(i) << 1, gap.centre.x / 100, gap.centre.y / 100,
            vectorOf(patches[gap.one].mean)[channel] + vectorOf(patches[gap.other].mean)[channel];
        seen(i) = gap.seen[channel];
    }
    Eigen::VectorXd weights = Eigen::VectorXd::Ones(count), left(count);
    double deviation = 0;
    for (int round = 0; round < 12; ++round) {
        const Eigen::VectorXd root = weights.cwiseSqrt();
        const Eigen::VectorXd numbers =
            leastSquares(root.asDiagonal() * terms, Eigen::VectorXd(root.cwiseProduct(seen)));
        left = (seen - terms * numbers).cwiseAbs();
        deviation = 1.4826 * medianOf(std::vector<double>(left.begin(), left.end())) + 1e-6;
        for (Eigen::Index i = 0; i < count; ++i) {
            const double r = left(i) / (4.685 * deviation);
            weights(i) = r < 1 ? std::pow(1 - r * r, 2) : 0;
        }
    }
    const double limit = std::max(kLeastGapChange * lightest, kGapDeviations * deviation);
    std::vector<double> out;
    for (const double v : left)
        out.push_back(v / limit);
    return out;
}

} // namespace

std::vector<double> patchSigns(const RawFrame &frame, const ChartDefinition &chart, const Homography &place,
                               const std::vector<PatchReading> &patches)
{
    const auto around = surroundingsOf(frame, chart, place);
    const auto levels = levelsOf(patches);
    std::vector<Unevenness> uneven;
    std::vector<double> furthest;
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        uneven.push_back(unevennessOf(around, chart, place, i, levels));
        furthest.push_back(uneven.back().furthest);
    }
    const double texture = kTextures * medianOf(furthest);
    std::vector<double> out;
    for (const auto &u : uneven)
        out.push_back(u.furthest / std::max({kLeastUnevenness, texture, kNoises * u.noise}));
    const auto gaps = gapsOf(around, chart, place);
    if (gaps.size() < kFewestGaps)
        return out;
    for (size_t c = 0; c < 3; ++c) {
        const auto misfits = gapMisfits(gaps, patches, c, levels.lightest[c]);
        for (size_t i = 0; i < gaps.size(); ++i)
            for (const size_t patch : {gaps[i].one, gaps[i].other})
                out[patch] = std::max(out[patch], misfits[i]);
    }
    return out;
}

} // namespace wavechroma::measure
