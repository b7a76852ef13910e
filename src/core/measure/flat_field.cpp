#include "core/measure/flat_field.h"

#include "core/base/result.h"
#include "core/base/said.h"
#include "core/base/statistics.h"
#include "core/raw/overview.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr int kDegree = 6, kTerms = (kDegree + 1) * (kDegree + 2) / 2;
constexpr int kCellsAcross = 96;
constexpr int kGridColumns = 65, kGridRows = 49;

/// Legendre polynomials P0…P6 at t in −1…1, by their recurrence (Abramowitz and Stegun 22.7.10): orthogonal,
/// so that the fit stays well conditioned where plain powers would not.
std::array<double, kDegree + 1> legendre(double t)
{
    std::array<double, kDegree + 1> p{1, t};
    for (int n = 1; n < kDegree; ++n)
        p[size_t(n + 1)] = ((2 * n + 1) * t * p[size_t(n)] - n * p[size_t(n - 1)]) / (n + 1);
    return p;
}

Eigen::Matrix<double, 1, kTerms> termsAt(double u, double v)
{
    const auto pu = legendre(2 * u - 1), pv = legendre(2 * v - 1);
    Eigen::Matrix<double, 1, kTerms> out;
    int k = 0;
    for (int i = 0; i <= kDegree; ++i)
        for (int j = 0; i + j <= kDegree; ++j)
            out(k++) = pu[size_t(i)] * pv[size_t(j)];
    return out;
}

struct Surface
{
    Eigen::Matrix<double, kTerms, 1> coefficients;
    double scatter = 0; // robust, relative
    double texture = 0; // the 98th percentile of the relative misfit in normal deviations: specks are few,
                        // pictures are not
    [[nodiscard]] double at(double u, double v) const { return termsAt(u, v) * coefficients; }
};

Surface fitSurface(const Overview &o, size_t channel, double widthCovered, double heightCovered)
{
    const auto count = Eigen::Index(o.width) * o.height;
    Eigen::MatrixXd a(count, kTerms);
    Eigen::VectorXd b(count), w = Eigen::VectorXd::Ones(count);
    for (int y = 0; y < o.height; ++y)
        for (int x = 0; x < o.width; ++x) {
            const Eigen::Index i = Eigen::Index(y) * o.width + x;
            a.row(i) = termsAt((x + 0.5) / o.width * widthCovered, (y + 0.5) / o.height * heightCovered);
            b(i) = double(o.rgb[size_t(i) * 3 + channel]);
        }
    Surface s;
    for (int round = 0; round < 8; ++round) {
        // Normal equations suffice here: the basis is orthogonal up to the weights.
        const Eigen::MatrixXd weighted = w.asDiagonal() * a;
        s.coefficients = (a.transpose() * weighted).ldlt().solve(weighted.transpose() * b);
        const Eigen::VectorXd fitted = a * s.coefficients;
        std::vector<double> relative;
        for (Eigen::Index i = 0; i < count; ++i)
            relative.push_back(std::abs(b(i) / std::max(1e-6, fitted(i)) - 1));
        s.scatter = 1.4826 * medianOf(relative);
        auto sorted = relative;
        std::sort(sorted.begin(), sorted.end());
        s.texture = sorted[sorted.size() * 98 / 100] / 2.33;
        const double limit = 4.685 * std::max(s.scatter, 5e-4);
        for (Eigen::Index i = 0; i < count; ++i) {
            const double r = relative[size_t(i)] / limit;
            w(i) = r < 1 ? (1 - r * r) * (1 - r * r) : 0;
        }
    }
    return s;
}

struct Fitted
{
    std::array<Surface, 3> surfaces;
    FlatQuality quality;
};

/// Green goes first: where it is too textured already, nothing else is asked for.
std::optional<Fitted> fitted(const RawFrame &frame, double mostTexture = 1e9)
{
    const auto overview = overviewOf(frame, std::max(1, std::max(frame.width, frame.height) / kCellsAcross));
    if (overview.width < 12 || overview.height < 12)
        return std::nullopt;
    // blocks cut by the right and lower edge are left out of an overview
    const double wide = double(overview.width) * overview.block / frame.width,
                 high = double(overview.height) * overview.block / frame.height;
    Fitted out;
    out.surfaces[1] = fitSurface(overview, 1, wide, high);
    if (out.surfaces[1].texture > mostTexture)
        return std::nullopt;
    int clipped = 0;
    const auto fine = overviewOf(frame, smallestBlock(frame));
    for (const uint8_t c : fine.clipped)
        clipped += c;
    out.quality.clipped = clipped / std::max(1.0, double(fine.clipped.size()));
    for (size_t c = 0; c < 3; ++c) {
        if (c != 1)
            out.surfaces[c] = fitSurface(overview, c, wide, high);
        out.quality.texture = std::max(out.quality.texture, out.surfaces[c].texture);
    }
    return out;
}

} // namespace

Result<FlatField> flatFieldFrom(const RawFrame &frame)
{
    auto fit = fitted(frame);
    if (!fit)
        return unusable("{file}: is too small for a flat frame", {{"file", frame.path}});
    FlatField flat;
    flat.quality = fit->quality;
    auto &map = flat.map;
    map.source = frame.path;
    map.width = frame.width;
    map.height = frame.height;
    map.columns = kGridColumns;
    map.rows = kGridRows;
    for (size_t c = 0; c < 3; ++c) {
        std::vector<double> field;
        for (int j = 0; j < kGridRows; ++j)
            for (int i = 0; i < kGridColumns; ++i)
                field.push_back(
                    fit->surfaces[c].at(double(i) / (kGridColumns - 1), double(j) / (kGridRows - 1)));
        const double most = *std::max_element(field.begin(), field.end()),
                     least = *std::min_element(field.begin(), field.end());
        flat.quality.level = std::max(flat.quality.level, most);
        if (c == 1)
            flat.quality.falloff = 1 - least / most;
        if (!(least > 0.2 * most))
            return unusable(
                "{file}: falls off too much for a flat frame. Is the board smaller than the field of view?",
                {{"file", frame.path}});
        for (const double v : field)
            map.gain[c].push_back(float(most / v));
    }
    const auto &q = flat.quality;
    if (q.clipped > 0.001)
        return unusable("{file}: {clipped:1} % of this flat frame is clipped. Close down and shoot it again",
                        {{"file", frame.path}, {"clipped", 100 * q.clipped}});
    if (q.level < 0.03)
        return unusable("{file}: is too dark for a flat frame. Open up and shoot it again",
                        {{"file", frame.path}});
    if (q.texture > 0.03)
        return unusable("{file}: is not an even field ({texture:1} % texture). Fill the frame with a plain "
                        "board, out of focus",
                        {{"file", frame.path}, {"texture", 100 * q.texture}});
    return flat;
}

GainMap mergedGain(std::span<const GainMap> maps)
{
    GainMap out = maps.front();
    for (size_t c = 0; c < 3; ++c) {
        std::vector<double> field(out.gain[c].size());
        for (const auto &map : maps)
            for (size_t i = 0; i < field.size(); ++i)
                field[i] += 1.0 / double(map.gain[c][i]);
        const double most = *std::max_element(field.begin(), field.end());
        for (size_t i = 0; i < field.size(); ++i)
            out.gain[c][i] = float(most / field[i]);
    }
    return out;
}

std::optional<FlatQuality> evenFieldQuality(const RawFrame &frame)
{
    const auto fit = fitted(frame);
    return fit ? std::optional(fit->quality) : std::nullopt;
}

bool looksFlat(const RawFrame &frame)
{
    constexpr double kMostTexture = 0.02;
    const auto fit = fitted(frame, kMostTexture);
    return fit && fit->quality.texture < kMostTexture && fit->quality.clipped < 0.001;
}

FlatMismatch mismatchOf(const RawFrame &flat, const RawFrame &frame)
{
    FlatMismatch m;
    const auto &a = flat.camera, &b = frame.camera;
    if (flat.width != frame.width || flat.height != frame.height)
        m.refusal = unusable("{file}: is {width} by {height} pixels, the frame {w} by {h}",
                             {{"file", flat.path},
                              {"width", double(flat.width)},
                              {"height", double(flat.height)},
                              {"w", double(frame.width)},
                              {"h", double(frame.height)}});
    else if (a.make != b.make || a.model != b.model || a.serial != b.serial)
        m.refusal = unusable("{file}: was shot with another camera ({make} {model})",
                             {{"file", flat.path}, {"make", a.make}, {"model", a.model}});
    else if (a.lens != b.lens)
        m.refusal =
            unusable("{file}: was shot with another lens ({lens})", {{"file", flat.path}, {"lens", a.lens}});
    else if (a.fNumber != b.fNumber)
        m.warning = {
            words::said(
                "{file}: was shot at f/{flat:g} and the frame at f/{frame:g}, so the falloff differs"),
            {{"file", flat.path}, {"flat", a.fNumber}, {"frame", b.fNumber}}};
    return m;
}

} // namespace wavechroma
