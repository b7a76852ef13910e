#include "core/capture/set_look.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random.h"
#include "core/sim/studio_set.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// What stands still in the simulated studio tells of its light, with a chart in one frame and yarns in the
/// other.
class SetLookTest : public QObject
{
    Q_OBJECT
private slots:
    void theSameLightIsHeld_data();
    void theSameLightIsHeld();
    void aChangeIsTold_data();
    void aChangeIsTold();
    void settingsAreNoChange();
    void picturesWithNothingInCommonSayNothing();
    void brokenLooksAreNone();
};

namespace {

sim::StudioSettings settingsOf(const char *camera, const char *lamp, bool isChart)
{
    sim::StudioSettings s;
    s.camera = camera;
    s.lamp = lamp;
    s.shrink = 4;
    s.subject = isChart ? sim::Subject::Chart : sim::Subject::Skeins;
    s.seed = isChart ? 91 : 92;
    return s;
}

std::string lookOf(const sim::StudioSettings &s)
{
    return setLookOf(sim::rawFrameOf(sim::shootStudio(s)));
}

} // namespace

void SetLookTest::theSameLightIsHeld_data()
{
    QTest::addColumn<QString>("camera");
    QTest::addColumn<QString>("lamp");
    for (const char *camera : {"Tarn 2", "Marram 8", "Osprey Mini"})
        for (const char *lamp : {"strobe", "led", "tungsten"})
            QTest::addRow("%s %s", camera, lamp) << camera << lamp;
}

void SetLookTest::theSameLightIsHeld()
{
    QFETCH(QString, camera);
    QFETCH(QString, lamp);
    const auto camera8 = camera.toUtf8(), lamp8 = lamp.toUtf8();
    const auto chart = lookOf(settingsOf(camera8, lamp8, true));
    QCOMPARE(chart.size(), size_t(1152));
    for (const int yarn : {0, 3, 6}) { // other things in the same places
        auto s = settingsOf(camera8, lamp8, false);
        s.firstYarn = yarn;
        const auto change = lightChange(chart, lookOf(s), 0.0);
        QVERIFY(change);
        QVERIFY2(!change->visible.any(), qPrintable(QString::number(change->red)));
        QVERIFY(std::abs(*change->stops) < 0.03 && std::abs(change->red) < 0.02);
    }
}

void SetLookTest::aChangeIsTold_data()
{
    QTest::addColumn<double>("drift");
    QTest::addColumn<double>("power");
    QTest::addColumn<QString>("lamp");
    QTest::newRow("a tired lamp") << 1.0 << 0.0
                                  << "led"; // weaker by a quarter, redder by 7 % and bluer by less
    QTest::newRow("15 % less") << 0.0 << -0.235 << "led";
    QTest::newRow("a third of a stop more") << 0.0 << 1 / 3.0 << "led";
    QTest::newRow("tungsten") << 0.0 << 0.0 << "tungsten";
    QTest::newRow("tubes") << 0.0 << 0.0 << "tube";
}

void SetLookTest::aChangeIsTold()
{
    QFETCH(double, drift);
    QFETCH(double, power);
    QFETCH(QString, lamp);
    for (const char *camera : {"Tarn 2", "Marram 8", "Osprey Mini"}) {
        const auto lamp8 = lamp.toUtf8();
        auto s = settingsOf(camera, lamp8, false);
        s.drift = drift;
        s.powerStops = power;
        const auto change = lightChange(lookOf(settingsOf(camera, "led", true)), lookOf(s), 0.0);
        QVERIFY2(change && change->visible.any(), camera);
        if (lamp == "led" && drift == 0)
            QVERIFY(std::abs(*change->stops - power) < 0.03 && change->visible.warmth == 0);
        if (lamp == "tungsten")
            QVERIFY(change->visible.warmth > 0 && miredOf(*change) > 50);
    }
}

void SetLookTest::settingsAreNoChange()
{
    const auto chart = lookOf(settingsOf("Tarn 2", "led", true));
    auto s = settingsOf("Tarn 2", "led", false);
    s.fNumber = 11;
    const auto darker = lookOf(s);
    QVERIFY(!lightChange(chart, darker, 2 * std::log2(8 / 11.0))->visible.any());
    QVERIFY(lightChange(chart, darker, 0.0)->visible.stops < -0.8);
    const auto unknown = lightChange(chart, darker, std::nullopt); // the colour tells all the same
    QVERIFY(unknown && !unknown->stops && !unknown->visible.any());
}

void SetLookTest::picturesWithNothingInCommonSayNothing()
{
    const auto chart = lookOf(settingsOf("Tarn 2", "led", true));
    // every cell of its own
    std::string other = chart;
    const std::string letters = "QRSTUVWXYZabcdefghijklmnopqrstuv";
    sim::Random random(7);
    for (size_t i = 0; i < other.size(); i += 2)
        other[i] = letters[random.below(letters.size())];
    QVERIFY(!lightChange(chart, other, 0.0));
}

void SetLookTest::brokenLooksAreNone()
{
    const auto look = lookOf(settingsOf("Tarn 2", "led", true));
    QVERIFY(lightChange(look, look, 0.0));
    QVERIFY(!lightChange(look, "", 0.0) && !lightChange(look, look.substr(6), 0.0));
    QVERIFY(!lightChange(look, std::string(look.size(), '!'), 0.0));
}

static const testing::Registered<SetLookTest> registeredSetLookTest("set_look_test");
#include "set_look_test.moc"
