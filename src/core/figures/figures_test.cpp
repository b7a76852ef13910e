#include "core/figures/drift_figure.h"
#include "core/figures/proof_figures.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

namespace {

template <class T> std::vector<T> all(const Figure &figure)
{
    std::vector<T> out;
    for (const auto &shape : figure.shapes)
        if (const auto *one = std::get_if<T>(&shape))
            out.push_back(*one);
    return out;
}

Proof proofOf(const ChartDefinition &chart)
{
    Proof out;
    for (const auto &patch : chart.patches) {
        PatchProof p;
        p.id = patch.id;
        p.reference = {50, double(out.patches.size()), 0};
        p.lab = {50, double(out.patches.size()) + 1, 0};
        p.de00 = 0.1 * double(out.patches.size());
        out.patches.push_back(p);
    }
    out.summary.max = 2.3;
    return out;
}

} // namespace

class FiguresTest : public QObject
{
    Q_OBJECT
private slots:
    void aFlatChartHasARingForEachPatch()
    {
        const auto &chart = chartCatalogue().front();
        const auto figure = flatChart(proofOf(chart), chart, 300);
        const auto discs = all<Disc>(figure);
        QCOMPARE(discs.size(), size_t(48));
        QCOMPARE(figure.height, 200.);
        // B1, the seventh: first of the second row; the ring is the reference, the core the result
        QVERIFY(std::abs(discs[12].x - 25) < 1e-9 && std::abs(discs[12].y - 75) < 1e-9);
        QCOMPARE(discs[12].fill.color->a, 6.);
        QCOMPARE(discs[13].fill.color->a, 7.);
        QVERIFY(discs[13].radius < discs[12].radius);
    }

    void errorsAreLengths()
    {
        const auto &chart = chartCatalogue().front();
        const auto proof = proofOf(chart);
        const auto boxes = all<Box>(errorLengths(proof, 2, 400, 100));
        QCOMPARE(boxes.size(), size_t(24));
        QVERIFY(std::abs(boxes[20].height / boxes[10].height - 2) < 1e-9);
        QCOMPARE(boxes[23].fill.grey, kInk.grey); // beyond the limit
        QCOMPARE(boxes[19].fill.grey, kSoftInk.grey);
    }

    void limitsComeFromTheMovingRange()
    {
        QVERIFY(!controlLimits({1, 2, 3}));
        const auto limits = controlLimits({1, 2, 1, 2});
        QCOMPARE(limits->middle, 1.5);
        QCOMPARE(limits->high, 1.5 + 2.66);
        QCOMPARE(limits->low, 1.5 - 2.66);
    }

    void aControlChartHasThreeStrips()
    {
        std::vector<DriftPoint> points;
        for (int i = 0; i < 5; ++i)
            points.push_back({"2026-10-14T09:2" + std::to_string(i) + ":00", 1. + i, 0.1 * i, 2. * i, i < 3});
        const auto figure = controlChart(points, 2, 400, 180);
        const auto discs = all<Disc>(figure);
        QCOMPARE(discs.size(), size_t(15));
        QCOMPARE(discs[0].fill.grey, 1.);
        QCOMPARE(discs[4].fill.grey, kInk.grey);
        QVERIFY(discs[4].y < discs[0].y); // a greater error lies higher
        QCOMPARE(all<Box>(figure).size(), size_t(3));
        QVERIFY(controlChart({}, 2, 400, 180).shapes.empty());
    }

    void coloursAreCodedForPrint()
    {
        const auto white = srgbCodesOf({0, Lab{100, 0, 0}});
        QVERIFY(std::abs(white[0] - 1) < 1e-3 && std::abs(white[2] - 1) < 1e-3);
        QCOMPARE(srgbCodesOf({0.25})[1], 0.25);
    }
};

static const testing::Registered<FiguresTest> registeredFiguresTest("figures_test");
#include "figures_test.moc"
