#include "core/color/code_curve.h"

#include "core/color/colors.h"
#include "core/color/lab.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr size_t kSteps = kCodeCurvePoints - 1;

double lightOfLightness(double share)
{
    return xyzFromLab({100 * share, 0, 0}).y;
}

double lightnessOf(double light)
{
    return labFromXyz({light * kD50White.x, light, light * kD50White.z}).l / 100;
}

} // namespace

std::optional<CodeCurve> codeCurveOf(const std::function<double(double)> &light)
{
    constexpr int kFine = 4096;
    std::vector<double> lights;
    for (int i = 0; i <= kFine; ++i)
        lights.push_back(light(double(i) / kFine));
    const bool isRising = std::is_sorted(lights.begin(), lights.end()) && lights.back() > lights.front() &&
                          std::isfinite(lights.front()) && std::isfinite(lights.back());
    if (!isRising)
        return std::nullopt;
    CodeCurve curve;
    for (size_t i = 0; i <= kSteps; ++i) {
        const double wanted = lightOfLightness(double(i) / kSteps);
        double low = 0, high = 1;
        for (int round = 0; round < 48; ++round) {
            const double middle = (low + high) / 2;
            (light(middle) < wanted ? low : high) = middle;
        }
        curve.push_back(i == 0 && light(0) >= wanted ? 0.0 : high);
    }
    return curve;
}

bool isCodeCurve(const CodeCurve &curve)
{
    return curve.size() == kCodeCurvePoints && std::is_sorted(curve.begin(), curve.end()) &&
           curve.front() >= 0 && curve.back() <= 1 && curve.front() < curve.back();
}

double lightOfCode(const CodeCurve &curve, double code)
{
    const double last = double(curve.size() - 1);
    // Steps below the darkest or above the lightest light share a code: what it stands for is the nearest.
    if (code <= curve.front())
        return lightOfLightness(
            double(std::upper_bound(curve.begin(), curve.end(), curve.front()) - 1 - curve.begin()) / last);
    const auto above = std::lower_bound(curve.begin(), curve.end(), code);
    if (above == curve.end())
        return lightOfLightness(1);
    const double from = *(above - 1), share = (code - from) / (*above - from);
    return lightOfLightness((double(above - 1 - curve.begin()) + share) / last);
}

double codeOfLight(const CodeCurve &curve, double light)
{
    const double place = std::clamp(lightnessOf(light), 0.0, 1.0) * double(curve.size() - 1);
    const auto i = std::min(size_t(place), curve.size() - 2);
    return curve[i] + (place - double(i)) * (curve[i + 1] - curve[i]);
}

} // namespace wavechroma
