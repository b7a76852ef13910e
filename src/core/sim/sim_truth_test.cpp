// The simulator against closed forms. Its geometry is judged by a pinhole of this file's own, since the
// program's is what frames of the simulator judge elsewhere.
#include "core/sim/expose.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class SimTruthTest : public QObject
{
    Q_OBJECT
private slots:
    void aChartLiesWhereAPinholeSeesIt();
    void oneWavelengthGivesTheReflectanceThere();
    void noiseIsThatOfLightAndOfReading_data();
    void noiseIsThatOfLightAndOfReading();
    void anEdgeIsBlurredByAGaussian_data();
    void anEdgeIsBlurredByAGaussian();
};

namespace {

/// A body without noise, falloff and hot pixels.
sim::Camera stillCamera()
{
    auto out = sim::camera("Tarn 2");
    out.fullWell = 1e12;
    out.readNoise = 0;
    for (auto &lens : out.lenses)
        lens.vignetting = 0;
    return out;
}

sim::Shot stillShot(int width, int height)
{
    sim::Shot out;
    out.width = width;
    out.height = height;
    out.hotPixels = 0;
    return out;
}

double valueAt(const sim::SimFrame &frame, int x, int y)
{
    return (frame.samples[size_t(y) * size_t(frame.width) + size_t(x)] - frame.black) /
           double(frame.white - frame.black);
}

bool isGreen(const sim::SimFrame &frame, int x, int y)
{
    return frame.filter[size_t(2 * (y % 2) + x % 2)] == 1;
}

/// Green next to a point of the frame.
double greenNear(const sim::SimFrame &frame, PixelPoint at)
{
    const int x = int(std::floor(at.x)), y = int(std::floor(at.y));
    return isGreen(frame, x, y) ? valueAt(frame, x, y) : valueAt(frame, x + 1, y);
}

/// A plane in space before a pinhole: a point (u, v) of it, in mm, as it is seen.
struct Pinhole
{
    double tiltX = 0.35, tiltY = -0.25, turn = 0.4; // radians
    double distance = 900, focal = 1000;            // mm, pixels
    double middleX = 300, middleY = 220;
    [[nodiscard]] PixelPoint seen(double u, double v) const
    {
        const double a = u * std::cos(turn) - v * std::sin(turn), b = u * std::sin(turn) + v * std::cos(turn);
        const double x = a * std::cos(tiltY), zy = a * std::sin(tiltY);
        const double y = b * std::cos(tiltX), zx = b * std::sin(tiltX);
        const double z = distance + zx + zy;
        return {middleX + focal * x / z, middleY + focal * y / z};
    }
};

} // namespace

void SimTruthTest::aChartLiesWhereAPinholeSeesIt()
{
    ChartDefinition chart = chartCatalogue().front();
    const double width = (chart.columns - 1) * chart.pitchXMm + chart.patchWidthMm,
                 height = (chart.rows - 1) * chart.pitchYMm + chart.patchHeightMm;
    const Pinhole pinhole;
    const auto seen = [&](double u, double v) { return pinhole.seen(u - width / 2, v - height / 2); };
    sim::Scene scene;
    scene.blurPixels = 0.01;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.9));
    sim::PrintedChart printed;
    printed.chart = chart;
    printed.corners = {seen(0, 0), seen(width, 0), seen(width, height), seen(0, height)};
    printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
    std::vector<double> reflectances;
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        reflectances.push_back(0.1 + 0.03 * double((i * 7) % chart.patches.size()));
        printed.patchMaterials.push_back(sim::addMaterial(scene, sim::flatReflectance(reflectances.back())));
    }
    scene.things.push_back(printed);
    const auto shot = stillShot(600, 440);
    const auto frame = sim::expose(scene, stillCamera(), sim::lamp("daylight"), shot);
    // inside each patch, almost to its edges, its own value; between the patches the frame's
    constexpr double kIn = 0.44, kCodes = 2e-3; // of its size; steps of code values
    for (int row = 0; row < chart.rows; ++row)
        for (int column = 0; column < chart.columns; ++column) {
            const double u = column * chart.pitchXMm, v = row * chart.pitchYMm;
            const double wanted = shot.exposure * reflectances[size_t(row * chart.columns + column)];
            for (const double dx : {-kIn, 0.0, kIn})
                for (const double dy : {-kIn, 0.0, kIn}) {
                    const double got = greenNear(frame, seen(u + (0.5 + dx) * chart.patchWidthMm,
                                                             v + (0.5 + dy) * chart.patchHeightMm));
                    QVERIFY2(std::abs(got - wanted) < kCodes,
                             qPrintable(QString("%1 %2: %3, %4").arg(row).arg(column).arg(got).arg(wanted)));
                }
            const double gap = chart.pitchXMm - chart.patchWidthMm;
            const double between =
                greenNear(frame, seen(u + chart.patchWidthMm + gap / 2, v + chart.patchHeightMm / 2));
            QVERIFY(std::abs(between - shot.exposure * 0.03) < kCodes);
        }
}

void SimTruthTest::oneWavelengthGivesTheReflectanceThere()
{
    auto lamp = sim::lamp("daylight");
    const double nm = 550;
    const auto at = size_t(std::lround((nm - lamp.spectrum.startNm) / lamp.spectrum.stepNm));
    for (size_t i = 0; i < lamp.spectrum.values.size(); ++i)
        lamp.spectrum.values[i] = i == at ? 1 : 0;
    sim::Scene scene;
    auto slope = sim::flatReflectance(0.5); // a reflectance that rises evenly
    for (size_t i = 0; i < slope.values.size(); ++i)
        slope.values[i] = 0.1 + 0.8 * double(i) / double(slope.values.size() - 1);
    const auto of = size_t(std::lround((nm - slope.startNm) / slope.stepNm));
    scene.background = sim::addMaterial(scene, slope);
    const auto shot = stillShot(64, 64);
    const auto frame = sim::expose(scene, stillCamera(), lamp, shot);
    QVERIFY(std::abs(greenNear(frame, {32, 32}) - shot.exposure * slope.values[of]) < 2e-4);
}

void SimTruthTest::noiseIsThatOfLightAndOfReading_data()
{
    QTest::addColumn<double>("reflectance");
    QTest::addColumn<double>("iso");
    for (const double reflectance : {0.02, 0.18, 0.7})
        for (const double iso : {100.0, 1600.0})
            QTest::addRow("%g at ISO %g", reflectance, iso) << reflectance << iso;
}

/// Var = (N + r²) / w², where N electrons of light came, r is the read noise and w the electrons at
/// saturation: the well at ISO 100, and less by the amplification.
void SimTruthTest::noiseIsThatOfLightAndOfReading()
{
    QFETCH(double, reflectance);
    QFETCH(double, iso);
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(reflectance));
    auto camera = sim::camera("Tarn 2");
    for (auto &lens : camera.lenses)
        lens.vignetting = 0;
    auto shot = stillShot(400, 400);
    shot.iso = iso;
    const auto frame = sim::expose(scene, camera, sim::lamp("daylight"), shot);
    double sum = 0, squares = 0;
    int n = 0;
    for (int y = 0; y < 400; ++y)
        for (int x = 0; x < 400; ++x)
            if (isGreen(frame, x, y)) {
                const double v = valueAt(frame, x, y);
                sum += v;
                squares += v * v;
                ++n;
            }
    const double mean = sum / n, variance = squares / n - mean * mean;
    const double well = camera.fullWell * 100 / iso, electrons = shot.exposure * reflectance * well;
    const double rounding = 1 / (12.0 * std::pow(frame.white - frame.black, 2));
    const double wanted = (electrons + camera.readNoise * camera.readNoise) / (well * well) + rounding;
    // the variance of 80 000 samples is known to 0.5 % (one standard deviation)
    QVERIFY2(std::abs(variance / wanted - 1) < 0.025,
             qPrintable(QString("%1 of %2").arg(variance).arg(wanted)));
    QVERIFY(std::abs(mean - shot.exposure * reflectance) < 4 * std::sqrt(wanted / n) + 1e-5);
}

void SimTruthTest::anEdgeIsBlurredByAGaussian_data()
{
    QTest::addColumn<double>("blur");
    QTest::addColumn<double>("places");
    QTest::newRow("0.7") << 0.7 << 16.0;
    QTest::newRow("1.5") << 1.5 << 36.0;
    QTest::newRow("3") << 3.0 << 64.0;
}

/// The line spread of the blur is a Gaussian's, so an edge is its integral, with the pixel's own width:
/// variance blur² + 1/12.
void SimTruthTest::anEdgeIsBlurredByAGaussian()
{
    QFETCH(double, blur);
    QFETCH(double, places);
    sim::Scene scene;
    scene.blurPixels = blur;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.2));
    const double edge = 40.3, light = 0.8, dark = 0.2;
    const int bright = sim::addMaterial(scene, sim::flatReflectance(light));
    scene.things.push_back(sim::Polygon{{{edge, -50}, {200, -50}, {200, 200}, {edge, 200}}, bright});
    const auto shot = stillShot(80, 80);
    const auto frame = sim::expose(scene, stillCamera(), sim::lamp("daylight"), shot);
    const double spread = std::sqrt(blur * blur + 1 / 12.0);
    double worst = 0;
    for (int x = 26; x < 54; ++x)
        for (int y = 30; y < 32; ++y)
            if (isGreen(frame, x, y)) {
                const double share = 0.5 * std::erfc((edge - (x + 0.5)) / (spread * std::sqrt(2.0)));
                const double wanted = shot.exposure * (dark + (light - dark) * share);
                worst = std::max(worst, std::abs(valueAt(frame, x, y) - wanted));
            }
    // the blur is a sum over N places that are drawn once: it follows the Gaussian to half of 1/√N
    const double within = 0.5 / std::sqrt(places) * shot.exposure * (light - dark);
    QVERIFY2(worst < within, qPrintable(QString("%1 of %2").arg(worst).arg(within)));
}

static const testing::Registered<SimTruthTest> registeredSimTruthTest("sim_truth_test");
#include "sim_truth_test.moc"
