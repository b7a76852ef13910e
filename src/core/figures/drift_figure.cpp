#include "core/figures/drift_figure.h"

#include "core/base/number_text.h"
#include "core/base/said.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

std::optional<ControlLimits> controlLimits(const std::vector<double> &values)
{
    if (values.size() < 4)
        return {};
    double mean = 0, range = 0;
    for (size_t i = 0; i < values.size(); ++i) {
        mean += values[i] / double(values.size());
        if (i > 0)
            range += std::abs(values[i] - values[i - 1]) / double(values.size() - 1);
    }
    return ControlLimits{mean - 2.66 * range, mean, mean + 2.66 * range};
}

namespace {

struct Strip
{
    const char *name;
    double DriftPoint::*value;
    double least; ///< half of what the strip spans at least
    int decimals;
    bool isFromZero; ///< else about zero
};
constexpr Strip kStrips[] = {{"mean ΔE", &DriftPoint::mean, 2, 1, true},
                             {"stops", &DriftPoint::stops, 0.2, 2, false},
                             {"mired", &DriftPoint::mired, 10, 0, false}};

void addStrip(Figure &figure, const Strip &strip, const std::vector<DriftPoint> &points, double limit,
              double top, double height)
{
    const double left = 64, width = figure.width - left - 4;
    std::vector<double> values;
    for (const auto &point : points)
        values.push_back(point.*strip.value);
    double most = strip.isFromZero ? std::max(strip.least, 1.1 * limit) : strip.least;
    for (const double value : values)
        most = std::max(most, 1.1 * std::abs(value));
    const double low = strip.isFromZero ? 0 : -most;
    const auto y = [&](double value) {
        return top + height * (1 - (std::clamp(value, low, most) - low) / (most - low));
    };
    const auto x = [&](size_t i) { return left + width * (double(i) + 0.5) / double(points.size()); };
    if (const auto own = controlLimits(values))
        figure.shapes.push_back(
            Box{left, y(own->high), width, std::max(0.5, y(own->low) - y(own->high)), kBand});
    for (const double value : {low, most}) {
        figure.shapes.push_back(Stroke{{{left, y(value)}, {left + width, y(value)}}, 0.4, kFaintInk, false});
        figure.shapes.push_back(
            Label{left - 4, y(value) + 2.5, fixedText(value, strip.decimals), 7, false, Label::From::Right});
    }
    figure.shapes.push_back(Label{0, top + height / 2 + 3, strip.name, 8, true});
    if (strip.isFromZero)
        figure.shapes.push_back(Stroke{{{left, y(limit)}, {left + width, y(limit)}}, 0.8, kInk, true});
    std::vector<FigurePoint> way;
    for (size_t i = 0; i < points.size(); ++i)
        way.push_back({x(i), y(values[i])});
    figure.shapes.push_back(Stroke{way, 0.7, kSoftInk, false});
    for (size_t i = 0; i < points.size(); ++i)
        figure.shapes.push_back(Disc{way[i].x, way[i].y, 2.6, points[i].passes ? Ink{1} : kInk, kInk});
}

/// "2026-10-14T09:22:49" as "14 Oct 09:22" would need a translation; the figures alone do not.
std::string shortTime(const std::string &iso)
{
    return iso.size() >= 16 ? iso.substr(5, 5) + " " + iso.substr(11, 5) : iso;
}

} // namespace

Figure controlChart(const std::vector<DriftPoint> &points, double limit, double width, double height)
{
    Figure out{width,
               height,
               {},
               words::said("mean error, level and white point of the charts in the order of their time")};
    if (points.empty())
        return out;
    const double foot = 14, gap = 10, each = (height - foot - 2 * gap) / 3;
    for (size_t i = 0; i < std::size(kStrips); ++i)
        addStrip(out, kStrips[i], points, limit, 2 + double(i) * (each + gap), each);
    const double left = 64, plot = width - left - 4;
    const auto every = std::max<size_t>(1, size_t(std::ceil(58 * double(points.size()) / plot)));
    for (size_t i = 0; i < points.size(); i += every)
        out.shapes.push_back(Label{left + plot * (double(i) + 0.5) / double(points.size()), height - 2,
                                   shortTime(points[i].at), 7, false, Label::From::Middle});
    return out;
}

} // namespace wavechroma
