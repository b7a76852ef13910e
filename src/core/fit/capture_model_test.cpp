#include "core/chart/chart_definition.h"
#include "core/fit/capture_model.h"
#include "core/fit/straight_tone.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class CaptureModelTest : public QObject
{
    Q_OBJECT
private slots:
    void whatWasPutInComesOut_data();
    void whatWasPutInComesOut();
    void spoiltPatchesHaveNoSay();
    void realCamerasLeaveLittleBias_data();
    void realCamerasLeaveLittleBias();
    void contrastIsNoUnevenLight();
    void tooFewOrTooAlikeIsNoModel();
};

namespace {

struct Staged
{
    double gainX = 0, gainY = 0, flare = 0, noise = 0;
};

/// Camera RGB of every patch: a matrix camera when no body is named, else a spectral one.
std::vector<PlacedPatch> staged(const Staged &s, const char *body = nullptr)
{
    const Matrix3 matrix{{{{0.7, 0.1, -0.05}, {-0.1, 0.9, 0.1}, {0.02, 0.05, 0.8}}}};
    const auto reflectances = sim::chartReflectances(testing::classicChart());
    const auto rgbOf = [&](size_t i) {
        if (!body)
            return matrix * vectorOf(testing::classicChart().patches[i].reference);
        const auto &camera = sim::camera(body);
        auto rgb = sim::response(camera, camera.lenses[0], sim::lamp("daylight").spectrum, reflectances[i]);
        const double white = sim::response(camera, camera.lenses[0], sim::lamp("daylight").spectrum,
                                           sim::flatReflectance(1))[1];
        for (auto &v : rgb)
            v /= white;
        return rgb;
    };
    Vector3 veil = matrix * vectorOf(kD50White);
    if (body) {
        const auto &camera = sim::camera(body);
        veil =
            sim::response(camera, camera.lenses[0], sim::lamp("daylight").spectrum, sim::flatReflectance(1));
        veil = {veil[0] / veil[1], 1, veil[2] / veil[1]};
    }
    sim::Random random(3);
    std::vector<PlacedPatch> out;
    for (size_t i = 0; i < 24; ++i) {
        PlacedPatch p;
        p.u = double(i % 6) / 2.5 - 1;
        p.v = double(i / 6) / 1.5 - 1;
        // light that changes evenly in stops; half the difference between opposite edges is gainX, gainY
        const double gain = std::exp(std::asinh(s.gainX) * p.u + std::asinh(s.gainY) * p.v);
        const auto rgb = rgbOf(i);
        const auto level = [&](size_t c) {
            return (gain * rgb[c] + s.flare * veil[c]) * (1 + s.noise * random.normal());
        };
        p.patch = {testing::classicChart().patches[i].id,
                   {level(0), level(1), level(2)},
                   testing::classicChart().patches[i].reference};
        out.push_back(p);
    }
    return out;
}

} // namespace

void CaptureModelTest::whatWasPutInComesOut_data()
{
    QTest::addColumn<double>("gx");
    QTest::addColumn<double>("gy");
    QTest::addColumn<double>("flare");
    QTest::newRow("nothing") << 0.0 << 0.0 << 0.0;
    QTest::newRow("left to right") << 0.15 << 0.0 << 0.0;
    QTest::newRow("top to bottom") << 0.0 << -0.12 << 0.0;
    QTest::newRow("flare") << 0.0 << 0.0 << 0.05;
    QTest::newRow("all at once") << -0.1 << 0.08 << 0.03;
}

void CaptureModelTest::whatWasPutInComesOut()
{
    QFETCH(double, gx);
    QFETCH(double, gy);
    QFETCH(double, flare);
    const auto model = fitCaptureModel(staged({gx, gy, flare, 0.002}));
    QVERIFY(model);
    // noise of 0.2 % on 24 patches; the weak pull towards none costs a few per cent of the value itself
    QVERIFY2(std::abs(model->gainX - gx) < 0.004, qPrintable(QString::number(model->gainX)));
    QVERIFY2(std::abs(model->gainY - gy) < 0.004, qPrintable(QString::number(model->gainY)));
    QVERIFY2(std::abs(model->flare - flare) < 0.0015, qPrintable(QString::number(model->flare)));
}

void CaptureModelTest::spoiltPatchesHaveNoSay()
{
    auto patches = staged({0.1, 0, 0.01, 0.002});
    patches[3].patch.rgb = {0.4, 0.35, 0.3}; // a finger
    patches[14].patch.rgb = {0.02, 0.02, 0.02};
    patches[20].patch.rgb.r *= 1.6;
    const auto model = fitCaptureModel(patches);
    QVERIFY(model);
    QVERIFY(std::abs(model->gainX - 0.1) < 0.006 && std::abs(model->gainY) < 0.006 &&
            std::abs(model->flare - 0.01) < 0.003);
    QVERIFY(model->left[3].y > 0.1 &&
            model->left[14].y < -0.05); // and what is wrong with them is what is left
    for (const size_t clean : {0U, 7U, 12U, 18U})
        QVERIFY(std::abs(model->left[clean].y) < 0.01);
}

void CaptureModelTest::realCamerasLeaveLittleBias_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<double>("slack"); // on the gains; colours that no matrix explains pull at them
    QTest::newRow("Tarn 2") << "Tarn 2" << 0.015;
    QTest::newRow("Marram 8") << "Marram 8" << 0.015;
    QTest::newRow("Osprey Mini") << "Osprey Mini" << 0.03;
}

void CaptureModelTest::realCamerasLeaveLittleBias()
{
    QFETCH(QString, body);
    QFETCH(double, slack);
    const auto name = body.toStdString();
    for (const auto &[gx, flare] : {std::pair{0.0, 0.0}, {0.12, 0.0}, {0.0, 0.04}, {-0.12, 0.03}}) {
        const auto model = fitCaptureModel(staged({gx, 0, flare, 0.002}, name.c_str()));
        QVERIFY(model);
        QVERIFY2(std::abs(model->gainX - gx) < slack,
                 qPrintable(QString("%1 for %2").arg(model->gainX).arg(gx)));
        QVERIFY2(std::abs(model->flare - flare) < 0.006,
                 qPrintable(QString("%1 for %2").arg(model->flare).arg(flare)));
    }
}

/// A finished picture's tone curve is no light: not on an even chart, and real light is told through it.
void CaptureModelTest::contrastIsNoUnevenLight()
{
    const auto curved = [](std::vector<PlacedPatch> patches) {
        for (auto &p : patches) {
            auto &rgb = p.patch.rgb;
            for (auto *v :
                 {&rgb.r, &rgb.g, &rgb.b}) { // a slope of 2 about middle grey, flatter in the lights
                const double x = std::log(std::max(*v, 1e-5) / 0.18);
                *v = 0.18 * std::exp(2 * x - 0.12 * x * x);
            }
        }
        return patches;
    };
    const auto &neutral = testing::classicChart().neutral;
    const auto swing = [](const std::vector<PlacedPatch> &patches) {
        const auto model = fitCaptureModel(patches);
        return model ? std::abs(model->gainX) + std::abs(model->gainY) : 1.0;
    };
    const auto even = curved(staged({}));
    QVERIFY2(swing(even) > 0.04, qPrintable(QString::number(swing(even)))); // what it was taken for
    const double left = swing(withStraightTone(even, neutral));
    QVERIFY2(left < 0.02, qPrintable(QString::number(left)));
    const auto lit = fitCaptureModel(withStraightTone(curved(staged({0.1, 0.06})), neutral));
    QVERIFY2(lit && std::abs(lit->gainX - 0.1) < 0.04 && std::abs(lit->gainY - 0.06) < 0.04,
             qPrintable(QString("%1 %2").arg(lit->gainX).arg(lit->gainY)));
    // with too few neutrals nothing is changed
    const auto same = withStraightTone(even, {"D1", "D6"});
    QCOMPARE(same.front().patch.rgb.g, even.front().patch.rgb.g);
}

void CaptureModelTest::tooFewOrTooAlikeIsNoModel()
{
    auto patches = staged({});
    patches.resize(9);
    QVERIFY(!fitCaptureModel(patches));
    auto greys = staged({});
    for (auto &p : greys)
        p.patch.reference = {kD50White.x * 0.3, 0.3, kD50White.z * 0.3};
    QVERIFY(!fitCaptureModel(greys));
}

static const testing::Registered<CaptureModelTest> registeredCaptureModelTest("capture_model_test");
#include "capture_model_test.moc"
