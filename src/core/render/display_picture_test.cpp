#include "core/color/rgb_space.h"
#include "core/formats/picture_file.h"
#include "core/raw/overview.h"
#include "core/render/display_picture.h"
#include "core/render/rendered_cost.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/studio.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace wavechroma;

class DisplayPictureTest : public QObject
{
    Q_OBJECT
private slots:
    void aGreySurfaceComesOutGreyAtItsLevel();
    void aTableShowsWhatTheModelSays();
    void balancingARenderedPictureIsCounted();
    void clippedAreasStayNeutral();
    void levelsHalveAndLookAlike();
    void edgesHaveNoColouredFringes();
    void modelsThatCountTogetherAreShownTogether();
    void aMonitorShowsItsOwnCodes();
};

namespace {

RawFrame flatFrame(double reflectance, double exposure, int side = 128)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(reflectance));
    sim::Shot shot;
    shot.width = shot.height = side;
    shot.exposure = exposure;
    shot.hotPixels = 0;
    auto camera = sim::camera("Tarn 2");
    camera.lenses[0].vignetting = 0;
    return sim::rawFrameOf(sim::expose(scene, camera, sim::lamp("tungsten"), shot));
}

Calibration neutralFor(const RawFrame &frame, double scale)
{
    const auto &n = *frame.fileColor.asShotNeutral;
    Calibration c;
    c.multipliers = {n[1] / n[0], 1, n[1] / n[2]};
    c.exposureScale = scale;
    c.matrix = xyzD50FromRgbMatrix(srgb());
    return c;
}

/// Of a pixel: 0 R, 1 G, 2 B.
int channel(const DisplayPicture &picture, size_t pixel, int which)
{
    return int(picture.rgb[pixel] >> (16 - 8 * which) & 0xFF);
}

} // namespace

void DisplayPictureTest::aGreySurfaceComesOutGreyAtItsLevel()
{
    const auto frame = flatFrame(0.2, 0.5);
    const auto picture = displayPicture(frame, displayColorOf(neutralFor(frame, 2)), 16);
    // 0.2 of a perfect diffuser, whatever the light: sRGB code 255 · 0.4845 = 123.5
    QCOMPARE(picture.width, 8);
    for (size_t i = 0; i < picture.rgb.size(); ++i)
        for (int c = 0; c < 3; ++c)
            QVERIFY2(std::abs(channel(picture, i, c) - 124) <= 2,
                     qPrintable(QString::number(channel(picture, i, c))));
}

void DisplayPictureTest::aTableShowsWhatTheModelSays()
{
    // a straight curve is no curve: the table must show what the matrix shows; a bent one what the model
    // gives
    const auto frame = flatFrame(0.2, 0.5);
    auto model = neutralFor(frame, 2);
    const auto plain = displayPicture(frame, displayColorOf(model), 16);
    ToneCurve curve;
    for (int i = 0; i < 80; ++i)
        curve.values.push_back(i * kToneStep);
    model.curves = {curve, curve, curve};
    QVERIFY(!displayColorOf(model).table.empty());
    const auto straight = displayPicture(frame, displayColorOf(model), 16);
    for (size_t i = 0; i < plain.rgb.size(); ++i)
        for (int c = 0; c < 3; ++c)
            QVERIFY2(std::abs(channel(plain, i, c) - channel(straight, i, c)) <= 2,
                     qPrintable(QString("%1 %2").arg(channel(plain, i, c)).arg(channel(straight, i, c))));
    for (auto &v : curve.values)
        v = std::pow(v, 1.2);
    model.curves = {curve, curve, curve};
    const auto bent = displayPicture(frame, displayColorOf(model), 16);
    QVERIFY(channel(bent, 0, 1) < channel(plain, 0, 1) - 8);
}

void DisplayPictureTest::balancingARenderedPictureIsCounted()
{
    // 100 × 100 pixels: 70 rows of mid-grey, 20 of a light grey that red × 1.4 drives over white, 5 white, 5
    // without blue
    RawFrame frame;
    frame.width = frame.height = 100;
    frame.rendered = true;
    auto picture = std::make_shared<LinearPicture>();
    picture->codes = Samples(100 * 100 * 3);
    auto *next = picture->codes.begin();
    for (int y = 0; y < 100; ++y)
        for (int x = 0; x < 100; ++x) {
            const float v = y < 70 ? 0.2F : y < 90 ? 0.9F : y < 95 ? 1.0F : 0.1F;
            for (const float light : {v, v, y < 95 ? v : 0.0F})
                *next++ = uint16_t(std::lround(light * 1000));
        }
    for (auto &light : picture->light)
        for (int code = 0; code <= 1000; ++code)
            light.push_back(float(code) / 1000);
    frame.picture = picture;
    const auto cost = costOfBalance(frame, {1.4, 1, 0.8});
    QVERIFY(std::abs(cost.clips - 0.20) < 1e-9 && std::abs(cost.tinted - 0.05) < 1e-9 &&
            std::abs(cost.empties - 0.05) < 1e-9);
    QVERIFY(cost.tooLarge && std::abs(cost.stops - std::log2(1.75)) < 1e-9);
    const auto small = costOfBalance(frame, {1.001, 1, 1});
    QVERIFY(!small.tooLarge && small.clips == 0);
    frame.rendered = false;
    QCOMPARE(costOfBalance(frame, {1.4, 1, 0.8}).clips, 0.0);
}

void DisplayPictureTest::clippedAreasStayNeutral()
{
    const auto frame = flatFrame(0.9, 3);
    const auto picture = displayPicture(frame, displayColorOf(neutralFor(frame, 1)), 16);
    for (size_t i = 0; i < picture.rgb.size(); ++i)
        QVERIFY(std::abs(channel(picture, i, 0) - channel(picture, i, 1)) <= 2 &&
                std::abs(channel(picture, i, 0) - channel(picture, i, 2)) <= 2);
    QVERIFY(channel(picture, 0, 0) > 150);
}

void DisplayPictureTest::edgesHaveNoColouredFringes()
{
    constexpr int kSide = 128; // a grey edge, blurred by a pixel, across and down
    std::vector<uint16_t> samples(size_t(kSide * kSide));
    const auto grey = [](double at) { return 0.5 * std::erfc((at - 64.3) / std::sqrt(2.0)); };
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            samples[size_t(y * kSide + x)] = uint16_t(1000 + 12000 * grey(x + 0.5) * grey(y + 0.5));
    Mosaic m;
    m.samples = samples.data();
    m.rowStride = kSide;
    m.channel = {0, 1, 1, 2};
    m.black.assign(4, 0);
    m.white = 16383;
    RawFrame frame;
    frame.width = frame.height = kSide;
    frame.mosaic = std::make_shared<Mosaic>(m);
    const auto worst = [](const Overview &level) {
        double most = 0;
        for (size_t i = 0; i < level.rgb.size(); i += 3)
            most = std::max(most, double(std::abs(level.rgb[i] / level.rgb[i + 2] - 1)));
        return most;
    };
    const double before = worst(overviewOf(frame, 2)), after = worst(overviewLevelsOf(frame, 2).front());
    QVERIFY2(after < 0.25 * before, qPrintable(QString("%1 %2").arg(before).arg(after)));
}

void DisplayPictureTest::modelsThatCountTogetherAreShownTogether()
{
    const auto frame = flatFrame(0.3, 0.6);
    ColorModel dark = neutralFor(frame, 0.5), light = neutralFor(frame, 1.5);
    const auto single = displayPicture(frame, displayColorOf(ModelBlend{{{1.0, dark}}}), 16);
    QVERIFY(single.rgb == displayPicture(frame, displayColorOf(dark), 16).rgb);
    // half of each is what a model between them does
    const auto both = displayPicture(frame, displayColorOf(ModelBlend{{{0.5, dark}, {0.5, light}}}), 16);
    const auto between = displayPicture(frame, displayColorOf(neutralFor(frame, 1)), 16);
    for (size_t i = 0; i < both.rgb.size(); ++i)
        for (int c = 0; c < 3; ++c)
            QVERIFY(std::abs(channel(both, i, c) - channel(between, i, c)) <= 1);
}

void DisplayPictureTest::levelsHalveAndLookAlike()
{
    const auto frame = flatFrame(0.3, 0.7, 1000);
    const auto levels = overviewLevelsOf(frame, smallestBlock(frame));
    QVERIFY(levels.size() > 1);
    const auto color = displayColorOf(neutralFor(frame, 1));
    const auto direct = displayPicture(frame, color, smallestBlock(frame));
    QVERIFY(lookOf(levels[0], color).rgb == direct.rgb); // looking apart from opening changes nothing
    for (size_t i = 1; i < levels.size(); ++i) {
        QCOMPARE(levels[i].width, (levels[i - 1].width + 1) / 2);
        QCOMPARE(levels[i].block, 2 * levels[i - 1].block);
    }
    QVERIFY(std::max(levels.back().width, levels.back().height) <= 400);
    QVERIFY(std::abs(channel(lookOf(levels.back(), color), 0, 1) - channel(direct, 0, 1)) <= 3);
}

void DisplayPictureTest::aMonitorShowsItsOwnCodes()
{
    QTemporaryDir folder;
    const auto file = [&](const char *name) {
        return std::filesystem::path(folder.filePath(name).toStdString());
    };
    for (const char *id : {"display-p3", "srgb"})
        QVERIFY(writeWhole({{file(id), *iccProfileOf(*rgbSpaceFromId(id))}}));
    const auto wide = Screen::from(file("display-p3")), plain = Screen::from(file("srgb"));
    QVERIFY(wide && plain);
    QCOMPARE(QString::fromStdString((*wide)->name()), QString("Display P3"));
    // a colour that sRGB has not: its own codes on the wide monitor
    const auto space = *rgbSpaceFromId("display-p3");
    const Xyz green = xyzOf(xyzD50FromRgbMatrix(space) * Vector3{0.02, 0.6, 0.1});
    float codes[3];
    (*wide)->codesOf(&green, codes, 1);
    const double meant[] = {0.02, 0.6, 0.1};
    for (size_t c = 0; c < 3; ++c)
        QVERIFY(std::abs(double(codes[c]) - encoded(Transfer::Srgb, meant[c])) < 1e-3);
    // whole pictures: an sRGB monitor shows what no profile shows, the wide one other codes for the same
    // colour
    const auto frame = flatFrame(0.2, 0.5);
    auto model = neutralFor(frame, 2);
    model.multipliers[0] *= 2.2;
    const auto bare = displayPicture(frame, displayColorOf(model), 16),
               same = displayPicture(frame, displayColorOf(model, plain->get()), 16),
               other = displayPicture(frame, displayColorOf(model, wide->get()), 16);
    for (size_t i = 0; i < bare.rgb.size(); ++i)
        for (int c = 0; c < 3; ++c) {
            QVERIFY(std::abs(channel(bare, i, c) - channel(same, i, c)) <= 2);
            const auto pixel = (*wide)->shown(bare.rgb[i]);
            QVERIFY(std::abs(int(pixel >> (16 - 8 * c) & 0xFF) - channel(other, i, c)) <= 2);
        }
    QVERIFY(std::abs(channel(bare, 0, 0) - channel(other, 0, 0)) > 3);
    // what is no monitor's profile is refused by name
    QVERIFY(writeWhole({{file("broken"), bytesOf("not a profile")}}));
    for (const char *name : {"broken", "nowhere"}) {
        const auto refused = Screen::from(file(name));
        QVERIFY(!refused && refused.error().message.find(name) != std::string::npos);
    }
}

static const testing::Registered<DisplayPictureTest> registeredDisplayPictureTest("display_picture_test");
#include "display_picture_test.moc"
