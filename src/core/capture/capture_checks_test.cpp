#include "core/capture/capture_checks.h"

#include <QTest>
#include <algorithm>
#include <cmath>

using namespace wavechroma;

class CaptureChecksTest : public QObject
{
    Q_OBJECT
private slots:
    void aGoodFramePassesAll();
    void exposureIsInStopsFromTheAim_data();
    void exposureIsInStopsFromTheAim();
    void aBurntWhiteSaysHowFarToCloseDown();
    void noisyPatchesAreNamed();
    void aWrongPatternStops();
    void withoutAChartOnlyFoundRuns();
};

namespace {

const ChartDefinition &chart()
{
    return chartCatalogue().front();
}

/// A frame whose white's strongest channel lies this many stops from the aim.
Reading frameAt(double stops, double noise = 0.005)
{
    Reading reading;
    reading.found = true;
    reading.confidence = 1;
    const double white = 0.70 * std::exp2(stops) / chart().patch("D1")->reference.y;
    for (const auto &patch : chart().patches) {
        const double g = white * patch.reference.y;
        reading.patches.push_back({patch.id, {0.6 * g, g, 0.5 * g}, {noise * g, noise * g, noise * g}, 4000, g > 1 ? 1.0 : 0.0, 0});
    }
    return reading;
}

const Check &named(const std::vector<Check> &checks, const char *id)
{
    return *std::find_if(checks.begin(), checks.end(), [&](const auto &c) { return c.id == id; });
}

} // namespace

void CaptureChecksTest::aGoodFramePassesAll()
{
    const auto checks = captureChecks(frameAt(0), chart(), 0.99);
    QCOMPARE(checks.size(), size_t(5)); // "A check that ran is listed whatever it found."
    for (const auto &check : checks)
        QVERIFY2(check.severity == Severity::Ok, check.message.c_str());
}

void CaptureChecksTest::exposureIsInStopsFromTheAim_data()
{
    QTest::addColumn<double>("stops");
    QTest::addColumn<int>("severity");
    QTest::addColumn<QString>("words");
    QTest::newRow("on it") << 0.0 << int(Severity::Ok) << "D1 is at its aim.";
    QTest::newRow("a third under") << -0.33 << int(Severity::Ok) << "D1 is 1/3 stop under its aim.";
    QTest::newRow("one and a half under") << -1.33 << int(Severity::Warn) << "D1 is 1 1/3 stops under its aim. Open up 1 1/3 stops.";
    QTest::newRow("hopeless") << -4.0 << int(Severity::Stop) << "D1 is 4 stops under its aim. Open up 4 stops.";
}

void CaptureChecksTest::exposureIsInStopsFromTheAim()
{
    QFETCH(double, stops);
    QFETCH(int, severity);
    QFETCH(QString, words);
    const auto check = checkExposure(frameAt(stops), chart(), {});
    QVERIFY(std::abs(check.value - stops) < 1e-9);
    QCOMPARE(int(check.severity), severity);
    QCOMPARE(QString::fromStdString(check.message), words);
}

void CaptureChecksTest::aBurntWhiteSaysHowFarToCloseDown()
{
    const auto checks = captureChecks(frameAt(1), chart(), 0.99);
    const auto &clipping = named(checks, "clipping");
    QCOMPARE(clipping.severity, Severity::Stop);
    QVERIFY(std::count(clipping.patches.begin(), clipping.patches.end(), "D1"));
    QVERIFY2(clipping.message.find("Close down 1 stop.") != std::string::npos, clipping.message.c_str());
    // the burnt white is judged by a grey that is not burnt
    QVERIFY(std::abs(named(checks, "exposure").value - 1) < 1e-9);
}

void CaptureChecksTest::noisyPatchesAreNamed()
{
    auto reading = frameAt(-2);
    reading.patches[23].sd = {0.4, 0.4, 0.4}; // D6
    const auto check = checkUnderexposure(reading, {});
    QCOMPARE(check.severity, Severity::Warn);
    QCOMPARE(check.patches, std::vector<std::string>{"D6"});
    for (auto &patch : reading.patches)
        patch.sd = {0.4, 0.4, 0.4};
    QCOMPARE(checkUnderexposure(reading, {}).severity, Severity::Stop);
}

void CaptureChecksTest::aWrongPatternStops()
{
    QCOMPARE(checkMatch(chart(), 0.7, {}).severity, Severity::Stop);
    QCOMPARE(checkMatch(chart(), 0.95, {}).severity, Severity::Ok);
}

void CaptureChecksTest::withoutAChartOnlyFoundRuns()
{
    const auto checks = captureChecks(Reading{}, chart(), 0);
    QCOMPARE(checks.size(), size_t(1));
    QCOMPARE(checks[0].id, std::string("found"));
    QCOMPARE(checks[0].severity, Severity::Stop);
}

QTEST_APPLESS_MAIN(CaptureChecksTest)
#include "capture_checks_test.moc"
