#include "core/color/lab.h"
#include "core/proof/exposure_aims.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Levels of neutrals against their aims. Numbers are CIE 1976 L* and IEC 61966-2-1 codes worked out by hand.
class ExposureAimsTest : public QObject
{
    Q_OBJECT
private slots:
    void withoutAnAimTheReferenceIsIt();
    void aLightnessIsAimedAt();
    void aCodeIsAimedAt();
    void stopsBringItThere();
    void unusableNeutralsDoNotPass();
    void whatIsWritten_data();
    void whatIsWritten();
    void whatCannotBeIsRefused_data();
    void whatCannotBeIsRefused();
    void patchesAreTheCharts();
};

namespace {

/// Camera green is luminance itself.
Calibration plainGreen()
{
    Calibration c;
    c.parts = plainParts();
    c.matrix = diagonal({kD50White.x, kD50White.y, kD50White.z});
    return c;
}

Reading greys(double gain = 1)
{
    Reading reading;
    reading.found = true;
    for (const auto &id : testing::classicChart().neutral) {
        const double y = gain * testing::classicChart().patch(id)->reference.y;
        reading.patches.push_back({id, {y, y, y}, {}, 100, 0, 0});
    }
    return reading;
}

Reading only(const std::string &id, double y)
{
    Reading reading;
    reading.found = true;
    reading.patches.push_back({id, {y, y, y}, {}, 100, 0, 0});
    return reading;
}

} // namespace

void ExposureAimsTest::withoutAnAimTheReferenceIsIt()
{
    const auto all = aimedNeutrals(plainGreen(), greys(), testing::classicChart());
    QCOMPARE(all.size(), size_t(6));
    for (const auto &one : all) {
        QVERIFY(one.passes && std::abs(one.stops) < 1e-9 && !one.isCode);
        QVERIFY(std::abs(one.aim - labFromXyz(testing::classicChart().patch(one.id)->reference).l) < 1e-9);
        QCOMPARE(one.tolerance, 1.0);
    }
    for (const auto &one : aimedNeutrals(plainGreen(), greys(0.5), testing::classicChart()))
        QVERIFY(!one.passes && std::abs(one.stops - 1) < 1e-9); // half the light: open up one
}

void ExposureAimsTest::aLightnessIsAimedAt()
{
    QVERIFY(aimsFrom("D4=50", testing::classicChart()) && !aimsFrom("E1=50", testing::classicChart()));
    QVERIFY(!aimsFrom("A1=38", testing::classicChart())); // a skin colour has no level to be judged by
    // Y 0.184187 is L* 50: ((50 + 16) / 116)³
    const auto one =
        aimedNeutrals(plainGreen(), only("D4", 0.1841865), testing::classicChart(), *aimsFrom("D4=50"))
            .front();
    QVERIFY(std::abs(one.seen - 50) < 1e-4 && one.passes);
    QVERIFY(!aimedNeutrals(plainGreen(), only("D4", 0.1841865), testing::classicChart(), *aimsFrom("D4=52"))
                 .front()
                 .passes);
    QVERIFY(
        aimedNeutrals(plainGreen(), only("D4", 0.1841865), testing::classicChart(), *aimsFrom("D4=52±2.1"))
            .front()
            .passes);
}

void ExposureAimsTest::aCodeIsAimedAt()
{
    // sRGB code 128 is 0.215861 of linear light
    const auto one =
        aimedNeutrals(plainGreen(), only("D4", 0.2158605), testing::classicChart(), *aimsFrom("D4=128@srgb"))
            .front();
    QVERIFY(one.isCode && one.passes && std::abs(one.seen - 128) < 1e-3);
    QCOMPARE(one.tolerance, 3.0);
    // and opRGB has another curve: 0.215861^(256/563) · 255
    const auto other =
        aimedNeutrals(plainGreen(), only("D4", 0.2158605), testing::classicChart(), *aimsFrom("D4=128@oprgb"))
            .front();
    QVERIFY2(std::abs(other.seen - 255 * std::pow(0.2158605, 256 / 563.0)) < 1e-6,
             qPrintable(QString::number(other.seen)));
}

void ExposureAimsTest::stopsBringItThere()
{
    const auto aims = *aimsFrom("D2=70");
    const auto off = aimedNeutrals(plainGreen(), only("D2", 0.2), testing::classicChart(), aims).front();
    const auto there =
        aimedNeutrals(plainGreen(), only("D2", 0.2 * std::exp2(off.stops)), testing::classicChart(), aims)
            .front();
    QVERIFY(!off.passes && off.stops > 0.9 && there.passes && std::abs(there.seen - 70) < 1e-9);
}

void ExposureAimsTest::unusableNeutralsDoNotPass()
{
    auto reading = greys();
    reading.patches[0].clipped = 1;
    const auto all = aimedNeutrals(plainGreen(), reading, testing::classicChart());
    QVERIFY(!all[0].usable && !all[0].passes && all[1].passes);
}

void ExposureAimsTest::whatIsWritten_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("id");
    QTest::addColumn<double>("value");
    QTest::addColumn<double>("tolerance");
    QTest::addColumn<QString>("space");
    QTest::newRow("L*") << "D1=92"
                        << "D1" << 92.0 << 1.0 << "";
    QTest::newRow("with tolerance") << "D1=92±0.5"
                                    << "D1" << 92.0 << 0.5 << "";
    QTest::newRow("in letters of a keyboard") << "D1=92+-0.5"
                                              << "D1" << 92.0 << 0.5 << "";
    QTest::newRow("code") << "D1=242@srgb"
                          << "D1" << 242.0 << 3.0 << "srgb";
    QTest::newRow("code with tolerance") << "D1=242±2@oprgb"
                                         << "D1" << 242.0 << 2.0 << "oprgb";
    QTest::newRow("share") << "A7=95%"
                           << "A7" << 242.25 << 3.0 << "srgb";
    QTest::newRow("share with tolerance") << "A7=95%±1%@oprgb"
                                          << "A7" << 242.25 << 2.55 << "oprgb";
    QTest::newRow("tolerance before the mark") << "A7=95±1%"
                                               << "A7" << 242.25 << 2.55 << "srgb";
    QTest::newRow("spaces") << " D1 = 92 , D4 = 50 "
                            << "D4" << 50.0 << 1.0 << "";
}

void ExposureAimsTest::whatIsWritten()
{
    QFETCH(QString, text);
    QFETCH(QString, id);
    QFETCH(QString, space);
    const auto aims = aimsFrom(text.toStdString());
    QVERIFY2(bool(aims), aims ? "" : aims.error().message.c_str());
    const auto &aim = aims->at(id.toStdString());
    QTEST(aim.value, "value");
    QTEST(aim.tolerance, "tolerance");
    QCOMPARE(aim.space ? QString::fromUtf8(aim.space->id.data(), qsizetype(aim.space->id.size())) : QString(),
             space);
}

void ExposureAimsTest::whatCannotBeIsRefused_data()
{
    QTest::addColumn<QString>("text");
    for (const char *text :
         {"D1", "=", "D1=", "D1=x", "D1=92x", "D1=101", "D1=0", "D1=-5", "D1=nan", "D1=92±0", "D1=92±",
          "D1=92±x", "D1=256@srgb", "D1=200@nowhere", "D1=101%", "D1=0%", "D1=92,,D2=50", "D1=inf"})
        QTest::newRow(text) << text;
}

void ExposureAimsTest::whatCannotBeIsRefused()
{
    QFETCH(QString, text);
    const auto aims = aimsFrom(text.toStdString());
    QVERIFY(!aims);
    QVERIFY(aims.error().message.rfind("aims:", 0) == 0);
}

void ExposureAimsTest::patchesAreTheCharts()
{
    QVERIFY(aimsFrom("D1=92", testing::classicChart()));
    const auto other = aimsFrom("Z9=92", testing::classicChart());
    QVERIFY(!other && other.error().message.find("no patch \"Z9\"") != std::string::npos);
    QVERIFY(aimsFrom("", testing::classicChart())->empty());
}

static const testing::Registered<ExposureAimsTest> registeredExposureAimsTest("exposure_aims_test");
#include "exposure_aims_test.moc"
