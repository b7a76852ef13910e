#include "core/color/illuminant.h"
#include "core/color/temperature.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class LightTest : public QObject
{
    Q_OBJECT
private slots:
    void standardWhitePointsAgreeWithPublishedOnes_data();
    void standardWhitePointsAgreeWithPublishedOnes();
    void temperaturesAlongTheLocusComeBack_data();
    void temperaturesAlongTheLocusComeBack();
    void namedLightsCarryTheirExifCode();
    void badSpectraAreNamed();
};

// Published to five decimals from 1 nm sums (ASTM E308, table 5, 1931 observer); our sums run at 5 nm.
void LightTest::standardWhitePointsAgreeWithPublishedOnes_data()
{
    QTest::addColumn<QString>("light");
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("z");
    QTest::newRow("A") << "A" << 1.09850 << 0.35585;
    QTest::newRow("D50") << "D50" << 0.96422 << 0.82521;
    QTest::newRow("D65") << "D65" << 0.95047 << 1.08883;
}

void LightTest::standardWhitePointsAgreeWithPublishedOnes()
{
    QFETCH(QString, light);
    QFETCH(double, x);
    QFETCH(double, z);
    const auto white = xyzFromLight(lightFromName(light.toStdString())->spectrum);
    QVERIFY2(std::abs(white.x - x) < 2e-4 && std::abs(white.z - z) < 3e-4,
             qPrintable(QString("%1 %2").arg(white.x, 0, 'f', 6).arg(white.z, 0, 'f', 6)));
    QVERIFY(std::abs(white.y - 1) < 1e-12);
}

void LightTest::temperaturesAlongTheLocusComeBack_data()
{
    QTest::addColumn<double>("kelvin");
    for (double kelvin = 2000; kelvin <= 20000; kelvin *= 1.259)
        QTest::addRow("%.0f K", kelvin) << kelvin;
    QTest::newRow("20000 K") << 20000.0;
}

void LightTest::temperaturesAlongTheLocusComeBack()
{
    QFETCH(double, kelvin);
    const auto onLocus = temperatureOf(chromaticityFromXyz(xyzFromLight(planckian(kelvin))));
    QVERIFY2(std::abs(onLocus.cctKelvin - kelvin) < 0.05 && std::abs(onLocus.duv) < 1e-6,
             qPrintable(QString::number(onLocus.cctKelvin, 'f', 3)));
    for (const double duv : {-0.01, 0.003, 0.01}) {
        const auto back = temperatureOf(chromaticityFromTemperature({kelvin, duv}));
        QVERIFY2(std::abs(back.cctKelvin / kelvin - 1) < 2e-3 && std::abs(back.duv - duv) < 1e-5,
                 qPrintable(QString("%1 %2").arg(back.cctKelvin).arg(back.duv)));
    }
}

void LightTest::namedLightsCarryTheirExifCode()
{
    QCOMPARE(lightFromName("D65")->exifCode, 21);
    QCOMPARE(exifCodeNear(lightFromName("D50")->xy), 23);
    QCOMPARE(lightFromName("4100K")->exifCode, 255);
    const auto d65 = temperatureOf(lightFromName("D65")->xy);
    QVERIFY(std::abs(d65.cctKelvin - 6503) < 3 &&
            std::abs(d65.duv - 0.0032) < 2e-4); // CIE 15: 6 504 K, +0.0032
    QVERIFY(!lightFromName("noon"));
    QVERIFY(!lightFromName("90K"));
}

void LightTest::badSpectraAreNamed()
{
    QVERIFY(bool(parseSpectrum("nm,value\n400,1\n500,2\n600,2\n700,1\n", "s.csv")));
    const auto gap = parseSpectrum("nm,value\n400,1\n500,2\n650,2\n700,1\n", "s.csv");
    QVERIFY(!gap && gap.error().message.find("650") != std::string::npos);
    QVERIFY(!parseSpectrum("nm,value\n400,1\n410,2\n420,2\n430,1\n", "s.csv"));
    QVERIFY(!parseSpectrum("400,0\n500,0\n600,0\n700,0\n", "dark.csv"));
}

static const testing::Registered<LightTest> registeredLightTest("light_test");
#include "light_test.moc"
