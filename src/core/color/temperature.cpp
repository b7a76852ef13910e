#include "core/color/temperature.h"

#include "core/color/illuminant.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace wavechroma {

namespace {

struct Uv
{
    double u = 0, v = 0; // CIE 1960
};

Uv uvFrom(const Chromaticity &xy)
{
    const double d = -2 * xy.x + 12 * xy.y + 3;
    return {4 * xy.x / d, 6 * xy.y / d};
}

Chromaticity xyFrom(const Uv &uv)
{
    const double d = 2 * uv.u - 8 * uv.v + 4;
    return {3 * uv.u / d, 2 * uv.v / d};
}

Uv locus(double kelvin)
{
    return uvFrom(chromaticityFromXyz(xyzFromLight(planckian(kelvin))));
}

constexpr double kLogMin = 6.907755278982137;  // ln 1 000
constexpr double kLogMax = 11.512925464970229; // ln 100 000
constexpr int kSteps = 400;                    // of 1.2 %

const std::vector<Uv> &locusTable()
{
    static const std::vector<Uv> table = [] {
        std::vector<Uv> points;
        for (int i = 0; i <= kSteps; ++i)
            points.push_back(locus(std::exp(kLogMin + (kLogMax - kLogMin) * i / kSteps)));
        return points;
    }();
    return table;
}

} // namespace

Temperature temperatureOf(const Chromaticity &xy)
{
    const Uv here = uvFrom(xy);
    const auto distance = [&](const Uv &p) { return std::hypot(here.u - p.u, here.v - p.v); };
    const auto &table = locusTable();
    const auto nearest = std::min_element(
        table.begin(), table.end(), [&](const Uv &a, const Uv &b) { return distance(a) < distance(b); });
    const double step = (kLogMax - kLogMin) / kSteps;
    const double middle = kLogMin + step * double(nearest - table.begin());
    double low = std::max(kLogMin, middle - step), high = std::min(kLogMax, middle + step);
    constexpr double kGolden = 0.6180339887498949;
    double a = high - kGolden * (high - low), b = low + kGolden * (high - low);
    double da = distance(locus(std::exp(a))), db = distance(locus(std::exp(b)));
    while (high - low > 2e-8) {
        if (da < db) {
            high = b;
            b = a;
            db = da;
            a = high - kGolden * (high - low);
            da = distance(locus(std::exp(a)));
        } else {
            low = a;
            a = b;
            da = db;
            b = low + kGolden * (high - low);
            db = distance(locus(std::exp(b)));
        }
    }
    const double kelvin = std::exp((low + high) / 2);
    const Uv foot = locus(kelvin);
    return {kelvin, here.v >= foot.v ? distance(foot) : -distance(foot)};
}

Chromaticity chromaticityFromTemperature(const Temperature &temperature)
{
    const double kelvin = std::clamp(temperature.cctKelvin, 1000.0, 100000.0);
    const Uv foot = locus(kelvin), next = locus(kelvin * 1.0005);
    // The locus runs to smaller u with rising temperature, so its normal towards larger v is (dv, −du).
    const double du = next.u - foot.u, dv = next.v - foot.v, length = std::hypot(du, dv);
    return xyFrom({foot.u + temperature.duv * dv / length, foot.v - temperature.duv * du / length});
}

} // namespace wavechroma
