#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/proof/comparison.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Two ways to colour held against each other, on a simulated camera and surfaces drawn at random.
class ComparisonTest : public QObject
{
    Q_OBJECT
private slots:
    void theSameIsTheSame();
    void whatIsFarBetterIsSaidToBe();
    void aGainOfAProfileIsNoDifference();
    void intervalsHoldTheTruth_data();
    void intervalsHoldTheTruth();
    void whereTheyDifferIsTold();
};

namespace {

struct Shoot
{
    ChartDefinition chart;
    Reading reading;
};

/// A chart of surfaces that nobody has seen, read with noise.
Shoot shot(int patches, uint64_t seed, double noise = 0.0005)
{
    sim::Random random(seed); // seeds far apart, since near ones give the same sequence a few steps on
    const auto &body = sim::camera("Tarn 2");
    const auto &light = sim::lamp("daylight").spectrum;
    const double scale = 0.8 / sim::response(body, body.lenses[0], light, sim::flatReflectance(1))[1];
    Shoot out{plainGrid(1, patches), {}};
    out.chart.colorsKnown = true;
    out.chart.patches.clear();
    out.reading.found = true;
    for (int i = 0; i < patches;) {
        const auto spectrum =
            sim::reflectanceOf({random.uniform(25, 85), random.uniform(-40, 40), random.uniform(-40, 40)},
                               (seed * 1000 + uint64_t(out.chart.patches.size())) * 7919);
        if (!spectrum)
            continue;
        const auto id = patchId(0, i++);
        out.chart.patches.push_back({id, xyzD50FromReflectance(*spectrum, illuminantD50()), {}});
        const auto rgb = sim::response(body, body.lenses[0], light, *spectrum);
        const auto seen = [&](size_t c) { return rgb[c] * scale + noise * random.normal(); };
        const double sd = noise * std::sqrt(100.0); // of single pixels, 100 a channel
        out.reading.patches.push_back({id, {seen(0), seen(1), seen(2)}, {sd, sd, sd}, 300, 0, 0});
    }
    return out;
}

CameraView view()
{
    return {
        {{{sim::publishedColorMatrix(sim::camera("Tarn 2")), 21}}, Vector3{0.5, 1, 0.6}}, {2, 1, 1.5}, 1.2};
}

ColourSide matrixSide(const Matrix3 &matrix, const char *name)
{
    return {{name, "calibration", name},
            [matrix](const CameraRgb &rgb) { return xyzOf(matrix * vectorOf(rgb)); }};
}

/// The least-squares matrix of many surfaces, and one that is off by a share in its red.
Matrix3 fittedTo(uint64_t seed)
{
    const auto many = shot(300, seed, 0);
    std::vector<FittedPatch> patches;
    for (size_t i = 0; i < many.chart.patches.size(); ++i)
        patches.push_back(
            {many.chart.patches[i].id, many.reading.patches[i].mean, many.chart.patches[i].reference});
    Matrix3 sumXy, sumXx; // XYZ = M rgb by normal equations
    for (const auto &p : patches) {
        const auto x = vectorOf(p.rgb), y = vectorOf(p.reference);
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j) {
                sumXy(i, j) += y[size_t(i)] * x[size_t(j)];
                sumXx(i, j) += x[size_t(i)] * x[size_t(j)];
            }
    }
    return sumXy * *inverse(sumXx);
}

Matrix3 goodMatrix()
{
    static const Matrix3 matrix = fittedTo(9);
    return matrix;
}

Matrix3 worseMatrix(double by)
{
    return diagonal({1 + by, 1, 1}) * goodMatrix();
}

} // namespace

void ComparisonTest::theSameIsTheSame()
{
    const auto s = shot(24, 1);
    const auto a = matrixSide(goodMatrix(), "a"), b = matrixSide(goodMatrix(), "b");
    const auto c = compared(a, b, view(), {DifferenceMeasure::De2000, &s.reading, &s.chart});
    QCOMPARE(c.patches.size(), size_t(24));
    QVERIFY(c.errors && c.errors->better == ErrorsCompared::Better::Neither);
    QVERIFY(c.errors->interval == Interval{} && c.latticeMax == 0 && c.latticeCount > 300);
    QVERIFY(c.errors->a.interval.low < c.errors->a.mean && c.errors->a.mean < c.errors->a.interval.high);
}

void ComparisonTest::whatIsFarBetterIsSaidToBe()
{
    const auto s = shot(24, 2);
    const auto good = matrixSide(goodMatrix(), "good"), worse = matrixSide(worseMatrix(0.1), "worse");
    using enum ErrorsCompared::Better;
    QVERIFY(compared(good, worse, view(), {DifferenceMeasure::De2000, &s.reading, &s.chart}).errors->better ==
            A);
    QVERIFY(compared(worse, good, view(), {DifferenceMeasure::De94, &s.reading, &s.chart}).errors->better ==
            B);
    // one that is as good is not told from it by these patches
    const auto other = matrixSide(fittedTo(10), "other");
    QVERIFY(compared(good, other, view(), {DifferenceMeasure::De2000, &s.reading, &s.chart}).errors->better ==
            Neither);
}

void ComparisonTest::aGainOfAProfileIsNoDifference()
{
    const auto s = shot(24, 3);
    auto bright = matrixSide(diagonal({1.4, 1.4, 1.4}) * goodMatrix(), "bright");
    const auto a = matrixSide(goodMatrix(), "a");
    QVERIFY(compared(a, bright, view()).latticeMean > 3);
    bright.isUpToAGain = true;
    QVERIFY(compared(a, bright, view()).latticeMax < 1e-9);
    const auto c = compared(a, bright, view(), {DifferenceMeasure::De2000, &s.reading, &s.chart});
    QVERIFY(std::abs(c.errors->difference) < 0.3); // brought to the references by a median
}

void ComparisonTest::intervalsHoldTheTruth_data()
{
    QTest::addColumn<double>("noise");
    QTest::newRow("of a good frame") << 0.0005;
    QTest::newRow("that lifts the mean by half") << 0.004;
}

/// Re-shoots of other surfaces with other noise: the mean over all surfaces is inside as often as it should
/// be.
void ComparisonTest::intervalsHoldTheTruth()
{
    const auto good = matrixSide(goodMatrix(), "good"), worse = matrixSide(worseMatrix(0.03), "worse");
    const auto all = shot(500, 4, 0);
    const auto truth = compared(good, worse, view(), {DifferenceMeasure::De2000, &all.reading, &all.chart});
    int mean = 0, difference = 0;
    QFETCH(double, noise);
    constexpr int kShoots = 40;
    for (uint64_t seed = 0; seed < kShoots; ++seed) {
        const auto s = shot(24, 7000000 + seed * 104729, noise);
        const auto c = compared(good, worse, view(), {DifferenceMeasure::De2000, &s.reading, &s.chart});
        mean += c.errors->a.interval.holds(truth.errors->a.mean);
        difference += c.errors->interval.holds(truth.errors->difference);
    }
    QVERIFY2(mean >= 34 && difference >= 34,
             qPrintable(QString("%1 %2").arg(mean).arg(difference))); // 38 of 40 are 95 %
}

void ComparisonTest::whereTheyDifferIsTold()
{
    // B turns what is blue: more of the last channel's share in X
    auto turned = goodMatrix();
    turned(0, 2) += 0.05 * goodMatrix()(0, 0);
    const auto c = compared(matrixSide(goodMatrix(), "a"), matrixSide(turned, "b"), view());
    QVERIFY(c.greys.size() >= 15 && c.greys[10].da > 1); // redder all along
    const auto size = [&](size_t i) { return std::abs(c.sectors[i].dh) + std::abs(c.sectors[i].dC); };
    QVERIFY(c.sectors[6].count > 5 && size(6) > size(2)); // blue more than yellow-green
    QVERIFY(c.outside.size() == 4 && c.outside[0].latticeShare > c.outside[3].latticeShare);
    QVERIFY(c.skin.count > 5);
}

static const testing::Registered<ComparisonTest> registeredComparisonTest("comparison_test");
#include "comparison_test.moc"
