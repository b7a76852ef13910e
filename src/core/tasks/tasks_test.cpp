#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/export_task.h"
#include "core/tasks/job_tasks.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <set>
#include <cmath>

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

private:
    std::filesystem::path folder() const { return m_folder.filePath("demo").toStdString(); }
    QTemporaryDir m_folder;
    JobState m_state;
};

void TasksTest::initTestCase()
{
    const auto made = makeDemo(folder(), {6});
    QVERIFY2(bool(made), made ? "" : made.error().message.c_str());
    m_state = *(*JobStore::open(folder()))->load();
}

void TasksTest::theDemoTellsItsStory()
{
    QCOMPARE(m_state.frames.size(), size_t(17));
    QCOMPARE(m_state.setups.size(), size_t(3));
    const auto count = [&](FramePart part) { return std::count_if(m_state.frames.begin(), m_state.frames.end(), [&](const auto &f) { return f.part == part; }); };
    QCOMPARE(count(FramePart::Chart), 8);
    QCOMPARE(count(FramePart::Flat), 1);
    QCOMPARE(count(FramePart::Product), 8);
    QVERIFY(m_state.frames[0].setAside && m_state.frames[3].setAside); // the burnt ones
    QVERIFY(!m_state.frames[1].setAside && !m_state.frames[2].setAside);
    QCOMPARE(std::set<std::string>({m_state.frames[0].camera.model, m_state.frames[7].camera.model}).size(), size_t(2));
    // the copy stand's chart was read with its flat
    const auto copied = std::find_if(m_state.frames.begin(), m_state.frames.end(), [](const auto &f) { return f.path.find("0424") != f.path.npos; });
    QVERIFY(m_state.readingOf(copied->id)->reading.flats == std::vector<std::string>{"frames/HR_0423.dng"});
    const auto *calibration = m_state.calibrationOf(m_state.frames[2].id, "matrix");
    QVERIFY(calibration && calibration->calibration.fit.mean < 2);
    QCOMPARE(calibration->calibration.madeFrom.front().sha256, m_state.frames[2].sha256);
    QVERIFY(calibration->calibration.name.find("Tarn 2, 60 mm f/2.8, North table, two softboxes") == 0);
}

void TasksTest::aFolderWithAJobIsNotOverwritten()
{
    const auto again = makeDemo(folder(), {6});
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
    const auto &reading = m_state.readings[2].reading;
    const auto nominal = *fitReading(reading, {}), measured = *fitReading(reading, {"matrix", file, {}, {}, {}, {}, {}});
    QVERIFY(std::abs(measured.exposureScale / nominal.exposureScale - 0.95) < 0.01);
    QVERIFY(!withReferences(chartCatalogue().front(), m_folder.filePath("none").toStdString()));
}

void TasksTest::aStoppedDemoLeavesNoJob()
{
    std::atomic<bool> stop = true;
    const auto where = std::filesystem::path(m_folder.filePath("stopped").toStdString());
    QVERIFY(!makeDemo(where, {8}, {{}, &stop}));
    QVERIFY(!JobStore::holdsJob(where));
}

void TasksTest::exportsAreAllOrNothing()
{
    const auto &calibration = m_state.calibrationOf(m_state.frames[2].id, "matrix")->calibration;
    const auto at = [&](const char *name) { return std::filesystem::path(m_folder.filePath(name).toStdString()); };
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
    request = {};
    request.icc = at("x.icc");
    request.encoding = "cubic";
    QVERIFY(!exportCalibration(calibration, request));
}

void TasksTest::aMovedChartIsReadAnew()
{
    const auto frame = *openFrame(folder() / m_state.frames[2].path);
    const auto &reading = m_state.readings[2].reading;
    auto corners = reading.corners;
    const auto same = *movedReading(reading, frame, corners, reading.windowShare, {});
    QCOMPARE(same.placedBy, PlacedBy::Hand);
    for (size_t i = 0; i < 24; ++i)
        QCOMPARE(same.patches[i], reading.patches[i]); // placed where the search put it, it reads the same
    for (auto &corner : corners) // one patch to the right: nothing fits any more
        corner.x += (reading.corners[1].x - reading.corners[0].x) / 6;
    const auto moved = *movedReading(reading, frame, corners, 0.5, {});
    QCOMPARE(moved.worst(), Severity::Stop);
    std::swap(corners[0], corners[1]);
    QVERIFY(!movedReading(reading, frame, corners, 0.5, {})); // mirrored
}

QTEST_GUILESS_MAIN(TasksTest)
#include "tasks_test.moc"
