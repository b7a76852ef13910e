#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/raw/embedded_picture.h"
#include "core/raw/open_frame.h"
#include "core/render/display_picture.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/export_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/look_task.h"
#include "core/tasks/place_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/studio_task.h"
#include "core/words/frame_words.h"
#include "support/demo_day.h"
#include "support/registry.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <set>

using namespace wavechroma;

class TasksTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void theDemoTellsItsStory();
    void aFolderWithAJobIsNotOverwritten();
    void lightsByNameTemperatureAndSpectrum();
    void referencesFromAChartFileReplaceTheCatalogues();
    void aStoppedDemoLeavesNoJob();
    void exportsAreAllOrNothing();
    void aMovedChartIsReadAnew();
    void patchesAreSwitchedOffAndCarried();
    void framesFindTheirSetupByTheirBodysClock();
    void aFrameOfALaterDayIsAskedAbout();
    void theStudioShootsWhatItHas();
    void aFlatSaysHowEvenItIs();
    void chartsAreMeasuredAndSeen();
    void movedFramesAreFoundByTheirContent();
    void referencesThatLieOtherwiseAreDoubted();

private:
    std::filesystem::path folder() const { return m_folder.filePath("demo").toStdString(); }
    QTemporaryDir m_folder;
    JobState m_state;
};

void TasksTest::initTestCase()
{
    testing::layDemoDay(folder());
    m_state = *(*JobStore::open(folder()))->load();
}

void TasksTest::theDemoTellsItsStory()
{
    QCOMPARE(m_state.frames.size(), size_t(17));
    QCOMPARE(m_state.setups.size(), size_t(3));
    const auto count = [&](FramePart part) {
        return std::count_if(m_state.frames.begin(), m_state.frames.end(),
                             [&](const auto &f) { return f.part == part; });
    };
    QCOMPARE(count(FramePart::Chart), 8);
    QCOMPARE(count(FramePart::Flat), 1);
    QCOMPARE(count(FramePart::Product), 8);
    QVERIFY(m_state.frames[0].setAside && m_state.frames[3].setAside); // the clipped ones
    QVERIFY(!m_state.frames[1].setAside && !m_state.frames[2].setAside);
    QCOMPARE(std::set<std::string>({m_state.frames[0].camera.model, m_state.frames[7].camera.model}).size(),
             size_t(2));
    // the copy stand's chart was read with its flat
    const auto copied = std::find_if(m_state.frames.begin(), m_state.frames.end(),
                                     [](const auto &f) { return f.path.find("0424") != f.path.npos; });
    QVERIFY(m_state.readingOf(copied->id)->reading->flats == std::vector<std::string>{"frames/HR_0423.dng"});
    const auto *calibration = m_state.calibrationOf(m_state.frames[2].id, plainParts());
    QVERIFY(calibration && calibration->calibration->fit.mean < 2);
    QCOMPARE(calibration->calibration->madeFrom.front().sha256, m_state.frames[2].sha256);
    QVERIFY(calibration->calibration->name.find("Tarn 2, 60 mm f/2.8, North table, two softboxes") == 0);
}

void TasksTest::aFolderWithAJobIsNotOverwritten()
{
    const auto again = makeDemo(folder(), {6, 1});
    QVERIFY(!again);
    QVERIFY(again.error().message.find("already") != std::string::npos);
}

void TasksTest::lightsByNameTemperatureAndSpectrum()
{
    QCOMPARE(lightNamed("A")->exifCode, 17);
    QVERIFY(std::abs(temperatureOf(lightNamed("4100K")->xy).cctKelvin - 4100) < 5);
    const auto file = m_folder.filePath("lamp.csv").toStdString();
    std::string text = "nm,value\n";
    for (int nm = 380; nm <= 780; nm += 5)
        text += std::to_string(nm) + "," + std::to_string(illuminantA().at(nm)) + "\n";
    QVERIFY(bool(writeWhole({{file, bytesOf(text)}})));
    const auto light = lightNamed(file);
    QVERIFY2(bool(light), light ? "" : light.error().message.c_str());
    QCOMPARE(light->exifCode, 17);
    QCOMPARE(light->name, std::string("lamp"));
    QVERIFY(!lightNamed("moonlight"));
    QVERIFY(!lightNamed("nowhere.csv"));
}

void TasksTest::referencesFromAChartFileReplaceTheCatalogues()
{
    auto aged = chartCatalogue().front();
    for (auto &patch : aged.patches)
        patch.reference = {patch.reference.x * 0.95, patch.reference.y * 0.95, patch.reference.z * 0.95};
    const auto file = m_folder.filePath("aged.json").toStdString();
    QVERIFY(bool(writeWhole({{file, bytesOf(documentOf(aged))}})));
    const auto &reading = *m_state.readings[2].reading;
    FitRequest plain, withAged;
    plain.ask.parts = withAged.ask.parts = plainParts();
    withAged.ask.reference = file;
    const auto nominal = *fitReading(reading, plain), measured = *fitReading(reading, withAged);
    QVERIFY(std::abs(measured.exposureScale / nominal.exposureScale - 0.95) < 0.01);
    QVERIFY(!withReferences(chartCatalogue().front(), m_folder.filePath("none").toStdString()));
}

void TasksTest::aStoppedDemoLeavesNoJob()
{
    std::atomic<bool> stop = true;
    const auto where = std::filesystem::path(m_folder.filePath("stopped").toStdString());
    QVERIFY(!makeDemo(where, {8, 1}, {{}, &stop}));
    QVERIFY(!JobStore::holdsJob(where));
}

void TasksTest::exportsAreAllOrNothing()
{
    const auto &calibration = *m_state.calibrationOf(m_state.frames[2].id, plainParts())->calibration;
    const auto at = [&](const char *name) {
        return std::filesystem::path(m_folder.filePath(name).toStdString());
    };
    ExportRequest request;
    request.dcp = at("out.dcp");
    request.icc = at("missing/out.icc");
    QVERIFY(!exportCalibration(calibration, request));
    QVERIFY(!std::filesystem::exists(at("out.dcp")));
    request.icc = at("out.icc");
    request.csv = at("out.csv");
    request.cgats = at("out.txt");
    const auto written = exportCalibration(calibration, request);
    QVERIFY2(bool(written), written ? "" : written.error().message.c_str());
    QCOMPARE(written->size(), size_t(4));
    for (const auto &file : *written)
        QCOMPARE(std::filesystem::file_size(file.path), file.bytes);
    request.csv = request.icc; // two files of one name
    QVERIFY(!exportCalibration(calibration, request));
    QVERIFY(!exportCalibration(calibration, {}));
}

void TasksTest::aMovedChartIsReadAnew()
{
    const auto frame = *openFrame(folder() / m_state.frames[2].path);
    const auto &reading = *m_state.readings[2].reading;
    auto corners = reading.corners;
    const auto same = *movedReading(reading, frame, corners, reading.windowShare, {});
    QCOMPARE(same.placedBy, PlacedBy::Hand);
    for (size_t i = 0; i < 24; ++i)
        QCOMPARE(same.patches[i], reading.patches[i]); // placed where the search put it, it reads the same
    for (auto &corner : corners)                       // one patch to the right: nothing fits any more
        corner.x += (reading.corners[1].x - reading.corners[0].x) / 6;
    const auto moved = *movedReading(reading, frame, corners, 0.5, {});
    QCOMPARE(moved.worst(), Severity::Stop);
    std::swap(corners[0], corners[1]);
    QVERIFY(!movedReading(reading, frame, corners, 0.5, {})); // mirrored
}

void TasksTest::patchesAreSwitchedOffAndCarried()
{
    const auto first = *openFrame(folder() / m_state.frames[1].path),
               second = *openFrame(folder() / m_state.frames[2].path);
    const auto off = readingWithout(*m_state.readings[1].reading, first, {"B2", "C1"}, {});
    QVERIFY(off && off->leftOut.size() == 2);
    QVERIFY(!readingWithout(*m_state.readings[1].reading, first, {"Z9"}, {}));
    const auto fitted = *fitReading(*off, {});
    QVERIFY(std::none_of(fitted.patches.begin(), fitted.patches.end(),
                         [](const auto &p) { return p.id == "B2" || p.id == "C1"; }));
    const auto carried = carriedReading(*off, second, {});
    QVERIFY2(bool(carried), carried ? "" : carried.error().message.c_str());
    QCOMPARE(carried->leftOut, off->leftOut);
    QCOMPARE(carried->image, second.path);
    for (size_t i = 0; i < 4; ++i)
        QVERIFY(std::hypot(carried->corners[i].x - m_state.readings[2].reading->corners[i].x,
                           carried->corners[i].y - m_state.readings[2].reading->corners[i].y) < 1);
    const auto other =
        *openFrame(folder() / m_state.frames[7].path); // another body's frame is of another size
    QVERIFY(!carriedReading(*off, other, {}));
}

void TasksTest::aFrameOfALaterDayIsAskedAbout()
{
    sim::StudioSettings s;
    s.shrink = 6;
    for (const char *day : {"2026-10-14T17:00:00", "2026-11-20T09:00:00"}) {
        s.capturedAt = day;
        const std::filesystem::path file = m_folder.filePath("late.dng").toStdString();
        QVERIFY(bool(shootToFile(s, file)));
        const auto taken = takeFrame(surroundingsOf(m_state, folder()), file);
        QVERIFY(bool(taken));
        const auto said = words::filled(taken->warning, words::plain());
        const bool isLate = std::string(day) > "2026-11";
        QCOMPARE(said.find("Is it still the same light?") != std::string::npos, isLate);
        std::filesystem::remove(file);
    }
}

void TasksTest::framesFindTheirSetupByTheirBodysClock()
{
    auto camera = m_state.frames[0].camera;
    const auto at = [&](const char *time) {
        camera.capturedAt = time;
        return setupAt(m_state, camera);
    };
    QCOMPARE(at("2026-10-14T09:25:00"), RowId(1));
    QCOMPARE(at("2026-10-14T11:00:00"), RowId(2));
    QCOMPARE(at("2026-10-14T15:00:00"), RowId(3));
    QCOMPARE(at("2026-10-14T06:00:00"), RowId(1)); // before all of them
    camera = m_state.frames[7].camera;
    QCOMPARE(at("2026-10-14T11:00:00"), RowId(3)); // a body that has not shot since: the newest light
    camera.serial = "unknown";
    QCOMPARE(at("2026-10-14T09:25:00"), RowId(3)); // whose clock nobody can compare
    QCOMPARE(setupAt({}, camera), RowId(0));
}

void TasksTest::theStudioShootsWhatItHas()
{
    const auto where = std::filesystem::path(m_folder.filePath("roll").toStdString());
    std::filesystem::create_directories(where);
    sim::StudioSettings how;
    how.shrink = 8;
    const auto first = nextOnRoll(where, how.camera);
    QCOMPARE(first.filename().string(), std::string("TA_0001.dng"));
    QVERIFY(bool(shootToFile(how, first)));
    QCOMPARE(nextOnRoll(where, how.camera).filename().string(), std::string("TA_0002.dng"));
    const auto frame = *openFrame(first);
    QVERIFY(readFrame(frame)->found);
    // with a picture of its own, smaller and of more contrast, as cameras make them
    const auto own = embeddedPicture(first);
    // a file beside it goes before, where it lies as the frame does
    const auto shownSize = [&](const std::filesystem::path &beside, int orientation) {
        return filesOwnPicture(first, 8000, nullptr, beside, orientation)->width;
    };
    QCOMPARE(shownSize({}, 1), own->width);
    QCOMPARE(shownSize(first, frame.orientation), frame.width / smallestBlock(frame));
    QCOMPARE(shownSize(first, frame.orientation % 8 + 1), own->width);
    QCOMPARE(shownSize(first.string() + ".none", 1), own->width);
    QVERIFY2(own, own ? "" : own.error().message.c_str());
    QCOMPARE(own->width, frame.width / 2);
    QCOMPARE(own->height, frame.height / 2);
    const auto seen = displayPicture(frame, displayColorOf(frame), 2);
    double product = 0, ownSquare = 0, seenSquare = 0, ownMean = 0, seenMean = 0;
    for (size_t i = 0; i < seen.rgb.size(); ++i) {
        ownMean += double(own->picture->value(i, 1));
        seenMean += (seen.rgb[i] >> 8 & 255);
    }
    ownMean /= double(seen.rgb.size());
    seenMean /= double(seen.rgb.size());
    for (size_t i = 0; i < seen.rgb.size(); ++i) {
        const double a = double(own->picture->value(i, 1)) - ownMean, b = (seen.rgb[i] >> 8 & 255) - seenMean;
        product += a * b;
        ownSquare += a * a;
        seenSquare += b * b;
    }
    QVERIFY2(product / std::sqrt(ownSquare * seenSquare) > 0.9, "it shows something else");
    how.lamp = "candle";
    const auto refused = shootToFile(how, where / "none.dng");
    QVERIFY(!refused && refused.error().message.find("candle") != std::string::npos);
    how.lamp = "led";
    how.lens = 9;
    QVERIFY(!shootToFile(how, where / "none.dng"));
    QVERIFY(!std::filesystem::exists(where / "none.dng"));
    // a stop more of power, of ISO or of aperture is a stop of exposure; a strobe does not care for the time
    how = {};
    const double plain = sim::exposureOf(how);
    how.powerStops = 1;
    QVERIFY(std::abs(sim::exposureOf(how) / plain - 2) < 1e-9);
    how.iso = 200;
    how.exposureSeconds = 1;
    QVERIFY(std::abs(sim::exposureOf(how) / plain - 4) < 1e-9);
}

void TasksTest::aFlatSaysHowEvenItIs()
{
    const auto flat = std::find_if(m_state.frames.begin(), m_state.frames.end(),
                                   [](const auto &f) { return f.part == FramePart::Flat; });
    const auto frame = *openFrame(folder() / flat->path);
    const auto verdict = verdictOnFlat(frame);
    QVERIFY2(verdict.serves && verdict.before > 0.1 && verdict.after < 0.01, words::flat(verdict).c_str());
    const auto yarn = *openFrame(folder() / m_state.frames[4].path);
    QVERIFY(!verdictOnFlat(yarn).serves);
    // two flats are one map, the same twice no other
    const auto path = folder() / flat->path;
    const auto once = *withFlats(frame, {path}), twice = *withFlats(frame, {path, path});
    for (size_t i = 0; i < once.flat->gain[1].size(); ++i)
        QVERIFY(std::abs(once.flat->gain[1][i] - twice.flat->gain[1][i]) < 1e-5);
    QVERIFY(!withFlats(frame, {path, folder() / m_state.frames[0].path})); // a chart is no flat
    // in a job the others serve all the same, and the reason is told
    const auto chart = std::find_if(m_state.frames.begin(), m_state.frames.end(),
                                    [](const auto &f) { return f.path.find("0424") != f.path.npos; });
    words::Phrase warning;
    const auto read = *readWithFlats(surroundingsOf(m_state, folder()), *openFrame(folder() / chart->path),
                                     {m_state.frames[4].path, flat->path}, {}, &warning);
    QCOMPARE(read.flats, std::vector<std::string>{flat->path});
    const auto said = words::filled(warning, words::plain());
    QVERIFY2(said.find("HR_0416.dng") != std::string::npos, said.c_str());
}

void TasksTest::chartsAreMeasuredAndSeen()
{
    const auto nominal = chartCatalogue().front();
    const auto measured = *measuredChart(nominal, "2026-10-14", 3);
    double most = 0;
    for (size_t i = 0; i < 24; ++i) {
        QVERIFY(measured.patches[i].reflectance);
        most = std::max(most, std::abs(measured.patches[i].reference.y - nominal.patches[i].reference.y));
    }
    QVERIFY(most > 0 && most < 0.02); // the instrument scatters, but not much
    QCOMPARE(measured.reference.measuredOn, std::string("2026-10-14"));
    QVERIFY(!measuredChart(plainGrid(2, 3), "2026-10-14", 3)); // there is no print of it
    const auto seen =
        *withSeenColours(nominal, *m_state.readings[2].reading,
                         *m_state.calibrationOf(m_state.frames[2].id, plainParts())->calibration);
    QVERIFY(std::abs(seen.patches[20].reference.y / nominal.patches[20].reference.y - 1) < 0.05);
    QVERIFY(!withSeenColours(
        nominal, *m_state.readings[0].reading,
        *m_state.calibrationOf(m_state.frames[2].id, plainParts())->calibration)); // a patch is clipped
}

void TasksTest::movedFramesAreFoundByTheirContent()
{
    namespace fs = std::filesystem;
    const fs::path archive = m_folder.filePath("archive/2026").toStdString();
    fs::create_directories(archive);
    const auto &first = m_state.frames[2], &second = m_state.frames[7];
    fs::rename(folder() / first.path, archive / "renamed.dng");
    fs::rename(folder() / second.path, archive / fs::path(second.path).filename());
    const auto found = foundAgain(m_state, folder(), archive.parent_path());
    QVERIFY(found && found->frames.size() == 2);
    for (const auto &row : found->frames) {
        QVERIFY(fs::exists(row.after->path) && row.after->sha256 == row.before->sha256);
        auto same = *row.after;
        same.path = row.before->path;
        QVERIFY(same == *row.before); // nothing else of it changed
    }
    QVERIFY(foundAgain(m_state, folder(), m_folder.filePath("none").toStdString())->isEmpty());
    fs::rename(archive / "renamed.dng", folder() / first.path);
    fs::rename(archive / fs::path(second.path).filename(), folder() / second.path);
    QVERIFY(foundAgain(m_state, folder(), archive)->isEmpty());
}

/// What the window is told when a job's references for a chart are those of the row below.
void TasksTest::referencesThatLieOtherwiseAreDoubted()
{
    auto reading = *m_state.readings[2].reading;
    FitRequest request;
    request.sha256 = std::string(64, '0');
    QVERIFY(passFrom(reading, request).doubt.empty());
    auto chart = *chartOf(reading);
    auto moved = chart;
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto &from = chart.patches[(i + size_t(chart.columns)) % chart.patches.size()];
        moved.patches[i].reference = from.reference;
        moved.patches[i].reflectance = from.reflectance;
    }
    reading.definition = moved;
    const auto pass = passFrom(reading, request);
    QVERIFY(!pass.calibrations.empty()); // which is not taken away
    const auto said = words::filled(pass.doubt, words::plain());
    QVERIFY2(said.find("the rows are off by one") != std::string::npos, said.c_str());
}

static const testing::Registered<TasksTest> registeredTasksTest("tasks_test");
#include "tasks_test.moc"
