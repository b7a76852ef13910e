#include "core/capture/compare_frames.h"
#include "core/capture/frame_levels.h"
#include "core/capture/scale.h"
#include "core/sim/frame_in_memory.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Frames beside each other, and one frame's levels and scale.
class CompareFramesTest : public QObject
{
    Q_OBJECT
private slots:
    void theBestOfABracketIsChosen();
    void theStillestOfABurstIsChosen();
    void aMovedLightIsToldInStopsAndWarmth();
    void theScaleComesFromTheChartsSize();
    void whoeverReachesFarTellsTheLens();
    void clippedAndNoisyAreasAreCounted();
    void valuesAreReadAtAPoint();
};

namespace {

Reading shotAt(double stops, const Vector3 &light = {1, 1, 1})
{
    Reading reading;
    reading.found = true;
    reading.chart = testing::classicChart().id;
    reading.camera.exposureSeconds = 0.01 * std::exp2(stops);
    reading.camera.iso = 100;
    reading.camera.fNumber = 8;
    Check exposure{CheckId::Exposure, Severity::Ok, stops, 1, "stops", {"D1"}, {}},
        clipping{CheckId::Clipping, Severity::Ok, 0, 0.01, "share", {}, {}};
    if (stops > 0.5) {
        clipping.severity = Severity::Stop;
        clipping.finding = "clipped";
    }
    reading.checks = {clipping, exposure};
    for (const auto &patch : testing::classicChart().patches) {
        const double v = 0.7 * std::exp2(stops) * patch.reference.y;
        reading.patches.push_back(
            {patch.id, {0.6 * v * light[0], v * light[1], 0.5 * v * light[2]}, {}, 1000, v > 1 ? 1.0 : 0, 0});
    }
    return reading;
}

RawFrame plainFrame(double reflectance, double exposure, double iso)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(reflectance));
    sim::Shot shot;
    shot.width = 320;
    shot.height = 240;
    shot.exposure = exposure;
    shot.iso = iso;
    shot.hotPixels = 0;
    auto camera = sim::camera("Tarn 2");
    camera.lenses[0].vignetting = 0;
    return sim::rawFrameOf(sim::expose(scene, camera, sim::lamp("daylight"), shot));
}

} // namespace

void CompareFramesTest::theBestOfABracketIsChosen()
{
    const auto under = shotAt(-0.8), right = shotAt(0.1), over = shotAt(0.9);
    const Reading *three[] = {&under, &right, &over};
    const auto choice = chooseFromBracket(three);
    QCOMPARE(choice.index, size_t(1));
    QVERIFY(choice.usable && choice.count == 3 && std::abs(*choice.stops - 0.1) < 1e-9);
    QVERIFY(choice.brighterClips && !choice.darkerIsNoisy);
    const Reading *two[] = {&over, &under}; // a usable one before a better exposed one that is clipped
    QCOMPARE(chooseFromBracket(two).index, size_t(1));
    const Reading *none[] = {&over, &over};
    QVERIFY(!chooseFromBracket(none).usable && chooseFromBracket(none).trouble->finding == "clipped");
    QVERIFY(std::abs(*settingStops(over.camera, under.camera) - 1.7) < 1e-9);
}

/// A chart that is tilted in the hand while the shutter is held.
void CompareFramesTest::theStillestOfABurstIsChosen()
{
    const std::pair<double, double> moments[] = {
        {0.0, 1.9}, {0.15, 0.7}, {0.0, 0.8}, {0.005, 1.2}}; // glare, blur
    std::vector<Reading> readings;
    for (const auto &[glare, blur] : moments) {
        auto reading = shotAt(0);
        reading.checks.push_back({CheckId::Glare, Severity::Ok, glare, 0.1, "share", {}, "none"});
        reading.checks.push_back({CheckId::Focus, Severity::Ok, blur, 2, "pixels", {}, "sharp"});
        readings.push_back(reading);
    }
    std::vector<const Reading *> burst;
    for (const auto &reading : readings)
        burst.push_back(&reading);
    const auto choice = chooseFromBracket(burst);
    QVERIFY(choice.isBurst && choice.index == 2 && choice.count == 4 && choice.usable);
    readings[2].checks[1].severity = Severity::Stop; // spoilt otherwise
    QCOMPARE(chooseFromBracket(burst).index, size_t(3));
    const auto brighter = shotAt(0.3);
    QVERIFY(!chooseFromBracket(std::vector{burst[0], &brighter}).isBurst);
}

void CompareFramesTest::aMovedLightIsToldInStopsAndWarmth()
{
    const auto before = shotAt(0), warm = shotAt(0, {1.05, 1, 0.97}), same = shotAt(0, {1.004, 1, 0.998});
    const auto change = lightChange(before, warm);
    QVERIFY(change && std::abs(change->red - 0.05) < 1e-9 && std::abs(change->blue + 0.03) < 1e-9);
    QVERIFY(std::abs(change->visible.warmth - 0.0825) < 1e-3 && change->visible.stops == 0);
    QVERIFY(!lightChange(before, same)->visible.any());
    auto weak = shotAt(-0.4);
    weak.camera = before.camera; // the lamp, not the setting
    QVERIFY(std::abs(lightChange(before, weak)->visible.stops + 0.4) < 1e-9);
    QVERIFY(!lightChange(before, shotAt(-0.4))->stops); // at another setting nobody can tell
    auto other = warm;
    other.chart = "field-140";
    QVERIFY(!lightChange(before, other));
}

void CompareFramesTest::theScaleComesFromTheChartsSize()
{
    Reading reading;
    reading.found = true;
    const auto extent = chartExtent(testing::classicChart());
    const double s = 600 / kMmPerInch; // pixels per mm
    reading.corners = {PixelPoint{100, 100},
                       {100 + s * extent.x, 100},
                       {100 + s * extent.x, 100 + s * extent.y},
                       {100, 100 + s * extent.y}};
    const auto scale = scaleOf(reading, testing::classicChart());
    QVERIFY(scale && std::abs(scale->pixelsPerInch() - 600) < 1e-9 && scale->lean < 1e-12);
    QVERIFY(verdictOn(*scale, 600, 0.01, 0.02).good);
    QVERIFY(!verdictOn(*scale, 610, 0.01, 0.02).good); // 1.6 % under
    QVERIFY(verdictOn(*scale, 605, 0.01, 0.02).good);
    auto bent = *scale;
    bent.distortion = -0.03;
    QVERIFY(!verdictOn(bent, 600, 0.01, 0.02).good);
    reading.corners[1].y -= 200; // one side larger than the other
    QVERIFY(!verdictOn(*scaleOf(reading, testing::classicChart()), 600, 0.01, 0.02).good);
    QVERIFY(std::abs(*pixelsPerMmBetween({0, 0}, {300, 400}, 50) - 10) < 1e-12);
    QVERIFY(!pixelsPerMmBetween({5, 5}, {5, 5}, 50) && !pixelsPerMmBetween({0, 0}, {1, 0}, 0));
    QVERIFY(!scaleOf(Reading{}, testing::classicChart()));
}

void CompareFramesTest::whoeverReachesFarTellsTheLens()
{
    const auto charts = [](double distortion, int patches, double reach) { // a share of the frame's sides
        Reading reading;
        reading.found = true;
        reading.width = 6000;
        reading.height = 4000;
        reading.distortion = distortion;
        reading.patches.resize(size_t(patches));
        const double x = 3000 * reach, y = 2000 * reach;
        reading.corners = {
            PixelPoint{3000 - x, 2000 - y}, {3000 + x, 2000 - y}, {3000 + x, 2000 + y}, {3000 - x, 2000 + y}};
        return reading;
    };
    const auto none = charts(0, 24, 0.3), less = charts(-0.01, 24, 0.35), grid = charts(-0.041, 200, 0.95),
               card = charts(0, 1, 0.9);
    QCOMPARE(lensDistortion({}), 0.0);
    QCOMPARE(lensDistortion({&none, &none, &less, &grid, &card, &card}), -0.041);
    QCOMPARE(lensDistortion({&card, &less, &card}), -0.01); // a grey card does not tell
    auto lost = grid;
    lost.found = false;
    QCOMPARE(lensDistortion({&less, &lost}), -0.01);
    const auto other = charts(-0.043, 200, 0.95), third = charts(-0.3, 200, 0.95);
    QCOMPARE(lensDistortion({&third, &grid, &other}), -0.043);
}

void CompareFramesTest::clippedAndNoisyAreasAreCounted()
{
    const auto good = frameLevels(plainFrame(0.4, 0.8, 100));
    QVERIFY(!good.stopsDown && !good.stopsUp);
    QCOMPARE(good.cells.size(), size_t(20 * 15));
    double sum = 0;
    for (const double share : good.histogram[1])
        sum += share;
    QVERIFY(std::abs(sum - 1) < 1e-9);
    QVERIFY(good.histogram[1][size_t(-3 * std::log2(0.4 * 0.8))] > 0.5); // green stands there
    // green alone goes over: red and blue tell how far
    const auto over = frameLevels(plainFrame(0.9, 1.3, 100));
    QVERIFY(over.clipped[1] > 0.99 && over.stopsDown && !over.atLeast);
    QVERIFY2(std::abs(*over.stopsDown - std::log2(0.9 * 1.3)) < 0.2 || *over.stopsDown == 1 / 3.0,
             qPrintable(QString::number(*over.stopsDown)));
    const auto gone = frameLevels(plainFrame(0.9, 6, 100));
    QVERIFY(gone.atLeast && gone.stopsDown);
    const auto dark = frameLevels(plainFrame(0.02, 0.02, 6400));
    QVERIFY(dark.noisy > 0.95 && dark.stopsUp && *dark.stopsUp > 0.5);
    QVERIFY(frameLevels(plainFrame(0.4, 0.8, 100), {}).noisy == 0);
}

void CompareFramesTest::valuesAreReadAtAPoint()
{
    const auto frame = plainFrame(0.5, 0.8, 100);
    const auto value = valueAt(frame, 100.5, 80.5);
    QVERIFY(value && std::abs(value->value[1] - 0.4) < 0.01 && !value->clipped);
    const auto &m = *frame.mosaic;
    QVERIFY(std::abs(value->code[1] - (double(m.black[0]) + 0.4 * double(m.white - m.black[0]))) < 150);
    QVERIFY(valueAt(frame, 0.5, 0.5) && !valueAt(frame, -1, 5) && !valueAt(frame, 5, 1e9));
}

static const testing::Registered<CompareFramesTest> registeredCompareFramesTest("compare_frames_test");
#include "compare_frames_test.moc"
