#include "core/render/rendered_cost.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

RenderedCost costOfBalance(const RawFrame &frame, const Vector3 &multipliers)
{
    constexpr double kWhite = 0.985, kEmpty = 0.0015; // codes 254 and 5 of 255 in sRGB's transfer
    constexpr double kMostStops = 0.5, kMostBroken = 0.02;
    RenderedCost out;
    out.stops = std::log2(*std::max_element(multipliers.begin(), multipliers.end()) /
                          *std::min_element(multipliers.begin(), multipliers.end()));
    if (!frame.rendered)
        return out;
    // the same brightness on average: what a picture editor's balance would do
    const double level = std::cbrt(multipliers[0] * multipliers[1] * multipliers[2]);
    const auto overview =
        overviewOf(frame, std::max(1, int(std::sqrt(double(frame.width) * frame.height / 600000))));
    double clips = 0, tinted = 0, empties = 0;
    const double count = double(overview.rgb.size() / 3);
    for (size_t i = 0; i + 2 < overview.rgb.size(); i += 3) {
        bool wasWhite = false, isOver = false, isEmpty = false;
        for (size_t c = 0; c < 3; ++c) {
            const double v = double(overview.rgb[i + c]), shifted = v * multipliers[c] / level;
            wasWhite = wasWhite || v >= kWhite;
            isOver = isOver || shifted > 1;
            isEmpty = isEmpty || v <= kEmpty;
        }
        clips += isOver && !wasWhite;
        tinted += wasWhite;
        empties += isEmpty;
    }
    if (count > 0) {
        out.clips = clips / count;
        out.tinted = out.stops > 0.02 ? tinted / count : 0;
        out.empties = empties / count;
    }
    out.tooLarge = out.stops > kMostStops || out.clips + out.tinted > kMostBroken;
    return out;
}

} // namespace wavechroma
