#include "core/base/filled.h"
#include "core/measure/backdrop_field.h"
#include "core/measure/flat_field.h"
#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random_scene.h"
#include "core/sim/reflectance.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>

using namespace wavechroma;

class FlatFieldTest : public QObject
{
    Q_OBJECT
private slots:
    void aFalloffOfThirtyPercentGoesUnderOne();
    void dustDoesNotPrintThrough();
    void aChartReadsTheSameInACornerAndInTheMiddle();
    void unfitFlatsAreRefusedWithTheReason();
    void flatsOfAnotherLensAreRefused();
    void anEvenFieldIsToldFromAPicture();
    void aBackdropTellsTheFalloff();
    void aFrameWithoutABackdropTellsNothing();
};

namespace {

sim::Camera vignetting(double loss)
{
    auto camera = sim::camera("Tarn 2");
    camera.lenses[0].vignetting = loss;
    return camera;
}

sim::Shot shotOf(double exposure = 0.5)
{
    sim::Shot shot;
    shot.width = 1200;
    shot.height = 800;
    shot.exposure = exposure;
    return shot;
}

sim::Scene board(double reflectance = 0.85)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(reflectance));
    scene.gradientX = 0.12;
    return scene;
}

RawFrame taken(const sim::Scene &scene, const sim::Camera &camera, const sim::Shot &shot)
{
    return sim::rawFrameOf(sim::expose(scene, camera, sim::lamp("led"), shot));
}

/// Mean level of a small square, with whatever flat the frame carries.
double levelAt(const RawFrame &frame, double x, double y, size_t channel)
{
    const Quad window{PixelPoint{x - 30, y - 30}, {x + 30, y - 30}, {x + 30, y + 30}, {x - 30, y + 30}};
    // the same sampling as patches get, through a one-patch chart
    ChartDefinition one;
    one.id = "one";
    one.rows = one.columns = 1;
    one.patchWidthMm = one.patchHeightMm = one.pitchXMm = one.pitchYMm = 60;
    one.patches.push_back({"A1", {}, {}});
    const auto reading = *readChart(frame, one, {window, 0.9, true});
    return vectorOf(reading.patches[0].mean)[channel];
}

} // namespace

void FlatFieldTest::aFalloffOfThirtyPercentGoesUnderOne()
{
    const auto camera = vignetting(0.3);
    auto frame = taken(board(), camera, shotOf());
    const auto flat = flatFieldFrom(frame);
    QVERIFY2(bool(flat), flat ? "" : flat.error().message.c_str());
    QVERIFY(flat->quality.falloff > 0.25);
    for (size_t c = 0; c < 3; ++c) { // "the gain is 1 where the smoothed flat frame is brightest and larger
                                     // elsewhere, per channel"
        const auto &gain = flat->map.gain[c];
        QVERIFY(std::abs(*std::min_element(gain.begin(), gain.end()) - 1) < 1e-6F);
    }
    auto other = shotOf(0.4);
    other.seed = 9; // another frame, other noise
    frame = taken(board(), camera, other);
    for (size_t c = 0; c < 3; ++c) {
        double least = 1e9, most = 0, rawLeast = 1e9, rawMost = 0;
        for (double y = 40; y < 800; y += 90)
            for (double x = 40; x < 1200; x += 112) {
                frame.flat = nullptr;
                const double plain = levelAt(frame, x, y, c);
                frame.flat = std::make_shared<GainMap>(flat->map);
                const double even = levelAt(frame, x, y, c);
                least = std::min(least, even);
                most = std::max(most, even);
                rawLeast = std::min(rawLeast, plain);
                rawMost = std::max(rawMost, plain);
            }
        QVERIFY(rawLeast < 0.78 * rawMost);
        QVERIFY2(least > 0.99 * most, qPrintable(QString("%1 of %2").arg(least).arg(most)));
    }
}

void FlatFieldTest::dustDoesNotPrintThrough()
{
    const auto camera = vignetting(0.2);
    auto dusty = board();
    const int dark = sim::addMaterial(dusty, sim::flatReflectance(0.3));
    for (const auto &p : {PixelPoint{300, 200}, {800, 500}, {1000, 120}})
        dusty.things.push_back(sim::Ellipse{p, 9, 9, dark});
    const auto clean = flatFieldFrom(taken(board(), camera, shotOf())),
               specked = flatFieldFrom(taken(dusty, camera, shotOf()));
    QVERIFY(clean && specked);
    for (const auto &p : {PixelPoint{300, 200}, {800, 500}, {1000, 120}, {600, 400}})
        QVERIFY(std::abs(specked->map.at(1, p.x, p.y) / clean->map.at(1, p.x, p.y) - 1) < 0.003F);
}

void FlatFieldTest::aChartReadsTheSameInACornerAndInTheMiddle()
{
    const auto camera = vignetting(0.3);
    const auto flat = *flatFieldFrom(taken(board(), camera, shotOf()));
    const auto &chart = chartCatalogue().front();
    std::vector<std::vector<PatchReading>> readings;
    for (const auto &centre : {PixelPoint{600, 400}, {210, 160}}) {
        auto scene = board(0.3);
        sim::PrintedChart printed;
        printed.chart = chart;
        for (const auto &r : sim::chartReflectances(chart))
            printed.patchMaterials.push_back(sim::addMaterial(scene, r));
        printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
        printed.corners = sim::cornersAt(chart, {centre, 360, 0, 0, 0, 8});
        scene.things.push_back(printed);
        auto frame = taken(scene, camera, shotOf(0.7));
        frame.flat = std::make_shared<GainMap>(flat.map);
        const auto reading = *readChart(frame, chart);
        QVERIFY(reading.found);
        readings.push_back(reading.patches);
    }
    std::vector<double> off;
    for (size_t i = 0; i < 24; ++i)
        for (size_t c = 0; c < 3; ++c)
            off.push_back(std::abs(vectorOf(readings[1][i].mean)[c] / vectorOf(readings[0][i].mean)[c] - 1));
    std::sort(off.begin(), off.end());
    QVERIFY2(
        off[off.size() / 2] < 0.005,
        qPrintable(QString::number(off[off.size() / 2]))); // 0.5 %; the dark ones have noise of their own
    QVERIFY(off.back() < 0.03);
}

void FlatFieldTest::unfitFlatsAreRefusedWithTheReason()
{
    const auto camera = vignetting(0.2);
    const auto reason = [](const RawFrame &frame) {
        const auto flat = flatFieldFrom(frame);
        return flat ? std::string() : flat.error().message;
    };
    QVERIFY(reason(taken(board(), camera, shotOf(1.5))).find("is clipped") != std::string::npos);
    QVERIFY(reason(taken(board(), camera, shotOf(0.02))).find("too dark") != std::string::npos);
    QVERIFY(reason(taken(sim::randomScene({3, 1200, 800, true}), camera, shotOf())).find("flat frame") !=
                std::string::npos ||
            reason(taken(sim::randomScene({3, 1200, 800, true}), camera, shotOf())).find("even field") !=
                std::string::npos);
}

void FlatFieldTest::flatsOfAnotherLensAreRefused()
{
    const auto flat = taken(board(), vignetting(0.2), shotOf());
    auto frame = flat;
    QVERIFY(!mismatchOf(flat, frame).refusal && mismatchOf(flat, frame).warning.empty());
    frame.camera.fNumber = 11;
    QVERIFY(words::filled(mismatchOf(flat, frame).warning, words::plain()).find("f/11") != std::string::npos);
    frame.camera.lens = "another";
    QVERIFY(mismatchOf(flat, frame).refusal->message.find("another lens") != std::string::npos);
}

void FlatFieldTest::anEvenFieldIsToldFromAPicture()
{
    QVERIFY(looksFlat(taken(board(), vignetting(0.2), shotOf())));
    for (uint64_t seed = 1; seed < 5; ++seed)
        QVERIFY2(
            !looksFlat(taken(sim::randomScene({seed, 1200, 800, seed % 2 == 0}), vignetting(0.2), shotOf())),
            qPrintable(QString("seed %1").arg(seed)));
}

/// Things of several colours on seamless paper, no flat: what is left of a falloff of some 40 % is a few per
/// cent.
void FlatFieldTest::aBackdropTellsTheFalloff()
{
    auto scene = board(0.5);
    const std::pair<Lab, PixelPoint> things[] = {
        {{40, 40, 20}, {420, 380}}, {{70, -20, 40}, {640, 480}}, {{30, 5, -30}, {820, 330}}};
    for (const auto &[lab, at] : things)
        scene.things.push_back(
            sim::Ellipse{at, 130, 90, sim::addMaterial(scene, *sim::reflectanceOf(lab, 7), 0.2, 3)});
    const auto frame = taken(scene, vignetting(0.3), shotOf());
    const auto field = backdropFieldFrom(frame);
    QVERIFY2(bool(field), field ? "" : field.error().message.c_str());
    auto evened = frame;
    evened.flat = std::make_shared<GainMap>(field->map);
    const auto spread = [](const RawFrame &f) {
        double least = 1e9, most = 0;
        for (const double x : {60.0, 600.0, 1140.0})
            for (const double y : {60.0, 740.0}) {
                const double level = levelAt(f, x, y, 1);
                least = std::min(least, level);
                most = std::max(most, level);
            }
        return 1 - least / most;
    };
    QVERIFY2(spread(frame) > 0.15 && spread(evened) < 0.03,
             qPrintable(QString("%1 %2").arg(spread(frame)).arg(spread(evened))));
    for (size_t c = 0; c < 3; c += 2) // no colour changes
        QVERIFY(field->map.gain[c] == field->map.gain[1]);
}

void FlatFieldTest::aFrameWithoutABackdropTellsNothing()
{
    sim::Scene scene; // cloth all over
    scene.background = sim::addMaterial(scene, *sim::reflectanceOf({50, 20, 20}, 3), 0.5, 12);
    QVERIFY(!backdropFieldFrom(taken(scene, vignetting(0.3), shotOf())));
    auto filled = board(0.5); // a thing that covers nearly all of it
    filled.things.push_back(sim::Ellipse{
        {600, 400}, 640, 420, sim::addMaterial(filled, *sim::reflectanceOf({40, 30, -20}, 5), 0.4, 5)});
    QVERIFY(!backdropFieldFrom(taken(filled, vignetting(0.3), shotOf())));
}

static const testing::Registered<FlatFieldTest> registeredFlatFieldTest("flat_field_test");
#include "flat_field_test.moc"
