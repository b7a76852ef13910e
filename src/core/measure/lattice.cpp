#include "core/measure/lattice.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <set>

namespace wavechroma::measure {

namespace {

using Index = std::pair<int, int>;

struct Step
{
    double x = 0, y = 0;
};

double length(const Step &s)
{
    return std::hypot(s.x, s.y);
}

/// Buckets of candidates, so that "who is near here" does not look at all of them.
class Neighbourhood
{
public:
    explicit Neighbourhood(const std::vector<Candidate> &all) : m_all(all)
    {
        double mean = 0;
        for (const auto &c : all)
            mean += std::sqrt(c.area) / double(all.size());
        m_cell = std::max(8.0, 2 * mean);
        for (size_t i = 0; i < all.size(); ++i)
            m_buckets[key(all[i].centre.x, all[i].centre.y)].push_back(int(i));
    }

    template <class Visit> void within(const PixelPoint &p, double radius, Visit &&visit) const
    {
        const int x0 = int(std::floor((p.x - radius) / m_cell)),
                  x1 = int(std::floor((p.x + radius) / m_cell));
        const int y0 = int(std::floor((p.y - radius) / m_cell)),
                  y1 = int(std::floor((p.y + radius) / m_cell));
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x)
                if (const auto bucket = m_buckets.find({x, y}); bucket != m_buckets.end())
                    for (const int i : bucket->second)
                        if (std::hypot(m_all[size_t(i)].centre.x - p.x, m_all[size_t(i)].centre.y - p.y) <=
                            radius)
                            visit(i);
    }

private:
    Index key(double x, double y) const { return {int(std::floor(x / m_cell)), int(std::floor(y / m_cell))}; }
    const std::vector<Candidate> &m_all;
    double m_cell = 8;
    std::map<Index, std::vector<int>> m_buckets;
};

/// The map that makes a candidate's parallelogram a unit square (up to rotation): (12 C)^(−1/2).
struct Whitening
{
    double a = 0, b = 0, d = 0; // symmetric 2×2: [a b; b d]

    explicit Whitening(const Candidate &c)
    {
        // For a symmetric 2×2 matrix M: √M = (M + √det I)/√(tr + 2√det); the inverse follows.
        const double m00 = 12 * c.sxx, m01 = 12 * c.sxy, m11 = 12 * c.syy;
        const double s = std::sqrt(m00 * m11 - m01 * m01), t = std::sqrt(m00 + m11 + 2 * s);
        const double r00 = (m00 + s) / t, r01 = m01 / t, r11 = (m11 + s) / t;
        const double det = r00 * r11 - r01 * r01;
        a = r11 / det;
        b = -r01 / det;
        d = r00 / det;
    }
    Step operator()(const Step &s) const { return {a * s.x + b * s.y, b * s.x + d * s.y}; }
};

bool similarSize(const Candidate &a, const Candidate &b, double ratio)
{
    return a.area < ratio * b.area && b.area < ratio * a.area;
}

Step between(const Candidate &a, const Candidate &b)
{
    return {b.centre.x - a.centre.x, b.centre.y - a.centre.y};
}

/// The pair of neighbours that spans the grid at this seed, if there is one.
std::optional<std::pair<Step, Step>> basisAt(const std::vector<Candidate> &all, const Neighbourhood &near,
                                             int seed)
{
    const auto &origin = all[size_t(seed)];
    const Whitening whiten(origin);
    const double reach = 1.9 * std::sqrt(12 * std::max(origin.sxx, origin.syy)) + 6;
    struct Near
    {
        Step step, square;
        double distance;
    };
    std::vector<Near> found;
    near.within(origin.centre, reach, [&](int i) {
        if (i == seed || !similarSize(origin, all[size_t(i)], 1.9))
            return;
        const Step step = between(origin, all[size_t(i)]), square = whiten(step);
        const double distance = length(square);
        // Flat regions lose their rims, the more so the smaller they are, so a pitch may look like 2 sides.
        if (distance > 0.95 && distance < 2.2)
            found.push_back({step, square, distance});
    });
    std::sort(found.begin(), found.end(),
              [](const Near &x, const Near &y) { return x.distance < y.distance; });
    for (size_t i = 0; i < found.size(); ++i)
        for (size_t j = i + 1; j < found.size(); ++j) {
            const auto &p = found[i], &q = found[j];
            const double cosine =
                (p.square.x * q.square.x + p.square.y * q.square.y) / (p.distance * q.distance);
            if (std::abs(cosine) > 0.3 || q.distance > 1.3 * p.distance)
                continue;
            if (p.step.x * q.step.y - p.step.y * q.step.x > 0)
                return std::pair{p.step, q.step};
            return std::pair{q.step, p.step};
        }
    return std::nullopt;
}

struct Growing
{
    int candidate = 0;
    Step along, down;
};

class Grower
{
public:
    Grower(const std::vector<Candidate> &all, const Neighbourhood &near) : m_all(all), m_near(near) {}

    Lattice growFrom(int seed, const Step &along, const Step &down)
    {
        m_nodes[{0, 0}] = {seed, along, down};
        m_taken.insert(seed);
        m_queue.push_back({0, 0});
        while (!m_queue.empty() && m_nodes.size() < 2000) {
            const Index at = m_queue.front();
            m_queue.pop_front();
            for (const Index &d : {Index{1, 0}, Index{-1, 0}, Index{0, 1}, Index{0, -1}})
                tryStep(at, d);
        }
        return shaped();
    }

    const std::set<int> &taken() const { return m_taken; }

private:
    std::optional<int> nearest(const PixelPoint &p, double radius, const Candidate &like) const
    {
        std::optional<int> best;
        double bestDistance = radius;
        m_near.within(p, radius, [&](int i) {
            const auto &c = m_all[size_t(i)];
            const double distance = std::hypot(c.centre.x - p.x, c.centre.y - p.y);
            if (distance <= bestDistance && !m_taken.count(i) && similarSize(c, like, 2.2)) {
                best = i;
                bestDistance = distance;
            }
        });
        return best;
    }

    void tryStep(const Index &from, const Index &d)
    {
        const Index to{from.first + d.first, from.second + d.second};
        if (m_nodes.count(to))
            return;
        const Growing parent = m_nodes[from];
        const auto &origin = m_all[size_t(parent.candidate)];
        const Step base = d.first ? parent.along : parent.down;
        const int sign = d.first + d.second;
        const PixelPoint guess{origin.centre.x + sign * base.x, origin.centre.y + sign * base.y};
        const auto hit = nearest(guess, 0.22 * length(base), origin);
        if (!hit)
            return;
        const Step seen = between(origin, m_all[size_t(*hit)]);
        Growing node{*hit, parent.along, parent.down};
        Step &updated = d.first ? node.along : node.down;
        updated = {sign * seen.x, sign * seen.y};
        m_taken.insert(*hit);
        m_nodes[to] = node;
        m_queue.push_back(to);
    }

    /// A homography through all nodes; nodes over a fifth of a step away from it are let go, then it is
    /// fitted again.
    Lattice shaped()
    {
        Lattice lattice;
        for (int round = 0; round < 3; ++round) {
            std::vector<ChartPoint> from;
            std::vector<PixelPoint> to;
            for (const auto &[index, node] : m_nodes) {
                from.push_back({double(index.first), double(index.second)});
                to.push_back(m_all[size_t(node.candidate)].centre);
            }
            const auto fit = homographyFrom(from, to);
            if (!fit)
                return {};
            lattice.pictureFromIndex = *fit;
            std::erase_if(m_nodes, [&](const auto &entry) {
                const auto &[index, node] = entry;
                const auto p = fit->at({double(index.first), double(index.second)});
                const auto &c = m_all[size_t(node.candidate)].centre;
                const double limit = 0.2 * std::min(length(node.along), length(node.down));
                return std::hypot(p.x - c.x, p.y - c.y) > limit;
            });
        }
        bool first = true;
        for (const auto &[index, node] : m_nodes) {
            lattice.nodes[index] = m_all[size_t(node.candidate)];
            lattice.iMin = first ? index.first : std::min(lattice.iMin, index.first);
            lattice.iMax = first ? index.first : std::max(lattice.iMax, index.first);
            lattice.jMin = first ? index.second : std::min(lattice.jMin, index.second);
            lattice.jMax = first ? index.second : std::max(lattice.jMax, index.second);
            first = false;
        }
        return lattice;
    }

    const std::vector<Candidate> &m_all;
    const Neighbourhood &m_near;
    std::map<Index, Growing> m_nodes;
    std::set<int> m_taken;
    std::deque<Index> m_queue;
};

} // namespace

std::vector<Lattice> findLattices(const std::vector<Candidate> &candidates, int fewest)
{
    std::vector<Lattice> lattices;
    if (int(candidates.size()) < fewest)
        return lattices;
    const Neighbourhood near(candidates);
    std::set<int> used;
    for (int seed = 0; seed < int(candidates.size()); ++seed) {
        if (used.count(seed))
            continue;
        const auto basis = basisAt(candidates, near, seed);
        if (!basis)
            continue;
        Grower grower(candidates, near);
        auto lattice = grower.growFrom(seed, basis->first, basis->second);
        if (int(lattice.nodes.size()) < fewest)
            continue;
        used.insert(grower.taken().begin(), grower.taken().end());
        lattices.push_back(std::move(lattice));
    }
    return lattices;
}

} // namespace wavechroma::measure
