#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/fit/fit.h"
#include "core/fit/recommend.h"
#include "core/formats/documents.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/proof.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/read_task.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <fstream>

using namespace wavechroma;

/// One camera fitted to another. The expected colours come from the leader's own samples, not from the code
/// that is tried.
class CameraMatchTest : public QObject
{
    Q_OBJECT
private slots:
    void aRawReadingStandsBalanced();
    void aReadingThatSaysNothingOfItsFileIsRawUnlessItsNameIsAPictures();
    void aRenderedPictureKeepsItsLookAndPrimaries();
    void aProofsResultsAreTheReference();
    void onlySharedPatchesCount();
    void tooFewSharedPatchesAreRefused();
    void aChartWithoutKnownColoursWillDo();
    void theFollowerComesCloserOnSurfacesNotFitted();
    void theToneOfALookIsFollowed();
    void theLightIsThatOfTheFollower();
    void clippedHighlightsAndDugUpShadowsAreSaid();
};

namespace {

Result<ChartDefinition> matchedTo(const Reading &leader,
                                  const ChartDefinition &chart = testing::classicChart())
{
    return withCameraReferences(chart, documentOf(leader), "leader.json");
}

Lab labOf(const ChartDefinition &chart, const char *id)
{
    return labFromXyz(chart.patch(id)->reference);
}

/// A reading as a picture's would be: linear samples of what the chart's patches are in that space.
Reading picture(const RgbSpace &space)
{
    auto reading = testing::sampleReading();
    reading.image = "look.jpg";
    reading.fileColor = {};
    reading.fileColor.xyzD50FromRendered = xyzD50FromRgbMatrix(space);
    for (auto &patch : reading.patches) {
        const auto rgb = rgbFromXyzD50(space, testing::classicChart().patch(patch.id)->reference);
        patch.mean = {rgb.r, rgb.g, rgb.b};
    }
    return reading;
}

} // namespace

void CameraMatchTest::aRawReadingStandsBalanced()
{
    const auto leader = testing::sampleReading("Marram 8", "tungsten");
    QVERIFY(leader.patch("D2")->mean.r > 1.5 * leader.patch("D2")->mean.b); // far from neutral as it is
    const auto chart = matchedTo(leader);
    QVERIFY(bool(chart));
    for (const char *grey : {"D2", "D3", "D4"}) {
        const auto lab = labOf(*chart, grey);
        QVERIFY2(std::hypot(lab.a, lab.b) < 3, grey);
    }
    QVERIFY(labOf(*chart, "C3").a > 25); // and red is red
}

void CameraMatchTest::aReadingThatSaysNothingOfItsFileIsRawUnlessItsNameIsAPictures()
{
    auto leader = testing::sampleReading("Tarn 2", "tungsten");
    leader.fileColor = {};
    QVERIFY(!isRendered(leader));
    const auto grey = labOf(*matchedTo(leader), "D3");
    QVERIFY(std::hypot(grey.a, grey.b) < 3); // balanced by its greys
    leader.image = "frame.JPG";
    QVERIFY(isRendered(leader));
    const auto cast = labOf(*matchedTo(leader), "D3");
    QVERIFY(std::hypot(cast.a, cast.b) > 10); // a picture's cast is its look, and stays
}

void CameraMatchTest::aRenderedPictureKeepsItsLookAndPrimaries()
{
    for (const auto &space : rgbSpaces()) {
        const auto chart = matchedTo(picture(space));
        QVERIFY(bool(chart));
        for (const auto &patch : testing::classicChart().patches)
            QVERIFY2(de2000(labFromXyz(patch.reference), labFromXyz(chart->patch(patch.id)->reference)) <
                         1e-6,
                     space.title.data());
    }
}

void CameraMatchTest::aProofsResultsAreTheReference()
{
    const auto leader = testing::sampleReading("Marram 8");
    const auto proof = *prove(testing::sampleCalibration("Marram 8"), leader, testing::classicChart());
    const auto chart = withCameraReferences(testing::classicChart(), documentOf(proof), "proof.json");
    QVERIFY(bool(chart));
    for (const auto &patch : proof.patches)
        QVERIFY(de2000(labFromXyz(chart->patch(patch.id)->reference), patch.lab) < 1e-6);
}

void CameraMatchTest::onlySharedPatchesCount()
{
    auto leader = testing::sampleReading("Marram 8");
    leader.leftOut = {"A1"};
    leader.patches.erase(leader.patches.begin() + 5); // A6 was not seen
    leader.patches[9].clipped = 0.5;                  // B5 is clipped
    const auto chart = *matchedTo(leader);
    QCOMPARE(chart.patches.size(), size_t(24)); // the layout stays whole: fits need to know where patches lie
    const auto follower = testing::sampleReading("Tarn 2");
    const auto calibration = *fitCalibration(follower, chart);
    QCOMPARE(calibration.patches.size(), size_t(21));
    const auto proof = *prove(calibration, follower, chart);
    QCOMPARE(proof.patches.size(), size_t(21));
    for (const auto &patch : proof.patches)
        QVERIFY(patch.id != "A1" && patch.id != "A6" && patch.id != leader.patches[9].id);
}

void CameraMatchTest::tooFewSharedPatchesAreRefused()
{
    auto leader = testing::sampleReading("Marram 8");
    leader.patches.resize(5);
    const auto chart = matchedTo(leader);
    QVERIFY(!chart && chart.error().message.find("only 5 usable patches") != std::string::npos);
    leader.found = false;
    const auto none = matchedTo(leader);
    QVERIFY(!none && none.error().message.find("no chart was found") != std::string::npos);
}

void CameraMatchTest::aChartWithoutKnownColoursWillDo()
{
    auto leader = testing::sampleReading("Marram 8"), follower = testing::sampleReading("Tarn 2");
    leader.chart = follower.chart = "grid-4x6";
    const auto grid = *chartFromCatalogue("grid-4x6");
    QVERIFY(!grid.colorsKnown);
    const auto chart = matchedTo(leader, grid);
    QVERIFY2(bool(chart), chart ? "" : chart.error().message.c_str());
    QVERIFY(fitCalibration(follower, *chart)->fit.mean < 3);
}

void CameraMatchTest::theFollowerComesCloserOnSurfacesNotFitted()
{
    const auto leader = testing::sampleReading("Marram 8", "tube"),
               follower = testing::sampleReading("Tarn 2", "tube");
    FitOptions plain;
    plain.parts = {"balance", "as-shot"};
    const auto shown = *fitCalibration(leader, testing::classicChart(), plain),
               before = *fitCalibration(follower, testing::classicChart(), plain);
    FitOptions options;
    options.parts = {"roots", "as-shot"};
    options.flare = false;
    const auto after = *fitCalibration(follower, *matchedTo(leader), options);
    const auto &one = sim::camera("Marram 8"), &other = sim::camera("Tarn 2");
    const auto &light = sim::lamp("tube").spectrum;
    const auto seenBy = [&](const sim::Camera &camera, const Spectrum &surface) {
        const double scale = 0.7 / sim::response(camera, camera.lenses[0], light, sim::flatReflectance(1))[1];
        const auto rgb = sim::response(camera, camera.lenses[0], light, surface);
        return CameraRgb{rgb[0] * scale, rgb[1] * scale, rgb[2] * scale};
    };
    double apartBefore = 0, apartAfter = 0;
    int count = 0;
    for (int hue = 0; hue < 360; hue += 15)
        for (const double chroma : {12.0, 30.0, 45.0}) {
            const auto surface = sim::reflectanceOf(
                {58, chroma * std::cos(hue / 57.3), chroma * std::sin(hue / 57.3)}, uint64_t(hue + 7), 0.03);
            if (!surface)
                continue;
            const auto wanted = labFromXyz(xyzFromCamera(shown, seenBy(one, *surface)));
            apartBefore += de2000(wanted, labFromXyz(xyzFromCamera(before, seenBy(other, *surface))));
            apartAfter += de2000(wanted, labFromXyz(xyzFromCamera(after, seenBy(other, *surface))));
            ++count;
        }
    QVERIFY(count > 60);
    QVERIFY2(apartAfter < 0.5 * apartBefore,
             qPrintable(QString("%1 to %2").arg(apartBefore / count).arg(apartAfter / count)));
    QVERIFY(apartAfter / count < 1); // what the eye hardly tells apart
}

void CameraMatchTest::theToneOfALookIsFollowed()
{
    // a contrasty rendering: in each channel of its space a slope of 1.35 about middle grey, warm in the
    // lights
    auto look = picture(srgb());
    for (auto &patch : look.patches)
        patch.mean = {0.18 * std::pow(patch.mean.r / 0.18, 1.35) * 1.04,
                      0.18 * std::pow(std::max(1e-4, patch.mean.g) / 0.18, 1.35),
                      0.18 * std::pow(std::max(1e-4, patch.mean.b) / 0.18, 1.35) * 0.95};
    for (auto &patch : look.patches)
        if (!(patch.mean.r > 0))
            patch.mean.r = 1e-4;
    const auto follower = testing::sampleReading("Tarn 2", "daylight");
    FitOptions options;
    options.eachChannel = true;
    options.flare = false;
    const auto all = *fitPlane(follower, *matchedTo(look), options);
    const auto of = [&](const Parts &parts) {
        return *std::find_if(all.begin(), all.end(), [&](const auto &c) { return c.parts == parts; });
    };
    const Parts channels{"matrix", "channels"};
    QVERIFY2(of(channels).crossValidated.mean < 0.6 * of(plainParts()).crossValidated.mean,
             qPrintable(QString("%1 %2")
                            .arg(of(channels).crossValidated.mean)
                            .arg(of(plainParts()).crossValidated.mean)));
    const auto &best = all[recommendationOf(all, follower).index];
    QVERIFY2(best.parts.tone != "as-shot", best.parts.colour.c_str());
    for (const char *grey : {"D2", "D3", "D4", "D5"}) // the look's greys, cast and all
        QVERIFY2(de2000(labFromXyz(xyzFromCamera(best, follower.patch(grey)->mean)),
                        labOf(*matchedTo(look), grey)) < 1.5,
                 grey);
}

void CameraMatchTest::theLightIsThatOfTheFollower()
{
    QTemporaryDir folder;
    auto look = picture(srgb());
    for (auto &patch : look.patches)
        patch.mean = {1.12 * patch.mean.r, patch.mean.g, 0.85 * patch.mean.b};
    const auto file = folder.filePath("look.reading.json").toStdString();
    QVERIFY(saveReading(file, look));
    const auto follower = testing::sampleReading("Tarn 2", "daylight");
    FitRequest request;
    request.sha256 = std::string(64, 'a');
    request.ask.parts = plainParts();
    const auto own = fitReading(follower, request);
    request.ask.reference = file;
    const auto matched = fitReading(follower, request);
    QVERIFY(own && matched);
    const double apart = std::abs(1e6 / matched->light.cctKelvin - 1e6 / own->light.cctKelvin); // mired
    QVERIFY2(apart < 6, qPrintable(QString::number(apart)));
    QVERIFY(std::abs(matched->multipliers[0] / own->multipliers[0] - 1) > 0.05); // its white is the look's
}

void CameraMatchTest::clippedHighlightsAndDugUpShadowsAreSaid()
{
    auto follower = testing::sampleReading("Tarn 2");
    QVERIFY(warningsOfMatch(follower, testing::classicChart()).empty());
    follower.patches[18].clipped = 1; // D1, which the reference still tells
    const auto clipped = warningsOfMatch(follower, testing::classicChart());
    QVERIFY(clipped.size() == 1 && clipped[0].code == "reference-holds-highlights" &&
            clipped[0].patches == std::vector<std::string>{"D1"});
    follower = testing::sampleReading("Tarn 2");
    auto contrasty = testing::classicChart();
    for (auto &patch : contrasty.patches) {
        const double y = patch.reference.y, deeper = std::pow(y, 1.8) / y;
        patch.reference = {patch.reference.x * deeper, y * deeper, patch.reference.z * deeper};
    }
    const auto dark = warningsOfMatch(follower, contrasty);
    QVERIFY(dark.size() == 1 && dark[0].code == "reference-spreads-shadows" && dark[0].value > 1);
    for (auto &patch : follower.patches)
        patch.sd = {1e-5, 1e-5, 1e-5}; // without noise there is nothing to dig up
    QVERIFY(warningsOfMatch(follower, contrasty).empty());
}

static const testing::Registered<CameraMatchTest> registeredCameraMatchTest("camera_match_test");
#include "camera_match_test.moc"
