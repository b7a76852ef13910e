#include "core/figures/comparison_figures.h"

#include "core/base/number_text.h"
#include "core/base/said.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kLeft = 26, kRight = 14;

void line(Figure &figure, const FigurePoint &from, const FigurePoint &to)
{
    figure.shapes.push_back(Stroke{{from, to}, 0.4, kFaintInk, false});
}

/// Lines at zero and at both ends of a scale about it, with their values.
void scaleAbout0(Figure &figure, double most, int decimals)
{
    for (const double value : {-most, 0., most}) {
        const double y = figure.height / 2 - value / most * (figure.height / 2 - 8);
        line(figure, {kLeft, y}, {figure.width - kRight, y});
        figure.shapes.push_back(
            Label{kLeft - 4, y + 2.5, fixedText(value, decimals), 7, false, Label::From::Right});
    }
}

} // namespace

Figure splitChart(const Comparison &comparison, const ChartDefinition &chart, double width)
{
    const auto grid = shownGrid(chart);
    const double pitch = width / grid.columns, side = 0.86 * pitch, gap = 0.07 * pitch;
    Figure out{
        width, pitch * grid.rows, {}, words::said("the chart laid out flat: A on the left, B on the right")};
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto found = std::find_if(comparison.patches.begin(), comparison.patches.end(),
                                        [&](const auto &p) { return p.id == chart.patches[i].id; });
        if (found == comparison.patches.end())
            continue;
        const double x = (int(i) % grid.columns) * pitch + gap, y = (int(i) / grid.columns) * pitch + gap;
        out.shapes.push_back(Box{x, y, side / 2, side, {0, found->a}});
        out.shapes.push_back(Box{x + side / 2, y, side / 2, side, {0, found->b}});
    }
    return out;
}

Figure greyShift(const Comparison &comparison, double width, double height)
{
    Figure out{
        width, height, {}, words::said("lightness and cast of B less A along the tone scale, dark to light")};
    double most = 1;
    for (const auto &grey : comparison.greys)
        most = std::max({most, std::abs(grey.dL), std::abs(grey.da), std::abs(grey.db)});
    scaleAbout0(out, most, 1);
    struct Curve
    {
        const char *name;
        double GreyShift::*value;
        double width;
        bool isDashed;
    };
    constexpr Curve kShown[] = {{"L*", &GreyShift::dL, 1.4, false},
                                {"a*", &GreyShift::da, 0.7, false},
                                {"b*", &GreyShift::db, 0.9, true}};
    std::vector<double> named; // heights of the names, which stand beside each other where two are close
    for (const auto &curve : kShown) {
        std::vector<FigurePoint> points;
        for (const auto &grey : comparison.greys)
            points.push_back({kLeft + (width - kLeft - kRight) * grey.l / 100,
                              height / 2 - grey.*curve.value / most * (height / 2 - 8)});
        if (points.empty())
            continue;
        const double y = points.back().y + 2.5;
        const auto beside =
            std::count_if(named.begin(), named.end(), [y](double other) { return std::abs(other - y) < 8; });
        out.shapes.push_back(Label{points.back().x + 3 + 10 * double(beside), y, curve.name, 7});
        named.push_back(y);
        out.shapes.push_back(Stroke{std::move(points), curve.width, kInk, curve.isDashed});
    }
    return out;
}

Figure sectorShift(const Comparison &comparison, double width, double height)
{
    Figure out{width, height, {}, words::said("chroma and hue of B less A in eight hue sectors")};
    double most = 1;
    for (const auto &sector : comparison.sectors)
        most = std::max({most, std::abs(sector.dC), std::abs(sector.dh)});
    scaleAbout0(out, most, 1);
    const double pitch = (width - kLeft - kRight) / double(comparison.sectors.size()), zero = height / 2,
                 unit = (height / 2 - 8) / most;
    for (size_t i = 0; i < comparison.sectors.size(); ++i) {
        const auto &sector = comparison.sectors[i];
        const double x = kLeft + pitch * double(i), hue = (45. * double(i) + 22.5) * M_PI / 180;
        // the bar of chroma has the sector's own hue
        const Lab lab{60, 40 * std::cos(hue), 40 * std::sin(hue)};
        const double dC = unit * sector.dC;
        out.shapes.push_back(Box{x + 0.15 * pitch,
                                 dC > 0 ? zero - dC : zero,
                                 0.35 * pitch,
                                 std::max(0.5, std::abs(dC)),
                                 {0, lab}});
        out.shapes.push_back(Disc{x + 0.7 * pitch, zero - unit * sector.dh, 2.6, Ink{1}, kInk});
    }
    return out;
}

} // namespace wavechroma
