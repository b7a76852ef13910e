#include "core/chart/chart_geometry.h"
#include "core/color/lab.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class ChartTest : public QObject
{
    Q_OBJECT
private slots:
    void theClassicChartIsWhole();
    void badDefinitionsAreNamed();
    void cornersAndHomographyAgree();
    void mirroredOrFoldedCornersAreRefused();
    void aNoisyFitIsNearTheTruth();
};

void ChartTest::theClassicChartIsWhole()
{
    const auto chart = *chartFromCatalogue("classic-24");
    QVERIFY(bool(check(chart)));
    QCOMPARE(chart.patches.size(), size_t(24));
    const auto white = labFromXyz(chart.patch("D1")->reference);
    QVERIFY(std::abs(white.l - 96.539) < 1e-9 && std::abs(white.b - 1.186) < 1e-9);
    QVERIFY(!chartFromCatalogue("classic-25"));
    QCOMPARE(patchId(27, 11), std::string("AB12"));
}

void ChartTest::badDefinitionsAreNamed()
{
    const auto good = *chartFromCatalogue("classic-24");
    auto bad = good;
    bad.patches.pop_back();
    QVERIFY(check(bad).error().message.find("23 patches") != std::string::npos);
    bad = good;
    bad.patches[3].id = "A3";
    QVERIFY(check(bad).error().message.find("A4") != std::string::npos);
    bad = good;
    bad.patches[0].reference.y = 40;
    QVERIFY(check(bad).error().message.find("A1") != std::string::npos);
    bad = good;
    bad.neutral.push_back("E1");
    QVERIFY(check(bad).error().message.find("E1") != std::string::npos);
}

void ChartTest::cornersAndHomographyAgree()
{
    const auto chart = *chartFromCatalogue("classic-24");
    const Corners corners{{{900, 620}, {310, 560}, {350, 120}, {820, 210}}}; // upside down, in perspective
    const auto homography = homographyFrom(chart, corners);
    QVERIFY(homography.has_value());
    const auto back = cornersFrom(chart, *homography);
    for (size_t i = 0; i < 4; ++i)
        QVERIFY(std::hypot(back[i].x - corners[i].x, back[i].y - corners[i].y) < 1e-6);
    const auto window = patchWindow(chart, *homography, 0, 0, 1.0);
    QVERIFY(std::hypot(window[0].x - 900, window[0].y - 620) < 1e-6);
}

void ChartTest::mirroredOrFoldedCornersAreRefused()
{
    const auto chart = *chartFromCatalogue("classic-24");
    QVERIFY(!homographyFrom(chart, Corners{{{0, 0}, {0, 100}, {100, 100}, {100, 0}}}));
    QVERIFY(!homographyFrom(chart, Corners{{{0, 0}, {100, 100}, {100, 0}, {0, 100}}}));
    QVERIFY(!homographyFrom(chart, Corners{{{5, 5}, {5, 5}, {5, 5}, {5, 5}}}));
}

void ChartTest::aNoisyFitIsNearTheTruth()
{
    const auto chart = *chartFromCatalogue("classic-24");
    const auto truth = *homographyFrom(chart, Corners{{{100, 100}, {700, 140}, {680, 520}, {130, 480}}});
    std::vector<ChartPoint> from;
    std::vector<PixelPoint> to;
    for (int row = 0; row < 4; ++row)
        for (int column = 0; column < 6; ++column) {
            from.push_back(patchCentre(chart, row, column));
            auto p = truth.at(from.back());
            p.x += (row + column) % 2 ? 0.2 : -0.2;
            to.push_back(p);
        }
    const auto fit = *homographyFrom(from, to);
    const auto a = cornersFrom(chart, fit), b = cornersFrom(chart, truth);
    for (size_t i = 0; i < 4; ++i)
        QVERIFY(std::hypot(a[i].x - b[i].x, a[i].y - b[i].y) < 0.3);
}

static const testing::Registered<ChartTest> registeredChartTest("chart_test");
#include "chart_test.moc"
