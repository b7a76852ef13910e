#include "core/measure/backdrop_field.h"

#include "core/base/statistics.h"
#include "core/raw/overview.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>

namespace wavechroma {

namespace {

constexpr int kCells = 96, kColumns = 65, kRows = 49;
constexpr double kSmooth = 0.06;    ///< from a cell to its neighbours, of its light
constexpr double kOneColour = 0.05; ///< of red and blue over green, natural logarithms
constexpr double kLeastShare = 0.2, kLeastSpan = 0.75, kMostScatter = 0.02;

using FieldTerms = Eigen::Matrix<double, 6, 1>;

FieldTerms fieldTerms(double u, double v)
{
    FieldTerms out;
    out << 1, u, v, u * u, u * v, v * v;
    return out;
}

/// A cell of the overview that may be backdrop.
struct Cell
{
    int x = 0, y = 0;
    double u = 0, v = 0;                 ///< −1…1 over the frame
    double light = 0, red = 0, blue = 0; ///< logarithms: of green, and of the others over it
};

double greenAt(const Overview &o, int x, int y)
{
    return double(o.rgb[(size_t(y) * size_t(o.width) + size_t(x)) * 3 + 1]);
}

/// Neither textured nor at an edge of something, nor burnt, nor nearly black.
bool isSmooth(const Overview &o, int x, int y)
{
    const double here = greenAt(o, x, y);
    if (!(here > 0.005) || o.clipped[size_t(y) * size_t(o.width) + size_t(x)])
        return false;
    for (int dy = -1; dy <= 1; ++dy)
        for (int dx = -1; dx <= 1; ++dx) {
            const int nx = std::clamp(x + dx, 0, o.width - 1), ny = std::clamp(y + dy, 0, o.height - 1);
            if (std::abs(greenAt(o, nx, ny) / here - 1) > kSmooth)
                return false;
        }
    return true;
}

std::vector<Cell> smoothCells(const Overview &o, const RawFrame &frame)
{
    std::vector<Cell> out;
    for (int y = 0; y < o.height; ++y)
        for (int x = 0; x < o.width; ++x) {
            const float *rgb = o.rgb.data() + (size_t(y) * size_t(o.width) + size_t(x)) * 3;
            if (!isSmooth(o, x, y) || !(rgb[0] > 0.001F) || !(rgb[2] > 0.001F))
                continue;
            out.push_back({x, y, 2 * (x + 0.5) * o.block / frame.width - 1,
                           2 * (y + 0.5) * o.block / frame.height - 1, std::log(double(rgb[1])),
                           std::log(double(rgb[0] / rgb[1])), std::log(double(rgb[2] / rgb[1]))});
        }
    return out;
}

/// Those of the chromaticity that most cells at the frame's edges have.
std::vector<Cell> backdropAmong(const std::vector<Cell> &cells, const Overview &o)
{
    std::vector<double> reds, blues;
    std::map<std::pair<int, int>, int> votes;
    const auto bin = [](const Cell &c) {
        return std::pair(int(std::floor(c.red / kOneColour)), int(std::floor(c.blue / kOneColour)));
    };
    const auto isAtEdge = [&](const Cell &c) {
        return c.x < 3 || c.y < 3 || c.x >= o.width - 3 || c.y >= o.height - 3;
    };
    for (const auto &cell : cells)
        if (isAtEdge(cell))
            ++votes[bin(cell)];
    if (votes.empty())
        return {};
    const auto most = std::max_element(votes.begin(), votes.end(), [](const auto &a, const auto &b) {
                          return a.second < b.second;
                      })->first;
    for (const auto &cell : cells)
        if (isAtEdge(cell) && std::abs(bin(cell).first - most.first) <= 1 &&
            std::abs(bin(cell).second - most.second) <= 1) {
            reds.push_back(cell.red);
            blues.push_back(cell.blue);
        }
    const double red = medianOf(reds), blue = medianOf(blues);
    std::vector<Cell> out;
    std::copy_if(cells.begin(), cells.end(), std::back_inserter(out), [&](const Cell &c) {
        return std::abs(c.red - red) < kOneColour && std::abs(c.blue - blue) < kOneColour;
    });
    return out;
}

struct Field
{
    FieldTerms terms = FieldTerms::Zero();
    double scatter = 0; ///< robust, relative
    std::vector<Cell> kept;
};

Field fitField(const std::vector<Cell> &cells)
{
    Field out;
    std::vector<double> weights(cells.size(), 1);
    for (int round = 0; round < 12; ++round) {
        Eigen::Matrix<double, 6, 6> normal = Eigen::Matrix<double, 6, 6>::Identity() * 1e-9;
        FieldTerms right = FieldTerms::Zero();
        for (size_t i = 0; i < cells.size(); ++i) {
            const auto terms = fieldTerms(cells[i].u, cells[i].v);
            normal += weights[i] * terms * terms.transpose();
            right += weights[i] * cells[i].light * terms;
        }
        out.terms = normal.ldlt().solve(right);
        std::vector<double> off;
        for (const auto &cell : cells)
            off.push_back(std::abs(cell.light - fieldTerms(cell.u, cell.v).dot(out.terms)));
        out.scatter = 1.4826 * medianOf(off);
        const double limit = 4.685 * std::max(out.scatter, 2e-3);
        out.kept.clear();
        for (size_t i = 0; i < cells.size(); ++i) {
            const double r = off[i] / limit;
            weights[i] = r < 1 ? (1 - r * r) * (1 - r * r) : 0;
            if (r < 1)
                out.kept.push_back(cells[i]);
        }
    }
    return out;
}

bool spansEnough(const std::vector<Cell> &cells, const Overview &o)
{
    int left = o.width, right = 0, top = o.height, bottom = 0;
    for (const auto &c : cells) {
        left = std::min(left, c.x);
        right = std::max(right, c.x + 1);
        top = std::min(top, c.y);
        bottom = std::max(bottom, c.y + 1);
    }
    return double(cells.size()) >= kLeastShare * o.width * o.height && right - left >= kLeastSpan * o.width &&
           bottom - top >= kLeastSpan * o.height;
}

} // namespace

Result<FlatField> backdropFieldFrom(const RawFrame &frame)
{
    const auto overview =
        overviewOf(frame, std::max(smallestBlock(frame), std::max(frame.width, frame.height) / kCells));
    const auto field = fitField(backdropAmong(smoothCells(overview, frame), overview));
    if (!spansEnough(field.kept, overview) || field.scatter > kMostScatter)
        return unusable("{file}: shows no even backdrop that its falloff could be told from; shoot a flat",
                        {{"file", frame.path}});
    FlatField out;
    auto &map = out.map;
    map.source = frame.path;
    map.width = frame.width;
    map.height = frame.height;
    map.columns = kColumns;
    map.rows = kRows;
    std::vector<double> logs;
    for (int j = 0; j < kRows; ++j)
        for (int i = 0; i < kColumns; ++i)
            logs.push_back(
                fieldTerms(2.0 * i / (kColumns - 1) - 1, 2.0 * j / (kRows - 1) - 1).dot(field.terms));
    const double most = *std::max_element(logs.begin(), logs.end()),
                 least = *std::min_element(logs.begin(), logs.end());
    out.quality.falloff = 1 - std::exp(least - most);
    out.quality.texture = field.scatter;
    out.quality.level = std::exp(most);
    if (out.quality.falloff > 0.8)
        return unusable("{file}: its backdrop falls off too much to tell the light's falloff from it",
                        {{"file", frame.path}});
    for (auto &gain : map.gain)
        for (const double v : logs)
            gain.push_back(float(std::exp(most - v)));
    return out;
}

} // namespace wavechroma
