#include "core/figures/proof_figures.h"

#include "core/base/number_text.h"
#include "core/base/said.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

void hairline(Figure &figure, FigurePoint from, FigurePoint to, const Ink &ink = kFaintInk)
{
    figure.shapes.push_back(Stroke{{from, to}, 0.4, ink, false});
}

/// Steps of 1, 2 or 5 times a power of ten, about `count` of them up to `most`.
double stepFor(double most, int count)
{
    const double rough = most / count, power = std::pow(10, std::floor(std::log10(std::max(rough, 1e-9))));
    for (const double times : {1., 2., 5.})
        if (rough <= times * power)
            return times * power;
    return 10 * power;
}

void ring(Figure &figure, double x, double y, double radius, const Lab &reference, const Lab &color)
{
    figure.shapes.push_back(Disc{x, y, radius, {0, reference}, kFaintInk});
    figure.shapes.push_back(Disc{x, y, 0.55 * radius, {0, color}, {}});
}

} // namespace

Figure flatChart(const Proof &proof, const ChartDefinition &chart, double width)
{
    const auto grid = shownGrid(chart);
    const double pitch = width / grid.columns, radius = 0.42 * pitch;
    Figure out{width,
               pitch * grid.rows,
               {},
               words::said("the chart laid out flat: rings are references, cores results")};
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto found = std::find_if(proof.patches.begin(), proof.patches.end(),
                                        [&](const auto &p) { return p.id == chart.patches[i].id; });
        if (found == proof.patches.end())
            continue;
        const auto row = int(i) / grid.columns, column = int(i) % grid.columns;
        ring(out, (column + 0.5) * pitch, (row + 0.5) * pitch, radius, found->reference, found->lab);
    }
    return out;
}

Figure errorLengths(const Proof &proof, double limit, double width, double height)
{
    Figure out{width, height, {}, words::said("error of each patch, with the limit of one patch as a line")};
    const double left = 22, bottom = 12, plotHeight = height - bottom - 6;
    const double most = std::max(1.15 * limit, 1.05 * proof.summary.max);
    const auto yOf = [&](double value) { return 6 + plotHeight * (1 - value / most); };
    const double step = stepFor(most, 4);
    for (double value = 0; value < most; value += step) {
        hairline(out, {left, yOf(value)}, {width, yOf(value)});
        out.shapes.push_back(Label{left - 4, yOf(value) + 2.5, fixedText(value, step < 1 ? 1 : 0), 7, false,
                                   Label::From::Right});
    }
    const double pitch = (width - left) / double(proof.patches.size());
    const auto every = size_t(std::ceil(9 / pitch));
    for (size_t i = 0; i < proof.patches.size(); ++i) {
        const auto &patch = proof.patches[i];
        const double x = left + pitch * double(i);
        out.shapes.push_back(Box{x + 0.15 * pitch, yOf(patch.de00), 0.7 * pitch,
                                 std::max(0.3, yOf(0) - yOf(patch.de00)),
                                 patch.de00 > limit ? kInk : kSoftInk});
        if (i % every == 0)
            out.shapes.push_back(Label{x + 0.5 * pitch, height - 3, patch.id, 6, false, Label::From::Middle});
    }
    out.shapes.push_back(Stroke{{{left, yOf(limit)}, {width, yOf(limit)}}, 0.8, kInk, true});
    return out;
}

Figure chromaPlane(const Proof &proof, double side)
{
    Figure out{
        side, side, {}, words::said("a* and b* of the patches, with tails from references to results")};
    double most = 20;
    for (const auto &patch : proof.patches)
        for (const auto &lab : {patch.lab, patch.reference})
            most = std::max({most, std::abs(lab.a), std::abs(lab.b)});
    most *= 1.05;
    const auto at = [&](const Lab &lab) {
        return FigurePoint{side / 2 * (1 + lab.a / most), side / 2 * (1 - lab.b / most)};
    };
    hairline(out, {0, side / 2}, {side, side / 2});
    hairline(out, {side / 2, 0}, {side / 2, side});
    out.shapes.push_back(Label{side - 2, side / 2 - 3, "a*", 7, false, Label::From::Right});
    out.shapes.push_back(Label{side / 2 + 3, 8, "b*", 7});
    for (const auto &patch : proof.patches) {
        const auto from = at(patch.reference), to = at(patch.lab);
        out.shapes.push_back(Stroke{{from, to}, 0.7, kInk, false});
        out.shapes.push_back(Disc{to.x, to.y, 2.4, {0, patch.lab}, kInk});
    }
    return out;
}

Figure greyCast(const Proof &proof, const ChartDefinition &chart, double width, double height)
{
    Figure out{width,
               height,
               {},
               words::said("lightness and cast of the greys less their references, dark to light")};
    std::vector<const PatchProof *> greys;
    for (const auto &patch : proof.patches)
        if (std::count(chart.neutral.begin(), chart.neutral.end(), patch.id) && !patch.clipped)
            greys.push_back(&patch);
    std::sort(greys.begin(), greys.end(),
              [](const auto *a, const auto *b) { return a->reference.l < b->reference.l; });
    double most = 2;
    for (const auto *grey : greys)
        most = std::max({most, std::abs(grey->dL), std::abs(grey->lab.a - grey->reference.a),
                         std::abs(grey->lab.b - grey->reference.b)});
    const double left = 22, right = 14;
    const auto at = [&](double l, double value) {
        return FigurePoint{left + (width - left - right) * l / 100,
                           height / 2 - value / most * (height / 2 - 8)};
    };
    hairline(out, at(0, 0), at(100, 0));
    for (const double value : {-most, most}) {
        hairline(out, at(0, value), at(100, value));
        out.shapes.push_back(
            Label{left - 4, at(0, value).y + 2.5, fixedText(value, 1), 7, false, Label::From::Right});
    }
    struct Curve
    {
        const char *name;
        double width;
        bool isDashed;
        double (*of)(const PatchProof &);
    };
    constexpr Curve kCurves[] = {
        {"L*", 1.2, false, [](const PatchProof &p) { return p.dL; }},
        {"a*", 0.6, false, [](const PatchProof &p) { return p.lab.a - p.reference.a; }},
        {"b*", 0.8, true, [](const PatchProof &p) { return p.lab.b - p.reference.b; }}};
    for (const auto &curve : kCurves) {
        std::vector<FigurePoint> points;
        for (const auto *grey : greys)
            points.push_back(at(grey->reference.l, curve.of(*grey)));
        if (points.empty())
            continue;
        out.shapes.push_back(Label{points.back().x + 3, points.back().y + 2.5, curve.name, 7});
        out.shapes.push_back(Stroke{std::move(points), curve.width, kInk, curve.isDashed});
    }
    return out;
}

Figure ringChips(const std::vector<RingChip> &chips, double width)
{
    constexpr int kColumns = 4;
    const double pitch = width / kColumns, rowHeight = 62, radius = 22;
    const auto rows = (int(chips.size()) + kColumns - 1) / kColumns;
    Figure out{
        width, rowHeight * rows, {}, words::said("colours as delivered, in rings of what they should be")};
    for (size_t i = 0; i < chips.size(); ++i) {
        const auto &chip = chips[i];
        const double x = pitch * double(i % kColumns) + radius + 1, y = rowHeight * double(i / kColumns) + 27;
        ring(out, x, y, radius, chip.target.value_or(chip.color), chip.color);
        out.shapes.push_back(Label{x + radius + 7, y - 2, chip.name, 8.5, true});
        out.shapes.push_back(Label{x + radius + 7, y + 10, chip.note, 8, chip.isOut});
    }
    return out;
}

} // namespace wavechroma
