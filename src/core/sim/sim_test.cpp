#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/color/lab_difference.h"
#include "core/sim/random_scene.h"
#include "core/sim/reflectance.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class SimTest : public QObject
{
    Q_OBJECT
private slots:
    void chartReflectancesHaveTheNominalColours();
    void impossibleColoursAreRefused();
    void theSameSeedGivesTheSameFrame();
    void samplesHaveTheTrueMeanAndTheNoiseOfTheIso();
};

void SimTest::chartReflectancesHaveTheNominalColours()
{
    const auto &chart = chartCatalogue().front();
    const auto d50 = illuminantD50();
    const auto reflectances = sim::chartReflectances(chart);
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto lab = labFromXyz(xyzD50FromReflectance(reflectances[i], d50));
        QVERIFY2(de76(lab, labFromXyz(chart.patches[i].reference)) < 1e-6, chart.patches[i].id.c_str());
        for (const double r : reflectances[i].values)
            QVERIFY(r > 0 && r < 1);
    }
}

void SimTest::impossibleColoursAreRefused()
{
    QVERIFY(!sim::reflectanceOf({95, 80, -80}, 1));
}

void SimTest::theSameSeedGivesTheSameFrame()
{
    const auto scene = sim::randomScene({5, 300, 200});
    sim::Shot shot;
    shot.width = 300;
    shot.height = 200;
    const auto &camera = sim::camera("Tarn 2");
    const auto a = sim::expose(scene, camera, sim::lamp("led"), shot),
               b = sim::expose(scene, camera, sim::lamp("led"), shot);
    QVERIFY(a.samples == b.samples);
    shot.seed = 2;
    QVERIFY(a.samples != sim::expose(scene, camera, sim::lamp("led"), shot).samples);
}

void SimTest::samplesHaveTheTrueMeanAndTheNoiseOfTheIso()
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.5));
    auto camera = sim::camera("Tarn 2");
    camera.lenses[0].vignetting = 0;
    sim::Shot shot;
    shot.width = shot.height = 256;
    shot.iso = 800;
    shot.hotPixels = 0;
    const auto frame = sim::expose(scene, camera, sim::lamp("daylight"), shot);
    double sum = 0, squares = 0;
    int n = 0;
    for (int y = 0; y < 256; ++y)
        for (int x = 0; x < 256; ++x)
            if (frame.filter[size_t(2 * (y % 2) + x % 2)] == 1) {
                const double v =
                    (frame.samples[size_t(y * 256 + x)] - frame.black) / double(frame.white - frame.black);
                sum += v;
                squares += v * v;
                ++n;
            }
    const double mean = sum / n, sd = std::sqrt(squares / n - mean * mean);
    const double electrons = camera.fullWell / 8; // ISO 800
    QVERIFY(std::abs(mean - 0.4) < 4e-4);         // 0.5 × exposure 0.8, error of the mean 0.0001
    QVERIFY(std::abs(sd / (std::sqrt(0.4 * electrons) / electrons) - 1) < 0.03);
}

static const testing::Registered<SimTest> registeredSimTest("sim_test");
#include "sim_test.moc"
