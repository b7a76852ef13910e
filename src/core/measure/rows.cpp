#include "core/measure/rows.h"

#include "core/base/least_squares.h"
#include "core/base/statistics.h"
#include "core/base/symmetric_eigen.h"
#include "core/raw/overview.h"

#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <set>

namespace wavechroma::measure {

namespace {

struct RowStep
{
    double x = 0, y = 0;
};

double sideLength(const Candidate &c)
{
    return std::sqrt(12 * std::max(c.sxx, c.syy));
}

bool similar(const Candidate &a, const Candidate &b)
{
    return a.area < 1.8 * b.area && b.area < 1.8 * a.area;
}

/// The candidate nearest to where the next step should be.
std::optional<size_t> nearestTo(const std::vector<Candidate> &all, const PixelPoint &p, double radius,
                                const Candidate &like)
{
    std::optional<size_t> best;
    double least = radius;
    for (size_t i = 0; i < all.size(); ++i) {
        const double distance = std::hypot(all[i].centre.x - p.x, all[i].centre.y - p.y);
        if (distance < least && similar(all[i], like)) {
            least = distance;
            best = i;
        }
    }
    return best;
}

/// Steps on from `from` in one direction until three in a run find nothing.
std::vector<std::optional<size_t>> walk(const std::vector<Candidate> &all, size_t from, RowStep step)
{
    std::vector<std::optional<size_t>> out;
    PixelPoint at = all[from].centre;
    Candidate like = all[from];
    int missing = 0;
    while (missing < 3) {
        const PixelPoint guess{at.x + step.x, at.y + step.y};
        const auto hit = nearestTo(all, guess, 0.2 * std::hypot(step.x, step.y) * (1 + 0.4 * missing), like);
        out.push_back(hit);
        if (!hit) {
            at = guess;
            ++missing;
            continue;
        }
        const auto &seen = all[*hit];
        const double steps = 1; // a missing step has moved `at` on already
        step = {step.x + 0.5 * (seen.centre.x - guess.x) / steps,
                step.y + 0.5 * (seen.centre.y - guess.y) / steps};
        at = seen.centre;
        like = seen;
        missing = 0;
    }
    while (!out.empty() && !out.back())
        out.pop_back();
    return out;
}

/// Half of the patch's side across the row: with one side along the unit vector u, 12 C = α² u uᵀ + b bᵀ, and
/// α² is what leaves a matrix of rank one.
std::optional<RowStep> acrossOf(const Candidate &c, const RowStep &u)
{
    Eigen::Matrix2d moments;
    moments << 12 * c.sxx, 12 * c.sxy, 12 * c.sxy, 12 * c.syy;
    const Eigen::Vector2d along(u.x, u.y);
    const double squared = 1 / (along.transpose() * moments.inverse() * along)(0);
    const auto rest = symmetricEigen(moments - squared * along * along.transpose());
    if (!(rest.values(1) > 0))
        return std::nullopt;
    const Eigen::Vector2d b = rest.vectors.col(1) * std::sqrt(rest.values(1)) / 2;
    // clockwise of the row, as the printed chart's rows lie
    const double sign = u.x * b(1) - u.y * b(0) > 0 ? 1 : -1;
    return RowStep{sign * b(0), sign * b(1)};
}

std::optional<Homography> placed(const PatchRow &row, const ChartDefinition &chart, int shift, bool reversed)
{
    const bool horizontal = chart.rows == 1;
    const int count = horizontal ? chart.columns : chart.rows;
    std::vector<ChartPoint> from;
    std::vector<PixelPoint> to;
    const auto *first = row.steps.front() ? &*row.steps.front() : nullptr,
               *last = row.steps.back() ? &*row.steps.back() : nullptr;
    if (!first || !last)
        return std::nullopt;
    RowStep u{last->centre.x - first->centre.x, last->centre.y - first->centre.y};
    const double length = std::hypot(u.x, u.y) * (reversed ? -1 : 1);
    u = {u.x / length, u.y / length};
    for (int k = 0; k < count; ++k) {
        const int step = reversed ? shift + count - 1 - k : shift + k;
        if (step < 0 || step >= int(row.steps.size()) || !row.steps[size_t(step)])
            continue;
        const auto &c = *row.steps[size_t(step)];
        const auto across = acrossOf(c, u);
        if (!across)
            continue;
        const auto centre = patchCentre(chart, horizontal ? 0 : k, horizontal ? k : 0);
        if (horizontal) {
            from.push_back({centre.x, 0});
            from.push_back({centre.x, chart.patchHeightMm});
        } else { // the row runs down the chart: clockwise of it is the chart's left
            from.push_back({chart.patchWidthMm, centre.y});
            from.push_back({0, centre.y});
        }
        to.push_back({c.centre.x - across->x, c.centre.y - across->y});
        to.push_back({c.centre.x + across->x, c.centre.y + across->y});
    }
    return homographyFrom(from, to);
}

} // namespace

std::vector<PatchRow> findRows(const std::vector<Candidate> &candidates, int fewest)
{
    std::vector<PatchRow> rows;
    std::set<std::pair<size_t, size_t>> walked;
    for (size_t seed = 0; seed < candidates.size(); ++seed) {
        const auto &origin = candidates[seed];
        for (size_t next = 0; next < candidates.size(); ++next) {
            const RowStep step{candidates[next].centre.x - origin.centre.x,
                               candidates[next].centre.y - origin.centre.y};
            const double distance = std::hypot(step.x, step.y);
            if (next == seed || distance > 2.2 * sideLength(origin) + 4 ||
                !similar(origin, candidates[next]) || walked.count({seed, next}))
                continue;
            const auto ahead = walk(candidates, seed, step),
                       behind = walk(candidates, seed, {-step.x, -step.y});
            PatchRow row;
            std::vector<size_t> members;
            const auto add = [&](const std::optional<size_t> &i) {
                row.steps.push_back(i ? std::optional(candidates[*i]) : std::nullopt);
                if (i)
                    members.push_back(*i);
            };
            for (auto i = behind.rbegin(); i != behind.rend(); ++i)
                add(*i);
            add(seed);
            for (const auto &i : ahead)
                add(i);
            row.seen = int(members.size());
            for (size_t i = 1; i < members.size(); ++i) {
                walked.insert({members[i - 1], members[i]});
                walked.insert({members[i], members[i - 1]});
            }
            if (row.seen >= fewest)
                rows.push_back(std::move(row));
        }
    }
    return rows;
}

double greyFit(const ChartDefinition &chart, const std::vector<Vector3> &patches)
{
    std::vector<double> levels, should, place;
    std::vector<Vector3> colours;
    double strongest = 0;
    for (const auto &p : patches)
        strongest = std::max(strongest, p[1]);
    for (size_t i = 0; i < patches.size(); ++i) {
        const auto &p = patches[i];
        if (!(p[0] > 0 && p[1] > 0.002 * strongest && p[2] > 0))
            continue;
        // a veil of half a per cent keeps the blacks from deciding
        levels.push_back(std::log(p[1] / strongest + 0.005));
        should.push_back(std::log(chart.patches[i].reference.y + 0.005));
        place.push_back(double(i) / double(patches.size()) - 0.5);
        colours.push_back({p[0] / p[1], 1, p[2] / p[1]});
    }
    const auto count = Eigen::Index(levels.size());
    if (count < 5 || count * 4 < Eigen::Index(patches.size()) * 3)
        return 0;
    // level = reference + constant + slope along the scale
    Eigen::MatrixXd a(count, 2);
    Eigen::VectorXd b(count);
    double mean = 0;
    for (Eigen::Index i = 0; i < count; ++i) {
        a.row(i) << 1, place[size_t(i)];
        b(i) = levels[size_t(i)] - should[size_t(i)];
        mean += should[size_t(i)] / double(count);
    }
    Eigen::VectorXd x = leastSquares(a, b);
    x(1) = std::clamp(x(1), -0.35, 0.35); // no light falls off faster along a strip
    double spread = 0;
    for (const double s : should)
        spread += (s - mean) * (s - mean);
    double residual = 0;
    for (Eigen::Index i = 0; i < count; ++i)
        residual += std::pow(b(i) - x(0) - x(1) * place[size_t(i)], 2);
    double cast = 0;
    for (const size_t c : {size_t(0), size_t(2)}) {
        std::vector<double> ratios;
        for (const auto &colour : colours)
            ratios.push_back(std::log(colour[c]));
        const double middle = medianOf(ratios);
        for (const double r : ratios)
            cast += (r - middle) * (r - middle);
    }
    return std::clamp(1 - (residual + cast) / spread, 0.0, 1.0);
}

std::optional<Placement> identifyRow(const Overview &overview, const PatchRow &row,
                                     const ChartDefinition &chart)
{
    const int count = std::max(chart.rows, chart.columns);
    std::optional<Placement> best;
    for (const bool reversed : {false, true})
        for (int shift = -count / 4; shift + count <= int(row.steps.size()) + count / 4; ++shift) {
            int hits = 0;
            for (int k = 0; k < count; ++k)
                hits += shift + k >= 0 && shift + k < int(row.steps.size()) &&
                        row.steps[size_t(shift + k)].has_value();
            if (hits * 10 < count * 7)
                continue;
            const auto homography = placed(row, chart, shift, reversed);
            if (!homography)
                continue;
            std::vector<Vector3> colours;
            for (size_t i = 0; i < chart.patches.size(); ++i)
                colours.push_back(
                    colourAt(
                        overview,
                        homography->at(patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns)), 2)
                        .value_or(Vector3{-1, -1, -1}));
            const double fit = !chart.colorsKnown   ? 0
                               : isGreyScale(chart) ? greyFit(chart, colours)
                                                    : colourFit(chart, colours);
            if (!best || fit > best->colourFit || (fit == best->colourFit && hits > best->nodes))
                best = Placement{*homography, fit, hits};
        }
    return best;
}

} // namespace wavechroma::measure
