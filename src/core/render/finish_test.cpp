#include "core/raw/overview.h"
#include "core/render/straighten.h"
#include "core/sim/random.h"
#include "support/mosaic_frame.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <functional>

using namespace wavechroma;

/// Sharpening, colour noise and distortion.
class FinishTest : public QObject
{
    Q_OBJECT
private slots:
    void partsFitTogetherToTheBit_data();
    void partsFitTogetherToTheBit();
    void aSoftEdgeGetsSharperWithoutHalos_data();
    void aSoftEdgeGetsSharperWithoutHalos();
    void noiseIsNotSharpened();
    void colourNoiseGoesAndEdgesStay();
    void theNoiseIsToldFromTheFrame();
    void aBentGridComesOutStraight_data();
    void aBentGridComesOutStraight();
};

namespace {

using testing::Light;
const Vector3 kGains{1.9, 1, 1.6};

/// `electrons` at saturation; 0: no noise. Light is told at the pixels' middles.
RawFrame frameOf(int width, int height, const Light &light, double electrons = 0)
{
    testing::MosaicMake make;
    make.electrons = electrons;
    return testing::mosaicFrame(
        width, height, [&](double x, double y) { return light(x + 0.5, y + 0.5); }, make);
}

RgbRows read(const RawFrame &frame, Finish finish, double distortion = 0)
{
    finish.noise = noiseOf(frame, kGains);
    StraightPixels pixels(frame, kGains, finish, distortion, cutOf(frame, {}));
    RgbRows out;
    const PixelArea whole{0, 0, frame.width, frame.height};
    pixels.read(whole, out.taking(whole));
    return out;
}

double edge(double distance, double spread)
{
    return 0.5 + 0.5 * std::erf(distance / (spread * std::sqrt(2.0)));
}

Vector3 grey(double v)
{
    return {v, v, v};
}

double scatterOf(const std::vector<double> &values)
{
    double mean = 0, squares = 0;
    for (const double v : values)
        mean += v / double(values.size());
    for (const double v : values)
        squares += (v - mean) * (v - mean);
    return std::sqrt(squares / double(values.size()));
}

} // namespace

void FinishTest::partsFitTogetherToTheBit_data()
{
    QTest::addColumn<double>("edgeSpread");
    QTest::addColumn<bool>("calm");
    QTest::addColumn<double>("distortion");
    QTest::newRow("sharp") << 0.9 << false << 0.0;
    QTest::newRow("calm") << 0.0 << true << 0.0;
    QTest::newRow("barrel") << 0.0 << false << -0.1;
    QTest::newRow("all, pincushion") << 0.6 << true << 0.08;
}

void FinishTest::partsFitTogetherToTheBit()
{
    QFETCH(double, edgeSpread);
    QFETCH(bool, calm);
    QFETCH(double, distortion);
    sim::Random random(5);
    const auto frame = frameOf(121, 90, [&](double x, double) {
        return Vector3{random.unit(), 0.3 + 0.4 * std::sin(x), random.unit()};
    });
    const Finish finish{edgeSpread, calm, noiseOf(frame, kGains)};
    const auto whole = read(frame, {edgeSpread, calm, {}}, distortion);
    StraightPixels pixels(frame, kGains, finish, distortion, cutOf(frame, {}));
    RgbRows part;
    for (int y = 0; y < frame.height; y += 37)
        for (int x = 0; x < frame.width; x += 50) {
            const PixelArea area{x, y, std::min(50, frame.width - x), std::min(37, frame.height - y)};
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

void FinishTest::aSoftEdgeGetsSharperWithoutHalos_data()
{
    QTest::addColumn<double>("spread");
    for (const double spread : {0.7, 1.2, 2.0})
        QTest::addRow("%.1f pixels", spread) << spread;
}

void FinishTest::aSoftEdgeGetsSharperWithoutHalos()
{
    QFETCH(double, spread);
    // a slanted edge from 0.1 to 0.6
    const auto distance = [](double x, double y) {
        return (x - 40) * std::cos(0.1) + (y - 30) * std::sin(0.1);
    };
    const auto frame =
        frameOf(80, 60, [&](double x, double y) { return grey(0.1 + 0.5 * edge(distance(x, y), spread)); });
    const auto before = read(frame, {}), after = read(frame, {spread, false, {}});
    // how far pixels beside the edge are from what an unblurred one would give
    const auto misses = [&](const RgbRows &rgb) {
        double sum = 0;
        for (int y = 12; y < 48; ++y)
            for (int x = 12; x < 68; ++x)
                sum += std::abs(double(rgb.green[size_t(y * 80 + x)]) -
                                (distance(x + 0.5, y + 0.5) > 0 ? 0.6 : 0.1));
        return sum;
    };
    QVERIFY2(misses(after) < 0.8 * misses(before),
             qPrintable(QString("%1 %2").arg(misses(after)).arg(misses(before))));
    for (int y = 12; y < 48; ++y)
        for (int x = 12; x < 68; ++x) {
            const float g = after.green[size_t(y * 80 + x)];
            QVERIFY2(g < 0.6F + 0.05F * 0.5F + 0.01F && g > 0.1F - 0.05F * 0.5F,
                     qPrintable(QString("%1 %2: %3").arg(x).arg(y).arg(g)));
        }
}

void FinishTest::noiseIsNotSharpened()
{
    const auto frame = frameOf(
        128, 128, [](double, double) { return grey(0.3); }, 4000);
    const auto scatter = [](const RgbRows &rgb) {
        std::vector<double> values;
        for (size_t i = 0; i < rgb.green.size(); i += 3)
            values.push_back(double(rgb.green[i]));
        return scatterOf(values);
    };
    const double before = scatter(read(frame, {})), after = scatter(read(frame, {1, false, {}}));
    QVERIFY2(after < 1.3 * before, qPrintable(QString("%1 %2").arg(before).arg(after)));
}

void FinishTest::colourNoiseGoesAndEdgesStay()
{
    // red beside grey of nearly the same lightness, in the noise of a high sensitivity
    const auto light = [](double x, double) {
        return x < 64 ? Vector3{0.3, 0.3, 0.3} : Vector3{0.55, 0.27, 0.2};
    };
    const auto frame = frameOf(128, 128, light, 900);
    const auto before = read(frame, {}), after = read(frame, {0, true, {}});
    const auto tints = [](const RgbRows &rgb, int from, int to) {
        std::vector<double> out;
        for (int y = 10; y < 118; ++y)
            for (int x = from; x < to; ++x) {
                const size_t at = size_t(y * 128 + x);
                out.push_back(double(rgb.red[at]) / std::max(0.05, double(rgb.green[at])));
            }
        return out;
    };
    QVERIFY2(scatterOf(tints(after, 8, 56)) < scatterOf(tints(before, 8, 56)) / 1.8,
             qPrintable(
                 QString("%1 %2").arg(scatterOf(tints(after, 8, 56))).arg(scatterOf(tints(before, 8, 56)))));
    const auto mean = [&](int from, int to) {
        const auto values = tints(after, from, to);
        double sum = 0;
        for (const double v : values)
            sum += v / double(values.size());
        return sum;
    };
    QVERIFY(std::abs(mean(8, 56) - 1) < 0.03 && std::abs(mean(72, 120) - 2.04) < 0.08); // no tint moves
    QVERIFY2(mean(60, 62) < 1.2 && mean(66, 68) > 1.8,
             qPrintable(QString("%1 %2").arg(mean(60, 62)).arg(mean(66, 68))));
    // lightness is left alone
    for (size_t i = 0; i < before.green.size(); ++i)
        QVERIFY(std::abs(before.green[i] - after.green[i]) < 1e-5F);
}

void FinishTest::theNoiseIsToldFromTheFrame()
{
    // photon noise: half a root of one over the electrons, times the root of the gain
    const auto frame = frameOf(
        400, 300, [](double x, double) { return grey(0.1 + 0.5 * x / 400); }, 5000);
    const auto noise = noiseOf(frame, kGains);
    for (size_t c = 0; c < 3; ++c) {
        const double meant = 0.5 * std::sqrt(kGains[c] / 5000);
        QVERIFY2(std::abs(noise[c] / meant - 1) < 0.12,
                 qPrintable(QString("%1: %2 %3").arg(c).arg(noise[c]).arg(meant)));
    }
}

void FinishTest::aBentGridComesOutStraight_data()
{
    QTest::addColumn<double>("distortion");
    for (const double d : {-0.15, -0.03, 0.06})
        QTest::addRow("%.2f", d) << d;
}

void FinishTest::aBentGridComesOutStraight()
{
    QFETCH(double, distortion);
    // Lines of a straight grid as the lens bends them; taken out, they lie where they lay.
    const int w = 240, h = 160;
    const auto lens = LensShape::of(distortion, w, h);
    const double grown = enlargementBy(distortion);
    QVERIFY(distortion > 0 ? grown > 1 : grown == 1);
    const auto lines = [](double x, double y) {
        return 0.3 + 0.12 * std::sin(x / 6) + 0.12 * std::sin(y / 7);
    };
    const auto bent = frameOf(w, h, [&](double x, double y) {
        const auto p = lens.straight({x, y});
        return grey(lines(p.x, p.y));
    });
    const auto rgb = read(bent, {}, distortion);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const double sx = w / 2.0 + (x + 0.5 - w / 2.0) / grown,
                         sy = h / 2.0 + (y + 0.5 - h / 2.0) / grown;
            const double meant = lines(sx, sy), seen = double(rgb.green[size_t(y * w + x)]);
            QVERIFY2(std::abs(seen - meant) < 0.02,
                     qPrintable(QString("%1 %2: %3 %4").arg(x).arg(y).arg(seen).arg(meant)));
        }
}

static const testing::Registered<FinishTest> registeredFinishTest("finish_test");
#include "finish_test.moc"
