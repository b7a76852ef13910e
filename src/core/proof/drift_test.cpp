#include "core/fit/fit.h"
#include "core/proof/drift.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

namespace {

const ChartDefinition &classic()
{
    return chartCatalogue().front();
}

/// The chart as a body sees it under a light, white at 0.6; `change` of a patch's place and camera RGB.
Reading seenUnder(const Spectrum &light, const std::vector<Spectrum> &patches,
                  const std::function<void(double, double, Vector3 &)> &change = {})
{
    const auto &body = sim::cameras().front();
    const auto white =
        sim::response(body, body.lenses[0], sim::lamp("strobe").spectrum, sim::flatReflectance(1));
    Reading out;
    out.found = true;
    out.chart = classic().id;
    out.camera.exposureSeconds = 0.01;
    out.fileColor.matrices = {{sim::publishedColorMatrix(body), 21}};
    const auto extent = chartExtent(classic());
    for (size_t i = 0; i < 24; ++i) {
        const auto centre = patchCentre(classic(), int(i) / 6, int(i) % 6);
        auto rgb = sim::response(body, body.lenses[0], light, patches[i]);
        for (auto &value : rgb)
            value *= 0.6 / white[1];
        if (change)
            change(2 * centre.x / extent.x - 1, 2 * centre.y / extent.y - 1, rgb);
        PatchReading patch;
        patch.id = classic().patches[i].id;
        patch.count = 4000;
        patch.mean = {rgb[0], rgb[1], rgb[2]};
        patch.sd = {0.003, 0.003, 0.003};
        out.patches.push_back(patch);
    }
    return out;
}

} // namespace

class DriftTest : public QObject
{
    Q_OBJECT

    const Spectrum m_light = sim::lamp("strobe").spectrum;
    const std::vector<Spectrum> m_patches = sim::chartReflectances(classic());
    Calibration m_calibration;

    DriftCheck after(const Reading &reading, const DriftOptions &options = {}) const
    {
        const auto check = driftOf(m_calibration, reading, classic(), options);
        if (!check)
            qFatal("%s", check.error().message.c_str());
        return *check;
    }

private slots:
    void initTestCase() { m_calibration = *fitCalibration(seenUnder(m_light, m_patches), classic()); }

    void nothingChangedIsNotAWord()
    {
        const auto check = after(seenUnder(m_light, m_patches));
        QVERIFY(check.causes.empty());
        QVERIFY(check.passes);
        QCOMPARE(check.advice, DriftAdvice::None);
        QVERIFY(std::abs(check.mean - check.was) < 1e-9);
    }

    void aWeakerLampIsPower()
    {
        const auto check = after(seenUnder(m_light, m_patches, [](double, double, Vector3 &rgb) {
            for (auto &value : rgb)
                value *= std::exp2(-0.4);
        }));
        QCOMPARE(check.causes.size(), size_t(1));
        QCOMPARE(check.causes[0].cause, DriftCause::Power);
        QVERIFY(std::abs(check.causes[0].amount + 0.4) < 0.01);
        QVERIFY(check.causes[0].explains > 0.99);
        QVERIFY(!check.passes);
        QCOMPARE(check.advice, DriftAdvice::Exposure);
    }

    void aLongerExposureIsNoDrift()
    {
        auto reading = seenUnder(m_light, m_patches, [](double, double, Vector3 &rgb) {
            for (auto &value : rgb)
                value /= 2;
        });
        DriftOptions options;
        options.settingStops = {-1, 0};
        const auto check = after(reading, options);
        QVERIFY(check.causes.empty());
        QVERIFY(check.passes);
        QVERIFY(!after(reading).passes);
    }

    void aWarmerLampIsTemperature()
    {
        const auto before = planckian(5000), warm = planckian(4500);
        const auto light = spectrumFrom([&](double nm) {
            return m_light.at(nm) * warm.at(nm) / before.at(nm) * before.at(560) / warm.at(560);
        });
        const auto check = after(seenUnder(light, m_patches));
        QVERIFY(!check.causes.empty());
        QCOMPARE(check.causes[0].cause, DriftCause::Temperature);
        QVERIFY(check.causes[0].amount > 0);
        QCOMPARE(check.advice, DriftAdvice::ShootAgain);
    }

    void aTurnedLampIsOneSide()
    {
        auto options = DriftOptions{};
        options.side = [](const ChartPoint &way) { return way.x < 0 ? Side::Left : Side::Right; };
        const auto check = after(seenUnder(m_light, m_patches,
                                           [](double u, double, Vector3 &rgb) {
                                               for (auto &value : rgb)
                                                   value *= std::exp(0.06 * u);
                                           }),
                                 options);
        QCOMPARE(check.causes.size(), size_t(1));
        QCOMPARE(check.causes[0].cause, DriftCause::OneSide);
        QVERIFY(std::abs(check.causes[0].amount - 100 * (std::exp(0.12) - 1)) < 1);
        QCOMPARE(check.causes[0].side, Side::Left);
    }

    void aVeilIsStrayLight()
    {
        const auto white =
            seenUnder(m_light, std::vector<Spectrum>(24, sim::flatReflectance(1))).patches[0].mean;
        const auto check = after(seenUnder(m_light, m_patches, [&](double, double, Vector3 &rgb) {
            rgb[0] += 0.03 * white.r;
            rgb[1] += 0.03 * white.g;
            rgb[2] += 0.03 * white.b;
        }));
        QVERIFY(!check.causes.empty());
        QCOMPARE(check.causes[0].cause, DriftCause::StrayLight);
        QVERIFY(std::abs(check.causes[0].amount - 3) < 0.3);
    }

    void soiledPatchesAreTheCharts()
    {
        auto patches = m_patches;
        for (const size_t i : {3, 15})
            patches[i] = spectrumFrom([&](double nm) { return 0.7 * m_patches[i].at(nm) + 0.3 * 0.2; });
        const auto check = after(seenUnder(m_light, patches));
        QCOMPARE(check.causes.size(), size_t(1));
        QCOMPARE(check.causes[0].cause, DriftCause::Chart);
        QCOMPARE(check.causes[0].patches, (std::vector<std::string>{"A4", "C4"}));
        QCOMPARE(check.advice, DriftAdvice::NewChart);
    }

    void twoCausesAreBothNamed()
    {
        auto patches = m_patches;
        patches[8] = spectrumFrom([&](double nm) { return 0.6 * m_patches[8].at(nm) + 0.4 * 0.3; });
        const auto check = after(seenUnder(m_light, patches, [](double, double, Vector3 &rgb) {
            for (auto &value : rgb)
                value *= std::exp2(0.3);
        }));
        QCOMPARE(check.causes.size(), size_t(2));
        QCOMPARE(check.causes[0].cause, DriftCause::Power);
        QCOMPARE(check.causes[1].cause, DriftCause::Chart);
    }

    void anotherChartIsRefused()
    {
        auto reading = seenUnder(m_light, m_patches);
        reading.chart = "grid-4x6";
        const auto check = driftOf(m_calibration, reading, classic());
        QVERIFY(!check);
        QVERIFY(check.error().message.find("grid-4x6") != std::string::npos);
    }
};

static const testing::Registered<DriftTest> registeredDriftTest("drift_test");
#include "drift_test.moc"
