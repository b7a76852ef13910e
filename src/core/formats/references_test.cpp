#include "core/color/lab.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/tolerance_sheet.h"
#include "core/words/limit_words.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <fmt/format.h>

using namespace wavechroma;

/// Reference values and limits that people bring along.
class ReferencesTest : public QObject
{
    Q_OBJECT
private slots:
    void csvOfLabXyzAndSpectraIsRead();
    void faultsNameLineAndField_data();
    void faultsNameLineAndField();
    void anotherChartsValuesAreRefused();
    void shippedSheetsAreReadAndEdited();
    void aimsStandInASheet();
    void brokenSheetsAreRefused_data();
    void brokenSheetsAreRefused();
};

namespace {

std::string labTable(const char *separator = ",")
{
    std::string out = fmt::format("# a batch\nSAMPLE_ID{0}L*{0}a*{0}b*\n", separator);
    for (const auto &patch : testing::classicChart().patches) {
        const auto lab = labFromXyz(patch.reference);
        out += fmt::format("{1}{0}{2:.6f}{0}{3:.6f}{0}{4:.6f}\n", separator, patch.id, lab.l, lab.a, lab.b);
    }
    return out;
}

double farthest(const ChartDefinition &a)
{
    double most = 0;
    for (size_t i = 0; i < a.patches.size(); ++i)
        most = std::max(most,
                        std::abs(a.patches[i].reference.y - testing::classicChart().patches[i].reference.y));
    return most;
}

} // namespace

void ReferencesTest::csvOfLabXyzAndSpectraIsRead()
{
    for (const char *separator : {",", ";", "\t"}) {
        const auto read = withCsvReferences(testing::classicChart(), labTable(separator), "batch.csv");
        QVERIFY2(bool(read), read ? "" : read.error().message.c_str());
        QVERIFY(farthest(*read) < 1e-6);
        QCOMPARE(read->reference.source, std::string("batch.csv"));
    }
    std::string xyz = "id,X,Y,Z\n", spectra = "patch,400,450,500,550,600,650,700\n";
    for (const auto &patch : testing::classicChart().patches) {
        xyz += fmt::format("{},{},{},{}\n", patch.id, 100 * patch.reference.x, 100 * patch.reference.y,
                           100 * patch.reference.z);
        spectra += fmt::format("{},50,50,50,50,50,50,50\n", patch.id); // per cent
    }
    QVERIFY(farthest(*withCsvReferences(testing::classicChart(), xyz, "x")) < 1e-9);
    const auto grey = withCsvReferences(testing::classicChart(), spectra, "s");
    QVERIFY2(bool(grey), grey ? "" : grey.error().message.c_str());
    QVERIFY(grey->patches[3].reflectance && std::abs(grey->patches[3].reference.y - 0.5) < 1e-6);
}

void ReferencesTest::faultsNameLineAndField_data()
{
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("words");
    QTest::newRow("not a number") << "A2,"
                                  << "A2,x"
                                  << "line 4: l* is";
    QTest::newRow("field missing") << "A3,"
                                   << "A3 "
                                   << "line 5: has 3 fields, the header 4";
    QTest::newRow("absurd") << "A1,"
                            << "A1,9"
                            << "line 3: Lab 9";
    QTest::newRow("twice") << "A2,"
                           << "A1,"
                           << "line 4: sample a1 is there twice";
    QTest::newRow("no id column") << "SAMPLE_ID"
                                  << "number"
                                  << "line 2: has no column called id";
    QTest::newRow("no values") << "L*"
                               << "L"
                               << "";
    QTest::newRow("unknown columns") << "a*"
                                     << "red"
                                     << "line 2: has neither L, a, b";
    QTest::newRow("one missing") << "D6,"
                                 << "Z9,"
                                 << "no values for 1 of 24 patches: D6";
}

void ReferencesTest::faultsNameLineAndField()
{
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, words);
    auto text = QString::fromStdString(labTable());
    text.replace(text.indexOf(from), from.size(), to);
    const auto read = withCsvReferences(testing::classicChart(), text.toStdString(), "batch.csv");
    QCOMPARE(bool(read), words.isEmpty());
    if (!read)
        QVERIFY2(QString::fromStdString(read.error().message).startsWith("batch.csv") &&
                     QString::fromStdString(read.error().message).contains(words),
                 read.error().message.c_str());
}

void ReferencesTest::anotherChartsValuesAreRefused()
{
    const auto more = withCsvReferences(testing::classicChart(), labTable() + "E1,50,0,0\n", "large.csv");
    QVERIFY(!more);
    QVERIFY2(more.error().message.find("has 25 samples and a value for E1") != std::string::npos,
             more.error().message.c_str());
    QVERIFY(bool(withCsvReferences(testing::classicChart(), labTable() + "paper,95,0,0\n",
                                   "with-paper.csv"))); // no place on a chart
    QVERIFY(!withCsvReferences(testing::classicChart(), "", "none.csv"));
}

void ReferencesTest::shippedSheetsAreReadAndEdited()
{
    QCOMPARE(shippedSheets().size(), size_t(2));
    QCOMPARE(*shippedSheet("ordinary"), ToleranceSheet{}); // the file and the defaults say the same
    const auto strict = *shippedSheet("strict");
    QVERIFY(strict.capture.unevenness < ToleranceSheet{}.capture.unevenness &&
            strict.proof.mean < ToleranceSheet{}.proof.mean);
    QCOMPARE(strict.scaleError, 0.01);
    QCOMPARE(*toleranceFrom(documentOf(strict), "again"), strict);
    auto limits = limitsOf(strict);
    for (auto &limit : limits) {
        QVERIFY2(words::limit(limit.key) != limit.key, limit.key.c_str()); // each has words
        if (limit.key == "glare")
            limit.value = 0.123;
    }
    QCOMPARE(withLimits(strict, limits).capture.glare, 0.123);
    QVERIFY(!shippedSheet("lenient"));
}

void ReferencesTest::aimsStandInASheet()
{
    auto sheet = *shippedSheet("ordinary");
    QVERIFY(sheet.aims.empty());
    sheet.aims = "D1=92±0.5, D4=118@srgb";
    QCOMPARE(*toleranceFrom(documentOf(sheet), "again"), sheet);
    const auto broken = toleranceFrom(
        R"({"schema":"wavechroma.tolerance/1","name":"mine","limits":{},"aims":"D1=920"})", "mine.json");
    QVERIFY(!broken);
    QVERIFY2(broken.error().message.find("mine.json") != std::string::npos &&
                 broken.error().message.find("D1=920") != std::string::npos,
             broken.error().message.c_str());
}

void ReferencesTest::brokenSheetsAreRefused_data()
{
    QTest::addColumn<QString>("limits");
    QTest::addColumn<QString>("words");
    QTest::newRow("a slip of the pen") << R"({"glair": 0.02})"
                                       << "limits.glair";
    QTest::newRow("negative") << R"({"glare": -0.02})"
                              << "limits.glare";
    QTest::newRow("words") << R"({"glare": "little"})"
                           << "limits.glare";
    QTest::newRow("no warning before the stop") << R"({"flare": 0.5})"
                                                << "flare_stop_at";
    QTest::newRow("an impossible aim") << R"({"exposure_aim": 1.5})"
                                       << "exposure_aim";
    QTest::newRow("a list") << "[]"
                            << "limits";
}

void ReferencesTest::brokenSheetsAreRefused()
{
    QFETCH(QString, limits);
    QFETCH(QString, words);
    const auto sheet = toleranceFrom(
        QString(R"({"schema":"wavechroma.tolerance/1","name":"mine","limits":%1})").arg(limits).toStdString(),
        "mine.json");
    QVERIFY(!sheet);
    QVERIFY2(QString::fromStdString(sheet.error().message).contains(words), sheet.error().message.c_str());
}

static const testing::Registered<ReferencesTest> registeredReferencesTest("references_test");
#include "references_test.moc"
