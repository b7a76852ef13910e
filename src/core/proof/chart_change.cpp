#include "core/proof/chart_change.h"

#include "core/base/least_squares.h"
#include "core/base/statistics.h"

#include <Eigen/Core>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace wavechroma {

namespace {

constexpr double kReShot = 0.004;   ///< relative: what a chart laid down anew differs by
constexpr double kInTheDark = 5e-4; ///< share of white by which the lens' own veil wavers
constexpr double kNeutralsCount = 3;
constexpr double kOwnWay = 6;    ///< robust deviations from which on a patch has gone a way of its own
constexpr double kMostRatio = 5; ///< of two balanced channels: past it a patch is all leverage

constexpr int kOthers[3][2] = {{1, 2}, {0, 2}, {0, 1}};

Vector3 balanced(const ChangedPatch &patch, const Vector3 &white)
{
    return {patch.before[0] / white[0], patch.before[1] / white[1], patch.before[2] / white[2]};
}

/// How much more one channel has than another, of this patch.
double excess(const Vector3 &b, int channel, int other)
{
    return std::min(b[size_t(other)] / b[size_t(channel)], kMostRatio) - 1;
}

/// Optical density of the patch's dyes: over its least channel, nothing for neutrals.
double dyeDensity(const ChangedPatch &patch, const Vector3 &b, int channel)
{
    if (patch.isNeutral)
        return 0;
    return std::log(*std::max_element(b.begin(), b.end()) / b[size_t(channel)]);
}

/// The numbers of a model in a row, and where each kind begins.
struct Layout
{
    int slope = -1, veil = -1, spectrum = -1, fading = -1, count = 3;
    explicit Layout(const ChangeTerms &terms)
    {
        const auto take = [this](bool is, int numbers) {
            const int at = is ? count : -1;
            count += is ? numbers : 0;
            return at;
        };
        slope = take(terms.slope, 2);
        veil = take(terms.veil, 1);
        spectrum = take(terms.spectrum, 6);
        fading = take(terms.fading, 3);
    }
};

void add(ChartChange &change, const Layout &at, const Eigen::VectorXd &step)
{
    for (int c = 0; c < 3; ++c)
        change.gain[size_t(c)] += step[c];
    for (int i = 0; at.slope >= 0 && i < 2; ++i)
        change.slope[size_t(i)] += step[at.slope + i];
    if (at.veil >= 0)
        change.veil += step[at.veil];
    for (int i = 0; at.spectrum >= 0 && i < 6; ++i)
        change.spectrum[size_t(i)] += step[at.spectrum + i];
    for (int i = 0; at.fading >= 0 && i < 3; ++i)
        change.fading[size_t(i)] += step[at.fading + i];
}

/// 1 and what the other channels give to this one.
double mixed(const ChartChange &change, const Vector3 &b, int channel)
{
    double out = 1;
    for (int i = 0; i < 2; ++i)
        out += change.spectrum[size_t(2 * channel + i)] * excess(b, channel, kOthers[channel][i]);
    return std::max(out, 0.05);
}

/// Natural logarithm of after / before in one channel, and its derivatives.
double predicted(const ChartChange &change, const ChangedPatch &patch, int channel, const Layout &at,
                 Eigen::Ref<Eigen::RowVectorXd> row)
{
    const auto b = balanced(patch, change.white);
    const double share = mixed(change, b, channel), density = dyeDensity(patch, b, channel);
    const double clear = std::exp(change.slope[0] * patch.u + change.slope[1] * patch.v +
                                  change.fading[size_t(channel)] * density) *
                         share * b[size_t(channel)];
    const double whole = std::max(clear + change.veil, 1e-5), own = clear / whole;
    row.setZero();
    row[channel] = 1;
    if (at.slope >= 0) {
        row[at.slope] = own * patch.u;
        row[at.slope + 1] = own * patch.v;
    }
    if (at.veil >= 0)
        row[at.veil] = 1 / whole;
    for (int i = 0; at.spectrum >= 0 && i < 2; ++i)
        row[at.spectrum + 2 * channel + i] = own * excess(b, channel, kOthers[channel][i]) / share;
    if (at.fading >= 0)
        row[at.fading + channel] = own * density;
    return change.gain[size_t(channel)] + std::log(whole / b[size_t(channel)]);
}

double doubtOf(const ChangedPatch &patch, const Vector3 &white, size_t channel)
{
    const double dark = kInTheDark * white[channel] / patch.before[channel];
    return std::hypot(patch.doubt[channel], kReShot, dark);
}

/// Squared residuals of a patch in its own doubts, summed over the channels.
std::vector<double> residualsOf(const ChartChange &change, const std::vector<ChangedPatch> &patches)
{
    std::vector<double> out;
    for (const auto &patch : patches) {
        const auto log = change.logChange(patch);
        double sum = 0;
        for (size_t c = 0; c < 3; ++c)
            sum += std::pow(
                (std::log(patch.after[c] / patch.before[c]) - log[c]) / doubtOf(patch, change.white, c), 2);
        out.push_back(sum);
    }
    return out;
}

double weightOf(double squared, double scale, double reach)
{
    return std::exp(-squared / 3 / (scale * reach * reach));
}

void step(ChartChange &change, const std::vector<ChangedPatch> &patches, double scale, double reach)
{
    const Layout at(change.terms);
    const auto squares = residualsOf(change, patches);
    const auto rows = Eigen::Index(3 * patches.size()) + at.count;
    Eigen::MatrixXd a = Eigen::MatrixXd::Zero(rows, at.count), y = Eigen::MatrixXd::Zero(rows, 1);
    for (size_t i = 0; i < patches.size(); ++i) {
        const double weight =
            std::sqrt(weightOf(squares[i], scale, reach) * (patches[i].isNeutral ? kNeutralsCount : 1));
        for (int c = 0; c < 3; ++c) {
            Eigen::RowVectorXd row(at.count);
            const double log = predicted(change, patches[i], c, at, row);
            const double seen = std::log(patches[i].after[size_t(c)] / patches[i].before[size_t(c)]);
            const double w = weight / doubtOf(patches[i], change.white, size_t(c));
            const auto k = Eigen::Index(3 * i) + c;
            a.row(k) = w * row;
            y(k, 0) = w * (seen - log);
        }
    }
    for (int i = 0; i < at.count; ++i) // a whisper of a ridge: the step stays finite
        a(Eigen::Index(3 * patches.size()) + i, i) = 1e-3;
    add(change, at, leastSquares(a, y).col(0));
    change.veil = std::clamp(change.veil, -0.2, 0.5);
}

/// Medians over the neutrals, or over all where they are too few.
Vector3 firstGains(const std::vector<ChangedPatch> &patches)
{
    const auto neutrals =
        std::count_if(patches.begin(), patches.end(), [](const auto &p) { return p.isNeutral; });
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c) {
        std::vector<double> logs;
        for (const auto &patch : patches)
            if (neutrals < 3 || patch.isNeutral)
                logs.push_back(std::log(patch.after[c] / patch.before[c]));
        out[c] = medianOf(logs);
    }
    return out;
}

ChartChange fitted(const std::vector<ChangedPatch> &patches, const Vector3 &white, const ChangeTerms &terms,
                   double scale)
{
    ChartChange change;
    change.terms = terms;
    change.white = white;
    change.gain = firstGains(patches);
    for (const double reach : {30., 12., kOwnWay, kOwnWay})
        for (int i = 0; i < 4; ++i)
            step(change, patches, scale, reach);
    return change;
}

/// Robust scale of the squared residuals: 1 where they are what their doubts say.
double scaleOf(const ChartChange &change, const std::vector<ChangedPatch> &patches)
{
    constexpr double kMedianOfThree = 2.366; // of chi-square with three degrees of freedom
    const double free = 1 - change.terms.count() / (3. * double(patches.size()));
    return std::max(1.0, medianOf(residualsOf(change, patches)) / kMedianOfThree / std::max(0.3, free));
}

double criterion(const ChartChange &change, const std::vector<ChangedPatch> &patches, double scale)
{
    double out = change.terms.count() * std::log(3. * double(patches.size()));
    const auto squares = residualsOf(change, patches);
    for (size_t i = 0; i < patches.size(); ++i)
        out += (patches[i].isNeutral ? kNeutralsCount : 1) * 3 * kOwnWay * kOwnWay *
               (1 - weightOf(squares[i], scale, kOwnWay));
    return out;
}

bool isDetermined(const ChangeTerms &terms, const std::vector<ChangedPatch> &patches)
{
    const auto coloured =
        std::count_if(patches.begin(), patches.end(), [](const auto &p) { return !p.isNeutral; });
    return (!(terms.slope || terms.veil) || patches.size() >= 6) &&
           (!(terms.spectrum || terms.fading) || coloured >= 12);
}

ChangeTerms termsOf(int mask)
{
    return {(mask & 1) != 0, (mask & 2) != 0, (mask & 4) != 0, (mask & 8) != 0};
}

} // namespace

Vector3 ChartChange::logChange(const ChangedPatch &patch, const ChangeTerms &with, const Vector3 &gains) const
{
    ChartChange some = *this;
    some.gain = gains;
    if (!with.slope)
        some.slope = {};
    if (!with.veil)
        some.veil = 0;
    if (!with.spectrum)
        some.spectrum = {};
    if (!with.fading)
        some.fading = {};
    const Layout none{ChangeTerms{}};
    Eigen::RowVectorXd row(none.count);
    Vector3 out{};
    for (int c = 0; c < 3; ++c)
        out[size_t(c)] = predicted(some, patch, c, none, row);
    return out;
}

std::optional<ChartChange> chartChange(const std::vector<ChangedPatch> &patches, const Vector3 &white)
{
    if (patches.size() < 3)
        return {};
    int all = 15;
    for (int bit : {4, 8, 1, 2})
        if (!isDetermined(termsOf(all), patches) && !isDetermined(termsOf(bit), patches))
            all &= ~bit;
    const double scale = scaleOf(fitted(patches, white, termsOf(all), 25), patches);
    std::optional<ChartChange> best;
    double least = 0;
    for (int mask = 0; mask < 16; ++mask) {
        if ((mask & ~all) != 0)
            continue;
        const auto change = fitted(patches, white, termsOf(mask), scale);
        const double score = criterion(change, patches, scale);
        if (!best || score < least) {
            best = change;
            least = score;
        }
    }
    const auto squares = residualsOf(*best, patches);
    for (size_t i = 0; i < patches.size(); ++i)
        if (squares[i] / 3 > scale * kOwnWay * kOwnWay)
            best->odd.push_back(i);
    return best;
}

} // namespace wavechroma
