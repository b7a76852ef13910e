#include "core/capture/capture_checks.h"
#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/reflectance.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>

using namespace wavechroma;

class CaptureChecksTest : public QObject
{
    Q_OBJECT
private slots:
    void aGoodFramePassesAll();
    void exposureIsInStopsFromTheAim_data();
    void exposureIsInStopsFromTheAim();
    void aClippedWhiteSaysHowFarToCloseDown();
    void noisyPatchesAreNamed();
    void aColourOutsideOfThePicturesSpaceIsNoNoise();
    void aWrongPatternStops();
    void unevenLightIsToldBySideAndShare_data();
    void unevenLightIsToldBySideAndShare();
    void aShadowIsToldBySideStopsAndPatches_data();
    void aShadowIsToldBySideStopsAndPatches();
    void smoothLightIsNoShadow_data();
    void smoothLightIsNoShadow();
    void flareGlareFingersAndBlurAreTold();
    void colourAloneStopsNothing();
    void cleanFramesOfEveryCameraAndLampPass_data();
    void cleanFramesOfEveryCameraAndLampPass();
    void withoutAChartOnlyFoundRuns();
};

namespace {

/// A frame whose white's strongest channel lies this many stops from the aim.
Reading frameAt(double stops, double noise = 0.005)
{
    Reading reading;
    reading.found = true;
    reading.confidence = 1;
    const double white = 0.70 * std::exp2(stops) / testing::classicChart().patch("D1")->reference.y;
    for (const auto &patch : testing::classicChart().patches) {
        const double g = white * patch.reference.y;
        reading.patches.push_back(
            {patch.id, {0.6 * g, g, 0.5 * g}, {noise * g, noise * g, noise * g}, 4000, g > 1 ? 1.0 : 0.0, 0});
    }
    return reading;
}

/// What captureEvidence() finds, without a frame.
CaptureEvidence evidenceOf(const Reading &reading)
{
    CaptureEvidence evidence;
    evidence.match = 0.99;
    evidence.edges = EdgeSpread{1, 1, 20};
    for (size_t i = 0; i < 24; ++i)
        if (reading.patches[i].clipped == 0)
            evidence.patches.push_back({{reading.patches[i].id, reading.patches[i].mean,
                                         testing::classicChart().patches[i].reference},
                                        double(i % 6) / 2.5 - 1,
                                        double(i / 6) / 1.5 - 1});
    evidence.model = fitCaptureModel(evidence.patches);
    return evidence;
}

/// Every outcome that is met has its row, which words go by.
const Check &named(const std::vector<Check> &checks, const char *name)
{
    const auto &check = *std::find_if(checks.begin(), checks.end(),
                                      [&](const auto &c) { return nameOf(c.id) == std::string(name); });
    for (const auto *finding : rowOf(check.id).findings)
        if (finding && check.finding == finding)
            return check;
    qFatal("%s: %s is none of its findings", name, check.finding.c_str());
}

} // namespace

void CaptureChecksTest::aGoodFramePassesAll()
{
    const auto checks = captureChecks(frameAt(0), testing::classicChart(), evidenceOf(frameAt(0)));
    QCOMPARE(checks.size(), kChecks.size()); // "A check that ran is listed whatever it found."
    for (size_t i = 0; i < checks.size(); ++i)
        QCOMPARE(checks[i].id, kChecks[i].id);
    for (const auto &check : checks)
        QVERIFY2(check.severity == Severity::Ok, nameOf(check.id));
}

void CaptureChecksTest::exposureIsInStopsFromTheAim_data()
{
    QTest::addColumn<double>("stops");
    QTest::addColumn<int>("severity");
    QTest::addColumn<QString>("finding");
    QTest::newRow("on it") << 0.0 << int(Severity::Ok) << "at-aim";
    QTest::newRow("a third under") << -0.33 << int(Severity::Ok) << "under";
    QTest::newRow("one and a half under") << -1.33 << int(Severity::Warn) << "under";
    QTest::newRow("hopeless") << -4.0 << int(Severity::Stop) << "under";
}

void CaptureChecksTest::exposureIsInStopsFromTheAim()
{
    QFETCH(double, stops);
    QFETCH(int, severity);
    QFETCH(QString, finding);
    const auto check = checkExposure(frameAt(stops), testing::classicChart(), {});
    QVERIFY(std::abs(check.value - stops) < 1e-9);
    QCOMPARE(int(check.severity), severity);
    QCOMPARE(QString::fromStdString(check.finding), finding);
    // how far to open up is said where it matters
    QCOMPARE(check.stops.value_or(0), severity == int(Severity::Ok) ? 0 : std::abs(check.value));
}

void CaptureChecksTest::aClippedWhiteSaysHowFarToCloseDown()
{
    const auto checks = captureChecks(frameAt(1), testing::classicChart(), evidenceOf(frameAt(1)));
    const auto &clipping = named(checks, "clipping");
    QCOMPARE(clipping.severity, Severity::Stop);
    QVERIFY(std::count(clipping.patches.begin(), clipping.patches.end(), "D1"));
    QVERIFY(std::abs(*clipping.stops - 1) < 1e-9);
    // the clipped white is judged by a grey that is not clipped
    QVERIFY(std::abs(named(checks, "exposure").value - 1) < 1e-9);
    auto covered = frameAt(-0.2); // a finger on the white: the other greys tell the exposure
    auto &white = *std::find_if(covered.patches.begin(), covered.patches.end(),
                                [](const auto &p) { return p.id == "D1"; });
    white.mean = {0.08, 0.07, 0.05};
    QVERIFY(std::abs(checkExposure(covered, testing::classicChart(), {}).value + 0.2) < 1e-6);
}

void CaptureChecksTest::noisyPatchesAreNamed()
{
    auto reading = frameAt(-2);
    reading.patches[23].sd = {0.4, 0.4, 0.4}; // D6
    const auto check = checkUnderexposure(reading, {});
    QCOMPARE(check.severity, Severity::Warn);
    QCOMPARE(check.patches, std::vector<std::string>{"D6"});
    for (auto &patch : reading.patches)
        patch.sd = {0.4, 0.4, 0.4};
    QCOMPARE(checkUnderexposure(reading, {}).severity, Severity::Stop);
}

void CaptureChecksTest::aColourOutsideOfThePicturesSpaceIsNoNoise()
{
    auto picture = frameAt(0);
    auto &cyan = picture.patches[17]; // C6: red is at its end
    cyan.mean = {0, 0.2, 0.3};
    cyan.low = 0.9;
    QCOMPARE(checkUnderexposure(picture, {}).severity, Severity::Warn); // of a raw frame it is noise
    picture.fileColor.xyzD50FromRendered = diagonal({1, 1, 1});
    const auto check = checkUnderexposure(picture, {});
    QCOMPARE(check.severity, Severity::Ok);
    QCOMPARE(check.finding, std::string("gamut"));
    QCOMPARE(check.patches, std::vector<std::string>{"C6"});
    cyan.mean = {0, 0.002, 0.003}; // a dark one is
    QCOMPARE(checkUnderexposure(picture, {}).severity, Severity::Warn);
}

void CaptureChecksTest::aWrongPatternStops()
{
    QCOMPARE(checkMatch(testing::classicChart(), 0.7, {}).severity, Severity::Stop);
    QCOMPARE(checkMatch(testing::classicChart(), 0.95, {}).severity, Severity::Ok);
}

namespace {

/// A simulated frame of the chart under a lamp, with mishaps painted into the scene, through search and
/// sampling.
struct Staged
{
    double gradientX = 0, gradientY = 0, flare = 0, blur = 0.8, turn = 0;
    std::optional<std::pair<int, Spectrum>> painted; ///< a patch that was printed with this reflectance
    std::optional<std::pair<int, Spectrum>> taped;   ///< a patch with a tape of this one over it and beyond
    std::optional<int> reflecting;                   ///< a patch with a lamp's reflection in its middle
    int orientation = 1;
    const char *camera = "Tarn 2", *lamp = "daylight";
    std::optional<sim::Shade> shade = {};
    sim::HotSpot hotSpot = {};

    std::vector<Check> checks() const
    {
        sim::Scene scene;
        scene.background = sim::addMaterial(scene, sim::flatReflectance(0.3));
        scene.gradientX = gradientX;
        scene.gradientY = gradientY;
        scene.shade = shade;
        scene.hotSpot = hotSpot;
        scene.flare = flare;
        scene.blurPixels = blur;
        sim::PrintedChart printed;
        printed.chart = testing::classicChart();
        for (const auto &r : sim::chartReflectances(testing::classicChart()))
            printed.patchMaterials.push_back(sim::addMaterial(scene, r));
        if (painted)
            printed.patchMaterials[size_t(painted->first)] = sim::addMaterial(scene, painted->second);
        printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
        printed.corners = sim::cornersAt(testing::classicChart(), {{750, 500}, 900, turn, 0, 0, 6});
        scene.things.push_back(printed);
        const auto place = *homographyFrom(printed.chart, printed.corners);
        const auto middleOf = [&](int patch) { return patchCentre(printed.chart, patch / 6, patch % 6); };
        if (taped) {
            sim::Polygon tape{{}, sim::addMaterial(scene, taped->second)};
            const auto at = middleOf(taped->first);
            for (const auto &[x, y] : {std::pair{-24, -60}, {24, -60}, {24, 60}, {-24, 60}})
                tape.points.push_back(place.at({at.x + x, at.y + y}));
            scene.things.push_back(tape);
        }
        if (reflecting)
            scene.glows.push_back(
                {place.at(middleOf(*reflecting)), 0.35 * pitchPixels(printed.chart, place), 0.3});
        sim::Shot shot;
        shot.width = 1500;
        shot.height = 1000;
        shot.exposure = 0.7;
        auto body = sim::camera(camera);
        body.lenses[0].vignetting = 0;
        auto frame = sim::rawFrameOf(sim::expose(scene, body, sim::lamp(lamp), shot));
        frame.orientation = orientation;
        const auto reading = *readChart(frame, testing::classicChart());
        return captureChecks(reading, testing::classicChart(),
                             captureEvidence(frame, reading, testing::classicChart()));
    }
};

} // namespace

void CaptureChecksTest::unevenLightIsToldBySideAndShare_data()
{
    QTest::addColumn<double>("gx");
    QTest::addColumn<double>("gy");
    QTest::addColumn<double>("turn");
    QTest::addColumn<int>("orientation");
    QTest::addColumn<int>("side");
    QTest::newRow("even") << 0.0 << 0.0 << 0.0 << 1 << int(Side::None);
    QTest::newRow("left dark") << 0.3 << 0.0 << 0.0 << 1 << int(Side::Left);
    QTest::newRow("right dark") << -0.3 << 0.0 << 0.0 << 1 << int(Side::Right);
    QTest::newRow("top dark") << 0.0 << 0.5 << 0.0 << 1 << int(Side::Top);
    QTest::newRow("chart upside down")
        << 0.3 << 0.0 << 180.0 << 1 << int(Side::Left); // of the picture, not of the chart
    QTest::newRow("camera on its side")
        << 0.0 << 0.5 << 90.0 << 6 << int(Side::Right); // shown turned by 90° clockwise
}

void CaptureChecksTest::unevenLightIsToldBySideAndShare()
{
    QFETCH(double, gx);
    QFETCH(double, gy);
    QFETCH(double, turn);
    QFETCH(int, orientation);
    QFETCH(int, side);
    Staged staged;
    staged.gradientX = gx;
    staged.gradientY = gy;
    staged.turn = turn;
    staged.orientation = orientation;
    for (const char *lamp : {"daylight", "led"}) {
        staged.lamp = lamp;
        const auto checks = staged.checks();
        const auto &check = named(checks, "evenness");
        QVERIFY(check.finding == (side == int(Side::None) ? "even" : "side") && int(check.side) == side);
        // the chart spans 0.6 of the frame's width, or half its height at that shape: gain 1 ± g·0.3, darkest
        // to lightest
        const double along =
            std::abs(gx) * (turn == 90 ? 0.4 : 0.6) + std::abs(gy) * (turn == 90 ? 0.9 : 0.594);
        QVERIFY2(std::abs(check.value - along / (1 + along / 2)) < 0.035,
                 qPrintable(QString("%1 for %2").arg(check.value).arg(along / (1 + along / 2))));
        QCOMPARE(check.severity, gx == 0 && gy == 0 ? Severity::Ok : Severity::Warn);
    }
}

void CaptureChecksTest::aShadowIsToldBySideStopsAndPatches_data()
{
    QTest::addColumn<double>("x"); // of the edge, from the picture's left; the chart lies from 300 to 1 200
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("stops");
    QTest::addColumn<int>("side");
    QTest::addColumn<QString>("patches"); // without those that the edge lies on
    QTest::newRow("right half") << 748.0 << 0.0 << 1.5 << int(Side::Right)
                                << "A4 A5 A6 B4 B5 B6 C4 C5 C6 D4 D5 D6";
    QTest::newRow("left third, faint")
        << 600.0 << 180.0 << 0.5 << int(Side::Left) << "A1 A2 B1 B2 C1 C2 D1 D2";
    QTest::newRow("over a column") << 970.0 << 0.0 << 2.2 << int(Side::Right) << "A6 B6 C6 D6";
    QTest::newRow("a corner, deep") << 800.0 << 40.0 << 2.5 << int(Side::Right) << "A6 B5 B6 C5 C6 D4 D5 D6";
}

/// With its edge among the patches a chart is found and placed as well as without, though half of it has a
/// third of the light.
void CaptureChecksTest::aShadowIsToldBySideStopsAndPatches()
{
    QFETCH(double, x);
    QFETCH(double, degrees);
    QFETCH(double, stops);
    QFETCH(int, side);
    QFETCH(QString, patches);
    Staged staged;
    const double share = std::exp2(-stops);
    staged.shade = sim::Shade{{x, 500}, degrees * 0.0174533, 1e9, 6, {0.96 * share, share, 1.05 * share}};
    staged.gradientX = 0.1;
    const auto checks = staged.checks();
    QVERIFY(named(checks, "found").severity == Severity::Ok);
    const auto &check = named(checks, "shadow");
    QVERIFY2(check.severity == Severity::Stop && check.finding == "edge",
             qPrintable(QString::number(check.value)));
    QVERIFY2(std::abs(check.value - stops) < 0.12, qPrintable(QString::number(check.value)));
    QCOMPARE(check.stops.value_or(0), check.value);
    QCOMPARE(int(check.side), side);
    for (const auto &id : patches.split(' '))
        QVERIFY2(std::count(check.patches.begin(), check.patches.end(), id.toStdString()) == 1,
                 qPrintable(id));
    // and no patch whose middle lies in the light, farther from the edge than half a patch
    const double across = std::cos(degrees * 0.0174533), down = std::sin(degrees * 0.0174533);
    for (const auto &id : check.patches) {
        const double u = 300 + 900 * (id[1] - '1' + 0.5) / 6, v = 200 + 600 * (id[0] - 'A' + 0.5) / 4;
        const double behind = (u - x) * across + (v - 500) * down;
        QVERIFY2(behind > -75, (id + " lies in the light").c_str());
    }
    for (const char *other : {"obstruction", "glare", "match"})
        QVERIFY2(named(checks, other).severity == Severity::Ok, other);
}

void CaptureChecksTest::smoothLightIsNoShadow_data()
{
    QTest::addColumn<double>("gradient");
    QTest::addColumn<double>("spot");
    QTest::newRow("half as much light at one side") << 0.6 << 0.0;
    QTest::newRow("a hot spot") << 0.0 << 0.4;
    QTest::newRow("a dark spot and a gradient") << 0.3 << -0.3;
}

void CaptureChecksTest::smoothLightIsNoShadow()
{
    QFETCH(double, gradient);
    QFETCH(double, spot);
    Staged staged;
    staged.gradientX = gradient;
    staged.hotSpot = {{620, 430}, 330, spot};
    for (const char *camera : {"Tarn 2", "Marram 8", "Osprey Mini"}) {
        staged.camera = camera;
        const auto check = named(staged.checks(), "shadow");
        QVERIFY2(check.severity == Severity::Ok && check.finding == "none", camera);
    }
}

void CaptureChecksTest::flareGlareFingersAndBlurAreTold()
{
    Staged veiled;
    veiled.flare = 0.04;
    const auto veil = named(veiled.checks(), "flare");
    QCOMPARE(veil.severity, Severity::Warn);
    QVERIFY2(std::abs(veil.value - 0.04) < 0.006, qPrintable(QString::number(veil.value)));

    Staged shiny;
    shiny.reflecting = 15;
    const auto glare = named(shiny.checks(), "glare");
    QCOMPARE(glare.severity, Severity::Stop);
    QCOMPARE(glare.patches, std::vector<std::string>{"C4"});

    Staged covered; // blue, and half of what is above and below it
    covered.taped = {12, *sim::reflectanceOf({62, 18, 20}, 8)};
    const auto tape = named(covered.checks(), "obstruction");
    QCOMPARE(tape.severity, Severity::Stop);
    QVERIFY(std::count(tape.patches.begin(), tape.patches.end(), "C1") == 1);

    Staged soft;
    soft.blur = 3.5;
    const auto focus = named(soft.checks(), "focus");
    QCOMPARE(focus.severity, Severity::Warn);
    QVERIFY2(std::abs(focus.value - 3.5) < 0.5, qPrintable(QString::number(focus.value)));
}

/// What a sensor makes of a colour is no sign that something lies on it: that shows in the picture.
void CaptureChecksTest::colourAloneStopsNothing()
{
    Staged faded; // further off than the limit, under two and a half times of it
    const auto blue = sim::chartReflectances(testing::classicChart())[12];
    faded.painted = {12, spectrumFrom([&](double nm) { return 0.62 * blue.at(nm) + 0.02; })};
    for (const auto &check : faded.checks())
        if (check.id == CheckId::Glare || check.id == CheckId::Obstruction)
            QVERIFY2(check.severity == Severity::Ok && check.value < check.limit, nameOf(check.id));

    Staged other; // skin in the place of blue
    other.painted = {12, *sim::reflectanceOf({62, 18, 20}, 8)};
    const auto colour = named(other.checks(), "obstruction");
    QCOMPARE(colour.severity, Severity::Warn);
    QCOMPARE(colour.finding, std::string("colour"));
    QCOMPARE(colour.patches, std::vector<std::string>{"C1"});

    Staged shiny; // white light on yellow and nothing of it beside
    const auto yellow = sim::chartReflectances(testing::classicChart())[15];
    shiny.painted = {15, spectrumFrom([&](double nm) { return std::min(0.98, yellow.at(nm) + 0.15); })};
    QCOMPARE(named(shiny.checks(), "glare").severity, Severity::Ok);
}

void CaptureChecksTest::cleanFramesOfEveryCameraAndLampPass_data()
{
    QTest::addColumn<QString>("camera");
    QTest::addColumn<QString>("lamp");
    for (const auto &camera : sim::cameras())
        for (const auto &lamp : sim::lamps())
            QTest::addRow("%s, %s", camera.model.c_str(), lamp.name.c_str())
                << QString::fromStdString(camera.model) << QString::fromStdString(lamp.name);
}

void CaptureChecksTest::cleanFramesOfEveryCameraAndLampPass()
{
    QFETCH(QString, camera);
    QFETCH(QString, lamp);
    const auto model = camera.toStdString(), light = lamp.toStdString();
    Staged staged;
    staged.camera = model.c_str();
    staged.lamp = light.c_str();
    for (const auto &check : staged.checks())
        if (check.id != CheckId::Exposure &&
            check.id != CheckId::Clipping) // tungsten fills red first, at any aim
            QVERIFY2(check.severity == Severity::Ok, nameOf(check.id));
}

void CaptureChecksTest::withoutAChartOnlyFoundRuns()
{
    const auto checks = captureChecks(Reading{}, testing::classicChart(), {});
    QCOMPARE(checks.size(), size_t(1));
    QCOMPARE(checks[0].id, CheckId::Found);
    QCOMPARE(checks[0].severity, Severity::Stop);
}

static const testing::Registered<CaptureChecksTest> registeredCaptureChecksTest("capture_checks_test");
#include "capture_checks_test.moc"
