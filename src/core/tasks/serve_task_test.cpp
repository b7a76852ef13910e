#include "core/formats/delivery_document.h"
#include "core/raw/open_frame.h"
#include "core/sim/reflectance.h"
#include "core/station/day_document.h"
#include "core/station/partings.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/deliver_task.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/match_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/refusals.h"
#include "core/tasks/release.h"
#include "core/tasks/render_task.h"
#include "core/tasks/serve_task.h"
#include "core/tasks/studio_task.h"
#include "core/tasks/take_task.h"
#include "core/words/answer_words.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <nlohmann/json.hpp>

using namespace wavechroma;
namespace fs = std::filesystem;

/// Days unlike the demo's: greys without charts, a raw and a picture of one release, several ISO, a light
/// that changes without a chart, another day. Shot in the simulated studio, taken in, and asked what serves
/// what.
class ServeTaskTest : public QObject
{
    Q_OBJECT
private slots:
    void aGreyAloneServes();
    void anEvenFieldSpeaksWhereNothingElseDoes();
    void anAreaSaysWhatWhiteIs();
    void whatSaysNothingOfWhiteIsRefused();
    void aRawAndItsPictureAreOneFrame();
    void aPictureIsNotServedByARawChart();
    void theChartOfTheSameIsoGoesFirst();
    void anotherLightWithoutAChartIsTold();
    void anotherDayIsAnotherSetup();
    void aRefusedChartServesWhereThereIsNoOther();
    void aFlatThatMakesItLessEvenIsNotUsed();
    void aCalibrationBroughtAlongServes();
    void aPresetAloneServes();
    void aColouredCardIsNoWhite();
    void theDemosSecondDayShowsWhatDaysBring();

private:
    fs::path at(const QString &name) const { return fs::path(m_folder.filePath(name).toStdString()); }
    /// A small frame, shot at a time of one day.
    void shoot(const QString &file, sim::Subject subject, const char *time, sim::StudioSettings s = {}) const
    {
        fs::create_directories(at(file).parent_path());
        s.shrink = 4;
        s.subject = subject;
        s.capturedAt = time;
        s.seed = uint64_t(qHash(file));
        const auto done = shootToFile(s, at(file));
        if (!done)
            qFatal("%s", done.error().message.c_str());
    }
    Job taken(const QString &job, const QString &folder) const
    {
        const auto report = takeIntoJob(at(job), {at(folder)}, {});
        if (!report)
            qFatal("%s", report.error().message.c_str());
        return opened(job);
    }
    Job opened(const QString &job) const { return Job(*(*JobStore::open(at(job)))->load(), at(job)); }
    static const JobFrame &frameOf(const Job &job, const char *stem)
    {
        for (const auto &frame : job.rows().frames)
            if (fs::path(frame.path).stem() == stem)
                return frame;
        qFatal("no frame %s", stem);
    }
    static QStringList doubtsOf(const Job &job, const char *stem)
    {
        QStringList out;
        for (const auto &doubt : job.serving(frameOf(job, stem).id).doubts)
            out << QString::fromStdString(doubt.code);
        return out;
    }
    /// The JPEG that a camera writes beside a raw frame.
    void pictureOf(const QString &raw, const QString &folder, const fs::path &job) const
    {
        RenderRequest request;
        request.job = job;
        request.settings.format = PictureFormat::Jpeg;
        request.folder = at(folder);
        const auto jobs = renderJobs({at(raw)}, request);
        const auto source = *PictureSource::open(request.asked());
        const auto made = renderPicture(jobs->front(), request, source);
        if (!made || !made->isServed)
            qFatal("no picture of %s", qPrintable(raw));
    }
    QTemporaryDir m_folder;
};

void ServeTaskTest::aGreyAloneServes()
{
    shoot("grey/card.dng", sim::Subject::GreyCard, "2026-10-14T09:00:00");
    shoot("grey/yarn.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    auto job = taken("job-grey", "grey");
    QCOMPARE(job.serving(frameOf(job, "yarn").id).chart, RowId(0));
    const auto served = serveFrames({at("job-grey"), {at("grey/yarn.dng")}, at("grey/card.dng").string()});
    QVERIFY2(served, served ? "" : served.error().message.c_str());
    QCOMPARE(*served, 1);
    job = opened("job-grey");
    const auto yarn = frameOf(job, "yarn"), card = frameOf(job, "card");
    QVERIFY(card.part == FramePart::Grey && !card.setAside);
    const auto serving = job.serving(yarn.id);
    QCOMPARE(serving.chart, card.id);
    QVERIFY(serving.from == Serving::From::Hand && doubtsOf(job, "yarn").contains("no-chart"));
    // by the rule too, from now on
    QCOMPARE(*serveFrames({at("job-grey"), {at("grey/yarn.dng")}, "auto"}), 1);
    job = opened("job-grey");
    QVERIFY(job.serving(yarn.id).from == Serving::From::Neutral && job.serving(yarn.id).chart == card.id);
    QVERIFY(job.stations().of(yarn.id)->answer.why == Answer::Why::WhiteAlone);
    // a matrix that is asked for is not answered by a balance
    FitRequest asked;
    asked.sha256 = card.sha256;
    asked.ask.parts = {"matrix", "auto"};
    const auto &reading = *job.rows().readingOf(card.id)->reading;
    QVERIFY(!fitReading(reading, asked));
    asked.ask.parts = {"auto", "auto"};
    QVERIFY(fitReading(reading, asked));
    // what leaves: the balance of the card, the file's own matrix
    const auto serves = *job.serves(yarn);
    QVERIFY(serves.isServed && serves.calibration.parts == (Parts{"balance", "as-shot"}));
    const auto &body = sim::camera("Tarn 2");
    const auto white =
        sim::response(body, body.lenses[0], sim::lamp("strobe").spectrum, sim::flatReflectance(1));
    for (const size_t c : {0, 2})
        QVERIFY(std::abs(serves.calibration.multipliers[c] * white[c] / white[1] - 1) < 0.02);
    const auto plan = planDelivery(PictureSource::of(job), ordinaryDelivery(), at("out"));
    QVERIFY2(plan, plan ? "" : plan.error().message.c_str());
    QVERIFY2(plan->asked.leftOut.empty(),
             plan->asked.leftOut.empty() ? "" : plan->asked.leftOut[0].why.c_str());
    QCOMPARE(plan->items.size(), size_t(1));
    // a form that wants colours which no card can give leaves it out, and the other form is written
    auto two = ordinaryDelivery();
    two.forms.push_back({"people"});
    two.forms.back().colour.colour = FormColour::Colour::Matrix;
    const auto partly = planDelivery(PictureSource::of(job), two, at("out"));
    QVERIFY(partly && partly->items.size() == 1 && partly->asked.leftOut.size() == 1);
    QCOMPARE(partly->asked.leftOut[0].why, std::string("cannot-fit"));
    QCOMPARE(partly->asked.leftOut[0].form, std::string("people"));
}

/// A disc before the lens, or a board that fills the frame: white for a station that has nothing else.
void ServeTaskTest::anEvenFieldSpeaksWhereNothingElseDoes()
{
    sim::StudioSettings stand;
    stand.lamp = "tube";
    stand.modifier = "bare reflector";
    stand.powerStops = -1;
    stand.lens = 1;
    stand.lens = 1;
    auto disc = stand;
    disc.powerStops = -1.5; // through a disc there is less of the light
    shoot("disc/disc.dng", sim::Subject::Board, "2026-10-14T09:00:00", disc);
    shoot("disc/yarn.dng", sim::Subject::Skeins, "2026-10-14T09:05:00", stand);
    auto job = taken("job-disc", "disc");
    const auto field = frameOf(job, "disc"), yarn = frameOf(job, "yarn");
    QVERIFY(field.part == FramePart::Flat && !field.setAside);
    QCOMPARE(job.serving(yarn.id).chart, field.id);
    QVERIFY(job.serving(yarn.id).from == Serving::From::Neutral);
    QCOMPARE(doubtsOf(job, "yarn"), QStringList{"no-chart"}); // the field shows nothing of the set
    const auto &body = sim::camera("Tarn 2");
    const auto white =
        sim::response(body, body.lenses[1], sim::lamp("tube").spectrum, sim::flatReflectance(1));
    for (const size_t c : {0, 2})
        QVERIFY(std::abs(job.serves(yarn)->calibration.multipliers[c] * white[c] / white[1] - 1) < 0.02);
    // a chart that comes later speaks, and the field is its flat again
    shoot("disc2/chart.dng", sim::Subject::Chart, "2026-10-14T09:10:00", stand);
    QVERIFY(takeIntoJob(at("job-disc"), {at("disc2/chart.dng")}, {}));
    job = opened("job-disc");
    QCOMPARE(job.serving(yarn.id).chart, frameOf(job, "chart").id);
    QVERIFY(!doubtsOf(job, "yarn").contains("no-chart"));
    QVERIFY(job.stations().of(yarn.id)->greys.empty());
}

void ServeTaskTest::anAreaSaysWhatWhiteIs()
{
    shoot("area/card.dng", sim::Subject::GreyCard, "2026-10-14T09:00:00");
    shoot("area/yarn.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    auto job = taken("job-area", "area");
    const auto card = frameOf(job, "card");
    ServeRequest request{at("job-area"), {at("area/yarn.dng")}, at("area/card.dng").string()};
    request.area = {card.width * 0.46, card.height * 0.46, card.width * 0.08, card.height * 0.08};
    const auto served = serveFrames(request);
    QVERIFY2(served, served ? "" : served.error().message.c_str());
    job = opened("job-area");
    const auto yarn = frameOf(job, "yarn");
    QVERIFY(job.serving(yarn.id).from == Serving::From::Neutral &&
            doubtsOf(job, "yarn").contains("no-chart"));
    const auto area = *balanceFrameArea(*openFrame(at("area/card.dng")), *request.area);
    for (const size_t c : {0, 2})
        QVERIFY(std::abs(job.serves(yarn)->calibration.multipliers[c] / area.multipliers[c] - 1) < 1e-9);
    request.area = {0, 0, double(card.width), double(card.height)}; // card, table and backdrop
    QVERIFY(!serveFrames(request));
    request.area = {-5, 0, 10, 10};
    QVERIFY(!serveFrames(request));
}

void ServeTaskTest::whatSaysNothingOfWhiteIsRefused()
{
    shoot("none/a.dng", sim::Subject::Skeins, "2026-10-14T09:00:00");
    shoot("none/b.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    const auto before = taken("job-none", "none");
    const auto served = serveFrames({at("job-none"), {at("none/a.dng")}, at("none/b.dng").string()});
    QVERIFY(!served && served.error().message.find("grey card or cube") != std::string::npos);
    QVERIFY(!serveFrames({at("job-none"), {at("none/a.dng")}, at("none/c.dng").string()}));
    QVERIFY(opened("job-none").rows().frames == before.rows().frames);
}

void ServeTaskTest::aRawAndItsPictureAreOneFrame()
{
    shoot("pair/P1.dng", sim::Subject::Chart, "2026-10-14T09:00:00");
    shoot("pair/P2.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    taken("job-raw", "pair");
    for (const char *raw : {"pair/P1.dng", "pair/P2.dng"})
        pictureOf(raw, "pair", at("job-raw"));
    const auto job = taken("job-pair", "pair");
    QCOMPARE(job.rows().frames.size(), size_t(2));
    QVERIFY(frameOf(job, "P2").picture.ends_with("P2.jpg") && !frameOf(job, "P2").camera.isRendered);
    QVERIFY(doubtsOf(job, "P2").isEmpty());
    QCOMPARE(job.serving(frameOf(job, "P2").id).chart, frameOf(job, "P1").id);
    // a chart that is read anew by the flat before it keeps its picture
    shoot("evened/F.dng", sim::Subject::Board, "2026-10-14T08:55:00");
    shoot("evened/P1.dng", sim::Subject::Chart, "2026-10-14T09:00:00");
    fs::copy(at("pair/P1.jpg"), at("evened/P1.jpg"));
    const auto evened = taken("job-evened", "evened");
    QVERIFY(!evened.rows().readingOf(frameOf(evened, "P1").id)->brief.flats.empty());
    QVERIFY(frameOf(evened, "P1").picture.ends_with("P1.jpg"));
    // a picture of that name without a time, in another folder, is a frame of its own
    JobFrame raw, picture;
    raw.path = "a/DSC_1.dng";
    picture.path = "b/DSC_1.jpg";
    picture.camera.isRendered = true;
    QVERIFY(!isOfOneRelease(picture, raw));
    picture.path = "a/dsc_1.JPG";
    QVERIFY(isOfOneRelease(picture, raw) && !isOfOneRelease(raw, picture));
    raw.camera.capturedAt = "2026-10-14T09:00:00";
    picture.camera.capturedAt = "2026-10-14T09:00:05";
    QVERIFY(!isOfOneRelease(picture, raw));
    // the pictures come after their raw frames, or before them
    QVERIFY(takeIntoJob(at("job-raw"), {at("pair")}, {}));
    QCOMPARE(opened("job-raw").rows().frames, job.rows().frames);
    fs::create_directories(at("early"));
    fs::copy(at("pair/P1.jpg"), at("early/P1.jpg"));
    QCOMPARE(taken("job-early", "early").rows().frames.size(), size_t(1));
    fs::copy(at("pair/P1.dng"), at("early/P1.dng"));
    const auto early = taken("job-early", "early");
    QCOMPARE(early.rows().frames.size(), size_t(1));
    QVERIFY(!early.rows().frames.front().camera.isRendered && !early.rows().frames.front().picture.empty());
    // but a picture that was chosen to serve another stays what it is
    fs::create_directories(at("kept"));
    for (const char *name : {"P1.jpg", "P2.jpg"})
        fs::copy(at("pair") / name, at("kept") / name);
    taken("job-kept", "kept");
    QCOMPARE(*serveFrames({at("job-kept"), {at("kept/P2.jpg")}, at("kept/P1.jpg").string()}), 1);
    fs::copy(at("pair/P1.dng"), at("kept/P1.dng"));
    const auto kept = taken("job-kept", "kept");
    const auto &served = frameOf(kept, "P2");
    const auto *chart = kept.rows().frame(kept.serving(served.id).chart);
    QVERIFY(chart && chart->camera.isRendered && chart->path.ends_with("P1.jpg"));
}

void ServeTaskTest::aPictureIsNotServedByARawChart()
{
    shoot("kinds/P1.dng", sim::Subject::Chart, "2026-10-14T09:00:00");
    shoot("away/P2.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    taken("job-away", "kinds");
    QVERIFY(takeIntoJob(at("job-away"), {at("away")}, {}));
    pictureOf("away/P2.dng", "kinds", at("job-away")); // of a raw frame that is not there
    const auto job = taken("job-kinds", "kinds");
    QCOMPARE(job.rows().frames.size(), size_t(2));
    QVERIFY(frameOf(job, "P2").camera.isRendered);
    QCOMPARE(job.serving(frameOf(job, "P2").id).chart, RowId(0));
    const auto &names = job.stations().all();
    QVERIFY(names.size() == 2 && names[0]->name != names[1]->name);
    // a DNG profile of pictures cannot be: the rest of the delivery leaves
    pictureOf("kinds/P1.dng", "jpegs", at("job-kinds"));
    pictureOf("away/P2.dng", "jpegs", at("job-away"));
    const auto pictures = taken("job-jpegs", "jpegs");
    auto plan = ordinaryDelivery();
    DeliveryForm profiles;
    profiles.name = "profiles";
    profiles.kind = FormKind::Profile;
    profiles.profile.files = {ProfileFile::Dcp, ProfileFile::Icc};
    plan.forms.insert(plan.forms.begin(), profiles);
    const auto done = deliver(PictureSource::of(pictures), plan, at("out-jpegs"));
    QVERIFY2(done, done ? "" : done.error().message.c_str());
    QCOMPARE(done->receipts.size(), size_t(2));
    QCOMPARE(done->leftOut.size(), size_t(1));
    QCOMPARE(done->leftOut[0].why, std::string("not-raw"));
}

void ServeTaskTest::theChartOfTheSameIsoGoesFirst()
{
    sim::StudioSettings fast;
    fast.iso = 800;
    fast.powerStops = -3;
    shoot("iso/C1.dng", sim::Subject::Chart, "2026-10-14T09:00:00");
    shoot("iso/C8.dng", sim::Subject::Chart, "2026-10-14T09:00:20", fast); // soon after: yet no bracket
    shoot("iso/P1.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    shoot("iso/P8.dng", sim::Subject::Skeins, "2026-10-14T09:06:00", fast);
    fast.iso = 400;
    fast.powerStops = -2;
    shoot("iso/P4.dng", sim::Subject::Skeins, "2026-10-14T09:07:00", fast);
    const auto job = taken("job-iso", "iso");
    const auto by = [&](const char *stem) { return job.serving(frameOf(job, stem).id).chart; };
    QCOMPARE(by("P1"), frameOf(job, "C1").id);
    QCOMPARE(by("P8"), frameOf(job, "C8").id);
    QCOMPARE(by("P4"), frameOf(job, "C8").id);
    QVERIFY(!doubtsOf(job, "P1").contains("other-iso") && doubtsOf(job, "P4").contains("other-iso"));
}

void ServeTaskTest::anotherLightWithoutAChartIsTold()
{
    sim::StudioSettings led, tungsten;
    led.lamp = "led";
    tungsten.lamp = "tungsten";
    shoot("light/C.dng", sim::Subject::Chart, "2026-10-14T09:00:00", led);
    shoot("light/same.dng", sim::Subject::Skeins, "2026-10-14T09:05:00", led);
    shoot("light/other.dng", sim::Subject::Skeins, "2026-10-14T09:10:00", tungsten);
    led.powerStops = -0.25;
    shoot("light/weak.dng", sim::Subject::Skeins, "2026-10-14T09:15:00", led);
    const auto job = taken("job-light", "light");
    QVERIFY2(!doubtsOf(job, "same").contains("other-light"), qPrintable(doubtsOf(job, "same").join(' ')));
    QVERIFY(doubtsOf(job, "other").contains("other-light") && doubtsOf(job, "weak").contains("other-light"));
    for (const auto &doubt : job.serving(frameOf(job, "other").id).doubts)
        QVERIFY(doubt.code != "other-light" || doubt.frame > 50); // mired, warmer
    // and each frame has its figures, in doubt or not
    const auto driftOf = [&](const char *stem) { return job.serving(frameOf(job, stem).id).drift; };
    QVERIFY(driftOf("same") && std::abs(driftOf("same")->mired) < 3);
    QVERIFY(driftOf("other") && driftOf("other")->mired > 50);
    QVERIFY(driftOf("weak") && *driftOf("weak")->change.stops < -0.1);
    QVERIFY(words::drift(job.serving(frameOf(job, "weak").id)).find("stops since its chart") !=
            std::string::npos);
    QVERIFY(words::drift(Serving{}).empty());
    // taken at once, it is proposed to part the setup there, and where it changes again
    const auto report = takeIntoJob(at("job-parted"), {at("light")}, {});
    QVERIFY(report && report->partings.size() == 1);
    const auto parted = opened("job-parted");
    const auto partings = partingsOf(parted.rows(), parted.stations());
    QCOMPARE(partings.size(), size_t(1));
    QCOMPARE(partings[0].frame, frameOf(parted, "other").id);
    QCOMPARE(partings[0].frames, 2); // the weak one follows it
    // by a calibration alone, what the cameras took for white asks
    PictureServes alone;
    alone.calibration = job.serves(frameOf(job, "same"))->calibration;
    for (const char *stem : {"same", "other"}) {
        RenderRequest request;
        request.folder = at("alone");
        request.settings.longSide = 100;
        const auto jobs = renderJobs({at(QString("light/%1.dng").arg(stem))}, request);
        const auto made = renderPicture(jobs->front(), request, alone);
        QVERIFY(made);
        const auto asks = [](const words::Phrase &remark) {
            return remark.text.find("same light") != std::string::npos;
        };
        QCOMPARE(std::any_of(made->remarks.begin(), made->remarks.end(), asks), QString(stem) == "other");
    }
    // the day document has figures of those doubts that have any
    const auto day = nlohmann::json::parse(dayDocument(job.rows(), job.stations()));
    for (const auto &frame : day["stations"][0]["frames"])
        if (frame["path"].get<std::string>().ends_with("other.dng")) {
            const auto &by = frame["served_by"];
            QVERIFY(by["doubts"].size() == 2 && by["doubt_figures"].size() == 1); // poor-chart has none
            QVERIFY(by["doubt_figures"][0]["d_mired"] > 50 && by["doubt_figures"][0]["cct_k"] < 4000);
            QVERIFY(by["drift"]["d_mired"] > 50 && by["drift"].contains("stops"));
        }
}

void ServeTaskTest::anotherDayIsAnotherSetup()
{
    shoot("days/C.dng", sim::Subject::Chart, "2026-10-14T09:00:00");
    shoot("days/late.dng", sim::Subject::Skeins, "2026-10-15T00:30:00"); // another date
    shoot("days/night.dng", sim::Subject::Skeins, "2026-10-15T02:00:00");
    shoot("days/week.dng", sim::Subject::Skeins, "2026-10-20T09:00:00");
    const auto job = taken("job-days", "days");
    QCOMPARE(job.rows().setups.size(), size_t(3)); // a night is one run
    QCOMPARE(frameOf(job, "late").setup, frameOf(job, "night").setup);
    QCOMPARE(job.serving(frameOf(job, "week").id).chart, RowId(0));
    // told to be of one setup: served, and doubted by the days between
    const auto report = takeIntoJob(at("job-told"), {at("days")}, {"Window", std::nullopt});
    QVERIFY(report);
    const auto told = opened("job-told");
    QCOMPARE(doubtsOf(told, "week"), QStringList{"other-day"});
    QCOMPARE(doubtsOf(told, "late"), QStringList{"other-day"});
    shoot("midnight/C.dng", sim::Subject::Chart, "2026-10-14T23:40:00");
    shoot("midnight/P.dng", sim::Subject::Skeins, "2026-10-15T00:20:00");
    QVERIFY(doubtsOf(taken("job-midnight", "midnight"), "P").isEmpty());
    shoot("days/old.dng", sim::Subject::Skeins, "2026-12-20T09:00:00");
    QVERIFY(takeIntoJob(at("job-told"), {at("days/old.dng")}, {"Window", std::nullopt}));
    QCOMPARE(doubtsOf(opened("job-told"), "old"), QStringList{"old"});
}

void ServeTaskTest::aRefusedChartServesWhereThereIsNoOther()
{
    sim::StudioSettings bad;
    bad.glare = true;
    shoot("poor/C.dng", sim::Subject::Chart, "2026-10-14T09:00:00", bad);
    shoot("poor/P.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    auto job = taken("job-poor", "poor");
    QVERIFY(frameOf(job, "C").setAside);
    QCOMPARE(job.serving(frameOf(job, "P").id).chart, frameOf(job, "C").id);
    QVERIFY(doubtsOf(job, "P").contains("poor-chart"));
    shoot("poor/C2.dng", sim::Subject::Chart, "2026-10-14T09:10:00");
    job = taken("job-poor", "poor");
    QCOMPARE(job.serving(frameOf(job, "P").id).chart, frameOf(job, "C2").id);
    QCOMPARE(doubtsOf(job, "P"), QStringList{"chart-after"});
}

void ServeTaskTest::aFlatThatMakesItLessEvenIsNotUsed()
{
    sim::StudioSettings uneven;
    uneven.modifier = "bare reflector";
    shoot("flat/F.dng", sim::Subject::Board, "2026-10-14T08:55:00", uneven);
    shoot("flat/C.dng", sim::Subject::Chart, "2026-10-14T09:00:00");
    const auto job = taken("job-flat", "flat");
    QVERIFY(frameOf(job, "F").part == FramePart::Flat);
    const auto *reading = job.rows().readingOf(frameOf(job, "C").id);
    QVERIFY(reading && reading->brief.flats.empty() && reading->brief.worst() == Severity::Ok);
}

/// With other parts, matched to another camera, joined of two lights: each serves, by its own name and
/// doubts.
void ServeTaskTest::aCalibrationBroughtAlongServes()
{
    sim::StudioSettings strobe, led, other;
    led.lamp = "led";
    other.camera = "Marram 8";
    shoot("brought/C.dng", sim::Subject::Chart, "2026-10-14T09:00:00", strobe);
    shoot("brought/yarn.dng", sim::Subject::Skeins, "2026-10-14T09:05:00", strobe);
    shoot("aside/L.dng", sim::Subject::Chart, "2026-10-14T09:00:00", led);
    shoot("aside/M.dng", sim::Subject::Chart, "2026-10-14T09:00:00", other);
    taken("job-brought", "brought");
    const auto readingOf = [&](const QString &file) { return *readFrame(*openFrame(at(file))); };
    const auto named = [&](const QString &name, const Result<Calibration> &calibration) {
        const auto file = at(name + ".json");
        if (!calibration || !saveCalibration(file, *calibration))
            qFatal("no calibration");
        return file.string();
    };
    const auto serve = [&](const std::string &by, bool force = false) {
        return serveFrames({at("job-brought"), {at("brought/yarn.dng")}, by, force});
    };
    const auto yarn = [&](const Job &job) { return frameOf(job, "yarn"); };
    FitRequest calm;
    calm.ask.name = "calmer";
    calm.ask.parts = plainParts();
    calm.ask.lean = {-2, 0};
    const auto calmer = fitReading(readingOf("brought/C.dng"), calm);
    QCOMPARE(*serve(named("calmer", calmer)), 1);
    auto job = opened("job-brought");
    auto serving = job.serving(yarn(job).id);
    QVERIFY(serving.from == Serving::From::Hand && serving.calibration);
    QCOMPARE(serving.chart, frameOf(job, "C").id); // which it was made from, with its doubts: none
    QVERIFY(doubtsOf(job, "yarn").isEmpty());
    QVERIFY(job.serves(yarn(job))->isServed && job.serves(yarn(job))->calibration == *calmer);
    QCOMPARE(*serve(at("calmer.json").string()), 0); // nothing twice
    QCOMPARE(opened("job-brought").rows().calibrations.size(), job.rows().calibrations.size());

    FitRequest match;
    match.ask.name = "as the other";
    match.ask.parts = plainParts();
    const auto matched =
        fitToReading(readingOf("brought/C.dng"), readingOf("aside/M.dng"), at("M.reading.json"), match);
    QCOMPARE(*serve(named("matched", matched)), 1);
    job = opened("job-brought");
    QVERIFY(job.serving(yarn(job).id).from == Serving::From::Match);
    auto form = ordinaryDelivery();
    form.forms.push_back({"profiles", FormKind::Profile});
    const auto plan = planDelivery(PictureSource::of(job), form, at("out"));
    QVERIFY(plan && plan->asked.leftOut.empty());
    QVERIFY(std::all_of(plan->items.begin(), plan->items.end(),
                        [](const auto &item) { return item.planned.calibration == "as the other"; }));
    const auto day = nlohmann::json::parse(dayDocument(job.rows(), job.stations()));
    for (const auto &frame : day["stations"][0]["frames"])
        if (frame["path"].get<std::string>().ends_with("yarn.dng")) {
            QVERIFY(frame["served_by"]["from"] == "match");
            QVERIFY(frame["served_by"]["by"] == "as the other");
        }

    const auto joined = fitReadings({readingOf("brought/C.dng"), readingOf("aside/L.dng")});
    QCOMPARE(*serve(named("joined", joined)), 1);
    job = opened("job-brought");
    QVERIFY(job.serving(yarn(job).id).from == Serving::From::Joined && job.serves(yarn(job))->isServed);
    QCOMPARE(job.rows().calibration(job.serving(yarn(job).id).calibration)->brief.chart,
             RowId(0)); // of no one light

    // of another light or camera: asked first
    const auto away = named("away", fitReading(readingOf("aside/M.dng"), match));
    QVERIFY(!serve(away) && !serve(at("nothing.json").string()));
    QCOMPARE(*serve("as the other"), 1); // by its name
    QCOMPARE(*serve("auto"), 1);
    job = opened("job-brought");
    QVERIFY(job.serving(yarn(job).id).from == Serving::From::Station &&
            !job.serving(yarn(job).id).calibration);
}

void ServeTaskTest::aPresetAloneServes()
{
    shoot("preset/yarn.dng", sim::Subject::Skeins, "2026-10-14T09:05:00");
    shoot("card/card.dng", sim::Subject::GreyCard, "2026-10-14T09:00:00");
    taken("job-preset", "preset");
    const auto card = *openFrame(at("card/card.dng"));
    auto preset = *balanceFrameArea(card, {card.width * 0.42, card.height * 0.42, 40, 40});
    preset.preset = PresetFacts{"north table", "", card.camera};
    const auto file = at("preset.balance.json");
    QVERIFY(saveBalance(file, preset));
    QCOMPARE(*serveFrames({at("job-preset"), {at("preset/yarn.dng")}, file.string()}), 1);
    const auto job = opened("job-preset");
    const auto &yarn = frameOf(job, "yarn");
    QVERIFY(job.serving(yarn.id).from == Serving::From::Neutral &&
            doubtsOf(job, "yarn").contains("no-chart"));
    const auto serves = job.serves(yarn);
    QVERIFY(serves->isServed && serves->calibration.name == "north table");
    for (const size_t c : {0, 1, 2})
        QVERIFY(std::abs(serves->calibration.multipliers[c] / preset.multipliers[c] - 1) < 1e-9);
    auto form = ordinaryDelivery();
    for (const auto kind : {FormKind::Profile, FormKind::Balance, FormKind::Values})
        form.forms.push_back({std::to_string(int(kind)), kind});
    const auto plan = planDelivery(PictureSource::of(job), form, at("out-preset"));
    QVERIFY2(plan && plan->asked.leftOut.empty(), plan ? "" : plan.error().message.c_str());
    QVERIFY(plan->items.size() > 4);
    // one that was made where the camera took another white is asked about
    preset.preset->asShotNeutral = Vector3{0.9, 1, 0.42};
    QVERIFY(saveBalance(at("warm.balance.json"), preset));
    ServeRequest warm{at("job-preset"), {at("preset/yarn.dng")}, at("warm.balance.json").string()};
    QVERIFY(!serveFrames(warm));
    warm.force = true;
    QVERIFY(serveFrames(warm));
}

void ServeTaskTest::aColouredCardIsNoWhite()
{
    Balance orange;
    orange.source.image = "card.dng";
    const FileColor color{{{sim::publishedColorMatrix(sim::camera("Tarn 2")), 21}}, Vector3{0.5, 1, 0.6}};
    const auto white = sim::response(sim::camera("Tarn 2"), sim::camera("Tarn 2").lenses[0],
                                     sim::lamp("daylight").spectrum, sim::flatReflectance(0.5));
    const auto warm = sim::response(sim::camera("Tarn 2"), sim::camera("Tarn 2").lenses[0],
                                    sim::lamp("daylight").spectrum, *sim::reflectanceOf({62, 35, 57}, 3));
    const auto balanceOf = [&](const Vector3 &rgb) {
        PatchReading patch;
        patch.mean = {0.3 * rgb[0] / rgb[1], 0.3, 0.3 * rgb[2] / rgb[1]};
        patch.sd = {0.001, 0.001, 0.001};
        patch.count = 1000;
        return *balanceFromArea("card.dng", color, {0, 0, 10, 10}, patch);
    };
    QVERIFY(!refusedWhite(balanceOf(white), color));
    QVERIFY(refusedWhite(balanceOf(warm), color));
    QVERIFY(!refusedWhite(balanceOf(warm), FileColor{})); // nothing to judge it by
}

void ServeTaskTest::theDemosSecondDayShowsWhatDaysBring()
{
    const auto made = makeDemo(at("demo"), {4, 2});
    QVERIFY2(made, made ? "" : made.error().message.c_str());
    const auto job = opened("demo");
    const auto chartOf = [&](const char *stem) {
        const auto *chart = job.rows().frame(job.serving(frameOf(job, stem).id).chart);
        return chart ? fs::path(chart->path).stem().string() : "none";
    };
    QCOMPARE(chartOf("HR_0432"), std::string("HR_0431"));
    QVERIFY(job.serving(frameOf(job, "HR_0432").id).from == Serving::From::Neutral);
    QCOMPARE(doubtsOf(job, "HR_0432"), QStringList{"no-chart"});
    QCOMPARE(chartOf("HR_0435"), std::string("HR_0433"));
    QCOMPARE(chartOf("HR_0436"), std::string("HR_0434"));
    for (const char *stem : {"HR_0435", "HR_0436"})
        QVERIFY2(doubtsOf(job, stem).isEmpty(), qPrintable(doubtsOf(job, stem).join(' ')));
    QVERIFY(doubtsOf(job, "HR_0437").contains("other-light"));
    QVERIFY(doubtsOf(job, "HR_0438").contains("other-day"));
    for (const char *stem : {"HR_0433", "HR_0435"})
        QVERIFY(fs::is_regular_file(at("demo") / frameOf(job, stem).picture));
}

static const testing::Registered<ServeTaskTest> registeredServeTaskTest("serve_task_test");
#include "serve_task_test.moc"
