#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/documents.h"
#include "core/formats/sample_calibration.h"
#include "core/measure/read_chart.h"
#include "core/raw/file_digest.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/station/stations.h"
#include "core/tasks/job_task.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/refusals.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <fstream>

using namespace wavechroma;

/// What the fit's tasks add to the fit: several readings, the recommended crossing, provenance.
class FitTasksTest : public QObject
{
    Q_OBJECT
private slots:
    void othersAreMergedAndNamed();
    void mergingHalvesTheNoiseOfFour();
    void whatIsLeftToTheEvidenceIsTheRecommended();
    void lightsJoinedAreOfOneCrossing();
    void aJobAnswersByItsPartsOrTheReadings();
    void aPassProvesEachAndNamesTheRecommended();
    void chartsOfOneFrameAreOneSet();
    void thingsOfKnownColourJoinAndAreJudged();
    void theKeyFaceOfACubeIsWhite();
    void severalLooksAreWrittenApart();
    void lightThatOnlyTheReferencesSeeIsAsked();
    void fittingCanBeStopped();

private:
    std::string fileWith(const char *name, const char *content)
    {
        const auto path = m_folder.filePath(name).toStdString();
        std::ofstream(path) << content;
        return path;
    }
    QTemporaryDir m_folder;
};

namespace {

/// The sample reading with `share` of relative noise in every mean, as its sd says.
Reading noisy(uint64_t seed, double share)
{
    auto reading = testing::sampleReading();
    sim::Random random(seed);
    for (auto &p : reading.patches) {
        const double n = p.count;
        p.sd = {share * p.mean.r * std::sqrt(n / 4), share * p.mean.g * std::sqrt(n / 2),
                share * p.mean.b * std::sqrt(n / 4)};
        p.mean = {p.mean.r * (1 + share * random.normal()), p.mean.g * (1 + share * random.normal()),
                  p.mean.b * (1 + share * random.normal())};
    }
    return reading;
}

double distanceTo(const Reading &truth, const Calibration &c)
{
    double sum = 0;
    for (const auto &p : c.patches)
        sum += std::pow(p.rgb.g / truth.patch(p.id)->mean.g - 1, 2);
    return std::sqrt(sum / double(c.patches.size()));
}

JobCalibration row(RowId id, RowId frame, const Calibration &calibration)
{
    return jobCalibration(id, frame, calibration, false, nullptr);
}

/// A card of a painter's own colours, three rows of four, that stands beside the sample reading's chart; its
/// values were measured. The colours lie where the printed chart has few: strong blues, greens and purples.
Reading ownPaints()
{
    auto reading = testing::sampleReading();
    auto chart = plainGrid(3, 4);
    chart.id = "own-paints";
    chart.colorsKnown = true;
    reading.chart = chart.id;
    reading.corners = {PixelPoint{4400, 1200}, {5600, 1220}, {5590, 2100}, {4410, 2080}};
    reading.patches.clear();
    const auto &body = sim::camera("Tarn 2");
    const auto &light = sim::lamp("led").spectrum;
    const double scale = 0.7 / sim::response(body, body.lenses[0], light, sim::flatReflectance(1))[1];
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const double hue = 2.2 + 0.3 * double(i);
        const Lab lab{32 + 2.5 * double(i), 34 * std::cos(hue), 34 * std::sin(hue)};
        const auto rgb = sim::response(body, body.lenses[0], light, *sim::reflectanceOf(lab, 100 + i));
        chart.patches[i].reference = xyzFromLab(lab, kD50White);
        reading.patches.push_back({chart.patches[i].id,
                                   {rgb[0] * scale, rgb[1] * scale, rgb[2] * scale},
                                   {0.004, 0.003, 0.005},
                                   4200,
                                   0,
                                   0});
    }
    reading.definition = chart;
    return reading;
}

/// Light that falls off over the frame from left to right.
void fallOff(Reading &reading)
{
    const auto chart = *chartOf(reading);
    const auto homography = *homographyFrom(chart, reading.corners);
    for (size_t i = 0; i < reading.patches.size(); ++i) {
        const auto at = homography.at(patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns));
        const double gain = std::exp(-0.4 * at.x / reading.width);
        auto &mean = reading.patches[i].mean;
        mean = {mean.r * gain, mean.g * gain, mean.b * gain};
    }
}

double meanDifference(const Calibration &calibration, const Reading &reading)
{
    const auto proof = proveReading(calibration, reading);
    return proof ? proof->summary.mean : 1e9;
}

} // namespace

/// Yarns that somebody measured count as patches: other yarns of the dye house are nearer because of them,
/// and the document says by how much.
void FitTasksTest::thingsOfKnownColourJoinAndAreJudged()
{
    const auto reading = testing::sampleReading();
    const auto &body = sim::camera("Tarn 2");
    const auto &light = sim::lamp("led").spectrum;
    const double scale = 0.7 / sim::response(body, body.lenses[0], light, sim::flatReflectance(1))[1];
    std::vector<KnownThing> all;
    for (const auto &yarn : sim::yarns()) {
        const auto rgb = sim::response(body, body.lenses[0], light, yarn.reflectance);
        all.push_back({yarn.name,
                       "frames/yarns.dng",
                       {rgb[0] * scale, rgb[1] * scale, rgb[2] * scale},
                       {0.004, 0.004, 0.004},
                       900,
                       labFromXyz(xyzD50FromReflectance(yarn.reflectance, illuminantD50())),
                       1});
    }
    FitRequest request;
    request.ask.parts = {"roots", "as-shot"};
    request.sha256 = "-";
    const auto errorOf = [](const KnownThing &thing, const Calibration &c) {
        return de2000(labFromXyz(xyzFromCamera(c, thing.rgb)), thing.lab);
    };
    const auto plain = *fitReadings({reading}, request);
    request.ask.things = {all.begin(), all.begin() + 3};
    const auto joined = fitReadings({reading}, request);
    QVERIFY2(bool(joined), joined ? "" : joined.error().message.c_str());
    QCOMPARE(joined->patches.size(), plain.patches.size() + 3);
    QCOMPARE(joined->patches.back().id, all[2].name);
    double before = 0, after = 0;
    for (size_t i = 0; i < 3; ++i) {
        before += errorOf(all[i], plain);
        after += errorOf(all[i], *joined);
    }
    QVERIFY2(after < before, qPrintable(QString("%1 before, %2 after").arg(before).arg(after)));
    // judged by fits that lack it, and what it bought by fits that lack both
    QCOMPARE(joined->things.size(), size_t(3));
    auto lacking = request;
    lacking.ask.things.erase(lacking.ask.things.begin() + 1);
    QVERIFY(std::abs(joined->things[1].unseen - errorOf(all[1], *fitReadings({reading}, lacking))) < 1e-6);
    double bought = 0;
    for (size_t j = 0; j < 3; ++j)
        if (j != 1) {
            auto both = lacking, other = request;
            std::erase_if(both.ask.things, [&](const KnownThing &t) { return t.name == all[j].name; });
            std::erase_if(other.ask.things, [&](const KnownThing &t) { return t.name == all[j].name; });
            bought += (errorOf(all[j], *fitReadings({reading}, both)) -
                       errorOf(all[j], *fitReadings({reading}, other))) /
                      2;
        }
    QVERIFY(joined->things[1].bought && std::abs(*joined->things[1].bought - bought) < 1e-6);
    // one alone bought nothing that could be told; a thing that scatters has less of a say
    request.ask.things = {all[0]};
    QVERIFY(!fitReadings({reading}, request)->things[0].bought);
    auto wild = all[0];
    wild.lab.a += 12;
    request.ask.things = {wild};
    const double pulled = errorOf(wild, *fitReadings({reading}, request));
    request.ask.things[0].weight = 0.1;
    QVERIFY(errorOf(wild, *fitReadings({reading}, request)) > pulled);
    // made again from what the calibration keeps
    request.ask.things = {all.begin(), all.begin() + 3};
    const auto text = documentOf(*joined);
    const auto back = calibrationFrom(text, "kept");
    QVERIFY2(bool(back), back ? "" : back.error().message.c_str());
    QVERIFY(back->asked.things == request.ask.things && back->things.size() == 3);
    QVERIFY(fitReadings({reading}, requestOf(*back))->matrix == joined->matrix);
}

/// A printed chart and a card of own paints in one frame: what the frame's light does to both is one thing,
/// and the paints are fitted better than by the printed chart alone.
void FitTasksTest::chartsOfOneFrameAreOneSet()
{
    auto printed = testing::sampleReading(), paints = ownPaints();
    FitRequest request;
    request.ask.parts = {"roots", "as-shot"};
    request.preview = true; // nothing is left out in turn
    request.sha256 = "-";
    const auto even = fitReadings({printed, paints}, request);
    QVERIFY2(bool(even), even ? "" : even.error().message.c_str());
    QCOMPARE(even->patches.size(), size_t(36));
    QCOMPARE(even->patches.back().id, std::string("2:C4"));
    QCOMPARE(even->madeFrom.size(), size_t(1));
    const double together = meanDifference(*even, paints),
                 alone = meanDifference(*fitReading(printed, request), paints);
    QVERIFY2(together < 0.9 * alone, qPrintable(QString("%1 %2").arg(together).arg(alone)));
    // which goes first says nothing: the one with neutrals leads
    QVERIFY(fitReadings({paints, printed}, request)->matrix == even->matrix);
    // light that falls off over the frame is taken out of both at once
    auto darker = printed, darkerPaints = paints;
    fallOff(darker);
    fallOff(darkerPaints);
    const auto uneven = fitReadings({darker, darkerPaints}, request);
    QVERIFY(uneven && uneven->takenOut.gain[0] < -0.1);
    for (int row = 0; row < 3; ++row)
        for (int column = 0; column < 3; ++column)
            QVERIFY(std::abs(uneven->matrix(row, column) - even->matrix(row, column)) < 0.03);
    // a patch of either is left out by its name
    request.ask.without = {"2:A1", "D1"};
    QCOMPARE(fitReadings({printed, paints}, request)->patches.size(), size_t(34));
    // another frame is no part of the set, and one chart is not there twice
    auto elsewhere = paints;
    elsewhere.image = "frames/other.dng";
    QVERIFY(!fitReadings({printed, elsewhere}, request));
    elsewhere.image = paints.image; // a name that another day's frame has too
    elsewhere.camera.capturedAt = "2026-10-15T09:22:41";
    QVERIFY(!fitReadings({printed, elsewhere}, request));
    const auto twice = fitReadings({printed, paints, paints}, request);
    QVERIFY2(!twice, qPrintable(QString::number(twice ? twice->patches.size() : 0)));
}

/// The other face sees the fill, which is of another colour: no mean of both.
void FitTasksTest::theKeyFaceOfACubeIsWhite()
{
    auto reading = testing::sampleReading();
    reading.chart = "grey-cube";
    reading.patches.clear();
    const auto cube = *chartFromCatalogue("grey-cube");
    for (const auto &patch : cube.patches) {
        const double key = 0.8 * patch.reference.y, fill = 0.4 * key;
        reading.patches.push_back(patch.id[1] == '1'
                                      ? PatchReading{patch.id, {0.7 * fill, fill, 0.9 * fill}, {}, 900, 0, 0}
                                      : PatchReading{patch.id, {0.5 * key, key, 0.6 * key}, {}, 900, 0, 0});
    }
    FitRequest request;
    request.sha256 = "-";
    const auto calibration = fitReading(reading, request);
    QVERIFY2(bool(calibration), calibration ? "" : calibration.error().message.c_str());
    QVERIFY(calibration->parts == (Parts{"balance", "as-shot"}));
    QVERIFY(std::abs(calibration->multipliers[0] / 2 - 1) < 1e-6);
    QVERIFY(std::abs(calibration->multipliers[2] * 0.6 - 1) < 1e-6);
    // switched off by hand, the other one speaks
    reading.leftOut = {"B2"};
    QVERIFY(std::abs(fitReading(reading, request)->multipliers[0] * 0.7 - 1) < 1e-6);
}

void FitTasksTest::severalLooksAreWrittenApart()
{
    FitRequest request;
    request.sha256 = "-";
    request.ask.name = "a";
    auto first = *fitReading(testing::sampleReading(), request), second = first;
    second.name = "b";
    const std::filesystem::path folder = m_folder.filePath("looks").toStdString();
    QVERIFY(saveApart(folder, {first, second}));
    QVERIFY(*loadCalibration(folder / "a.json") == first && *loadCalibration(folder / "b.json") == second);
    QVERIFY(!saveApart(folder, {first})); // nothing is written over
    QVERIFY(!saveApart(folder / "new", {first, first}));
    const auto both = fileWith("both.json", documentOf(std::vector{first, second}).c_str());
    const auto refused = loadCalibration(both);
    QVERIFY(!refused && refused.error().message.find("2 calibrations") != std::string::npos);
}

void FitTasksTest::othersAreMergedAndNamed()
{
    auto one = testing::sampleReading(), other = testing::sampleReading();
    one.image = fileWith("one.dng", "first");
    other.image = fileWith("other.dng", "second");
    one.patches[18].clipped = 1; // D1 is clipped in the first
    FitRequest request;
    const auto alone = *fitReading(one, request);
    QCOMPARE(alone.patches.size(), size_t(23));
    request.with = {{other}};
    const auto both = *fitReading(one, request);
    QCOMPARE(both.patches.size(), size_t(24)); // the second lends it
    QCOMPARE(both.madeFrom.size(), size_t(2));
    QCOMPARE(both.madeFrom[0].sha256, *sha256OfFile(one.image));
    QCOMPARE(both.madeFrom[1].sha256, *sha256OfFile(other.image));
    const auto all = *fitPlaneOf(one, request);
    QCOMPARE(all.size(), crossings(false).size());
    for (const auto &each : all)
        QVERIFY(each.madeFrom == both.madeFrom);
    other.camera.serial = "another";
    request.with = {{other}};
    QVERIFY(!fitReading(one, request)); // another body's reading is no repeat
}

void FitTasksTest::mergingHalvesTheNoiseOfFour()
{
    const auto truth = testing::sampleReading();
    FitRequest plain, merging;
    plain.sha256 = "-";
    merging = plain;
    for (uint64_t seed = 2; seed <= 4; ++seed)
        merging.with.push_back({noisy(seed, 0.01), "-"});
    const auto first = noisy(1, 0.01);
    const double alone = distanceTo(truth, *fitReading(first, plain)),
                 four = distanceTo(truth, *fitReading(first, merging));
    // of 24 patches' scatter a ratio of a half is known to about a seventh
    QVERIFY2(four < 0.65 * alone && four > 0.35 * alone, qPrintable(QString("%1 %2").arg(alone).arg(four)));
}

void FitTasksTest::whatIsLeftToTheEvidenceIsTheRecommended()
{
    FitRequest request;
    request.sha256 = "-";
    const auto reading = testing::sampleReading();
    const auto all = *fitPlaneOf(reading, request);
    request.ask.parts = {"auto", "auto"};
    auto fitted = *fitReading(reading, request);
    const auto &best = all[recommendationOf(all, reading).index];
    QVERIFY(fitted.parts == best.parts && fitted.matrix == best.matrix && fitted.patches == best.patches);
    QCOMPARE(fitted.asked.parts.colour, std::string("auto")); // and is left to it again
    request.ask.parts = {"auto", "greys"};                    // half of it
    fitted = *fitReading(reading, request);
    QCOMPARE(fitted.parts.tone, std::string("greys"));
    for (const auto &each : all)
        QVERIFY(each.parts.tone != "greys" ||
                fitted.crossValidated.mean < each.crossValidated.mean * 1.15); // credit and the simpler one
    request.preview = true;                                                    // nothing was judged yet
    QVERIFY(fitReading(reading, request)->parts == (Parts{"matrix", "greys"}));
}

void FitTasksTest::lightsJoinedAreOfOneCrossing()
{
    FitRequest request;
    request.ask.parts = {"auto", "auto"};
    const auto joined = fitReadings(
        {testing::sampleReading("Tarn 2", "tungsten"), testing::sampleReading("Tarn 2", "daylight")},
        request);
    QVERIFY2(bool(joined), joined ? "" : joined.error().message.c_str());
    QCOMPARE(joined->lights.size(), size_t(2));
    QVERIFY(check(joined->parts) && joined->parts.colour != "auto");
}

void FitTasksTest::aJobAnswersByItsPartsOrTheReadings()
{
    const auto reading = testing::sampleReading();
    FitRequest request;
    request.sha256 = "-";
    const auto all = *fitPlaneOf(reading, request);
    JobState state;
    state.readings = {jobReading(10, 1, reading)};
    for (const auto &calibration : all)
        state.calibrations.push_back(row(20 + RowId(state.calibrations.size()), 1, calibration));
    state.calibrations.edit()[recommendationOf(all, reading).index].brief.recommended = true;
    QVERIFY(state.title.parts == (Parts{"auto", "auto"})); // of a new job
    QVERIFY(partsFor(state, 1) == all[recommendationOf(all, reading).index].parts);
    QVERIFY(partsFor(state, 2) == plainParts()); // nothing is known of it
    state.title.parts = {"field", "greys"};
    QVERIFY(partsFor(state, 1) == state.title.parts && partsFor(state, 2) == state.title.parts);
}

void FitTasksTest::aPassProvesEachAndNamesTheRecommended()
{
    FitRequest request;
    request.sha256 = "-";
    const auto reading = testing::sampleReading();
    const auto pass = passFrom(reading, request);
    QCOMPARE(pass.proofs.size(), pass.calibrations.size());
    QCOMPARE(pass.recommended, recommendationOf(pass.calibrations, reading).index);
    for (size_t i = 0; i < pass.proofs.size(); ++i)
        QCOMPARE(pass.proofs[i].summary.mean, proveReading(pass.calibrations[i], reading)->summary.mean);
    QCOMPARE(pass.proof(), &pass.proofs[pass.recommended]);
}

void FitTasksTest::lightThatOnlyTheReferencesSeeIsAsked()
{
    auto reading = testing::sampleReading();
    auto calibration = testing::sampleCalibration();
    calibration.takenOut.gain = {0.35, 0, 0, 0, 0};    // twice that from side to side
    QVERIFY(!refusedLightTaken(calibration, reading)); // no check says otherwise
    reading.checks.push_back({CheckId::Evenness, Severity::Ok, 0.03, 0.1, "share", {}});
    QVERIFY(refusedLightTaken(calibration, reading));
    reading.checks.back().value = 0.45; // the light is as the fit says
    QVERIFY(!refusedLightTaken(calibration, reading));
    calibration.takenOut.gain = {0.02, 0, 0, 0, 0};
    reading.checks.back().value = 0;
    QVERIFY(!refusedLightTaken(calibration, reading));
}

void FitTasksTest::fittingCanBeStopped()
{
    FitRequest request;
    request.sha256 = "-";
    std::atomic<bool> stop = false;
    Progress progress;
    progress.cancelled = &stop;
    double furthest = 0;
    progress.report = [&](double fraction, const words::Phrase &) {
        furthest = std::max(furthest, fraction);
        stop = fraction > 0.3;
    };
    const auto all = fitPlaneOf(testing::sampleReading(), request, progress);
    QVERIFY(all && all->empty());
    QVERIFY(furthest > 0.3 && furthest < 0.9); // in the middle of it
}

static const testing::Registered<FitTasksTest> registeredFitTasksTest("fit_task_test");
#include "fit_task_test.moc"
