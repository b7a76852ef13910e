#include "app/model/spoken.h"
#include "core/formats/cube_lut.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/exposure_aims.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/export_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/inspect_task.h"
#include "core/tasks/reference_task.h"
#include "core/words/check_words.h"
#include "support/registry.h"

#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <clocale>

using namespace wavechroma;
using namespace wavechroma::app;

/// Files and documents have a decimal point under every locale; the window speaks the user's.
class SpokenTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void cleanupTestCase() { std::setlocale(LC_ALL, "C"); }
    void filesAreTheSameUnderACommaLocale();
    void optionsAreReadWithAPoint();
    void theWindowSpeaksTheUsersLocale();

private:
    QTemporaryDir m_folder;
};

void SpokenTest::initTestCase()
{
    // made here, for a machine need not have any
    QProcess tool;
    tool.start("localedef", {"-i", "de_DE", "-f", "UTF-8", m_folder.filePath("de_DE.UTF-8")});
    QVERIFY2(tool.waitForFinished() && tool.exitCode() == 0, tool.readAllStandardError());
    qputenv("LOCPATH", m_folder.path().toLocal8Bit());
}

void SpokenTest::filesAreTheSameUnderACommaLocale()
{
    const auto calibration = testing::sampleCalibration();
    const auto written = [&](const char *name) {
        const auto at = [&](const char *ending) {
            return m_folder.filePath(QString(name) + ending).toStdString();
        };
        ExportRequest request;
        request.cube = at(".cube");
        request.csv = at(".csv");
        request.cgats = at(".txt");
        request.icc = at(".icc");
        request.dcp = at(".dcp");
        const auto done = exportCalibration(calibration, request);
        if (!done)
            qFatal("%s", done.error().message.c_str());
        std::string all = documentOf(calibration);
        for (const char *ending : {".cube", ".csv", ".txt", ".dcp"})
            all += *inspectFile(at(ending));
        for (const char *ending : {".cube", ".csv", ".txt"}) {
            QFile file(QString::fromStdString(at(ending)));
            if (!file.open(QIODevice::ReadOnly))
                qFatal("%s", ending);
            all += file.readAll().toStdString();
        }
        return all;
    };
    std::setlocale(LC_ALL, "C");
    const auto plain = written("plain");
    QVERIFY(std::setlocale(LC_ALL, "de_DE.UTF-8"));
    QCOMPARE(std::localeconv()->decimal_point, ","); // it is one with a comma
    const auto comma = written("comma");
    const auto differs =
        size_t(std::mismatch(comma.begin(), comma.end(), plain.begin(), plain.end()).first - comma.begin());
    QVERIFY2(comma == plain, comma.substr(differs > 60 ? differs - 60 : 0, 120).c_str());
    const auto file = m_folder.filePath("calibration.json").toStdString();
    const auto references =
        withReferences(chartCatalogue().front(), m_folder.filePath("comma.txt").toStdString());
    QVERIFY2(bool(references), references ? "" : references.error().message.c_str()); // and read again
    QVERIFY(std::abs(references->patches[3].reference.y - chartCatalogue().front().patches[3].reference.y) <
            1e-6);
    QVERIFY(bool(saveCalibration(file, calibration)));
    QVERIFY(*loadCalibration(file) == calibration);
}

void SpokenTest::optionsAreReadWithAPoint()
{
    QVERIFY(std::setlocale(LC_ALL, "de_DE.UTF-8"));
    QCOMPARE(temperatureFrom("5000.5K,+0.002")->cctKelvin, 5000.5);
    QCOMPARE(temperatureFrom("5000.5K,+0.002")->duv, 0.002);
    QCOMPARE(aimsFrom("D1=92.5±0.5")->at("D1").value, 92.5);
    QVERIFY(bool(checkWeights("D1=1.5", chartCatalogue().front())));
    QVERIFY(bool(checkWeights("D1=1.5,D2=2", chartCatalogue().front())));
}

void SpokenTest::theWindowSpeaksTheUsersLocale()
{
    Check flare{CheckId::Flare, Severity::Warn, 0.0249, 0.015, "share", {}, "veil"};
    speakAs(QLocale("de_DE"));
    const auto inWindow = words::finding(flare, spoken());
    const auto figure = fixed(1.625, 2);
    speakAs(QLocale::c());
    QVERIFY2(inWindow.find("2,5 %") != std::string::npos, inWindow.c_str());
    QVERIFY(figure.contains(','));
    QVERIFY(words::message(flare).find("2.5 %") != std::string::npos); // documents and the command line
}

static const wavechroma::testing::Registered<SpokenTest> registeredSpokenTest("spoken_test");
#include "spoken_test.moc"
