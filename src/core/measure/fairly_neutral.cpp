#include "core/measure/fairly_neutral.h"

#include "core/balance/balance.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::measure {

namespace {

constexpr double kLeastLevel = 0.06;                      ///< of the frame's brightest plain place
constexpr double kPlainLevel = 0.25, kPlainColour = 0.06; ///< spans over the ninths of a place, logarithms
constexpr double kMostDuv = 0.012, kWarmest = 2300, kCoolest = 10000;
constexpr double kLikeIt = 0.05;       ///< logarithms of red/green and blue/green
constexpr double kLikely = 60;         ///< mired from the camera's white at which a place counts a third
constexpr double kWithoutMatrix = 0.3; ///< logarithms from it, where the file has no matrix
constexpr size_t kMost = 3;

/// A plain square of the overview.
struct Place
{
    int x = 0, y = 0;
    Vector3 rgb{};
    double red = 0, blue = 0; ///< logarithms of red/green and blue/green: places are compared each with each
    std::optional<Temperature> light;
    double mired = 0; ///< from the camera's white; 0 where one of them is not known
};

double logRatio(const Vector3 &rgb, size_t channel)
{
    return std::log(rgb[channel] / rgb[1]);
}

/// Mean of a square; nothing where a sample of it is clipped.
std::optional<Vector3> meanOf(const Overview &overview, int x0, int y0, int side)
{
    Vector3 sum{};
    for (int y = y0; y < y0 + side; ++y)
        for (int x = x0; x < x0 + side; ++x) {
            const size_t at = size_t(y) * size_t(overview.width) + size_t(x);
            if (overview.clipped[at])
                return std::nullopt;
            for (size_t c = 0; c < 3; ++c)
                sum[c] += double(overview.rgb[3 * at + c]);
        }
    const double n = double(side) * side;
    const bool isLit = sum[0] > 0 && sum[1] > 0 && sum[2] > 0;
    return isLit ? std::optional(Vector3{sum[0] / n, sum[1] / n, sum[2] / n}) : std::nullopt;
}

/// Its mean where its nine ninths are of one level and colour.
std::optional<Vector3> plainAt(const Overview &overview, int x0, int y0, int ninth)
{
    const auto whole = meanOf(overview, x0, y0, 3 * ninth);
    for (int i = 0; whole && i < 9; ++i) {
        const auto part = meanOf(overview, x0 + i % 3 * ninth, y0 + i / 3 * ninth, ninth);
        const bool isPlain = part && std::abs(std::log((*part)[1] / (*whole)[1])) < kPlainLevel / 2 &&
                             std::abs(logRatio(*part, 0) - logRatio(*whole, 0)) < kPlainColour / 2 &&
                             std::abs(logRatio(*part, 2) - logRatio(*whole, 2)) < kPlainColour / 2;
        if (!isPlain)
            return std::nullopt;
    }
    return whole;
}

/// Kelvin of what the camera took for white; 0 where it is not known.
double kelvinOfWhite(const FileColor &color)
{
    const auto xy = color.asShotNeutral ? lightFromNeutral(color, *color.asShotNeutral) : std::nullopt;
    return xy ? temperatureOf(*xy).cctKelvin : 0;
}

/// Could a lamp make a grey look so? `taken`: kelvinOfWhite().
bool mayBeGrey(Place &place, const FileColor &color, double taken)
{
    const auto &white = color.asShotNeutral;
    const auto xy = lightFromNeutral(color, place.rgb);
    if (!xy) {
        const Vector3 own = white.value_or(Vector3{1, 1, 1});
        return std::abs(place.red - logRatio(own, 0)) < kWithoutMatrix &&
               std::abs(place.blue - logRatio(own, 2)) < kWithoutMatrix;
    }
    place.light = temperatureOf(*xy);
    const double kelvin = place.light->cctKelvin;
    if (kelvin < kWarmest || kelvin > kCoolest || std::abs(place.light->duv) > kMostDuv)
        return false;
    if (taken > 0)
        place.mired = 1e6 / kelvin - 1e6 / taken;
    return true;
}

std::vector<Place> plainPlaces(const Overview &overview, int ninth)
{
    std::vector<Place> out;
    double brightest = 0;
    for (int y = 0; y + 3 * ninth <= overview.height; y += ninth)
        for (int x = 0; x + 3 * ninth <= overview.width; x += ninth)
            if (const auto rgb = plainAt(overview, x, y, ninth)) {
                out.push_back({x, y, *rgb, logRatio(*rgb, 0), logRatio(*rgb, 2), {}, 0});
                brightest = std::max(brightest, (*rgb)[1]);
            }
    std::erase_if(out, [&](const Place &p) { return p.rgb[1] < kLeastLevel * brightest; });
    return out;
}

bool areAlike(const Place &a, const Place &b)
{
    return std::abs(a.red - b.red) < kLikeIt && std::abs(a.blue - b.blue) < kLikeIt;
}

} // namespace

std::vector<FairlyNeutral> fairlyNeutral(const RawFrame &frame)
{
    const auto overview = overviewOf(frame, std::max(1, std::max(frame.width, frame.height) / 300));
    const int ninth = std::max(1, std::max(overview.width, overview.height) / 72);
    auto places = plainPlaces(overview, ninth);
    const double all = double(places.size());
    const double taken = kelvinOfWhite(frame.fileColor);
    std::erase_if(places, [&](Place &p) { return !mayBeGrey(p, frame.fileColor, taken); });
    std::vector<FairlyNeutral> out;
    while (!places.empty() && out.size() < kMost) {
        const auto worth = [&](const Place &p) {
            const auto like = std::count_if(places.begin(), places.end(),
                                            [&](const Place &other) { return areAlike(p, other); });
            return double(like) * std::exp(-p.mired * p.mired / (kLikely * kLikely));
        };
        std::vector<double> worths;
        for (const auto &place : places)
            worths.push_back(worth(place));
        const auto best = places[size_t(std::max_element(worths.begin(), worths.end()) - worths.begin())];
        const auto like = std::count_if(places.begin(), places.end(),
                                        [&](const Place &other) { return areAlike(best, other); });
        const double side = 3.0 * ninth * overview.block;
        out.push_back({{double(best.x) * overview.block, double(best.y) * overview.block, side, side},
                       double(like) / all,
                       best.light,
                       best.light && taken > 0 ? std::optional(best.mired) : std::nullopt});
        std::erase_if(places, [&](const Place &other) { return areAlike(best, other); });
    }
    return out;
}

} // namespace wavechroma::measure
