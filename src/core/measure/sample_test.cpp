#include "core/measure/read_chart.h"
#include "core/measure/sample.h"
#include "core/sim/random.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

class SampleTest : public QObject
{
    Q_OBJECT
private slots:
    void hotPixelsAndDustDoNotEnterTheMean();
    void oneClippedChannelIsCounted();
    void aWindowOutsideTheFrameHasNoSamples();
    void aDiscHoldsWhatLiesWithinItsRadius();
    void cornersThatCannotBeAreRefused();
};

namespace {

/// A plain mosaic frame: R 0.2, G 0.4, B 0.1 of the range 100…1100.
struct Plain
{
    std::shared_ptr<std::vector<uint16_t>> samples;
    RawFrame frame;

    explicit Plain(int side)
    {
        samples = std::make_shared<std::vector<uint16_t>>(size_t(side) * size_t(side));
        sim::Random random(3);
        const uint16_t codes[] = {300, 500, 500, 200};
        for (int y = 0; y < side; ++y)
            for (int x = 0; x < side; ++x)
                at(side, x, y) = uint16_t(std::lround(codes[2 * (y % 2) + x % 2] + 4 * random.normal()));
        Mosaic m;
        m.samples = samples->data();
        m.rowStride = side;
        m.channel = {0, 1, 1, 2};
        m.black.assign(4, 100);
        m.white = 1100;
        frame.path = "plain";
        frame.width = frame.height = side;
        frame.mosaic = std::make_shared<Mosaic>(m);
    }
    uint16_t &at(int side, int x, int y) { return (*samples)[size_t(y) * size_t(side) + size_t(x)]; }
};

const Quad kWindow{{{20, 20}, {180, 20}, {180, 180}, {20, 180}}};

} // namespace

void SampleTest::hotPixelsAndDustDoNotEnterTheMean()
{
    Plain plain(200);
    plain.at(200, 100, 100) = 1100; // hot
    for (int y = 60; y < 70; ++y)   // dust: 0.4 % of the window
        for (int x = 60; x < 70; ++x)
            plain.at(200, x, y) = 150;
    const auto patch = sampleWindow(plain.frame, kWindow);
    // 6 400 samples of deviation 0.004: the mean is good to 0.0002
    QVERIFY(std::abs(patch.mean.r - 0.2) < 2e-4 && std::abs(patch.mean.g - 0.4) < 2e-4 &&
            std::abs(patch.mean.b - 0.1) < 2e-4);
    QVERIFY(std::abs(patch.sd.g - 0.004) < 3e-4);
    QCOMPARE(patch.clipped, 0.0);
    QVERIFY(patch.count > 25000 && patch.count < 25600);
}

void SampleTest::oneClippedChannelIsCounted()
{
    Plain plain(200);
    for (int y = 0; y < 200; y += 2)
        for (int x = 0; x < 100; x += 2)
            plain.at(200, x, y) = 1100; // red, left half
    const auto patch = sampleWindow(plain.frame, kWindow);
    QVERIFY2(std::abs(patch.clipped - 0.5) < 0.01, "half of the red samples, though an eighth of all");
}

void SampleTest::aWindowOutsideTheFrameHasNoSamples()
{
    Plain plain(64);
    const auto patch = sampleWindow(plain.frame, {{{100, 100}, {140, 100}, {140, 140}, {100, 140}}});
    QCOMPARE(patch.count, 0);
}

void SampleTest::aDiscHoldsWhatLiesWithinItsRadius()
{
    Plain plain(200);
    for (int y = 0; y < 200; ++y) // all but the disc is another colour
        for (int x = 0; x < 200; ++x)
            if (std::hypot(x + 0.5 - 100, y + 0.5 - 90) > 40)
                plain.at(200, x, y) = 900;
    const auto disc = sampleDisc(plain.frame, {100, 90}, 40);
    QVERIFY(disc);
    QVERIFY(std::abs(disc->mean.r - 0.2) < 0.001);
    QVERIFY(std::abs(disc->mean.g - 0.4) < 0.001);
    QVERIFY(std::abs(disc->mean.b - 0.1) < 0.001);
    const double area = 3.14159 * 40 * 40;
    QVERIFY2(std::abs(disc->count - area) < 0.03 * area, qPrintable(QString::number(disc->count)));
    QCOMPARE(disc->clipped, 0.0);
    // wholly inside the frame, or nothing
    QVERIFY(!sampleDisc(plain.frame, {30, 90}, 40));
    QVERIFY(!sampleDisc(plain.frame, {100, 170}, 40));
    QVERIFY(!sampleDisc(plain.frame, {100, 90}, 0));
    QVERIFY(sampleDisc(plain.frame, {100, 90}, 100) == std::nullopt);
    QVERIFY(sampleDisc(plain.frame, {40, 40}, 40));
}

void SampleTest::cornersThatCannotBeAreRefused()
{
    Plain plain(200);
    const auto chart = chartCatalogue().front();
    ReadOptions options;
    options.corners = Corners{{{10, 10}, {190, 10}, {190, 120}, {10, 120}}};
    const auto fine = readChart(plain.frame, chart, options);
    QVERIFY(fine && fine->found && fine->placedBy == PlacedBy::Hand && fine->patches.size() == 24);
    options.corners = Corners{{{10, 10}, {10, 120}, {190, 120}, {190, 10}}}; // mirrored
    QVERIFY(!readChart(plain.frame, chart, options));
    options.corners = Corners{{{-300, 10}, {190, 10}, {190, 120}, {-300, 120}}};
    const auto outside = readChart(plain.frame, chart, options);
    QVERIFY(!outside && outside.error().message.find("outside") != std::string::npos);
    const auto none = readChart(plain.frame, chart);
    QVERIFY2(none && !none->found && none->patches.empty(), "an even frame has no chart");
}

static const testing::Registered<SampleTest> registeredSampleTest("sample_test");
#include "sample_test.moc"
