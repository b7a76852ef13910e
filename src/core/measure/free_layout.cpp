#include "core/measure/free_layout.h"

#include "core/base/symmetric_eigen.h"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace wavechroma::measure {

namespace {

using Eigen::Matrix2d;
using Eigen::Vector2d;

constexpr size_t kAnchors = 5, kPartners = 6, kNearby = 24, kGrowsFrom = 5;
// Flat regions are smaller than their patches by what blurs their edges, small ones by a third.
constexpr double kLeastSeen = 0.35, kMostSeen = 1.45, kLeastReach = 0.85, kMostReach = 1.5;

/// A patch as the search sees it: middle, moments and area in mm.
struct Spot
{
    Vector2d middle;
    Matrix2d spread, whitened;  // moments, and the inverse of their root
    double area = 0, reach = 0; // reach: half of its shorter side
};

Spot spotOf(const PatchPlace &place)
{
    Spot out;
    const double share = place.isDisc ? 16 : 12;
    const Vector2d moments(place.widthMm * place.widthMm / share, place.heightMm * place.heightMm / share);
    out.middle = {place.x, place.y};
    out.spread = moments.asDiagonal();
    out.whitened = moments.cwiseSqrt().cwiseInverse().asDiagonal();
    out.area = place.widthMm * place.heightMm * (place.isDisc ? std::numbers::pi / 4 : 1);
    out.reach = std::min(place.widthMm, place.heightMm) / 2;
    return out;
}

Matrix2d rootOf(const Candidate &c)
{
    Matrix2d moments;
    moments << c.sxx, c.sxy, c.sxy, c.syy;
    const auto eigen = symmetricEigen(moments);
    return eigen.vectors * eigen.values.cwiseMax(1e-6).cwiseSqrt().asDiagonal() * eigen.vectors.transpose();
}

Vector2d middleOf(const Candidate &c)
{
    return {c.centre.x, c.centre.y};
}

/// For each of `from` the nearest of `to`, itself left out.
template <class Distance>
std::vector<size_t> nearest(size_t count, size_t own, size_t most, Distance distance)
{
    std::vector<size_t> out;
    for (size_t i = 0; i < count; ++i)
        if (i != own)
            out.push_back(i);
    const auto end = out.begin() + ptrdiff_t(std::min(most, out.size()));
    std::partial_sort(out.begin(), end, out.end(),
                      [&](size_t a, size_t b) { return distance(a) < distance(b); });
    out.erase(end, out.end());
    return out;
}

/// Which candidate is which patch, as far as it was followed.
using Pairs = std::vector<std::pair<size_t, size_t>>; // patch, candidate

class Growth
{
public:
    Growth(const std::vector<Spot> &spots, const std::vector<Candidate> &candidates)
        : m_spots(spots), m_candidates(candidates)
    {
    }

    /// From a first pair and the affine map there, outwards; fewer than `least` where it leads nowhere.
    Pairs grown(size_t spot, size_t candidate, const Matrix2d &affine) const
    {
        Pairs pairs{{spot, candidate}};
        std::set<size_t> taken{candidate};
        const auto order = nearest(m_spots.size(), spot, m_spots.size(), [&](size_t i) {
            return (m_spots[i].middle - m_spots[spot].middle).squaredNorm();
        });
        Homography map;
        map.pictureFromChart = affineThrough(m_spots[spot].middle, middleOf(m_candidates[candidate]), affine);
        size_t asked = 0;
        for (const size_t i : order) {
            if (const auto hit = at(map, i); hit && taken.insert(*hit).second) {
                pairs.emplace_back(i, *hit);
                if (pairs.size() >= kGrowsFrom)
                    if (const auto better = through(pairs))
                        map = *better;
            }
            if (++asked >= 6 && pairs.size() * 2 < asked)
                return {}; // nothing is where it should be
        }
        return pairs;
    }

    std::optional<Homography> through(const Pairs &pairs) const
    {
        std::vector<ChartPoint> from;
        std::vector<PixelPoint> to;
        for (const auto &[i, j] : pairs) {
            from.push_back({m_spots[i].middle.x(), m_spots[i].middle.y()});
            to.push_back(m_candidates[j].centre);
        }
        return homographyFrom(from, to);
    }

private:
    static Matrix3 affineThrough(const Vector2d &chart, const Vector2d &picture, const Matrix2d &affine)
    {
        const Vector2d shift = picture - affine * chart;
        Matrix3 out = identity();
        for (int row = 0; row < 2; ++row) {
            out(row, 0) = affine(row, 0);
            out(row, 1) = affine(row, 1);
            out(row, 2) = shift(row);
        }
        return out;
    }

    /// The candidate where the map has a patch, of about its size.
    std::optional<size_t> at(const Homography &map, size_t patch) const
    {
        const auto &spot = m_spots[patch];
        const auto seen = [&](double dx, double dy) {
            const auto p = map.at({spot.middle.x() + dx, spot.middle.y() + dy});
            return Vector2d(p.x, p.y);
        };
        const Vector2d middle = seen(0, 0), right = seen(spot.reach, 0) - middle,
                       down = seen(0, spot.reach) - middle;
        const double scale =
                         std::abs(right.x() * down.y() - right.y() * down.x()) / (spot.reach * spot.reach),
                     slack = 0.5 * std::sqrt(scale) * spot.reach;
        std::optional<size_t> best;
        double least = slack;
        for (size_t i = 0; i < m_candidates.size(); ++i) {
            const double distance = (middleOf(m_candidates[i]) - middle).norm(),
                         share = m_candidates[i].area / (scale * spot.area);
            if (distance < least && share > kLeastSeen && share < kMostSeen) {
                least = distance;
                best = i;
            }
        }
        return best;
    }

    const std::vector<Spot> &m_spots;
    const std::vector<Candidate> &m_candidates;
};

/// Colours at the patches' middles, each over a third of its size.
std::vector<Vector3> coloursOf(const Overview &overview, const ChartDefinition &chart, const Homography &map)
{
    std::vector<Vector3> out;
    for (const auto &place : chart.places) {
        const auto middle = map.at({place.x, place.y}),
                   side = map.at({place.x + std::min(place.widthMm, place.heightMm) / 6, place.y});
        const int reach = std::max(1, int(std::hypot(side.x - middle.x, side.y - middle.y)));
        out.push_back(colourAt(overview, middle, reach).value_or(Vector3{-1, -1, -1}));
    }
    return out;
}

/// Patches that have to be found for a placement; of a layout without a pattern of colours all.
size_t fewestOf(size_t patches)
{
    return patches < 6 ? std::max<size_t>(4, patches) : std::max<size_t>(4, patches * 3 / 5);
}

class FreeSearch
{
public:
    FreeSearch(const Overview &overview, const std::vector<Candidate> &candidates,
               const ChartDefinition &chart)
        : m_overview(overview), m_candidates(candidates), m_chart(chart), m_growth(m_spots, candidates),
          m_fewest(fewestOf(chart.places.size()))
    {
        for (const auto &place : chart.places)
            m_spots.push_back(spotOf(place));
    }

    std::optional<Placement> best()
    {
        // large patches first: they keep most of their size and shape
        std::vector<size_t> anchors(m_spots.size());
        std::iota(anchors.begin(), anchors.end(), size_t(0));
        std::stable_sort(anchors.begin(), anchors.end(),
                         [&](size_t a, size_t b) { return m_spots[a].area > m_spots[b].area; });
        anchors.resize(std::min(kAnchors, anchors.size()));
        std::vector<Matrix2d> roots, inverses;
        for (const auto &c : m_candidates) {
            roots.push_back(rootOf(c));
            inverses.push_back(roots.back().inverse());
        }
        for (size_t j = 0; j < m_candidates.size(); ++j) {
            const auto nearby = nearest(m_candidates.size(), j, kNearby, [&](size_t i) {
                return (inverses[j] * (middleOf(m_candidates[i]) - middleOf(m_candidates[j]))).squaredNorm();
            });
            for (const size_t anchor : anchors)
                from(anchor, j, nearby, roots[j], inverses[j]);
        }
        return m_best;
    }

private:
    void from(size_t anchor, size_t candidate, const std::vector<size_t> &nearby, const Matrix2d &root,
              const Matrix2d &inverse)
    {
        const auto &spot = m_spots[anchor];
        const auto partners = nearest(m_spots.size(), anchor, kPartners, [&](size_t i) {
            return (m_spots[i].middle - spot.middle).squaredNorm();
        });
        for (const size_t partner : partners) {
            const Vector2d q = spot.whitened * (m_spots[partner].middle - spot.middle);
            const double size = m_spots[partner].area / spot.area;
            for (const size_t other : nearby) {
                const Vector2d r =
                    inverse * (middleOf(m_candidates[other]) - middleOf(m_candidates[candidate]));
                const double reach = r.norm() / q.norm(),
                             area = m_candidates[other].area / m_candidates[candidate].area / size;
                if (reach < kLeastReach || reach > kMostReach || area < 0.5 || area > 2)
                    continue;
                const double turn = std::atan2(r.y(), r.x()) - std::atan2(q.y(), q.x());
                consider(m_growth.grown(anchor, candidate,
                                        reach * root * Eigen::Rotation2Dd(turn).toRotationMatrix() *
                                            spot.whitened));
            }
        }
    }

    void consider(Pairs pairs)
    {
        if (pairs.size() < m_fewest)
            return;
        std::sort(pairs.begin(), pairs.end());
        if (!m_seen.insert(pairs).second)
            return;
        const auto map = m_growth.through(pairs);
        if (!map)
            return;
        Placement placement{*map, 0, int(pairs.size())};
        if (m_chart.colorsKnown &&
            m_chart.places.size() >= 6) // fewer are no pattern: found where they are asked for
            placement.colourFit = colourFit(m_chart, coloursOf(m_overview, m_chart, *map));
        if (!m_best ||
            std::pair(placement.colourFit, placement.nodes) > std::pair(m_best->colourFit, m_best->nodes))
            m_best = placement;
    }

    const Overview &m_overview;
    const std::vector<Candidate> &m_candidates;
    const ChartDefinition &m_chart;
    std::vector<Spot> m_spots;
    Growth m_growth;
    size_t m_fewest;
    std::set<Pairs> m_seen;
    std::optional<Placement> m_best;
};

} // namespace

std::optional<Placement> identifyFreely(const Overview &overview, const std::vector<Candidate> &candidates,
                                        const ChartDefinition &chart)
{
    return FreeSearch(overview, candidates, chart).best();
}

} // namespace wavechroma::measure
