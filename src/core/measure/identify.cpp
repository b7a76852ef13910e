#include "core/measure/identify.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace wavechroma::measure {

namespace {

/// Mean of a small window of the overview round a point; nothing outside.
std::optional<Vector3> colourAt(const Overview &o, const PixelPoint &p, int reach)
{
    const int x0 = int(std::floor(p.x)) - reach, y0 = int(std::floor(p.y)) - reach;
    if (!(p.x > -1e6 && p.x < 1e6 && p.y > -1e6 && p.y < 1e6) || x0 < 0 || y0 < 0 || x0 + 2 * reach >= o.width
        || y0 + 2 * reach >= o.height)
        return std::nullopt;
    Vector3 sum{};
    for (int y = y0; y <= y0 + 2 * reach; ++y)
        for (int x = x0; x <= x0 + 2 * reach; ++x)
            for (size_t c = 0; c < 3; ++c)
                sum[c] += double(o.rgb[(size_t(y) * size_t(o.width) + size_t(x)) * 3 + c]);
    const double n = (2 * reach + 1) * (2 * reach + 1);
    return Vector3{sum[0] / n, sum[1] / n, sum[2] / n};
}

/// Chart column and row → lattice index for each of the four turns that keep the handedness.
std::pair<int, int> turned(int turn, int column, int row)
{
    switch (turn) {
    case 0:
        return {column, row};
    case 1:
        return {-row, column};
    case 2:
        return {-column, -row};
    default:
        return {row, -column};
    }
}

struct Hypothesis {
    int turn = 0, i0 = 0, j0 = 0, hits = 0;
};

std::vector<Hypothesis> hypotheses(const Lattice &lattice, int rows, int columns)
{
    std::vector<Hypothesis> list;
    const int total = int(lattice.nodes.size());
    const int fewest = std::max(rows * columns * 3 / 10, std::min(total, rows * columns) * 7 / 10);
    for (int turn = 0; turn < 4; ++turn) {
        const auto far = turned(turn, columns - 1, rows - 1);
        for (int i0 = lattice.iMin - std::max(0, far.first); i0 <= lattice.iMax - std::min(0, far.first); ++i0)
            for (int j0 = lattice.jMin - std::max(0, far.second); j0 <= lattice.jMax - std::min(0, far.second); ++j0) {
                Hypothesis h{turn, i0, j0, 0};
                for (int row = 0; row < rows; ++row)
                    for (int column = 0; column < columns; ++column) {
                        const auto [di, dj] = turned(turn, column, row);
                        h.hits += int(lattice.nodes.count({i0 + di, j0 + dj}));
                    }
                if (h.hits >= fewest)
                    list.push_back(h);
            }
    }
    return list;
}

/// The panel lies on the lattice; where the other panel lies follows from the definition's millimetres.
std::optional<Placement> tryHypothesis(const Overview &overview, const Lattice &lattice, const ChartDefinition &chart,
                                       const ChartPanel &panel, const Hypothesis &h, int reach)
{
    std::vector<ChartPoint> from;
    std::vector<PixelPoint> to;
    std::vector<std::optional<PixelPoint>> nodes(chart.patches.size());
    for (int row = 0; row < chart.rows; ++row)
        for (int column = 0; column < panel.columns; ++column) {
            const auto [di, dj] = turned(h.turn, column, row);
            const auto node = lattice.nodes.find({h.i0 + di, h.j0 + dj});
            if (node == lattice.nodes.end())
                continue;
            from.push_back(patchCentre(chart, row, panel.firstColumn + column));
            to.push_back(node->second.centre);
            nodes[size_t(row * chart.columns + panel.firstColumn + column)] = node->second.centre;
        }
    const auto homography = homographyFrom(from, to);
    if (!homography)
        return std::nullopt;
    std::vector<Vector3> colours;
    for (size_t i = 0; i < nodes.size(); ++i) {
        const auto p = nodes[i].value_or(homography->at(patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns)));
        colours.push_back(colourAt(overview, p, reach).value_or(Vector3{-1, -1, -1}));
    }
    return Placement{*homography, colourFit(chart, colours), h.hits};
}

} // namespace

double colourFit(const ChartDefinition &chart, const std::vector<Vector3> &patches)
{
    const auto count = Eigen::Index(patches.size());
    Eigen::MatrixXd rgb(count, 3), xyz(count, 3);
    std::vector<double> weight(patches.size());
    for (Eigen::Index i = 0; i < count; ++i) {
        const auto &p = patches[size_t(i)];
        const auto &reference = chart.patches[size_t(i)].reference;
        const bool usable = p[0] > -0.5;
        weight[size_t(i)] = usable ? 1 / (reference.y + 0.06) : 0;
        rgb.row(i) << (usable ? p[0] : 0), (usable ? p[1] : 0), (usable ? p[2] : 0);
        xyz.row(i) << reference.x, reference.y, reference.z;
    }
    // Only the colours' differences in proportion tell one chart from another, so the spread is taken about the multiple
    // of grey that fits each patch best, i.e. chromatic and lightness spread both count, a common factor does not.
    double fit = 0;
    for (int round = 0; round < 2; ++round) {
        Eigen::VectorXd w = Eigen::Map<Eigen::VectorXd>(weight.data(), count);
        if ((w.array() > 0).count() < 6)
            return 0;
        const Eigen::MatrixXd a = w.asDiagonal() * rgb, b = w.asDiagonal() * xyz;
        const Eigen::MatrixXd matrix = a.colPivHouseholderQr().solve(b);
        const Eigen::VectorXd residual = (a * matrix - b).rowwise().squaredNorm();
        const Eigen::RowVectorXd centre = b.colwise().sum() / double((w.array() > 0).count());
        double spread = 0;
        for (Eigen::Index i = 0; i < count; ++i)
            if (w(i) > 0)
                spread += (b.row(i) - centre).squaredNorm();
        fit = 1 - residual.sum() / spread;
        if (round == 0) {
            std::vector<Eigen::Index> order(static_cast<size_t>(count));
            std::iota(order.begin(), order.end(), 0);
            std::partial_sort(order.begin(), order.begin() + 2, order.end(),
                              [&](auto x, auto y) { return residual(x) > residual(y); });
            weight[size_t(order[0])] = weight[size_t(order[1])] = 0;
        }
    }
    return std::clamp(fit, 0.0, 1.0);
}

std::optional<Placement> identify(const Overview &overview, const Lattice &lattice, const ChartDefinition &chart, double leastFit)
{
    double area = 0;
    for (const auto &[index, node] : lattice.nodes)
        area += node.area / double(lattice.nodes.size());
    const int reach = std::clamp(int(std::sqrt(area) / 6), 0, 6);
    std::optional<Placement> best, fullest;
    std::vector<std::pair<ChartPanel, Hypothesis>> all;
    for (const auto &panel : panelsOf(chart))
        for (const auto &h : hypotheses(lattice, chart.rows, panel.columns))
            all.emplace_back(panel, h);
    for (const auto &[panel, h] : all) {
        const auto placement = tryHypothesis(overview, lattice, chart, panel, h, reach);
        if (!placement)
            continue;
        if (!best || placement->colourFit > best->colourFit)
            best = placement;
        if (!fullest || placement->nodes > fullest->nodes || (placement->nodes == fullest->nodes && placement->colourFit > fullest->colourFit))
            fullest = placement;
    }
    return best && best->colourFit >= leastFit ? best : fullest;
}

} // namespace wavechroma::measure
