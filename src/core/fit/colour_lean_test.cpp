#include "core/color/compressed_lab.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/fit/color_model.h"
#include "core/fit/colour_lean.h"
#include "core/fit/tone_curves.h"
#include "core/sim/random.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <numbers>

using namespace wavechroma;

/// What is laid over exact colours on purpose, the space that it is laid in, and tone curves.
class ColourLeanTest : public QObject
{
    Q_OBJECT
private slots:
    void drawnInChromaComesBack();
    void oneUnitIsOneDifferenceAnywhere();
    void noStepIsExact();
    void lightnessAndGreysStay();
    void redsMoveAndOthersDoNot();
    void eachStepGoesFurther();
    void nothingFolds();
    void contrastIsOfLightnessAlone();
    void sectorsGoOverIntoEachOtherWithoutAFold();
    void stepsThatAreNotDefinedAreRefused();
    void curvesComeBack();
    void aStraightCurveIsNone();
    void gammaIsFoundOnTheGreys();
    void curvesRiseWhateverTheGreysSay();
    void fewGreysAreNotEnough();

private:
    static double hueOf(const CompressedLab &c) { return std::atan2(c.b, c.a) * 180 / std::numbers::pi; }
    static double chromaOf(const CompressedLab &c) { return std::hypot(c.a, c.b); }
    static CompressedLab at(double l, double chroma, double hueDegrees)
    {
        const double hue = hueDegrees * std::numbers::pi / 180;
        return {l, chroma * std::cos(hue), chroma * std::sin(hue)};
    }
};

void ColourLeanTest::drawnInChromaComesBack()
{
    sim::Random random(61);
    for (int i = 0; i < 500; ++i) {
        const Lab color{100 * random.unit(), 240 * (random.unit() - 0.5), 240 * (random.unit() - 0.5)};
        const auto back = labFromCompressed(compressedFromLab(color));
        QVERIFY(std::abs(back.l - color.l) + std::abs(back.a - color.a) + std::abs(back.b - color.b) < 1e-9);
    }
    QVERIFY(compressedFromLab({50, 0, 0}).a == 0 && labFromCompressed({50, 0, 0}).b == 0);
}

/// The derivative is 1/S_C of CIE94: a small step in chroma counts as that formula has it.
void ColourLeanTest::oneUnitIsOneDifferenceAnywhere()
{
    for (const double chroma : {2.0, 10.0, 30.0, 60.0, 110.0})
        for (const double hue : {20.0, 100.0, 250.0}) {
            const double step = 1e-4, angle = hue * std::numbers::pi / 180;
            const auto lab = [&](double c) { return Lab{50, c * std::cos(angle), c * std::sin(angle)}; };
            const auto a = compressedFromLab(lab(chroma)), b = compressedFromLab(lab(chroma + step));
            const double drawn = std::hypot(a.a - b.a, a.b - b.b) / step, sC = 1 + 0.045 * chroma;
            QVERIFY(std::abs(drawn * sC - 1) < 1e-4);
        }
}

void ColourLeanTest::noStepIsExact()
{
    sim::Random random(62);
    for (int i = 0; i < 200; ++i) {
        const CompressedLab color{100 * random.unit(), 100 * (random.unit() - 0.5),
                                  100 * (random.unit() - 0.5)};
        const auto same = leaned({}, color);
        QVERIFY(same.l == color.l && std::abs(same.a - color.a) < 1e-12 &&
                std::abs(same.b - color.b) < 1e-12);
    }
}

void ColourLeanTest::lightnessAndGreysStay()
{
    for (int reds = -kMostLean; reds <= kMostLean; ++reds)
        for (int chroma = -kMostLean; chroma <= kMostLean; ++chroma)
            for (const double l : {5.0, 50.0, 95.0}) {
                const auto grey = leaned({reds, chroma}, {l, 0, 0});
                QVERIFY(grey.l == l && grey.a == 0 && grey.b == 0);
                QCOMPARE(leaned({reds, chroma}, at(l, 20, 35)).l, l);
                // nearly grey moves by no more than can be seen
                const auto pale = leaned({reds, chroma}, at(l, 0.5, 30));
                QVERIFY(std::abs(chromaOf(pale) - 0.5) < 0.02);
            }
}

void ColourLeanTest::redsMoveAndOthersDoNot()
{
    const auto red = at(45, 25, 30), green = at(50, 25, 140), blue = at(40, 25, 260), yellow = at(80, 25, 95);
    const auto calm = leaned({-3, 0}, red), strong = leaned({3, 0}, red);
    QVERIFY(chromaOf(calm) < chromaOf(red) && chromaOf(red) < chromaOf(strong));
    QVERIFY(hueOf(calm) > hueOf(red) && hueOf(red) > hueOf(strong)); // towards 55°, and away
    // 4 % of chroma a step, in the middle
    QVERIFY(std::abs(chromaOf(leaned({-1, 0}, red)) / chromaOf(red) - 0.96) < 1e-9);
    for (const auto &other : {green, blue, yellow}) {
        const auto same = leaned({-4, 0}, other);
        QVERIFY(std::abs(same.a - other.a) + std::abs(same.b - other.b) < 1e-12);
    }
}

void ColourLeanTest::eachStepGoesFurther()
{
    for (const double hue : {5.0, 30.0, 55.0}) {
        double reds = 0, chroma = 0;
        for (int step = -kMostLean; step <= kMostLean; ++step) {
            const double leanedReds = chromaOf(leaned({step, 0}, at(45, 25, hue))),
                         leanedChroma = chromaOf(leaned({0, step}, at(45, 15, hue)));
            QVERIFY(step == -kMostLean || (leanedReds > reds && leanedChroma > chroma));
            reds = leanedReds;
            chroma = leanedChroma;
        }
    }
    for (int step = -kMostLean; step <= kMostLean; ++step) // strong colours stay within the gamut
        QVERIFY(std::abs(chromaOf(leaned({0, step}, at(45, 46, 200))) - 46) < 1e-9);
}

/// Two colours never become one, nor change places: the map keeps its sense everywhere.
void ColourLeanTest::nothingFolds()
{
    const double d = 1e-4;
    for (const int reds : {-kMostLean, 0, kMostLean})
        for (const int chroma : {-kMostLean, 0, kMostLean})
            for (double c = 0.3; c < 60; c += 0.7)
                for (double hue = -180; hue < 180; hue += 3) {
                    const auto p = at(50, c, hue);
                    const auto to = [&](double da, double db) {
                        return leaned({reds, chroma}, {50, p.a + da, p.b + db});
                    };
                    const auto o = to(0, 0), a = to(d, 0), b = to(0, d);
                    const double area = ((a.a - o.a) * (b.b - o.b) - (a.b - o.b) * (b.a - o.a)) / (d * d);
                    QVERIFY2(
                        area > 0.1,
                        qPrintable(
                            QString("%1/%2 at %3, %4°: %5").arg(reds).arg(chroma).arg(c).arg(hue).arg(area)));
                }
}

void ColourLeanTest::contrastIsOfLightnessAlone()
{
    for (int steps = -kMostLean; steps <= kMostLean; ++steps) {
        double before = -1;
        for (double l = 0; l <= 100; l += 0.5) {
            const auto p = leaned({0, 0, steps}, {l, 12, -7});
            QVERIFY(p.a == 12 && p.b == -7 && p.l > before);
            before = p.l;
        }
        for (const double fixed : {0.0, 50.0, 100.0, 112.0})
            QVERIFY(std::abs(leaned({0, 0, steps}, {fixed, 0, 0}).l - fixed) < 1e-9);
        const double slope =
            (leaned({0, 0, steps}, {50.01, 0, 0}).l - leaned({0, 0, steps}, {49.99, 0, 0}).l) / 0.02;
        QVERIFY(std::abs(slope - (1 + 0.05 * steps)) < 1e-6);
    }
}

/// The strongest that is allowed, one sector on and one off, all over the circle.
void ColourLeanTest::sectorsGoOverIntoEachOtherWithoutAFold()
{
    ColourLean lean;
    for (size_t i = 0; i < kHueSectors; ++i)
        lean.sectors[i] = {i % 2 ? 15.0 : 0.0, i % 2 ? 40.0 : -40.0, i % 2 ? 5.0 : -5.0};
    QVERIFY(bool(check(lean)));
    for (const double chroma : {14.0, 30.0, 55.0}) {
        double before = -1e9;
        for (double hue = 0; hue <= 360; hue += 0.25) {
            const auto p = leaned(lean, at(50, chroma, hue));
            const double turned = hue + std::remainder(hueOf(p) - hue, 360);
            QVERIFY2(turned > before, qPrintable(QString("%1 at %2").arg(turned).arg(hue)));
            before = turned;
        }
        const auto middle = leaned(lean, at(50, chroma, 67.5)); // of the second sector
        QVERIFY(std::abs(hueOf(middle) - 82.5) < 1e-9 && std::abs(chromaOf(middle) / chroma - 1.4) < 1e-9 &&
                std::abs(middle.l - 55) < 1e-9);
    }
    const auto grey = leaned(lean, {60, 0.5, 0.5});
    QVERIFY(grey.l == 60 && grey.a == 0.5 && grey.b == 0.5);
}

void ColourLeanTest::stepsThatAreNotDefinedAreRefused()
{
    QVERIFY(bool(check(ColourLean{4, -4})));
    ColourLean apart;
    apart.sectors[0].hue = 9;
    apart.sectors[7].hue = -9; // side by side, across 0°
    for (const auto &lean : {ColourLean{5, 0}, ColourLean{0, -5}, ColourLean{0, 0, 5}, apart})
        QVERIFY(!check(lean));
}

namespace {

ToneCurve curveFrom(double (*code)(double))
{
    ToneCurve curve;
    for (int i = 0; i <= 76; ++i)
        curve.values.push_back(code(i * kToneStep));
    return curve;
}

/// Neutrals that a camera of that tone sees.
std::vector<FittedPatch> greys(double power, int count = 8, double step = 3.2)
{
    std::vector<FittedPatch> out;
    for (int i = 0; i < count; ++i) {
        FittedPatch patch;
        patch.id = "G" + std::to_string(i);
        const double y = std::pow(0.88, step * i) * 0.9, seen = std::pow(y, power);
        patch.reference = {y * kD50White.x, y, y * kD50White.z};
        patch.rgb = {seen, seen, seen};
        out.push_back(patch);
    }
    return out;
}

std::vector<std::string> idsOf(const std::vector<FittedPatch> &patches)
{
    std::vector<std::string> out;
    for (const auto &patch : patches)
        out.push_back(patch.id);
    return out;
}

ColorModel plainModel()
{
    ColorModel model;
    model.matrix = xyzD50FromRgbMatrix(srgb());
    return model;
}

} // namespace

void ColourLeanTest::curvesComeBack()
{
    const auto curve = curveFrom([](double code) { return 0.02 + 0.9 * code + 0.15 * code * code; });
    for (double value = -0.02; value < 1.4; value += 0.003)
        QVERIFY2(std::abs(untoned(curve, toned(curve, value)) - value) < 1e-9,
                 qPrintable(QString::number(value)));
    double last = -1;
    for (double value = 0; value < 1.4; value += 0.001) {
        QVERIFY(toned(curve, value) > last);
        last = toned(curve, value);
    }
}

void ColourLeanTest::aStraightCurveIsNone()
{
    const auto straight = curveFrom([](double code) { return code; });
    for (double value = 0; value < 1.3; value += 0.01)
        QVERIFY(std::abs(toned(straight, value) - value) < 1e-12);
}

void ColourLeanTest::gammaIsFoundOnTheGreys()
{
    for (const double power : {0.8, 1.25}) {
        const auto patches = greys(power);
        const auto model = fitCurves(patches, plainModel(), {idsOf(patches), false, 0.5});
        QVERIFY(model && model->curves.size() == 3);
        for (const auto &patch : greys(power, 15, 1.6)) { // between those that were fitted, too
            const auto seen = xyzFromCamera(*model, patch.rgb);
            QVERIFY2(de2000(labFromXyz(seen), labFromXyz(patch.reference)) < 0.6,
                     qPrintable(QString("%1 of %2").arg(seen.y).arg(patch.reference.y)));
            QVERIFY(std::abs(seen.x / kD50White.x - seen.y) < 1e-6); // greys stay grey
        }
    }
}

void ColourLeanTest::curvesRiseWhateverTheGreysSay()
{
    sim::Random random(63);
    for (int round = 0; round < 20; ++round) {
        auto patches = greys(1);
        for (auto &patch : patches) { // nonsense, as spoilt neutrals are
            const double seen = 0.02 + 0.9 * random.unit();
            patch.rgb = {seen, seen, seen};
        }
        const auto model = fitCurves(patches, plainModel(), {idsOf(patches), round % 2 == 1, 0.3});
        if (!model)
            continue;
        for (const auto &curve : model->curves)
            for (size_t i = 1; i < curve.values.size(); ++i)
                QVERIFY(curve.values[i] > curve.values[i - 1]);
    }
}

void ColourLeanTest::fewGreysAreNotEnough()
{
    const auto patches = greys(1.2, 3);
    QVERIFY(!fitCurves(patches, plainModel(), {idsOf(patches), false, 0.5}));
    const auto enough = greys(1.2, 4);
    QVERIFY(fitCurves(enough, plainModel(), {idsOf(enough), false, 0.5}));
}

static const wavechroma::testing::Registered<ColourLeanTest> registeredColourLeanTest("colour_lean_test");
#include "colour_lean_test.moc"
