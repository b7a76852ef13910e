#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random.h"
#include "core/sim/random_scene.h"
#include "core/sim/reflectance.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>

using namespace wavechroma;

class FindChartTest : public QObject
{
    Q_OBJECT
private slots:
    void findsTheChartAnyWayRound_data();
    void findsTheChartAnyWayRound();
    void findsItFromATenthOfTheFrameToAllOfIt_data();
    void findsItFromATenthOfTheFrameToAllOfIt();
    void sayNoWhereThereIsNone();
    void aMirroredOrRecolouredGridDoesNotFit();
    void everyChartOfTheCatalogueIsToldApart_data();
    void everyChartOfTheCatalogueIsToldApart();
};

namespace {

struct Shown
{
    RawFrame frame;
    sim::ChartTruth truth;
};

Shown shown(const sim::Pose &pose, const char *camera, const char *lamp,
            const std::vector<Spectrum> &reflectances, int width = 1800, int height = 1200,
            const ChartDefinition &chart = testing::classicChart())
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.3), 0.05, 8);
    sim::PrintedChart printed;
    printed.chart = chart;
    for (const auto &r : reflectances)
        printed.patchMaterials.push_back(sim::addMaterial(scene, r));
    printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
    printed.corners = sim::cornersAt(printed.chart, pose);
    scene.things.push_back(printed);
    sim::Shot shot;
    shot.width = width;
    shot.height = height;
    auto exposed = sim::expose(scene, sim::camera(camera), sim::lamp(lamp), shot);
    const auto truth = exposed.charts[0];
    return {sim::rawFrameOf(std::move(exposed)), truth};
}

double worstCorner(const Corners &a, const Corners &b, const ChartDefinition &chart = testing::classicChart())
{
    const double pitch = pitchPixels(chart, *homographyFrom(chart, b));
    double worst = 0;
    for (size_t i = 0; i < 4; ++i)
        worst = std::max(worst, std::hypot(a[i].x - b[i].x, a[i].y - b[i].y) / pitch);
    return worst;
}

} // namespace

void FindChartTest::findsTheChartAnyWayRound_data()
{
    QTest::addColumn<double>("turn");
    QTest::addColumn<double>("tiltX");
    QTest::addColumn<double>("tiltY");
    QTest::addColumn<QString>("lamp");
    for (const double turn : {0.0, 45.0, 90.0, 180.0, 270.0})
        QTest::addRow("turned %.0f", turn) << turn << 0.0 << 0.0 << "daylight";
    QTest::newRow("tilted 45 away") << 10.0 << 45.0 << 0.0 << "strobe";
    QTest::newRow("tilted 45 sideways") << 190.0 << 0.0 << 45.0 << "led";
    QTest::newRow("tilted both ways, tungsten") << 275.0 << 30.0 << -30.0 << "tungsten";
}

void FindChartTest::findsTheChartAnyWayRound()
{
    QFETCH(double, turn);
    QFETCH(double, tiltX);
    QFETCH(double, tiltY);
    QFETCH(QString, lamp);
    const auto s = shown({{900, 600}, 800, turn, tiltX, tiltY, 4}, "Tarn 2", lamp.toStdString().c_str(),
                         sim::chartReflectances(testing::classicChart()));
    const auto reading = *readChart(s.frame, testing::classicChart());
    QVERIFY(reading.found);
    QVERIFY2(worstCorner(reading.corners, s.truth.corners) < 0.05,
             qPrintable(QString::number(worstCorner(reading.corners, s.truth.corners))));
    for (size_t i = 0; i < 24; ++i)
        for (size_t c = 0; c < 3; ++c)
            QVERIFY2(std::abs(vectorOf(reading.patches[i].mean)[c] / s.truth.patches[i][c] - 1) < 0.02,
                     reading.patches[i].id.c_str());
}

void FindChartTest::findsItFromATenthOfTheFrameToAllOfIt_data()
{
    QTest::addColumn<double>("share");
    QTest::newRow("a tenth") << 0.10;
    QTest::newRow("a third") << 0.33;
    QTest::newRow("fills it") << 0.94;
}

void FindChartTest::findsItFromATenthOfTheFrameToAllOfIt()
{
    QFETCH(double, share);
    const auto s = shown({{900, 600}, share * 1800, 2, 0, 0, 5}, "Marram 8", "daylight",
                         sim::chartReflectances(testing::classicChart()));
    const auto reading = *readChart(s.frame, testing::classicChart());
    QVERIFY(reading.found);
    QVERIFY(worstCorner(reading.corners, s.truth.corners) < 0.05);
}

void FindChartTest::sayNoWhereThereIsNone()
{
    for (uint64_t seed = 700; seed < 706; ++seed) { // cards of swatches, windows, skeins
        sim::Shot shot;
        shot.width = 1500;
        shot.height = 1000;
        shot.seed = seed;
        const auto scene = sim::randomScene({seed, shot.width, shot.height, false});
        const auto frame =
            sim::rawFrameOf(sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("daylight"), shot));
        const auto reading = *readChart(frame, testing::classicChart());
        QVERIFY2(!reading.found, qPrintable(QString("seed %1").arg(seed)));
        QVERIFY(reading.patches.empty());
    }
}

void FindChartTest::aMirroredOrRecolouredGridDoesNotFit()
{
    auto mirrored = sim::chartReflectances(testing::classicChart());
    for (size_t row = 0; row < 4; ++row)
        std::reverse(mirrored.begin() + ptrdiff_t(6 * row), mirrored.begin() + ptrdiff_t(6 * row + 6));
    auto s = shown({{900, 600}, 800, 0, 0, 0, 4}, "Tarn 2", "daylight", mirrored);
    QVERIFY(!readChart(s.frame, testing::classicChart())->found);
    // asked for by name it is a grid of that layout whose colours do not fit
    const auto named = *readChart(s.frame, testing::classicChart(), {{}, 0.5, true});
    QVERIFY(named.found);
    QVERIFY(placementFit(s.frame, testing::classicChart(),
                         *homographyFrom(testing::classicChart(), named.corners)) < kLeastColourFit);
}

void FindChartTest::everyChartOfTheCatalogueIsToldApart_data()
{
    QTest::addColumn<QString>("id");
    QTest::addColumn<double>("turn");
    for (const char *id : {"classic-24", "double-24", "field-140"})
        for (const double turn : {3.0, 95.0, 184.0, 271.0})
            QTest::addRow("%s turned %.0f", id, turn) << QString(id) << turn;
}

void FindChartTest::everyChartOfTheCatalogueIsToldApart()
{
    QFETCH(QString, id);
    QFETCH(double, turn);
    const auto chart = *chartFromCatalogue(id.toStdString());
    const auto s = shown({{900, 600}, 850, turn, 12, -8, 4}, "Tarn 2", "led", sim::chartReflectances(chart),
                         1800, 1200, chart);
    const auto reading = *readAnyChart(s.frame, chartCatalogue());
    QVERIFY(reading.found);
    QCOMPARE(QString::fromStdString(reading.chart), id);
    QVERIFY2(worstCorner(reading.corners, s.truth.corners, chart) < 0.08,
             qPrintable(QString::number(worstCorner(reading.corners, s.truth.corners, chart))));
    for (size_t i = 0; i < chart.patches.size(); ++i)
        QVERIFY2(std::abs(reading.patches[i].mean.g / s.truth.patches[i][1] - 1) < 0.02,
                 reading.patches[i].id.c_str());
}

static const testing::Registered<FindChartTest> registeredFindChartTest("find_chart_test");
#include "find_chart_test.moc"
