#include "core/color/adaptation.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class SpacesTest : public QObject
{
    Q_OBJECT
private slots:
    void srgbMatrixAgreesWithTheStandard();
    void everySpaceKeepsWhiteAndComesBack_data();
    void everySpaceKeepsWhiteAndComesBack();
    void adaptationMapsWhiteToWhite();
    void bradfordAgreesWithThePublishedMatrix();
    void labOfAPublishedColour();
};

void SpacesTest::srgbMatrixAgreesWithTheStandard()
{
    const auto m = xyzFromRgbMatrix(srgb());
    // IEC 61966-2-1, eq. 7, printed to four decimals
    const double expected[3][3] = {
        {0.4124, 0.3576, 0.1805}, {0.2126, 0.7152, 0.0722}, {0.0193, 0.1192, 0.9505}};
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs(m(i, j) - expected[i][j]) < 6e-5);
}

void SpacesTest::everySpaceKeepsWhiteAndComesBack_data()
{
    QTest::addColumn<QString>("id");
    for (const auto &space : rgbSpaces())
        QTest::newRow(space.id.data()) << QString::fromLatin1(space.id.data());
}

void SpacesTest::everySpaceKeepsWhiteAndComesBack()
{
    QFETCH(QString, id);
    const auto space = *rgbSpaceFromId(id.toStdString());
    const auto white = xyzD50FromRgbMatrix(space) * Vector3{1, 1, 1};
    QVERIFY(std::abs(white[0] - 0.9642) < 1e-9 && std::abs(white[1] - 1) < 1e-9 &&
            std::abs(white[2] - 0.8249) < 1e-9);
    const auto rgb = rgbFromXyzD50(space, xyzOf(xyzD50FromRgbMatrix(space) * Vector3{0.2, 0.7, 0.05}));
    QVERIFY(std::abs(rgb.r - 0.2) < 1e-12 && std::abs(rgb.g - 0.7) < 1e-12 && std::abs(rgb.b - 0.05) < 1e-12);
    for (double v = -0.1; v < 1.2; v += 0.0127)
        QVERIFY2(std::abs(linearised(space.transfer, encoded(space.transfer, v)) - v) < 3e-6,
                 "curve and inverse");
    QCOMPARE(encoded(space.transfer, 1.0), 1.0);
}

void SpacesTest::adaptationMapsWhiteToWhite()
{
    const Xyz a{1.0985, 1, 0.35585};
    for (const auto method : {AdaptationMethod::Bradford, AdaptationMethod::Cat16}) {
        const auto to = adaptation(a, kD50White, method) * vectorOf(a);
        QVERIFY(std::abs(to[0] - kD50White.x) < 1e-12 && std::abs(to[2] - kD50White.z) < 1e-12);
        const auto there = adaptation(a, kD50White, method) * Vector3{0.3, 0.2, 0.1};
        const auto back = adaptation(kD50White, a, method) * there;
        QVERIFY(std::abs(back[0] - 0.3) < 1e-12 && std::abs(back[2] - 0.1) < 1e-12);
    }
}

void SpacesTest::bradfordAgreesWithThePublishedMatrix()
{
    // D65 → D50 as printed in IEC 61966-2-1 amendment 1 / ICC white paper on v4 sRGB: first row.
    const auto m = adaptation({0.95047, 1, 1.08883}, {0.96422, 1, 0.82521});
    QVERIFY(std::abs(m(0, 0) - 1.0478112) < 2e-5 && std::abs(m(0, 1) - 0.0228866) < 2e-5 &&
            std::abs(m(0, 2) + 0.0501270) < 2e-5);
}

void SpacesTest::labOfAPublishedColour()
{
    // By hand: Y = 0.184187 → f = 0.568966, L* = 50.000; X, Z in proportion → a* = b* = 0.
    const auto grey = labFromXyz({0.9642 * 0.184187, 0.184187, 0.8249 * 0.184187});
    QVERIFY(std::abs(grey.l - 50) < 1e-4 && std::abs(grey.a) < 1e-9 && std::abs(grey.b) < 1e-9);
    const Lab colour{31, 40, -55};
    const auto back = labFromXyz(xyzFromLab(colour));
    QVERIFY(std::abs(back.l - 31) < 1e-9 && std::abs(back.a - 40) < 1e-9 && std::abs(back.b + 55) < 1e-9);
    const auto dark = labFromXyz(xyzFromLab({2, 1, -1}));
    QVERIFY(std::abs(dark.l - 2) < 1e-9 && std::abs(dark.b + 1) < 1e-9);
    const auto lch = lchFromLab({50, -3, -4});
    QVERIFY(std::abs(lch.c - 5) < 1e-12 && lch.h > 180 && lch.h < 270);
    QVERIFY(std::abs(labFromLch(lch).a + 3) < 1e-12);
}

static const testing::Registered<SpacesTest> registeredSpacesTest("spaces_test");
#include "spaces_test.moc"
