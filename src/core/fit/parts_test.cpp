#include "core/color/lab.h"
#include "core/fit/colour_lean.h"
#include "core/fit/fit.h"
#include "core/fit/hue_sectors.h"
#include "core/fit/merge_readings.h"
#include "core/fit/model_figures.h"
#include "core/fit/part_field.h"
#include "core/fit/recommend.h"
#include "core/fit/weights.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "core/values/form_colour.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class PartsTest : public QObject
{
    Q_OBJECT
private slots:
    void equalChannelsAreNeutral_data() { addCrossings(); }
    void equalChannelsAreNeutral();
    void formsOfferEachPart();
    void tablesAreWholeAndNamesAreKnown();
    void freerPartsFitTheChartNoWorse();
    void rootsKeepAColourWhenTheExposureChanges();
    void curvesRiseAndTakeOutATone();
    void aFieldStaysSoundAndEndsWithItsPatches();
    void leansAreStepsThatGoFurtherAndNeverFold();
    void hueSectorsAreNothingForAPlainBalance();
    void weightsPullTheFit();
    void mergingTellsMoreThanOneReading();
    void spectraAreUsedUnderTheNamedLight();
    void stoppingLeavesNothing();
    void aSpoiltReadingIsNotFollowed();

private:
    static void addCrossings();
};

namespace {

/// A reading with a pixel noise of `noise` of saturation and what `bend` makes of each channel.
Reading readingOf(const std::string &lamp, double noise = 0, uint64_t seed = 1,
                  const std::function<double(double)> &bend = {})
{
    const auto &camera = sim::camera("Tarn 2");
    const auto &light = sim::lamp(lamp).spectrum;
    const double full = sim::response(camera, camera.lenses[0], light, sim::flatReflectance(1))[1];
    sim::Random random(seed);
    Reading reading;
    reading.image = "one.dng";
    reading.chart = testing::classicChart().id;
    reading.found = true;
    reading.fileColor = {{{sim::publishedColorMatrix(camera), 21}}, Vector3{0.5, 1, 0.6}};
    const auto reflectances = sim::chartReflectances(testing::classicChart());
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = sim::response(camera, camera.lenses[0], light, reflectances[i]);
        double v[3];
        for (size_t c = 0; c < 3; ++c) {
            v[c] = 0.7 * rgb[c] / full;
            v[c] = (bend ? bend(v[c]) : v[c]) + noise / std::sqrt(1000) * random.normal();
        }
        reading.patches.push_back(
            {testing::classicChart().patches[i].id, {v[0], v[1], v[2]}, {noise, noise, noise}, 4000, 0, 0});
    }
    return reading;
}

Calibration fitted(const Parts &parts, const Reading &reading, bool settle = true)
{
    FitOptions options;
    options.parts = parts;
    options.settle = settle;
    return *fitCalibration(reading, testing::classicChart(), options);
}

const Parts kBalance{"balance", "as-shot"}, kRoots{"roots", "as-shot"}, kField{"field", "as-shot"},
    kMatrixGreys{"matrix", "greys"}, kFieldGreys{"field", "greys"}, kRootsGreys{"roots", "greys"};

} // namespace

void PartsTest::addCrossings()
{
    QTest::addColumn<QString>("colour");
    QTest::addColumn<QString>("tone");
    for (const auto &parts : crossings(false))
        QTest::addRow("%s, %s", parts.colour.c_str(), parts.tone.c_str())
            << QString::fromStdString(parts.colour) << QString::fromStdString(parts.tone);
}

void PartsTest::equalChannelsAreNeutral()
{
    // "In every calibration equal balanced RGB gives the neutral axis: (1,1,1) maps to the D50 white exactly"
    QFETCH(QString, colour);
    QFETCH(QString, tone);
    const auto c = fitted({colour.toStdString(), tone.toStdString()}, readingOf("led", 0.004));
    for (const double t : {0.02, 0.1, 0.4, 1.0}) {
        const Lab lab = labFromXyz(xyzFromBalanced(c, {t, t, t}));
        QVERIFY2(std::hypot(lab.a, lab.b) < 1e-6, qPrintable(QString::number(std::hypot(lab.a, lab.b))));
    }
    const Xyz white = xyzFromBalanced(c, {1, 1, 1});
    QVERIFY(std::abs(white.x - kD50White.x) < 1e-9 && std::abs(white.y - 1) < 1e-9 &&
            std::abs(white.z - kD50White.z) < 1e-9);
    const auto flat = c.matrix * Vector3{1, 1, 1};
    QVERIFY(std::abs(flat[0] - kD50White.x) < 1e-9 && std::abs(flat[1] - 1) < 1e-9 &&
            std::abs(flat[2] - kD50White.z) < 1e-9);
}

void PartsTest::freerPartsFitTheChartNoWorse()
{
    const auto reading = readingOf("tungsten", 0.002);
    const double matrix = fitted(plainParts(), reading).fit.mean;
    QVERIFY(fitted(kBalance, reading).fit.mean > matrix);
    for (const auto &parts : {kRoots, kField, kMatrixGreys, kRootsGreys, kFieldGreys}) {
        const auto c = fitted(parts, reading);
        QVERIFY2(c.fit.mean < matrix + 0.01, parts.colour.c_str());
        QVERIFY2(c.crossValidated.mean > c.fit.mean,
                 parts.colour.c_str()); // what it has not seen is never easier
    }
    // behind a fitted tone roots go beyond its matrix as they do without one
    QVERIFY(fitted(kRootsGreys, reading).fit.mean < fitted(kMatrixGreys, reading).fit.mean);
}

/// Forms of a delivery offer each part, in the tables' order, behind the job's own and the recommended one.
void PartsTest::formsOfferEachPart()
{
    const auto offered = [](const Setting &row) {
        std::vector<std::string> out;
        for (size_t i = 2; i < row.choices.size(); ++i)
            out.emplace_back(row.choices[i].id);
        return out;
    };
    std::vector<std::string> colours, tones;
    for (const auto &part : colourParts())
        colours.emplace_back(part.name);
    for (const auto &part : toneParts())
        tones.emplace_back(part.name);
    QVERIFY(offered(formColourSettings()[0]) == colours);
    QVERIFY(offered(formColourSettings()[1]) == tones);
    for (const size_t row : {0, 1}) {
        QCOMPARE(formColourSettings()[row].choices[0].id, "job");
        QVERIFY(isAuto(std::string(formColourSettings()[row].choices[1].id)));
    }
    FormColour asked;
    QVERIFY(asked.parts({"roots", "greys"}) == (Parts{"roots", "greys"}) && !asked.fitsAnew());
    asked.tone = FormColour::Tone::AsShot;
    asked.reds = -2;
    QVERIFY(asked.parts({"roots", "greys"}) == (Parts{"roots", "as-shot"}));
    QVERIFY(asked.lean({1, 3}) == (ColourLean{-2, 0}) && FormColour{}.lean({1, 3}) == (ColourLean{1, 3}));
}

void PartsTest::tablesAreWholeAndNamesAreKnown()
{
    QVERIFY(check(Parts{}) && check(Parts{"auto", "greys"}) && check(plainParts()));
    const auto wrong = check(Parts{"magic", "greys"});
    QVERIFY(!wrong && wrong.error().message.find("auto, balance, matrix, roots, field") != std::string::npos);
    QVERIFY(!check(Parts{"matrix", "magic"}));
    for (const auto &part : colourParts()) {
        QVERIFY2(!part.standsOn || colourPart(part.standsOn), part.name);
        QVERIFY2(!part.bends || bendingOf(part.bends->key) == part.bends, part.name);
    }
    QCOMPARE(crossings(false).size(), colourParts().size() * 2);
    QCOMPARE(crossings(true).size(), colourParts().size() * 3); // a curve a channel makes sense there only
    QVERIFY(crossings(true).front() == kBalance);
    for (size_t i = 1; i < crossings(true).size(); ++i)
        QVERIFY(freedomOf(crossings(true)[i - 1]) <= freedomOf(crossings(true)[i]));
    QVERIFY(!isBeyondMatrix(plainParts()) && !isBeyondMatrix(kBalance) && isBeyondMatrix(kRoots) &&
            isBeyondMatrix(kMatrixGreys));
}

void PartsTest::rootsKeepAColourWhenTheExposureChanges()
{
    const auto c = fitted(kRoots, readingOf("tungsten"));
    QVERIFY(c.bend(*colourPart("roots")->bends));
    for (const auto &p : c.patches) {
        const Xyz one = xyzFromCamera(c, p.rgb),
                  half = xyzFromCamera(c, {p.rgb.r / 2, p.rgb.g / 2, p.rgb.b / 2});
        QVERIFY(std::abs(one.x - 2 * half.x) + std::abs(one.y - 2 * half.y) + std::abs(one.z - 2 * half.z) <
                1e-12);
    }
}

void PartsTest::curvesRiseAndTakeOutATone()
{
    const auto reading =
        readingOf("daylight", 0, 1, [](double v) { return std::pow(v, 0.8); }); // a picture of less contrast
    const auto c = fitted(kMatrixGreys, reading, false);
    for (const auto &curve : c.curves)
        for (size_t i = 1; i < curve.values.size(); ++i)
            QVERIFY(curve.values[i] > curve.values[i - 1]);
    const double straight = fitted(plainParts(), readingOf("daylight"), false).fit.mean,
                 bent = fitted(plainParts(), reading, false).fit.mean;
    QVERIFY2(c.fit.mean < 1.25 * straight && bent > 1.5 * straight,
             qPrintable(QString("%1 of %2, matrix %3").arg(c.fit.mean).arg(straight).arg(bent)));
    for (const double v : {-0.02, 0.001, 0.2, 0.9, 1.5})
        QVERIFY(std::abs(untoned(c.curves[0], toned(c.curves[0], v)) - v) < 1e-9);
}

void PartsTest::aFieldStaysSoundAndEndsWithItsPatches()
{
    auto reading = readingOf("led", 0.002);
    auto &odd = reading.patches[7].mean; // one patch of quite another colour, too little to be called spoilt
    odd = {odd.r * 1.25, odd.g, odd.b * 0.8};
    const auto matrix = fitted(plainParts(), reading, false);
    FieldStrength strength{0.15, 12, 0};
    const auto field = numbersOf(fitField(matrix.patches, matrix, strength));
    const auto stretch = stretchOf([&](const CompressedLab &p) { return corrected(field, p); });
    QVERIFY(stretch.least >= 0.5 && stretch.most <= 1.5);
    const auto far = corrected(field, {50, 200, 0});
    QVERIFY(std::hypot(far.a - 200, far.b) < 1e-6); // fades to the matrix
    for (double l = 5; l < 100; l += 10)
        QCOMPARE(corrected(field, {l, 0, 0}).a, 0.0);
}

void PartsTest::leansAreStepsThatGoFurtherAndNeverFold()
{
    ColorModel plain;
    for (int i = 0; i < 3; ++i)
        plain.matrix(i, i) = vectorOf(kD50White)[size_t(i)];
    for (int reds = -kMostLean; reds <= kMostLean; ++reds)
        for (int chroma = -kMostLean; chroma <= kMostLean; ++chroma) {
            auto with = plain;
            with.lean = {reds, chroma};
            const auto stretch = stretchOf(with, plain);
            QVERIFY2(stretch.least > 0.5 && stretch.most < 1.6,
                     qPrintable(
                         QString("%1 %2: %3 %4").arg(reds).arg(chroma).arg(stretch.least).arg(stretch.most)));
            QCOMPARE(leaned(with.lean, {50, 0, 0}).a, 0.0);
        }
    // each step goes further the same way
    const auto red = compressedFromLab({50, 45, 26}), middling = compressedFromLab({60, -20, 14});
    const auto chromaOf = [](const CompressedLab &p) { return std::hypot(p.a, p.b); };
    const auto hueOf = [](const CompressedLab &p) { return std::atan2(p.b, p.a); };
    for (int step = -kMostLean; step < kMostLean; ++step) {
        QVERIFY(chromaOf(leaned({step + 1, 0}, red)) > chromaOf(leaned({step, 0}, red)));
        QVERIFY(hueOf(leaned({step + 1, 0}, red)) <
                hueOf(leaned({step, 0}, red))); // away from the yellow side
        QVERIFY(chromaOf(leaned({0, step + 1}, middling)) > chromaOf(leaned({0, step}, middling)));
    }
    QCOMPARE(leaned({}, red).a, red.a);
    QCOMPARE(leaned({-3, 0}, {40, 0, -20}).b, -20.0); // blues have none of it
    QVERIFY(check(ColourLean{-4, 4}) && !check(ColourLean{-5, 0}) && !check(ColourLean{0, 5}));
}

void PartsTest::hueSectorsAreNothingForAPlainBalance()
{
    auto c = fitted(kBalance, readingOf("daylight"));
    for (const auto &s : hueSectorsOf(c))
        QVERIFY(std::abs(s.hueShift) < 0.01 && std::abs(s.chromaRatio - 1) < 1e-3 &&
                std::abs(s.lightnessShift) < 0.01);
    c.lean = {-3, 0}; // a known change: reds duller and yellower, blues as they were
    const auto sectors = hueSectorsOf(c);
    QCOMPARE(sectors.size(), size_t(8));
    QVERIFY(sectors[0].chromaRatio < 0.97 && sectors[0].hueShift > 0.5);
    QVERIFY(std::abs(sectors[5].chromaRatio - 1) < 1e-3);
}

void PartsTest::weightsPullTheFit()
{
    const auto reading = readingOf("tungsten");
    FitOptions options;
    options.weights = *weightsFrom("C3=30", testing::classicChart());
    const auto c = *fitCalibration(reading, testing::classicChart(), options);
    const auto errorOf = [](const Calibration &calibration) {
        for (const auto &p : calibration.patches)
            if (p.id == "C3")
                return de2000Of(p, calibration);
        return -1.0;
    };
    QVERIFY(errorOf(c) < 0.3 * errorOf(fitted(plainParts(), reading)));
    QVERIFY(!weightsFrom("Z9=2", testing::classicChart()));
    QVERIFY(!weightsFrom("C3=0", testing::classicChart()));
    const auto near =
        *weightsFrom("near:42.1,53.4,28.2;20,0,0", testing::classicChart()); // a red, and a black
    QVERIFY(near.at("C3") > 2.5 && near.at("D6") > 2.5 && near.at("C5") < 1.3);
    QVERIFY(!weightsFrom("near:", testing::classicChart()) &&
            !weightsFrom("near:50,x,0", testing::classicChart()));
    QCOMPARE(weightsFrom("neutrals", testing::classicChart())->size(), size_t(6));
    QVERIFY(weightsFrom("skin", testing::classicChart())->count("A1") &&
            !weightsFrom("skin", testing::classicChart())->count("C1"));
}

void PartsTest::mergingTellsMoreThanOneReading()
{
    const auto truth = readingOf("led");
    std::vector<Reading> many;
    for (uint64_t seed = 1; seed <= 9; ++seed)
        many.push_back(readingOf("led", 0.03, seed));
    for (auto &p : many[1].patches) // a stop less
        p.mean = {p.mean.r / 2, p.mean.g / 2, p.mean.b / 2};
    many[2].patches[18].clipped = 0.5;
    many[2].patches[18].mean = {0.9, 0.9, 0.9}; // clipped: must not count
    const auto merged = *mergedReading(many);
    double one = 0, all = 0;
    for (size_t i = 0; i < 24; ++i) {
        one += std::abs(many[0].patches[i].mean.r - truth.patches[i].mean.r);
        all += std::abs(merged.patches[i].mean.r - truth.patches[i].mean.r);
        QVERIFY(std::abs(merged.patches[i].mean.g / truth.patches[i].mean.g - 1) < 0.05);
    }
    QVERIFY2(all < 0.6 * one, qPrintable(QString("%1 of %2").arg(all).arg(one)));
    auto other = many[0];
    other.camera.serial = "another";
    QVERIFY(!mergedReading({many[0], other}));
}

void PartsTest::spectraAreUsedUnderTheNamedLight()
{
    auto spectral = testing::classicChart();
    const auto reflectances = sim::chartReflectances(spectral);
    for (size_t i = 0; i < reflectances.size(); ++i)
        spectral.patches[i].reflectance = reflectances[i];
    const auto reading = readingOf("tungsten");
    FitOptions options;
    options.light = NamedLight{"lamp", sim::lamp("tungsten").spectrum,
                               chromaticityFromXyz(xyzFromLight(sim::lamp("tungsten").spectrum)), 255};
    const auto under = *fitCalibration(reading, spectral, options);
    QVERIFY(under.appearance == Appearance::UnderLight && under.figures.metamerismIndex);
    options.appearance = Appearance::UnderD50;
    const auto d50 = *fitCalibration(reading, spectral, options);
    // the sensor saw the patches under that lamp: what they looked like there is easier to say than what they
    // never were
    QVERIFY(under.fit.mean < 0.8 * d50.fit.mean);
    QVERIFY(*under.figures.metamerismIndex > *d50.figures.metamerismIndex);
    options.light.reset();
    options.appearance = Appearance::UnderLight;
    QVERIFY(!fitCalibration(reading, spectral, options));
}

void PartsTest::stoppingLeavesNothing()
{
    std::atomic<bool> stop = true;
    Progress progress;
    progress.cancelled = &stop;
    QVERIFY(fitPlane(readingOf("led"), testing::classicChart(), {}, progress)->empty());
}

void PartsTest::aSpoiltReadingIsNotFollowed()
{
    auto reading = readingOf("led", 0.003);
    const auto all = *fitPlane(reading, testing::classicChart());
    for (const auto &one : all) { // each by itself as among the others
        FitOptions options;
        options.parts = one.parts;
        QCOMPARE(fitCalibration(reading, testing::classicChart(), options)->crossValidated.mean,
                 one.crossValidated.mean);
    }
    QCOMPARE(all.size(), crossings(false).size());
    reading.checks.push_back({CheckId::Flare, Severity::Warn, 0.03, 0.01, "", {}, "flare"});
    const auto choice = recommendationOf(all, reading);
    QVERIFY(!isBeyondMatrix(all[choice.index].parts));
}

static const testing::Registered<PartsTest> registeredPartsTest("parts_test");
#include "parts_test.moc"
