#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <random>

using namespace wavechroma;

/// The quick block means against a slow, obvious second implementation.
class OverviewTest : public QObject
{
    Q_OBJECT
private slots:
    void agreesWithTheSlowWay_data();
    void agreesWithTheSlowWay();
    void partsOfAFrameStartOnThePattern();
    void gainMapsAreBilinear();
};

namespace {

struct Made
{
    std::vector<uint16_t> samples;
    RawFrame frame;
};

/// Random codes behind a pattern of the given period, with black levels that differ from place to place.
Made madeFrame(int width, int height, int period, const std::vector<uint8_t> &pattern)
{
    Made made;
    std::mt19937 random(5);
    made.samples.resize(size_t(width) * size_t(height));
    for (auto &s : made.samples)
        s = uint16_t(random() % 4096);
    Mosaic m;
    m.samples = made.samples.data();
    m.rowStride = width;
    m.periodX = m.periodY = period;
    m.channel = pattern;
    for (size_t i = 0; i < pattern.size(); ++i)
        m.black.push_back(float(60 + 4 * (i % 5)));
    m.white = 4000;
    made.frame.width = width;
    made.frame.height = height;
    made.frame.mosaic = std::make_shared<Mosaic>(m);
    return made;
}

Vector3 slowMean(const RawFrame &frame, int x0, int y0, int block)
{
    // mean of (code − black) over the channel's own range, black averaged over its places as the header says
    // of a mean
    Vector3 codes{}, blacks{};
    std::array<int, 3> counts{};
    const auto &m = *frame.mosaic;
    for (int y = y0; y < y0 + block; ++y)
        for (int x = x0; x < x0 + block; ++x) {
            const size_t c = m.channel[m.cell(x, y)];
            codes[c] += m.code(x, y);
            blacks[c] += double(m.black[m.cell(x, y)]);
            ++counts[c];
        }
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c)
        out[c] = (codes[c] - blacks[c]) / counts[c] / (double(m.white) - blacks[c] / counts[c]);
    return out;
}

} // namespace

void OverviewTest::agreesWithTheSlowWay_data()
{
    QTest::addColumn<int>("period");
    QTest::addColumn<QList<int>>("pattern");
    QTest::addColumn<int>("block");
    QTest::addColumn<int>("effective");
    const QList<int> rggb{0, 1, 1, 2}, gbrg{1, 2, 0, 1};
    QList<int> six; // a 6 × 6 pattern with all three colours in every row
    for (int i = 0; i < 36; ++i)
        six << (i * 7 + i / 6) % 3;
    QTest::newRow("2 × 2, block 2") << 2 << rggb << 2 << 2;
    QTest::newRow("2 × 2, block 4") << 2 << gbrg << 4 << 4;
    QTest::newRow("2 × 2, block 6") << 2 << rggb << 6 << 6;
    QTest::newRow("2 × 2, block 5 is rounded up") << 2 << gbrg << 5 << 6;
    QTest::newRow("6 × 6, block 6") << 6 << six << 6 << 6;
    QTest::newRow("6 × 6, block 7 is rounded up") << 6 << six << 7 << 12;
}

void OverviewTest::agreesWithTheSlowWay()
{
    QFETCH(int, period);
    QFETCH(QList<int>, pattern);
    QFETCH(int, block);
    QFETCH(int, effective);
    std::vector<uint8_t> channels;
    for (const int c : pattern)
        channels.push_back(uint8_t(c));
    const auto made = madeFrame(103, 67, period, channels); // no multiple of anything
    const auto overview = overviewOf(made.frame, block);
    QCOMPARE(overview.block, effective);
    QCOMPARE(overview.width, 103 / effective);
    QCOMPARE(overview.height, 67 / effective);
    for (int y = 0; y < overview.height; ++y)
        for (int x = 0; x < overview.width; ++x) {
            const size_t at = size_t(y) * size_t(overview.width) + size_t(x);
            const auto slow = slowMean(made.frame, x * effective, y * effective, effective);
            for (size_t c = 0; c < 3; ++c)
                QVERIFY(std::abs(double(overview.rgb[3 * at + c]) - slow[c]) < 2e-6); // single precision
            bool clipped = false;
            for (int dy = 0; dy < effective; ++dy)
                for (int dx = 0; dx < effective; ++dx)
                    clipped = clipped ||
                              made.frame.mosaic->code(x * effective + dx, y * effective + dy) >= 0.998 * 4000;
            QCOMPARE(bool(overview.clipped[at]), clipped);
        }
}

void OverviewTest::partsOfAFrameStartOnThePattern()
{
    const auto made = madeFrame(100, 80, 2, {0, 1, 1, 2});
    PixelArea area{31, 17, 40, 30};
    const auto part = overviewOf(made.frame, 4, area);
    QCOMPARE(area.x, 30); // rounded down to the pattern
    QCOMPARE(area.y, 16);
    const auto slow = slowMean(made.frame, 30, 16, 4);
    for (size_t c = 0; c < 3; ++c)
        QVERIFY(std::abs(double(part.rgb[c]) - slow[c]) < 2e-6);
    PixelArea outside{500, 500, 10, 10};
    QVERIFY(overviewOf(made.frame, 4, outside).rgb.empty());
}

void OverviewTest::gainMapsAreBilinear()
{
    GainMap map;
    map.width = 100;
    map.height = 50;
    map.columns = map.rows = 2;
    for (auto &gain : map.gain)
        gain = {1, 2, 3, 4};
    QCOMPARE(map.at(0, 0, 0), 1.0F);
    QCOMPARE(map.at(1, 100, 0), 2.0F);
    QCOMPARE(map.at(2, 0, 50), 3.0F);
    QCOMPARE(map.at(0, 50, 25), 2.5F);
    QCOMPARE(map.at(0, 1000, 1000), 4.0F); // held at the edge
}

static const testing::Registered<OverviewTest> registeredOverviewTest("overview_test");
#include "overview_test.moc"
