#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/fit.h"
#include "core/render/compiled_color.h"
#include "core/render/lanczos.h"
#include "core/render/render.h"
#include "core/render/upright_pixels.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/reflectance.h"
#include "core/sim/studio.h"
#include "support/mosaic_frame.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <numbers>
#include <tbb/global_control.h>

using namespace wavechroma;

class RenderTest : public QObject
{
    Q_OBJECT
private slots:
    void codesAreTheSameForAnyThreadsAndBands();
    void picturesAreTurnedUpright_data();
    void picturesAreTurnedUpright();
    void compiledColourIsTheModel_data();
    void compiledColourIsTheModel();
    void codesAreTheSpacesOwn_data();
    void codesAreTheSpacesOwn();
    void smallerPicturesKeepLightAndPlace();
    void levelAndSeveralLightsCount();
    void whatTheSinkRefusesEndsIt();
    void aCropIsThePartOfThePictureToTheBit();
    void aTurnedCropTurnsThePictureClockwise();
    void corneredPicturesHaveNoPerspective();
};

namespace {

RawFrame studioFrame(int orientation = 1, int width = 301, int height = 203, double gradient = 0)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, *sim::reflectanceOf({60, 12, -20}, 5), 0.3, 2);
    scene.gradientX = gradient;
    scene.gradientY = gradient / 2;
    sim::Shot shot;
    shot.width = width;
    shot.height = height;
    shot.orientation = orientation;
    return sim::rawFrameOf(sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("led"), shot));
}

RenderPlan planFor(const RawFrame &frame, double scale = 1)
{
    const auto &n = *frame.fileColor.asShotNeutral;
    ColorModel model;
    model.multipliers = {n[1] / n[0], 1, n[1] / n[2]};
    model.exposureScale = scale;
    model.matrix = xyzD50FromRgbMatrix(srgb());
    RenderPlan plan;
    plan.models.parts = {{1, model}};
    plan.space = srgb();
    return plan;
}

std::vector<uint16_t> rendered(const RawFrame &frame, const RenderPlan &plan)
{
    std::vector<uint16_t> out;
    const auto size = sizeOf(frame, plan);
    const auto done = render(frame, plan, [&](const uint16_t *codes, int rows) -> Result<Done> {
        out.insert(out.end(), codes, codes + size_t(rows) * size_t(size.width) * 3);
        return Done{};
    });
    if (!done || out.size() != size_t(size.width) * size_t(size.height) * 3)
        return {};
    return out;
}

Reading readingOf(const sim::Camera &camera, const char *lamp)
{
    Reading reading;
    reading.chart = chartCatalogue().front().id;
    reading.found = true;
    const auto reflectances = sim::chartReflectances(chartCatalogue().front());
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = sim::response(camera, camera.lenses[0], sim::lamp(lamp).spectrum, reflectances[i]);
        PatchReading patch;
        patch.id = chartCatalogue().front().patches[i].id;
        patch.mean = {0.5 * rgb[0], 0.5 * rgb[1], 0.5 * rgb[2]};
        patch.sd = {0.003, 0.003, 0.003};
        patch.count = 4000;
        reading.patches.push_back(patch);
    }
    return reading;
}

} // namespace

void RenderTest::codesAreTheSameForAnyThreadsAndBands()
{
    const auto frame = studioFrame(6);
    auto plan = planFor(frame);
    for (const int longSide : {0, 97}) {
        plan.longSide = longSide;
        plan.bandRows = 128;
        const auto before = rendered(frame, plan);
        QVERIFY(!before.empty());
        for (const int threads : {1, 2, 7})
            for (const int rows : {1, 37, 64, 1000}) {
                const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                                size_t(threads));
                plan.bandRows = rows;
                QVERIFY(rendered(frame, plan) == before);
            }
    }
}

void RenderTest::picturesAreTurnedUpright_data()
{
    QTest::addColumn<int>("orientation");
    for (int i = 1; i <= 8; ++i)
        QTest::addRow("%d", i) << i;
}

void RenderTest::picturesAreTurnedUpright()
{
    QFETCH(int, orientation);
    const auto flat = studioFrame(1), turned = studioFrame(orientation);
    const auto a = rendered(flat, planFor(flat)), b = rendered(turned, planFor(turned));
    const int w = flat.width, h = flat.height, width = orientation >= 5 ? h : w;
    QVERIFY(!a.empty() && a.size() == b.size());
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            // EXIF 2.31, 4.6.4 A, Orientation: where the stored row 0 and column 0 lie
            const int right = w - 1 - x, below = h - 1 - y;
            const std::pair<int, int> places[] = {{x, y}, {right, y}, {right, below}, {x, below},
                                                  {y, x}, {below, x}, {below, right}, {y, right}};
            const auto [ux, uy] = places[orientation - 1];
            for (size_t c = 0; c < 3; ++c)
                QCOMPARE(b[size_t(uy * width + ux) * 3 + c], a[size_t(y * w + x) * 3 + c]);
        }
}

void RenderTest::compiledColourIsTheModel_data()
{
    QTest::addColumn<QString>("colour");
    QTest::addColumn<QString>("tone");
    QTest::addColumn<int>("lean");
    for (const char *colour : {"balance", "matrix", "roots", "field"})
        for (const char *tone : {"as-shot", "greys"})
            QTest::addRow("%s/%s", colour, tone) << colour << tone << 0;
    QTest::newRow("leaned") << "roots"
                            << "as-shot" << 2;
    QTest::newRow("leaned as far as can be") << "field"
                                             << "greys" << kMostLean;
}

void RenderTest::compiledColourIsTheModel()
{
    QFETCH(QString, colour);
    QFETCH(QString, tone);
    QFETCH(int, lean);
    FitOptions options;
    options.parts = {colour.toStdString(), tone.toStdString()};
    options.crossValidate = false;
    options.lean = {-lean, lean};
    const auto camera = sim::camera("Marram 8");
    auto reading = readingOf(camera, "tube");
    reading.fileColor.matrices = {{sim::publishedColorMatrix(camera), 21}};
    const auto fitted = fitCalibration(reading, chartCatalogue().front(), options);
    QVERIFY(fitted);
    const auto space = *rgbSpaceFromId("romm");
    const CompiledColor compiled(*fitted, space, 1, fitted->multipliers);
    std::vector<double> errors;
    for (int i = 0; i < 300; ++i) { // surfaces that the fit has not seen
        const double hue = i * 2.4, chroma = 55 * std::sqrt((i % 37) / 37.0);
        const auto surface = sim::reflectanceOf(
            {25 + 60 * ((i % 11) / 10.0), chroma * std::cos(hue), chroma * std::sin(hue)}, uint64_t(i));
        if (!surface)
            continue;
        auto rgb = sim::response(camera, camera.lenses[0], sim::lamp("tube").spectrum, *surface);
        float v[3];
        for (size_t c = 0; c < 3; ++c) {
            rgb[c] *= 0.5;
            v[c] = float(rgb[c] * fitted->multipliers[c]);
        }
        compiled.apply(&v[0], &v[1], &v[2], 1);
        const auto xyz =
            xyzOf(xyzD50FromRgbMatrix(space) * Vector3{double(v[0]), double(v[1]), double(v[2])});
        errors.push_back(
            de2000(labFromXyz(xyz), labFromXyz(xyzFromCamera(*fitted, {rgb[0], rgb[1], rgb[2]}))));
    }
    const auto summary = summaryOf(errors);
    QVERIFY(errors.size() > 200);
    QVERIFY2(summary.mean <= 0.1 && summary.max <= 0.5,
             qPrintable(QString("%1 %2").arg(summary.mean).arg(summary.max)));
}

void RenderTest::codesAreTheSpacesOwn_data()
{
    QTest::addColumn<QString>("space");
    for (const auto &space : rgbSpaces())
        QTest::addRow("%s", space.id.data()) << QString::fromUtf8(space.id.data());
}

void RenderTest::codesAreTheSpacesOwn()
{
    QFETCH(QString, space);
    const auto transfer = rgbSpaceFromId(space.toStdString())->transfer;
    const Encoder encoder(transfer);
    for (int i = 0; i <= 65535; i += 17) {
        const float linear = float(linearised(transfer, i / 65535.0));
        const double exact = 65535 * encoded(transfer, double(linear));
        QVERIFY2(std::abs(encoder.code(linear) - exact) <= 0.55,
                 qPrintable(QString("%1: %2 %3").arg(i).arg(encoder.code(linear)).arg(exact)));
    }
    QCOMPARE(int(encoder.code(0)), 0);
    QCOMPARE(int(encoder.code(-0.5F)), 0);
    QCOMPARE(int(encoder.code(1)), 65535);
    QCOMPARE(int(encoder.code(3)), 65535);
    QCOMPARE(int(encoder.code(std::nanf(""))), 65535);
    QCOMPARE(int(encoder.code(-std::nanf(""))), 0);
}

void RenderTest::smallerPicturesKeepLightAndPlace()
{
    // a wedge keeps its levels, and what is finer than the result is gone rather than folded
    const int from = 640, to = 100;
    const LanczosTaps taps(from, to);
    std::vector<float> wedge(640), stripes(640), out(100);
    for (size_t x = 0; x < wedge.size(); ++x) {
        wedge[x] = float(x) + 0.5F;
        stripes[x] = x % 4 < 2 ? 1 : 0;
    }
    taps.reduce(wedge.data(), out.data());
    for (size_t x = 4; x < 96; ++x)
        QVERIFY(std::abs(out[x] - 6.4F * (float(x) + 0.5F)) < 0.05F);
    taps.reduce(stripes.data(), out.data());
    for (size_t x = 4; x < 96; ++x)
        QVERIFY2(std::abs(out[x] - 0.5F) < 0.05F, qPrintable(QString::number(out[x])));
    auto frame = studioFrame(8, 301, 203, 0.8);
    auto plan = planFor(frame);
    plan.longSide = 60;
    QCOMPARE(sizeOf(frame, plan).width, 40);
    QCOMPARE(sizeOf(frame, plan).height, 60);
    const auto mean = [](const std::vector<uint16_t> &codes) {
        double sum = 0;
        for (const auto c : codes)
            sum += linearised(Transfer::Srgb, c / 65535.0);
        return sum / double(codes.size());
    };
    const auto small = rendered(frame, plan);
    plan.longSide = 5000; // never enlarged
    const auto whole = rendered(frame, plan);
    QCOMPARE(whole.size(), size_t(301 * 203 * 3));
    QVERIFY(std::abs(mean(small) / mean(whole) - 1) < 0.01);
    // each pixel is what lies in its place of the whole one, and not in the place across
    const int across = 40, down = 60, wide = 203, high = 301;
    const auto boxMean = [&](int x, int y) {
        double sum = 0;
        int count = 0;
        for (int v = y * high / down; v < (y + 1) * high / down; ++v)
            for (int u = x * wide / across; u < (x + 1) * wide / across; ++u, ++count)
                sum += linearised(Transfer::Srgb, whole[size_t(3 * (v * wide + u) + 1)] / 65535.0);
        return sum / count;
    };
    double inPlace = 0, mirrored = 0, turned = 0;
    for (int y = 0; y < down; ++y)
        for (int x = 0; x < across; ++x) {
            const double one = linearised(Transfer::Srgb, small[size_t(3 * (y * across + x) + 1)] / 65535.0);
            inPlace += std::abs(one - boxMean(x, y));
            mirrored += std::abs(one - boxMean(across - 1 - x, y));
            turned += std::abs(one - boxMean(x, down - 1 - y));
        }
    QVERIFY2(inPlace < 0.35 * std::min(mirrored, turned),
             qPrintable(QString("%1 %2 %3").arg(inPlace).arg(mirrored).arg(turned)));
}

void RenderTest::levelAndSeveralLightsCount()
{
    const auto frame = studioFrame();
    auto plan = planFor(frame, 0.5), brighter = planFor(frame, 1);
    plan.level = 2;
    QVERIFY(rendered(frame, plan) == rendered(frame, brighter));
    auto two = brighter;
    two.models.parts = {{0.5, brighter.models.parts[0].second}, {0.5, brighter.models.parts[0].second}};
    const auto a = rendered(frame, two), b = rendered(frame, brighter);
    for (size_t i = 0; i < a.size(); ++i)
        QVERIFY(std::abs(int(a[i]) - int(b[i])) <= 1);
}

void RenderTest::whatTheSinkRefusesEndsIt()
{
    const auto frame = studioFrame();
    int calls = 0;
    const auto done = render(frame, planFor(frame), [&](const uint16_t *, int) -> Result<Done> {
        ++calls;
        return unusable("no room");
    });
    QVERIFY(!done && done.error().message == "no room" && calls == 1);
    std::atomic<bool> stop = true;
    Progress progress;
    progress.cancelled = &stop;
    QVERIFY(!render(
        frame, planFor(frame), [](const uint16_t *, int) -> Result<Done> { return Done{}; }, progress));
}

void RenderTest::aCropIsThePartOfThePictureToTheBit()
{
    for (int orientation = 1; orientation <= 8; ++orientation) {
        const auto frame = studioFrame(orientation, 301, 203, 0.3);
        auto plan = planFor(frame);
        const auto whole = rendered(frame, plan);
        const auto size = sizeOf(frame, plan);
        plan.crop = PictureCrop{40.2, 21, 83, 64, 0}; // brought to whole pixels
        const auto part = rendered(frame, plan);
        QCOMPARE(sizeOf(frame, plan).width, 83);
        QCOMPARE(sizeOf(frame, plan).height, 64);
        for (size_t y = 0; y < 64; ++y)
            QVERIFY(std::equal(part.begin() + ptrdiff_t(y * 83 * 3),
                               part.begin() + ptrdiff_t((y + 1) * 83 * 3),
                               whole.begin() + ptrdiff_t(((y + 21) * size_t(size.width) + 40) * 3)));
        plan.longSide = 40;
        QCOMPARE(sizeOf(frame, plan).width, 40);
    }
    QVERIFY(isWithin({0, 0, 301, 203, 0}, 301, 203) && !isWithin({1, 0, 301, 203, 0}, 301, 203) &&
            !isWithin({0, 0, 301, 203, 1}, 301, 203) && !isWithin({9, 9, 0, 5, 0}, 301, 203));
}

/// A line that runs down to the right by 10° lies level once the picture was turned back, whatever the flag.
void RenderTest::aTurnedCropTurnsThePictureClockwise()
{
    const double slope = std::tan(10 * std::numbers::pi / 180);
    for (const int orientation : {1, 3, 6, 8}) {
        const UprightPixels upright(320, 240, orientation);
        const double midX = upright.width / 2.0, midY = upright.height / 2.0;
        auto frame = testing::mosaicFrame(320, 240,
                                          [&](double x, double y) {
                                              const auto p = upright.toUpright({x + 0.5, y + 0.5});
                                              const double v =
                                                  (p.y - midY - slope * (p.x - midX)) > 0 ? 0.6 : 0.2;
                                              return Vector3{v, v, v};
                                          },
                                          {});
        frame.orientation = orientation;
        frame.fileColor.asShotNeutral = Vector3{1, 1, 1};
        auto plan = planFor(frame);
        plan.crop = PictureCrop{midX - 60, midY - 40, 120, 80, -10};
        const auto codes = rendered(frame, plan);
        QCOMPARE(codes.size(), size_t(120 * 80 * 3));
        const auto at = [&](size_t x, size_t y) { return codes[(y * 120 + x) * 3 + 1]; };
        for (const size_t x : {4, 60, 115}) {
            QVERIFY(at(x, 36) < 40000 && at(x, 43) > 46000);
            QVERIFY(std::abs(int(at(x, 30)) - int(at(60, 30))) < 600);
        }
    }
}

/// A board of 8 × 6 fields seen at a slant comes out with every field where a flat board has it.
void RenderTest::corneredPicturesHaveNoPerspective()
{
    const std::array<ChartPoint, 4> board{ChartPoint{0, 0}, {8, 0}, {8, 6}, {0, 6}};
    for (const int orientation : {1, 3, 6, 8}) {
        const UprightPixels upright(400, 300, orientation);
        const double w = upright.width, h = upright.height;
        const std::array<CropCorner, 4> corners{
            CropCorner{w * 0.2, h * 0.15}, {w * 0.85, h * 0.05}, {w * 0.95, h * 0.9}, {w * 0.1, h * 0.7}};
        std::array<ChartPoint, 4> seen;
        std::array<PixelPoint, 4> flat;
        for (size_t i = 0; i < 4; ++i) {
            seen[i] = {corners[i].x, corners[i].y};
            flat[i] = {board[i].x, board[i].y};
        }
        const auto onBoard = homographyFrom(seen, flat);
        QVERIFY(onBoard.has_value());
        auto frame = testing::mosaicFrame(400, 300,
                                          [&](double x, double y) {
                                              const auto p = upright.toUpright({x + 0.5, y + 0.5});
                                              const auto b = onBoard->at({p.x, p.y});
                                              const bool dark = int(std::floor(b.x) + std::floor(b.y)) % 2;
                                              const double v = dark ? 0.2 : 0.6;
                                              return Vector3{v, v, v};
                                          },
                                          {});
        frame.orientation = orientation;
        frame.fileColor.asShotNeutral = Vector3{1, 1, 1};
        auto plan = planFor(frame);
        plan.crop = PictureCrop{0, 0, 320, 240, 0, corners};
        QVERIFY(isWithin(*plan.crop, upright.width, upright.height));
        const auto codes = rendered(frame, plan);
        QCOMPARE(codes.size(), size_t(320 * 240 * 3));
        for (size_t row = 0; row < 6; ++row)
            for (size_t column = 0; column < 8; ++column)
                for (const size_t dx : {10, 30})
                    for (const size_t dy : {10, 30}) {
                        const auto code = codes[((row * 40 + dy) * 320 + column * 40 + dx) * 3 + 1];
                        QVERIFY((row + column) % 2 ? code < 40000 : code > 46000);
                    }
        plan.crop->squared = {corners[1], corners[0], corners[3], corners[2]}; // mirrored
        QVERIFY(!isWithin(*plan.crop, upright.width, upright.height));
    }
}

static const testing::Registered<RenderTest> registeredRenderTest("render_test");
#include "render_test.moc"
