#include "core/raw/lone_samples.h"
#include "core/raw/overview.h"
#include "core/render/frame_pixels.h"
#include "core/sim/random.h"
#include "support/mosaic_frame.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <functional>

using namespace wavechroma;

class FramePixelsTest : public QObject
{
    Q_OBJECT
private slots:
    void partsFitTogetherToTheBit_data();
    void partsFitTogetherToTheBit();
    void nothingIsShifted_data() { phases(); }
    void nothingIsShifted();
    void theRimIsAsGoodAsTheMiddle_data() { phases(); }
    void theRimIsAsGoodAsTheMiddle();
    void fineDetailIsFarAboveBilinear();
    void twoColoursMeetWithoutAThird();
    void clippedNeutralsStayNeutralAndNeverDarken();
    void clippedColoursKeepTheirHue();
    void aPlaneComesBackExactly();
    void blackLevelsASiteAreTakenOff();
    void otherFiltersAreTold();
    void defectsAreNotSeen_data() { phases(); }
    void defectsAreNotSeen();
    void lightIsNoDefect();

private:
    static void phases();
};

namespace {

using testing::Light;
const Vector3 kLightGains{1.9, 1, 1.6};

RawFrame frameOf(int width, int height, int redX, int redY, const Light &light,
                 std::vector<float> blacks = std::vector<float>(4, 400))
{
    testing::MosaicMake make;
    make.redX = redX;
    make.redY = redY;
    make.blacks = std::move(blacks);
    return testing::mosaicFrame(width, height, light, make);
}

RgbRows pixelsOf(const RawFrame &frame)
{
    FramePixels pixels(frame, kLightGains);
    RgbRows out;
    const PixelArea whole{0, 0, frame.width, frame.height};
    pixels.read(whole, out.taking(whole));
    return out;
}

/// A sum of waves of many lengths, the same in all channels but for their size.
Vector3 cloth(double x, double y)
{
    const double v = 0.3 + 0.1 * std::sin(0.9 * x + 0.35 * y) + 0.08 * std::sin(0.3 * x - 1.1 * y) +
                     0.06 * std::sin(1.5 * x + 1.2 * y);
    return {v, 0.9 * v, 0.7 * v};
}

double rootMeanSquare(const RgbRows &rgb, const Light &truth, const std::function<bool(int, int)> &counts)
{
    double sum = 0, n = 0;
    for (int y = 0; y < rgb.height; ++y)
        for (int x = 0; x < rgb.width; ++x) {
            if (!counts(x, y))
                continue;
            const size_t at = size_t(y) * size_t(rgb.width) + size_t(x);
            const auto t = truth(x, y);
            sum += std::pow(double(rgb.red[at]) - t[0], 2) + std::pow(double(rgb.green[at]) - t[1], 2) +
                   std::pow(double(rgb.blue[at]) - t[2], 2);
            n += 3;
        }
    return std::sqrt(sum / n);
}

} // namespace

void FramePixelsTest::phases()
{
    QTest::addColumn<int>("redX");
    QTest::addColumn<int>("redY");
    for (int i = 0; i < 4; ++i)
        QTest::addRow("red at %d, %d", i % 2, i / 2) << i % 2 << i / 2;
}

void FramePixelsTest::partsFitTogetherToTheBit_data()
{
    QTest::addColumn<int>("redX");
    QTest::addColumn<int>("width");
    QTest::addColumn<bool>("flat");
    QTest::newRow("even sizes") << 0 << 96 << false;
    QTest::newRow("odd sizes") << 1 << 97 << false;
    QTest::newRow("with a flat") << 0 << 97 << true;
}

void FramePixelsTest::partsFitTogetherToTheBit()
{
    QFETCH(int, redX);
    QFETCH(int, width);
    QFETCH(bool, flat);
    sim::Random random(7);
    auto frame = frameOf(width, 81, redX, 1, [&](double, double) {
        return Vector3{random.uniform(0, 1.9), random.unit(), random.uniform(0, 1.6)};
    });
    if (flat) {
        GainMap map{"flat", width, 81, 3, 3, {}};
        for (auto &gain : map.gain)
            gain = {1.5F, 1.2F, 1.4F, 1.1F, 1, 1.1F, 1.6F, 1.2F, 1.5F};
        frame.flat = std::make_shared<GainMap>(map);
    }
    const auto whole = pixelsOf(frame);
    for (const auto &[stepX, stepY] : {std::pair{16, 9}, {31, 40}, {97, 1}, {1, 81}}) {
        FramePixels pixels(frame, kLightGains);
        RgbRows part;
        for (int y = 0; y < frame.height; y += stepY)
            for (int x = 0; x < frame.width; x += stepX) {
                const PixelArea area{x, y, std::min(stepX, frame.width - x),
                                     std::min(stepY, frame.height - y)};
                pixels.read(area, part.taking(area));
                for (int j = 0; j < area.height; ++j)
                    for (int i = 0; i < area.width; ++i) {
                        const size_t a = size_t(j) * size_t(area.width) + size_t(i),
                                     w = size_t(y + j) * size_t(frame.width) + size_t(x + i);
                        QVERIFY(part.red[a] == whole.red[w] && part.green[a] == whole.green[w] &&
                                part.blue[a] == whole.blue[w]);
                    }
            }
    }
}

void FramePixelsTest::nothingIsShifted()
{
    QFETCH(int, redX);
    QFETCH(int, redY);
    // A bright blob off the pixel grid: where its middle comes out, channel by channel.
    const double cx = 31.37, cy = 30.81;
    const auto rgb = pixelsOf(frameOf(64, 62, redX, redY, [&](double x, double y) {
        const double v =
            0.1 + 0.6 * std::exp(-0.5 * ((x - cx) * (x - cx) + (y - cy) * (y - cy)) / (1.7 * 1.7));
        return Vector3{v, v * 0.8, v * 1.1};
    }));
    for (const auto *channel : {&rgb.red, &rgb.green, &rgb.blue}) {
        double sum = 0, atX = 0, atY = 0;
        const double ground = double((*channel)[size_t(5 * 64 + 5)]);
        for (int y = 18; y < 44; ++y)
            for (int x = 18; x < 44; ++x) {
                const double v = double((*channel)[size_t(y * 64 + x)]) - ground;
                sum += v;
                atX += v * x;
                atY += v * y;
            }
        QVERIFY2(std::abs(atX / sum - cx) < 0.02 && std::abs(atY / sum - cy) < 0.02,
                 qPrintable(QString("%1 %2").arg(atX / sum - cx).arg(atY / sum - cy)));
    }
}

void FramePixelsTest::theRimIsAsGoodAsTheMiddle()
{
    QFETCH(int, redX);
    QFETCH(int, redY);
    const auto rgb = pixelsOf(frameOf(81, 63, redX, redY, cloth));
    const auto isRim = [](int x, int y) { return x < 3 || y < 3 || x >= 78 || y >= 60; };
    // What lies beyond the frame is mirrored: the waves break there.
    const double rim = rootMeanSquare(rgb, cloth, isRim),
                 middle = rootMeanSquare(rgb, cloth, [&](int x, int y) { return !isRim(x, y); });
    QVERIFY2(rim < 3 * middle, qPrintable(QString("%1 %2").arg(rim).arg(middle)));
}

void FramePixelsTest::fineDetailIsFarAboveBilinear()
{
    const auto frame = frameOf(96, 96, 0, 0, cloth);
    const auto inside = [](int x, int y) { return x > 3 && y > 3 && x < 92 && y < 92; };
    const double ours = rootMeanSquare(pixelsOf(frame), cloth, inside);
    // The plain way: means of the nearest samples of a colour.
    RgbRows plain{96, 96, std::vector<float>(96 * 96), std::vector<float>(96 * 96),
                  std::vector<float>(96 * 96)};
    std::vector<float> *channels[] = {&plain.red, &plain.green, &plain.blue};
    for (int y = 1; y < 95; ++y)
        for (int x = 1; x < 95; ++x)
            for (size_t c = 0; c < 3; ++c) {
                double sum = 0, n = 0;
                const bool own = frame.mosaic->channel[frame.mosaic->cell(x, y)] == c;
                for (int dy = -1; dy <= 1; ++dy)
                    for (int dx = -1; dx <= 1; ++dx)
                        if (frame.mosaic->channel[frame.mosaic->cell(x + dx, y + dy)] == c &&
                            (!own || (dx == 0 && dy == 0))) {
                            sum += double(frame.mosaic->value(x + dx, y + dy)) * kLightGains[c];
                            ++n;
                        }
                (*channels[c])[size_t(y * 96 + x)] = float(sum / n);
            }
    const double bilinear = rootMeanSquare(plain, cloth, inside);
    QVERIFY2(ours < bilinear / 3, qPrintable(QString("%1 %2").arg(ours).arg(bilinear)));
}

void FramePixelsTest::twoColoursMeetWithoutAThird()
{
    // Stripes six pixels wide of red and teal, green going against red. Taking the colours' differences for
    // smooth, as the demosaic did once, was off by 0.090.
    const auto stripes = [](double x, double y) {
        const double t = 0.5 + 0.5 * std::sin(0.9 * x + 0.5 * y);
        return Vector3{0.6 - 0.5 * t, 0.1 + 0.3 * t, 0.15 + 0.35 * t};
    };
    const auto inside = [](int x, int y) { return x > 3 && y > 3 && x < 92 && y < 92; };
    const double off = rootMeanSquare(pixelsOf(frameOf(96, 96, 0, 0, stripes)), stripes, inside);
    QVERIFY2(off < 0.035, qPrintable(QString::number(off)));
}

void FramePixelsTest::clippedNeutralsStayNeutralAndNeverDarken()
{
    // A grey wedge that runs from under saturation of the first channel to over that of the last.
    const auto level = [](double x) { return 0.5 + 1.8 * x / 200; };
    const auto rgb = pixelsOf(frameOf(200, 32, 0, 0, [&](double x, double) {
        return Vector3{level(x), level(x), level(x)};
    }));
    float before = 0;
    for (size_t x = 4; x < 196; ++x) {
        const size_t at = 16 * 200 + x;
        const float r = rgb.red[at], g = rgb.green[at], b = rgb.blue[at];
        QVERIFY2(std::abs(r - g) < 0.01F * g && std::abs(b - g) < 0.01F * g,
                 qPrintable(QString("%1: %2 %3 %4").arg(x).arg(r).arg(g).arg(b)));
        QVERIFY2(g > before - 0.003F, qPrintable(QString("%1: %2 after %3").arg(x).arg(g).arg(before)));
        before = std::max(before, g);
    }
    QVERIFY(before > 1.8F); // as high as the last channel goes
}

void FramePixelsTest::clippedColoursKeepTheirHue()
{
    // red alone is clipped, and is the largest: nothing is added to the others
    const auto rgb = pixelsOf(frameOf(32, 32, 0, 0, [](double, double) { return Vector3{2.4, 0.3, 0.2}; }));
    const size_t at = 16 * 32 + 16;
    QVERIFY(std::abs(rgb.red[at] - float(kLightGains[0])) < 0.01F && std::abs(rgb.green[at] - 0.3F) < 0.01F &&
            std::abs(rgb.blue[at] - 0.2F) < 0.01F);
}

void FramePixelsTest::aPlaneComesBackExactly()
{
    const auto rgb = pixelsOf(frameOf(40, 40, 1, 0, [](double, double) { return Vector3{0.4, 0.25, 0.12}; }));
    for (size_t i = 0; i < rgb.red.size(); ++i)
        QVERIFY(std::abs(rgb.red[i] - 0.4F) < 2e-4F && std::abs(rgb.green[i] - 0.25F) < 2e-4F &&
                std::abs(rgb.blue[i] - 0.12F) < 2e-4F);
}

void FramePixelsTest::blackLevelsASiteAreTakenOff()
{
    const auto rgb = pixelsOf(frameOf(40, 40, 0, 0,
                                      [](double, double) {
                                          return Vector3{0.02, 0.02, 0.02};
                                      },
                                      {380, 401, 422, 395}));
    for (size_t i = 0; i < rgb.red.size(); ++i)
        QVERIFY(std::abs(rgb.red[i] - 0.02F) < 2e-4F && std::abs(rgb.green[i] - 0.02F) < 2e-4F &&
                std::abs(rgb.blue[i] - 0.02F) < 2e-4F);
}

void FramePixelsTest::otherFiltersAreTold()
{
    auto frame = frameOf(40, 40, 0, 0, cloth);
    QVERIFY(hasBayerMosaic(frame));
    auto other = std::make_shared<Mosaic>(*frame.mosaic);
    other->channel = {0, 1, 2, 1}; // greens above each other
    frame.mosaic = other;
    QVERIFY(!hasBayerMosaic(frame));
    // read anew from its file, which is not there: a clear answer
    frame.path = "nowhere.raf";
    const auto answer = withoutOtherMosaic(frame);
    QVERIFY(!answer && answer.error().message.find("nowhere.raf") != std::string::npos);
}

/// A frame with other codes at some of its photosites.
static RawFrame withCodes(const RawFrame &frame, const std::vector<std::array<int, 3>> &codes)
{
    auto samples = std::make_shared<std::vector<uint16_t>>(
        frame.mosaic->samples, frame.mosaic->samples + frame.width * frame.height);
    for (const auto &[x, y, code] : codes)
        (*samples)[size_t(y) * size_t(frame.width) + size_t(x)] = uint16_t(code);
    auto out = frame;
    auto mosaic = std::make_shared<Mosaic>(*frame.mosaic);
    out.memory = samples;
    mosaic->samples = samples->data();
    out.mosaic = mosaic;
    return out;
}

void FramePixelsTest::defectsAreNotSeen()
{
    QFETCH(int, redX);
    QFETCH(int, redY);
    testing::MosaicMake make;
    make.redX = redX;
    make.redY = redY;
    make.electrons = 20000;
    const auto clean = testing::mosaicFrame(
        64, 62, [](double x, double y) { return cloth(x / 4, y / 4); }, make); // folds rather than threads
    // Stuck bright, warm and dead ones, in every place of the filter's cell, in corners and at the rim.
    const auto stuck = withCodes(clean, {{20, 20, 15400},
                                         {31, 20, 15400},
                                         {40, 21, 9000},
                                         {51, 31, 15400},
                                         {20, 40, 400},
                                         {31, 41, 0},
                                         {0, 0, 15400},
                                         {63, 30, 15400},
                                         {33, 61, 15400}});
    // Untreated, the bright ones are off by 0.6 and more; the cloth changes by that much of 0.2 between
    // samples.
    const auto a = pixelsOf(clean), b = pixelsOf(stuck);
    const std::pair<const std::vector<float> *, const std::vector<float> *> channels[] = {
        {&a.red, &b.red}, {&a.green, &b.green}, {&a.blue, &b.blue}};
    float worst = 0; // untreated 0.7 to 1.7
    for (const auto &[one, other] : channels)
        for (size_t i = 0; i < one->size(); ++i)
            worst = std::max(worst, std::abs((*one)[i] - (*other)[i]));
    QVERIFY2(worst < 0.15F, qPrintable(QString::number(double(worst))));
    // nor in a smaller picture
    const auto small = seenOverviewOf(clean, 2), mended = seenOverviewOf(stuck, 2),
               raw = overviewOf(stuck, 2);
    float left = 0, untreated = 0;
    for (size_t i = 0; i < small.rgb.size(); ++i) {
        left = std::max(left, std::abs(small.rgb[i] - mended.rgb[i]));
        untreated = std::max(untreated, std::abs(small.rgb[i] - raw.rgb[i]));
    }
    QVERIFY2(left < 0.12F && untreated > 0.3F, qPrintable(QString("%1 %2").arg(left).arg(untreated)));
    QCOMPARE(mended.clipped, small.clipped);
}

void FramePixelsTest::lightIsNoDefect()
{
    // Sparkles as sharp as a lens makes them, dark specks, and noise of a high sensitivity.
    sim::Random random(11);
    std::vector<std::array<double, 3>> points;
    for (int i = 0; i < 60; ++i)
        points.push_back({random.uniform(4, 156), random.uniform(4, 116), i % 3 ? 0.8 : -0.28});
    testing::MosaicMake make;
    make.electrons = 1500;
    const auto frame = testing::mosaicFrame(
        160, 120,
        [&](double x, double y) {
            double v = 0.3;
            for (const auto &[px, py, light] : points)
                v += light * std::exp(-0.5 * ((x - px) * (x - px) + (y - py) * (y - py)) / (0.55 * 0.55));
            v = std::max(v, 0.01);
            return Vector3{v, v, v};
        },
        make);
    LoneSamples samples(*frame.mosaic, frame.width, frame.height);
    for (int y = 0; y < frame.height; ++y)
        QCOMPARE(samples.row(y, 0, frame.width), frame.mosaic->samples + y * frame.mosaic->rowStride);
}

static const testing::Registered<FramePixelsTest> registeredFramePixelsTest("frame_pixels_test");
#include "frame_pixels_test.moc"
