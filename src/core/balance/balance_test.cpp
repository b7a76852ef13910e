#include "core/balance/balance.h"
#include "core/color/illuminant.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class BalanceTest : public QObject
{
    Q_OBJECT
private slots:
    void multipliersMakeTheNeutralEqual();
    void takesTheLightestUnclippedMidGrey();
    void severalPatchesCountAlike();
    void refusesClippedAndUnknownPatches();
    void temperatureOfTheLightComesBack_data();
    void temperatureOfTheLightComesBack();
    void twoMatricesAreInterpolatedInMired();
    void withoutAMatrixThereIsNoTemperature();
};

namespace {

Reading greys(const Vector3 &light)
{
    Reading reading;
    reading.found = true;
    reading.image = "greys";
    const auto &chart = chartCatalogue().front();
    for (const auto &patch : chart.patches)
        reading.patches.push_back(
            {patch.id,
             {light[0] * patch.reference.y, light[1] * patch.reference.y, light[2] * patch.reference.y},
             {0.01, 0.01, 0.01},
             900,
             0,
             0});
    return reading;
}

} // namespace

void BalanceTest::multipliersMakeTheNeutralEqual()
{
    // "multipliers × camera RGB makes the chosen neutral equal in all three channels"
    const auto b = *balanceFromPatches(greys({0.4, 0.8, 0.5}), {"D3"});
    QCOMPARE(b.multipliers[1], 1.0);
    QVERIFY(std::abs(b.multipliers[0] * b.neutral.r - b.neutral.g) < 1e-12);
    QVERIFY(std::abs(b.multipliers[2] * b.neutral.b - b.neutral.g) < 1e-12);
    QVERIFY(std::abs(b.multipliers[0] - 2.0) < 1e-12 && std::abs(b.multipliers[2] - 1.6) < 1e-12);
}

void BalanceTest::takesTheLightestUnclippedMidGrey()
{
    auto reading = greys({0.4, 0.8, 0.5});
    const auto &chart = chartCatalogue().front();
    QCOMPARE(*defaultNeutral(reading, chart), std::string("D2")); // D1 is white (L* 96), not a mid-grey
    reading.patches[19].clipped = 0.2;                            // D2
    QCOMPARE(*defaultNeutral(reading, chart), std::string("D3"));
    for (auto &patch : reading.patches)
        patch.clipped = 1;
    QVERIFY(!defaultNeutral(reading, chart));
}

void BalanceTest::severalPatchesCountAlike()
{
    auto reading = greys({0.4, 0.8, 0.5});
    reading.patches[22].mean.r *= 1.1; // D5, dark: 10 % redder
    const auto b = *balanceFromPatches(reading, {"D2", "D5"});
    QVERIFY(std::abs(b.multipliers[0] - 2.0 / 1.05) < 1e-9);
}

void BalanceTest::refusesClippedAndUnknownPatches()
{
    auto reading = greys({0.4, 0.8, 0.5});
    reading.patches[18].clipped = 0.3;
    const auto clipped = balanceFromPatches(reading, {"D1"}), unknown = balanceFromPatches(reading, {"Q9"}),
               none = balanceFromPatches(reading, {});
    QVERIFY(!clipped && clipped.error().message.find("D1 is clipped") != std::string::npos);
    QVERIFY(!unknown && unknown.error().message.find("Q9") != std::string::npos);
    QVERIFY(!none);
}

void BalanceTest::temperatureOfTheLightComesBack_data()
{
    QTest::addColumn<double>("kelvin");
    QTest::addColumn<double>("duv");
    for (const double kelvin : {2850.0, 4000.0, 5000.0, 6500.0, 10000.0})
        for (const double duv : {-0.004, 0.0, 0.006})
            QTest::addRow("%.0f K %.3f", kelvin, duv) << kelvin << duv;
}

void BalanceTest::temperatureOfTheLightComesBack()
{
    QFETCH(double, kelvin);
    QFETCH(double, duv);
    // A camera that is a known linear transform of XYZ sees a light of known chromaticity.
    const Matrix3 camera{{{{0.8, -0.2, -0.1}, {-0.4, 1.2, 0.2}, {-0.1, 0.2, 0.6}}}};
    const auto light = xyzFromChromaticity(chromaticityFromTemperature({kelvin, duv}));
    const auto xy = *lightFromNeutral({{{camera, 21}}, {}}, camera * vectorOf(light));
    const auto t = temperatureOf(xy);
    QVERIFY2(std::abs(t.cctKelvin / kelvin - 1) < 1e-4, qPrintable(QString::number(t.cctKelvin)));
    QVERIFY(std::abs(t.duv - duv) < 1e-5);
}

void BalanceTest::twoMatricesAreInterpolatedInMired()
{
    const Matrix3 a = identity(), b = diagonal({2, 2, 2});
    const FileColor color{{{a, 17}, {b, 21}}, {}};
    // 17 stands for 2 850 K, 21 for 6 500 K; half way in mired: 2/(1/2850 + 1/6500) = 3962.6 K
    const auto middle = *cameraFromXyzFor(color, chromaticityFromTemperature({3962.567, 0}));
    QVERIFY(std::abs(middle(0, 0) - 1.5) < 1e-3);
    QCOMPARE((*cameraFromXyzFor(color, chromaticityFromTemperature({2000, 0})))(0, 0), 1.0);
    QCOMPARE((*cameraFromXyzFor(color, chromaticityFromTemperature({9000, 0})))(0, 0), 2.0);
}

void BalanceTest::withoutAMatrixThereIsNoTemperature()
{
    QVERIFY(!balanceFromPatches(greys({0.4, 0.8, 0.5}), {"D3"})->temperature);
}

static const testing::Registered<BalanceTest> registeredBalanceTest("balance_test");
#include "balance_test.moc"
