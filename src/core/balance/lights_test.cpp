#include "core/balance/lights.h"
#include "core/balance/read_back.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class LightsTest : public QObject
{
    Q_OBJECT
private slots:
    void temperatureAndMultipliersAreInverse_data();
    void temperatureAndMultipliersAreInverse();
    void anAnchorIsMetExactly();
    void warmLightsWantMoreBlue();
    void aLeanIsSoManyStepsOfGreyAndGoesAgain();
    void greysSayWhyTheyDiffer();
    void aCubesOtherFaceIsExplained();
    void presetsKnowTheirCamera();
};

namespace {

// XYZ → camera RGB of a plausible sensor, one matrix for tungsten and one for D65.
const Matrix3 kWarm{{{{1.02, -0.42, -0.10}, {-0.40, 1.21, 0.21}, {-0.06, 0.17, 0.52}}}},
    kCool{{{{0.90, -0.28, -0.09}, {-0.46, 1.28, 0.18}, {-0.10, 0.21, 0.60}}}};

CameraLights camera()
{
    return cameraLightsOf({{{kWarm, 17}, {kCool, 21}}, {}});
}

Reading cube(double otherRed, double noise)
{
    Reading reading;
    reading.chart = "grey-cube";
    reading.found = true;
    for (const char *id : {"A1", "B1", "C1", "A2", "B2", "C2"}) {
        const double level = id[0] == 'A' ? 0.7 : id[0] == 'B' ? 0.2 : 0.03;
        const double side = id[1] == '1' ? 1 : 0.5;
        reading.patches.push_back(
            {id,
             {0.5 * level * side * (id[1] == '2' ? otherRed : 1), level * side, 0.6 * level * side},
             {noise, noise, noise},
             4000,
             0,
             0});
    }
    return reading;
}

} // namespace

void LightsTest::temperatureAndMultipliersAreInverse_data()
{
    QTest::addColumn<double>("kelvin");
    QTest::addColumn<double>("duv");
    QTest::newRow("as in the job: 5 000 K, +0.002") << 5000.0 << 0.002;
    QTest::newRow("tungsten") << 2856.0 << 0.0;
    QTest::newRow("a green tube") << 4100.0 << 0.012;
    QTest::newRow("shade, rosy") << 8200.0 << -0.004;
}

void LightsTest::temperatureAndMultipliersAreInverse()
{
    QFETCH(double, kelvin);
    QFETCH(double, duv);
    const auto multipliers = multipliersFor(camera(), {kelvin, duv});
    QVERIFY(multipliers && (*multipliers)[1] == 1);
    const auto back = temperatureFor(camera(), *multipliers);
    QVERIFY(back && std::abs(back->cctKelvin / kelvin - 1) < 1e-4 && std::abs(back->duv - duv) < 1e-5);
    // and they do make that light neutral: its XYZ through the interpolated matrix, worked out here by hand
    const double share = std::clamp((1e6 / kelvin - 1e6 / 2850) / (1e6 / 6500 - 1e6 / 2850), 0.0, 1.0);
    const auto white = vectorOf(xyzFromChromaticity(chromaticityFromTemperature({kelvin, duv})));
    const Vector3 a = kWarm * white, b = kCool * white;
    const auto at = [&](size_t c) { return (1 - share) * a[c] + share * b[c]; };
    QVERIFY(std::abs((*multipliers)[0] * at(0) / at(1) - 1) < 2e-4 &&
            std::abs((*multipliers)[2] * at(2) / at(1) - 1) < 2e-4);
}

void LightsTest::anAnchorIsMetExactly()
{
    auto one = camera();
    const auto light = lightFromName("D55")->xy;
    one.anchor = {light, Vector3{0.43, 1, 0.71}};
    const auto n = *neutralUnder(one, light);
    QVERIFY(std::abs(n[0] - 0.43) < 1e-12 && std::abs(n[2] - 0.71) < 1e-12);
    const auto back = temperatureFor(one, {1 / 0.43, 1, 1 / 0.71});
    QVERIFY(back && std::abs(back->cctKelvin - temperatureOf(light).cctKelvin) < 1);
}

void LightsTest::warmLightsWantMoreBlue()
{
    const auto ladder = ladderOf(camera(), {{"The LED panel", {5300, 0.004}}});
    QCOMPARE(ladder.size(), size_t(9));
    for (size_t i = 1; i < ladder.size(); ++i)
        QVERIFY(ladder[i].light.cctKelvin >= ladder[i - 1].light.cctKelvin);
    QVERIFY(ladder.front().multipliers[2] > 1.8 * ladder.back().multipliers[2]);
    QVERIFY(ladderOf({}).empty());
}

void LightsTest::aLeanIsSoManyStepsOfGreyAndGoesAgain()
{
    const Matrix3 m{
        {{{0.60, 0.30, 0.0642}, {0.24, 0.90, -0.14}, {0.01, -0.12, 0.9349}}}}; // rows sum to the D50 white
    const Vector3 plain{1.9, 1, 1.5};
    const auto warm = leaned(plain, {3, 1}, m);
    const Vector3 change{warm[0] / plain[0], 1, warm[2] / plain[2]};
    const Lab grey = labFromXyz(xyzOf(m * Vector3{0.34 * change[0], 0.34, 0.34 * change[2]}));
    QVERIFY2(std::abs(grey.b - 3) < 0.15 && std::abs(grey.a - 1) < 0.1,
             qPrintable(QString("%1 %2").arg(grey.a).arg(grey.b)));
    QCOMPARE(leaned(plain, {0, 0}, m), plain);
}

void LightsTest::greysSayWhyTheyDiffer()
{
    auto reading = cube(1.2, 0.001);
    const auto chart = *chartFromCatalogue("grey-cube");
    reading.patches[0].clipped = 0.4;
    const auto balance = *balanceFromPatches(reading, {"B1"});
    for (const auto &state : readBack(reading, chart, balance)) {
        if (state.id == "A1")
            QVERIFY(!state.usable && state.why == NeutralState::Why::Clipped);
        if (state.id == "B1")
            QVERIFY(state.source && state.cast < 1e-9);
        if (state.id == "B2")
            QCOMPARE(state.why, NeutralState::Why::OtherFace);
    }
    auto noisy = cube(1.004, 0.05);
    for (const auto &state : readBack(noisy, chart, *balanceFromPatches(noisy, {"B1"})))
        if (state.id == "B2")
            QCOMPARE(state.why, NeutralState::Why::Noise);
}

void LightsTest::aCubesOtherFaceIsExplained()
{
    const auto chart = *chartFromCatalogue("grey-cube");
    const auto reading = cube(1.3, 0.001); // the fill is warmer
    QCOMPARE(*defaultNeutral(reading, chart), std::string("B1"));
    const auto face = otherFaceOf(reading, chart, *balanceFromPatches(reading, {"B1"}));
    QVERIFY(face && face->chosen == "B1" && face->other == "B2");
    QVERIFY(face->warmth < 0); // balanced by it, the key side would come out cooler
    QVERIFY(!otherFaceOf(reading, chartCatalogue().front(), *balanceFromPatches(reading, {"B1"})));
}

void LightsTest::presetsKnowTheirCamera()
{
    const CameraFacts camera{"Skerrow", "Tarn 2", "1", "60 mm", 100, 0.01, 8, "", ""};
    auto other = camera;
    using Kind = PresetVerdict::Kind;
    QCOMPARE(verdictOn({"north", "", camera}, camera).kind, Kind::Holds);
    other.serial = "2";
    QCOMPARE(verdictOn({"north", "", camera}, other).kind, Kind::OtherBody);
    other.lens = "90 mm";
    QCOMPARE(verdictOn({"north", "", camera}, other).kind, Kind::OtherLens);
    QVERIFY(!verdictOn({"north", "", camera}, other).refuses());
    other.model = "Marram 8";
    QVERIFY(verdictOn({"north", "", camera}, other).refuses());
}

static const testing::Registered<LightsTest> registeredLightsTest("lights_test");
#include "lights_test.moc"
