#include "core/measure/identify.h"

#include "core/fit/shadow_edge.h"
#include "core/raw/overview.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace wavechroma::measure {

std::optional<Vector3> colourAt(const Overview &o, const PixelPoint &p, int reach)
{
    const int x0 = int(std::floor(p.x)) - reach, y0 = int(std::floor(p.y)) - reach;
    if (!(p.x > -1e6 && p.x < 1e6 && p.y > -1e6 && p.y < 1e6) || x0 < 0 || y0 < 0 ||
        x0 + 2 * reach >= o.width || y0 + 2 * reach >= o.height)
        return std::nullopt;
    Vector3 sum{};
    for (int y = y0; y <= y0 + 2 * reach; ++y)
        for (int x = x0; x <= x0 + 2 * reach; ++x)
            for (size_t c = 0; c < 3; ++c)
                sum[c] += double(o.rgb[(size_t(y) * size_t(o.width) + size_t(x)) * 3 + c]);
    const double n = (2 * reach + 1) * (2 * reach + 1);
    return Vector3{sum[0] / n, sum[1] / n, sum[2] / n};
}

namespace {

constexpr double kSurely = 0.93;        ///< explained: no more freedom is asked for, or what is with it
constexpr double kDeepestShadow = 0.06; ///< four stops: nothing is seen in a deeper one
constexpr size_t kLookedCloser = 8;     ///< hypotheses of a lattice, for each costs a millisecond or two

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

struct Hypothesis
{
    int turn = 0, i0 = 0, j0 = 0, hits = 0;
};

/// How many nodes lie in a rectangle of indices, by sums over all before it (Crow 1984).
class NodeCounts
{
public:
    explicit NodeCounts(const Lattice &lattice)
        : m_iMin(lattice.iMin), m_jMin(lattice.jMin), m_across(lattice.iMax - lattice.iMin + 1),
          m_down(lattice.jMax - lattice.jMin + 1), m_before(size_t(m_across + 1) * size_t(m_down + 1))
    {
        for (const auto &[index, node] : lattice.nodes)
            at(index.first - m_iMin + 1, index.second - m_jMin + 1) = 1;
        for (int j = 1; j <= m_down; ++j)
            for (int i = 1; i <= m_across; ++i)
                at(i, j) += at(i - 1, j) + at(i, j - 1) - at(i - 1, j - 1);
    }
    /// Of two opposite corners, both of them in it.
    [[nodiscard]] int in(int i, int j, int otherI, int otherJ) const
    {
        const auto column = [&](int v) { return std::clamp(v - m_iMin, 0, m_across); };
        const auto row = [&](int v) { return std::clamp(v - m_jMin, 0, m_down); };
        const int left = column(std::min(i, otherI)), right = column(std::max(i, otherI) + 1),
                  top = row(std::min(j, otherJ)), bottom = row(std::max(j, otherJ) + 1);
        return at(right, bottom) - at(left, bottom) - at(right, top) + at(left, top);
    }

private:
    int &at(int i, int j) { return m_before[size_t(j) * size_t(m_across + 1) + size_t(i)]; }
    [[nodiscard]] int at(int i, int j) const
    {
        return m_before[size_t(j) * size_t(m_across + 1) + size_t(i)];
    }

    int m_iMin, m_jMin, m_across, m_down;
    std::vector<int> m_before;
};

std::vector<Hypothesis> hypotheses(const Lattice &lattice, int rows, int columns)
{
    std::vector<Hypothesis> list;
    const NodeCounts nodes(lattice);
    const int total = int(lattice.nodes.size());
    const int fewest = std::max(rows * columns * 3 / 10, std::min(total, rows * columns) * 7 / 10);
    for (int turn = 0; turn < 4; ++turn) {
        const auto far = turned(turn, columns - 1, rows - 1);
        for (int i0 = lattice.iMin - std::max(0, far.first); i0 <= lattice.iMax - std::min(0, far.first);
             ++i0)
            for (int j0 = lattice.jMin - std::max(0, far.second);
                 j0 <= lattice.jMax - std::min(0, far.second); ++j0) {
                const Hypothesis h{turn, i0, j0, nodes.in(i0, j0, i0 + far.first, j0 + far.second)};
                if (h.hits >= fewest)
                    list.push_back(h);
            }
    }
    return list;
}

/// A hypothesis laid on the lattice, with its colours there.
struct Tried
{
    Placement placement;
    std::vector<Vector3> colours;
};

double plainColourFit(const ChartDefinition &chart, const std::vector<Vector3> &colours);

/// The panel lies on the lattice; where the other panel lies follows from the definition's millimetres.
std::optional<Tried> tryHypothesis(const Overview &overview, const Lattice &lattice,
                                   const ChartDefinition &chart, const ChartPanel &panel, const Hypothesis &h,
                                   int reach)
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
        const auto p = nodes[i].value_or(
            homography->at(patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns)));
        colours.push_back(colourAt(overview, p, reach).value_or(Vector3{-1, -1, -1}));
    }
    return Tried{{*homography, chart.colorsKnown ? plainColourFit(chart, colours) : 0, h.hits},
                 std::move(colours)};
}

/// A patch as the colour fit works on it.
struct FitPatch
{
    Eigen::Vector3d rgb, xyz; ///< rgb is corrected for light and veil from round to round
    Eigen::Vector3d place;    ///< 1, then −1…1 across and down the chart
    double weight = 0;        ///< of its colours, before squaring
    double residual = 0;
    bool read = false, used = false;
};
constexpr double kDarkest = 0.06; ///< added to a luminance before it divides

struct FitSums
{
    Eigen::Matrix3d xyzFromRgb = Eigen::Matrix3d::Zero();
    double residual = 0, spread = 0;
};

/// The weighted least-squares matrix over the patches in use, their residuals, and the spread of the
/// references.
FitSums matrixFit(std::vector<FitPatch> &patches)
{
    Eigen::Matrix3d aa = Eigen::Matrix3d::Zero(), ab = Eigen::Matrix3d::Zero();
    Eigen::Vector3d sum = Eigen::Vector3d::Zero();
    double squares = 0, count = 0;
    for (const auto &p : patches) {
        if (!p.used)
            continue;
        const Eigen::Vector3d a = p.weight * p.rgb, b = p.weight * p.xyz;
        aa += a * a.transpose();
        ab += a * b.transpose();
        sum += b;
        squares += b.squaredNorm();
        ++count;
    }
    FitSums fit;
    fit.xyzFromRgb = aa.ldlt().solve(ab).transpose();
    fit.spread = squares - sum.squaredNorm() / std::max(1.0, count);
    for (auto &p : patches) {
        p.residual = p.weight * p.weight * (fit.xyzFromRgb * p.rgb - p.xyz).squaredNorm();
        if (p.used)
            fit.residual += p.residual;
    }
    return fit;
}

/// What a perfect diffuser gives, from the reverse regression: XYZ → camera RGB.
Eigen::Vector3d whiteOf(const std::vector<FitPatch> &patches)
{
    Eigen::Matrix3d bb = Eigen::Matrix3d::Zero(), ba = Eigen::Matrix3d::Zero();
    for (const auto &p : patches)
        if (p.used) {
            bb += p.weight * p.weight * p.xyz * p.xyz.transpose();
            ba += p.weight * p.weight * p.xyz * p.rgb.transpose();
        }
    return (bb.ldlt().solve(ba)).transpose() * Eigen::Vector3d(kD50White.x, kD50White.y, kD50White.z);
}

/// How bright each patch came out beside what the matrix makes of the reference, as a plane over the chart,
/// divided out. Left alone when it would be steeper than any light.
void takeLightOut(std::vector<FitPatch> &patches, const Eigen::Matrix3d &xyzFromRgb)
{
    Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
    Eigen::Vector3d right = Eigen::Vector3d::Zero();
    for (const auto &p : patches)
        if (p.used) {
            normal += p.place * p.place.transpose();
            right += p.place * ((xyzFromRgb * p.rgb).dot(p.xyz) / p.xyz.squaredNorm());
        }
    Eigen::Vector3d plane = normal.ldlt().solve(right);
    plane /= plane(0);
    if (!plane.allFinite() || std::abs(plane(1)) + std::abs(plane(2)) > 0.5)
        return;
    for (auto &p : patches)
        p.rgb /= plane.dot(p.place);
}

/// A patch that is dark by its reference but light as seen (a finger on the black one) would have all the say
/// by its weight; for a first fit the lighter of the two counts.
void weighBySight(std::vector<FitPatch> &patches)
{
    double seen = 0, reference = 0;
    for (const auto &p : patches)
        if (p.used) {
            seen += p.rgb(1);
            reference += p.xyz(1);
        }
    const double scale = seen > 0 ? reference / seen : 0;
    for (auto &p : patches)
        p.weight = 1 / (std::max(p.xyz(1), scale * p.rgb(1)) + kDarkest);
}

void weighByReference(std::vector<FitPatch> &patches)
{
    for (auto &p : patches)
        p.weight = 1 / (p.xyz(1) + kDarkest);
}

/// Leaves out the patches that the last fit leaves most of; all others that have a reading are in.
void dropWorst(std::vector<FitPatch> &patches, size_t dropped)
{
    for (auto &p : patches)
        p.used = p.read;
    std::vector<size_t> order(patches.size());
    std::iota(order.begin(), order.end(), 0);
    std::partial_sort(order.begin(), order.begin() + ptrdiff_t(dropped), order.end(),
                      [&](size_t a, size_t b) { return patches[a].residual > patches[b].residual; });
    for (size_t i = 0; i < dropped; ++i)
        patches[order[i]].used = false;
}

void dropWorst(std::vector<FitPatch> &patches)
{
    dropWorst(patches, std::max<size_t>(2, patches.size() / 12));
}

double shareExplained(const FitSums &fit)
{
    return std::clamp(1 - fit.residual / fit.spread, 0.0, 1.0);
}

/// The fit with a veil taken off, the worst patches left out, and the light's fall over the chart evened.
double fitUnder(const Eigen::Vector3d &veil, std::vector<FitPatch> patches)
{
    for (auto &p : patches)
        p.rgb -= veil;
    weighBySight(patches);
    matrixFit(patches);
    dropWorst(patches);
    weighByReference(patches);
    auto fit = matrixFit(patches);
    takeLightOut(patches, fit.xyzFromRgb);
    fit = matrixFit(patches);
    dropWorst(patches);
    fit = matrixFit(patches);
    takeLightOut(patches, fit.xyzFromRgb);
    return shareExplained(matrixFit(patches));
}

/// Without the worst third, found by dropping and fitting again until it rests (the concentration steps of
/// least trimmed squares, Rousseeuw and Van Driessen 2006).
double fitOfMost(std::vector<FitPatch> patches)
{
    weighBySight(patches);
    matrixFit(patches);
    for (int round = 0; round < 10; ++round) {
        dropWorst(patches, patches.size() / 3);
        if (round == 2)
            weighByReference(patches);
        matrixFit(patches);
    }
    return shareExplained(matrixFit(patches));
}

std::vector<FitPatch> fitPatches(const ChartDefinition &chart, const std::vector<Vector3> &colours)
{
    const auto extent = chartExtent(chart);
    std::vector<FitPatch> patches(colours.size());
    for (size_t i = 0; i < colours.size(); ++i) {
        const auto &reference = chart.patches[i].reference;
        const auto centre = patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns);
        patches[i] = {{colours[i][0], colours[i][1], colours[i][2]},
                      {reference.x, reference.y, reference.z},
                      {1, 2 * centre.x / extent.x - 1, 2 * centre.y / extent.y - 1},
                      0,
                      0,
                      colours[i][0] > -0.5,
                      colours[i][0] > -0.5};
    }
    return patches;
}

double plainColourFit(const ChartDefinition &chart, const std::vector<Vector3> &colours)
{
    auto patches = fitPatches(chart, colours);
    if (std::count_if(patches.begin(), patches.end(), [](const auto &p) { return p.used; }) < 8)
        return 0;
    // Only the colours' differences in proportion tell one chart from another, so the spread is taken about
    // the multiple of grey that fits each patch best, i.e. chromatic and lightness spread both count, a
    // common factor does not.
    weighBySight(patches);
    const auto first = matrixFit(patches);
    if (first.residual > 0.6 * first.spread)
        return shareExplained(first); // neither light nor flare makes that much
    if (patches.size() < 20) {        // small charts leave no room for light and veil
        dropWorst(patches);
        weighByReference(patches);
        matrixFit(patches);
        dropWorst(patches);
        return shareExplained(matrixFit(patches));
    }
    weighByReference(patches);
    const Eigen::Vector3d white = whiteOf(patches);
    double best = 0;
    for (const double veil : {0.0, 0.02, 0.04, 0.06, 0.08})
        best = std::max(best, fitUnder(veil * white, patches));
    return best;
}

/// Two levels of light: what the likeliest shadow leaves of it is taken out.
double fitUnderShadow(const ChartDefinition &chart, const std::vector<Vector3> &colours)
{
    std::vector<PlacedPatch> placed;
    const auto patches = fitPatches(chart, colours);
    for (size_t i = 0; i < patches.size(); ++i)
        if (const auto &p = patches[i]; p.read)
            placed.push_back(
                {{chart.patches[i].id, {p.rgb(0), p.rgb(1), p.rgb(2)}, chart.patches[i].reference},
                 p.place(1),
                 p.place(2)});
    const auto shadow = likeliestShadow(placed);
    if (!shadow || std::min({shadow->share[0], shadow->share[1], shadow->share[2]}) < kDeepestShadow)
        return 0;
    auto lit = colours;
    size_t next = 0;
    for (auto &colour : lit)
        if (colour[0] > -0.5 && shadow->inside[next++])
            for (size_t c = 0; c < 3; ++c)
                colour[c] /= shadow->share[c];
    // those that the edge lies on belong to neither side
    return std::max(plainColourFit(chart, lit), fitOfMost(fitPatches(chart, lit)));
}

} // namespace

double colourFit(const ChartDefinition &chart, const std::vector<Vector3> &colours)
{
    const double plain = plainColourFit(chart, colours);
    if (plain >= kSurely || chart.patches.size() < 20)
        return plain;
    const double freer = std::max(fitUnderShadow(chart, colours), fitOfMost(fitPatches(chart, colours)));
    return freer >= kSurely ? freer : plain;
}

/// Those hypotheses that lie on more than half of the chart, once more, for a shadow or glare.
static void lookCloser(const ChartDefinition &chart, std::vector<Tried> &tried)
{
    std::vector<Tried *> order;
    int largest = 0;
    for (const auto &panel : panelsOf(chart))
        largest = std::max(largest, panel.columns * chart.rows);
    for (auto &one : tried)
        if (one.placement.nodes * 20 >= largest * 11)
            order.push_back(&one);
    std::sort(order.begin(), order.end(), [](const Tried *a, const Tried *b) {
        return std::pair(a->placement.nodes, a->placement.colourFit) >
               std::pair(b->placement.nodes, b->placement.colourFit);
    });
    if (order.size() > kLookedCloser)
        order.resize(kLookedCloser);
    for (auto *one : order)
        one->placement.colourFit = colourFit(chart, one->colours);
}

/// All turns and shifts of a chart over a lattice.
static std::vector<Tried> allTried(const Overview &overview, const Lattice &lattice,
                                   const ChartDefinition &chart, int reach)
{
    std::vector<Tried> tried;
    for (const auto &panel : panelsOf(chart))
        for (const auto &h : hypotheses(lattice, chart.rows, panel.columns))
            if (auto one = tryHypothesis(overview, lattice, chart, panel, h, reach))
                tried.push_back(std::move(*one));
    return tried;
}

static double bestFit(const std::vector<Tried> &tried)
{
    double best = 0;
    for (const auto &one : tried)
        best = std::max(best, one.placement.colourFit);
    return best;
}

/// Of colours that do not fit always the fullest.
static std::optional<Placement> bestOf(const std::vector<Tried> &tried, double leastFit)
{
    const bool fits = bestFit(tried) >= leastFit;
    const auto best = std::max_element(tried.begin(), tried.end(), [&](const Tried &a, const Tried &b) {
        return std::pair(fits ? 0 : a.placement.nodes, a.placement.colourFit) <
               std::pair(fits ? 0 : b.placement.nodes, b.placement.colourFit);
    });
    return best == tried.end() ? std::nullopt : std::optional(best->placement);
}

/// Patches of other panels than the one on the lattice that are seen where the definition has them: a flat
/// region of about a patch's size within a third of a patch.
static int seenBeside(const ChartDefinition &chart, const Placement &placement, const Lattice &lattice,
                      const std::vector<Candidate> &candidates)
{
    double area = 0;
    for (const auto &[index, node] : lattice.nodes)
        area += node.area / double(lattice.nodes.size());
    const double reach = std::sqrt(area) / 3;
    const auto isNear = [&](const PixelPoint &p, const PixelPoint &q) {
        return std::abs(p.x - q.x) < reach && std::abs(p.y - q.y) < reach;
    };
    int seen = 0;
    for (int i = 0; i < int(chart.patches.size()); ++i) {
        const auto p =
            placement.pictureFromChart.at(patchCentre(chart, i / chart.columns, i % chart.columns));
        const bool isOnLattice = std::any_of(lattice.nodes.begin(), lattice.nodes.end(),
                                             [&](const auto &node) { return isNear(node.second.centre, p); });
        seen += !isOnLattice && std::any_of(candidates.begin(), candidates.end(), [&](const Candidate &c) {
            return isNear(c.centre, p) && c.area > area / 2 && c.area < area * 2;
        });
    }
    return seen;
}

std::vector<std::optional<Placement>> identify(const Overview &overview, const Lattice &lattice,
                                               std::span<const ChartDefinition *const> charts,
                                               double leastFit, const std::vector<Candidate> &candidates)
{
    double area = 0;
    for (const auto &[index, node] : lattice.nodes)
        area += node.area / double(lattice.nodes.size());
    const int reach = std::clamp(int(std::sqrt(area) / 6), 0, 6);
    std::vector<std::vector<Tried>> tried;
    double best = 0;
    for (const auto *chart : charts) {
        tried.push_back(allTried(overview, lattice, *chart, reach));
        if (!chart->colorsKnown && panelsOf(*chart).size() > 1)
            for (auto &one : tried.back())
                one.placement.nodes += seenBeside(*chart, one.placement, lattice, candidates);
        if (chart->colorsKnown)
            best = std::max(best, bestFit(tried.back()));
    }
    std::vector<std::optional<Placement>> out;
    for (size_t i = 0; i < charts.size(); ++i) {
        if (best < kSurely && charts[i]->colorsKnown && bestFit(tried[i]) < leastFit)
            lookCloser(*charts[i], tried[i]);
        out.push_back(bestOf(tried[i], leastFit));
    }
    return out;
}

} // namespace wavechroma::measure
