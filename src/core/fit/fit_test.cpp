#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/fit/fit_matrix.h"
#include "core/fit/part_balance.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <functional>
#include <numeric>

using namespace wavechroma;

class FitTest : public QObject
{
    Q_OBJECT
private slots:
    void findsTheTrueMatrixWhenOneExists();
    void isAsGoodAsAnExhaustiveSearch_data();
    void isAsGoodAsAnExhaustiveSearch();
    void equalBalancedRgbIsTheWhite();
    void madeUpCamerasAreAsFarFromColorimetricAsRealOnes();
    void crossValidationLeavesEachPatchOut();
    void balanceAgainChangesNothing();
    void clippedPatchesTakeNoPart();
    void tooFewPatchesAreRefused();
    void aGreyGivesABalanceAndNothingElse();
    void percentilesInterpolate();
};

namespace {

/// What a camera would read of the chart without noise, white patch at 0.8 in green.
std::vector<FittedPatch> simulated(const sim::Camera &camera, const std::string &lamp)
{
    const auto reflectances = sim::chartReflectances(testing::classicChart());
    const auto &light = sim::lamp(lamp).spectrum;
    const double scale = 0.8 / sim::response(camera, camera.lenses[0], light, sim::flatReflectance(1))[1];
    std::vector<FittedPatch> out;
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = sim::response(camera, camera.lenses[0], light, reflectances[i]);
        out.push_back({testing::classicChart().patches[i].id,
                       {rgb[0] * scale, rgb[1] * scale, rgb[2] * scale},
                       testing::classicChart().patches[i].reference});
    }
    return out;
}

Reading readingOf(const std::vector<FittedPatch> &patches)
{
    Reading reading;
    reading.image = "simulated";
    reading.chart = "classic-24";
    reading.found = true;
    for (const auto &p : patches)
        reading.patches.push_back({p.id, p.rgb, {0.01, 0.01, 0.01}, 1000, 0, 0});
    return reading;
}

/// The start of a search that knows nothing of the answer: least squares in XYZ by the normal equations.
Matrix3 leastSquaresInXyz(const std::vector<FittedPatch> &patches)
{
    Matrix3 xyzByRgb{}, rgbByRgb{};
    for (const auto &p : patches) {
        const auto xyz = vectorOf(p.reference);
        const Vector3 rgb{p.rgb.r, p.rgb.g, p.rgb.b};
        for (size_t i = 0; i < 3; ++i)
            for (size_t j = 0; j < 3; ++j) {
                xyzByRgb.rows[i][j] += xyz[i] * rgb[j];
                rgbByRgb.rows[i][j] += rgb[i] * rgb[j];
            }
    }
    return xyzByRgb * *inverse(rgbByRgb);
}

/// The judge: Nelder and Mead (1965) from four starts, one about the answer and three about least squares in
/// XYZ, slow and knowing nothing of derivatives.
double exhaustiveMean(const std::vector<FittedPatch> &patches, uint64_t seed)
{
    using Point = std::array<double, 9>;
    const auto answer = fitLinear(patches)->xyzFromCamera, elsewhere = leastSquaresInXyz(patches);
    const auto value = [&](const Point &p) {
        LinearModel m;
        for (int i = 0; i < 9; ++i)
            m.xyzFromCamera(i / 3, i % 3) = p[size_t(i)];
        return meanDe2000(patches, m);
    };
    sim::Random random(seed);
    double best = 1e9;
    for (int attempt = 0; attempt < 4; ++attempt) {
        std::vector<std::pair<double, Point>> simplex;
        for (int k = 0; k < 10; ++k) {
            Point p;
            for (size_t i = 0; i < 9; ++i)
                p[i] = (attempt == 0 ? answer : elsewhere)(int(i) / 3, int(i) % 3) +
                       (attempt <= 1 ? 0.01 : 0.08) * random.normal();
            simplex.push_back({value(p), p});
        }
        for (int step = 0; step < 4000; ++step) {
            std::sort(simplex.begin(), simplex.end());
            Point centre{};
            for (size_t k = 0; k < 9; ++k)
                for (size_t i = 0; i < 9; ++i)
                    centre[i] += simplex[k].second[i] / 9;
            const auto along = [&](double t) {
                Point p;
                for (size_t i = 0; i < 9; ++i)
                    p[i] = centre[i] + t * (simplex[9].second[i] - centre[i]);
                return std::pair{value(p), p};
            };
            const auto reflected = along(-1);
            if (reflected.first < simplex[0].first) {
                const auto expanded = along(-2);
                simplex[9] = expanded.first < reflected.first ? expanded : reflected;
            } else if (reflected.first < simplex[8].first) {
                simplex[9] = reflected;
            } else {
                const auto contracted = along(reflected.first < simplex[9].first ? -0.5 : 0.5);
                if (contracted.first < std::min(reflected.first, simplex[9].first)) {
                    simplex[9] = contracted;
                } else {
                    for (size_t k = 1; k < 10; ++k) {
                        for (size_t i = 0; i < 9; ++i)
                            simplex[k].second[i] = (simplex[k].second[i] + simplex[0].second[i]) / 2;
                        simplex[k].first = value(simplex[k].second);
                    }
                }
            }
        }
        best = std::min(best, simplex[0].first);
    }
    return best;
}

} // namespace

void FitTest::findsTheTrueMatrixWhenOneExists()
{
    // A camera that is an exact linear transform of XYZ: the answer is known.
    const Matrix3 truth{{{{0.9, 0.4, -0.1}, {0.3, 1.2, -0.2}, {0.05, -0.1, 1.6}}}};
    const auto back = *inverse(truth);
    std::vector<FittedPatch> patches;
    for (const auto &patch : testing::classicChart().patches) {
        const auto rgb = back * vectorOf(patch.reference);
        patches.push_back({patch.id, {rgb[0], rgb[1], rgb[2]}, patch.reference});
    }
    const auto model = *fitLinear(patches);
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs(model.xyzFromCamera(i, j) - truth(i, j)) < 1e-6);
}

void FitTest::isAsGoodAsAnExhaustiveSearch_data()
{
    QTest::addColumn<QString>("model");
    QTest::addColumn<QString>("lamp");
    for (const auto &camera : sim::cameras())
        for (const char *lamp : {"daylight", "led"})
            QTest::addRow("%s, %s", camera.model.c_str(), lamp)
                << QString::fromStdString(camera.model) << QString(lamp);
}

void FitTest::isAsGoodAsAnExhaustiveSearch()
{
    QFETCH(QString, model);
    QFETCH(QString, lamp);
    const auto patches = simulated(sim::camera(model.toStdString()), lamp.toStdString());
    const double ours = meanDe2000(patches, *fitLinear(patches));
    const double best = exhaustiveMean(patches, 11);
    QVERIFY2(ours <= 1.002 * best, qPrintable(QString("%1 against %2").arg(ours).arg(best)));
}

void FitTest::equalBalancedRgbIsTheWhite()
{
    for (const auto &parts : crossings(true)) {
        FitOptions options;
        options.parts = parts;
        const auto c = *fitCalibration(readingOf(simulated(sim::camera("Marram 8"), "tube")),
                                       testing::classicChart(), options);
        const auto white = c.matrix * Vector3{1, 1, 1};
        QVERIFY(std::abs(white[0] - kD50White.x) < 1e-12 && std::abs(white[1] - 1) < 1e-12 &&
                std::abs(white[2] - kD50White.z) < 1e-12);
        QCOMPARE(c.multipliers[1], 1.0);
    }
}

void FitTest::madeUpCamerasAreAsFarFromColorimetricAsRealOnes()
{
    for (const auto &camera : sim::cameras())
        for (const char *lamp : {"daylight", "strobe", "led", "tungsten", "tube"}) {
            const auto patches = simulated(camera, lamp);
            const double mean = meanDe2000(patches, *fitLinear(patches));
            qInfo("%s %s %.3f", camera.model.c_str(), lamp, mean);
            // Real bodies lie at 1 to 2 under daylight; phones and other small sensors near 3.
            const bool poor = camera.model == "Osprey Mini";
            QVERIFY(mean > (poor ? 1.5 : 0.9) && mean < (poor ? 4.0 : 2.2));
        }
}

void FitTest::crossValidationLeavesEachPatchOut()
{
    const auto patches = simulated(sim::camera("Tarn 2"), "led");
    const auto c = *fitCalibration(readingOf(patches), testing::classicChart());
    // The slow way: every fit from scratch; the greys count as one patch.
    std::vector<double> errors, greys;
    for (size_t i = 0; i < patches.size(); ++i) {
        auto others = patches;
        others.erase(others.begin() + ptrdiff_t(i));
        const bool isGrey = std::count(testing::classicChart().neutral.begin(),
                                       testing::classicChart().neutral.end(), patches[i].id) > 0;
        (isGrey ? greys : errors).push_back(de2000Of(patches[i], *fitLinear(others)));
    }
    QCOMPARE(greys.size(), size_t(6));
    errors.push_back(std::accumulate(greys.begin(), greys.end(), 0.0) / 6);
    const auto slow = summaryOf(errors);
    QVERIFY2(std::abs(c.crossValidated.mean - slow.mean) < 0.02 * slow.mean,
             qPrintable(QString("%1 %2").arg(c.crossValidated.mean).arg(slow.mean)));
    QVERIFY(c.crossValidated.mean > c.fit.mean);
}

void FitTest::balanceAgainChangesNothing()
{
    auto patches = simulated(sim::camera("Osprey Mini"), "tungsten");
    FitOptions balance;
    balance.parts = {"balance", "as-shot"};
    const auto first = *fitCalibration(readingOf(patches), testing::classicChart(), balance);
    for (auto &p : patches)
        p.rgb = {p.rgb.r * first.multipliers[0], p.rgb.g, p.rgb.b * first.multipliers[2]};
    const auto second = *fitCalibration(readingOf(patches), testing::classicChart(), balance);
    QVERIFY(std::abs(second.multipliers[0] - 1) < 1e-9 && std::abs(second.multipliers[2] - 1) < 1e-9);
}

void FitTest::clippedPatchesTakeNoPart()
{
    auto reading = readingOf(simulated(sim::camera("Tarn 2"), "daylight"));
    const auto whole = *fitCalibration(reading, testing::classicChart());
    for (auto &p : reading.patches)
        if (p.id == "D1" || p.id == "B6") {
            p.clipped = 0.5;
            p.mean.g = 0.5; // nonsense that would spoil the fit
        }
    const auto c = *fitCalibration(reading, testing::classicChart());
    QCOMPARE(c.patches.size(), size_t(22));
    QVERIFY(std::abs(c.fit.mean - whole.fit.mean) < 0.3);
}

void FitTest::tooFewPatchesAreRefused()
{
    auto reading = readingOf(simulated(sim::camera("Tarn 2"), "daylight"));
    for (size_t i = 5; i < reading.patches.size(); ++i)
        reading.patches[i].clipped = 1;
    const auto refused = fitCalibration(reading, testing::classicChart());
    QVERIFY(!refused);
    QVERIFY(refused.error().message.find("only 5 of 24") != std::string::npos);
}

void FitTest::aGreyGivesABalanceAndNothingElse()
{
    const auto card = *chartFromCatalogue("grey-card");
    Reading reading = readingOf({{"A1", {0.3, 0.5, 0.25}, card.patches[0].reference}});
    reading.chart = card.id;
    FitOptions options;
    options.parts = balanceAlone();
    const auto balance = fitCalibration(reading, card, options);
    QVERIFY(balance && std::abs(balance->multipliers[0] * 0.3 / 0.5 - 1) < 1e-9 &&
            std::abs(balance->multipliers[2] * 0.25 / 0.5 - 1) < 1e-9);
    const auto plane = fitPlane(reading, card, options);
    QVERIFY(plane && plane->size() == 1);
    for (const char *colour : {"matrix", "roots", "field"}) { // one patch determines none
        options.parts = {colour, "as-shot"};
        QVERIFY2(!fitCalibration(reading, card, options), colour);
    }
}

void FitTest::percentilesInterpolate()
{
    // "p95 interpolates linearly between order statistics": 0.95 × 4 = 3.8, between the 4th and the 5th
    const auto s = summaryOf({5, 1, 2, 4, 3});
    QCOMPARE(s.median, 3.0);
    QCOMPARE(s.p95, 4.8);
    QCOMPARE(s.max, 5.0);
    QCOMPARE(s.mean, 3.0);
}

static const testing::Registered<FitTest> registeredFitTest("fit_test");
#include "fit_test.moc"
