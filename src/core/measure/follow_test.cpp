#include "core/measure/follow.h"
#include "core/raw/overview.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/reflectance.h"
#include "core/sim/studio_set.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// A thing of one frame found again in the next.
class FollowTest : public QObject
{
    Q_OBJECT
private slots:
    void aThingIsFoundWhereItWent_data();
    void aThingIsFoundWhereItWent();
    void whatIsNotThereIsNotFound();
    void framesOfOtherSizesDoNotFollow();

private:
    /// Some hanks of yarn on linen, all moved by that many pixels.
    static RawFrame laid(double dx, double dy, double exposure = 0.6, uint64_t seed = 1);
    static Overview small(const RawFrame &frame) { return overviewOf(frame, 4); }
};

RawFrame FollowTest::laid(double dx, double dy, double exposure, uint64_t seed)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, *sim::reflectanceOf({74, 1.5, 7}, 41, 0.05), 0.03, 3);
    for (int i = 0; i < 4; ++i) {
        const double x = 110 + 130 * i + dx, y = 90 + 15 * (i % 2) + dy;
        scene.things.push_back(sim::Skein{
            {x, y}, {x + 6, y + 170}, 26, sim::addMaterial(scene, sim::yarns()[size_t(i)].reflectance)});
    }
    sim::Shot shot;
    shot.width = 640;
    shot.height = 420;
    shot.exposure = exposure;
    shot.seed = seed;
    return sim::rawFrameOf(sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("strobe"), shot));
}

void FollowTest::aThingIsFoundWhereItWent_data()
{
    QTest::addColumn<double>("dx");
    QTest::addColumn<double>("dy");
    QTest::addColumn<double>("exposure");
    QTest::newRow("stays") << 0.0 << 0.0 << 0.6;
    QTest::newRow("a little") << 9.0 << -5.0 << 0.6;
    QTest::newRow("far") << -62.0 << 40.0 << 0.6;
    QTest::newRow("and darker") << 31.0 << 14.0 << 0.3;
}

void FollowTest::aThingIsFoundWhereItWent()
{
    QFETCH(double, dx);
    QFETCH(double, dy);
    QFETCH(double, exposure);
    const auto before = small(laid(0, 0)), after = small(laid(dx, dy, exposure, 2));
    for (int i = 0; i < 4; ++i) {
        const PixelPoint place{113.0 + 130 * i, 170.0 + 15 * (i % 2)};
        const auto found = followed(before, after, place, 18);
        QVERIFY(found);
        const double off = std::hypot(found->place.x - place.x - dx, found->place.y - place.y - dy);
        QVERIFY2(off < 6, qPrintable(QString("%1: %2").arg(i).arg(off)));
    }
}

void FollowTest::whatIsNotThereIsNotFound()
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, *sim::reflectanceOf({74, 1.5, 7}, 41, 0.05), 0.03, 3);
    sim::Shot shot;
    shot.width = 640;
    shot.height = 420;
    const auto bare = sim::rawFrameOf(sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("strobe"), shot));
    QVERIFY(!followed(small(laid(0, 0)), small(bare), {113, 170}, 18));
}

void FollowTest::framesOfOtherSizesDoNotFollow()
{
    const auto frame = laid(0, 0);
    QVERIFY(!followed(overviewOf(frame, 4), overviewOf(frame, 8), {113, 170}, 18));
}

static const testing::Registered<FollowTest> registeredFollowTest("follow_test");
#include "follow_test.moc"
