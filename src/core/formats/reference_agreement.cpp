#include "core/formats/reference_agreement.h"

#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/color/lab_difference.h"

#include <algorithm>

namespace wavechroma {

namespace {

/// Figures of one decimal in either, and whites of other tables for the same light, make less.
constexpr double kMostDe76 = 1;

double medianDifference(const std::vector<BothColours> &colours, const Xyz &white, double scale)
{
    std::vector<double> out;
    for (const auto &[fromLab, given] : colours)
        out.push_back(de76(labFromXyz({scale * given.x * kD50White.x / white.x, scale * given.y,
                                       scale * given.z * kD50White.z / white.z}),
                           labFromXyz(fromLab)));
    const auto middle = out.begin() + ptrdiff_t(out.size() / 2);
    std::nth_element(out.begin(), middle, out.end());
    return *middle;
}

} // namespace

bool agreeUnder(const std::string &light, const std::vector<BothColours> &colours)
{
    const auto known = lightFromName(light);
    if (!known || colours.empty())
        return true;
    const auto white = xyzFromChromaticity(known->xy);
    return medianDifference(colours, white, 1) <= kMostDe76 ||
           medianDifference(colours, white, 100) <= kMostDe76;
}

std::optional<std::string> lightOfAgreement(const std::vector<BothColours> &colours)
{
    for (const char *light : {"D50", "D65", "A", "D55", "D75"})
        if (agreeUnder(light, colours))
            return light;
    return std::nullopt;
}

} // namespace wavechroma
