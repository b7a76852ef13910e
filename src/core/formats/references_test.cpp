#include "core/color/adaptation.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/cxf.h"
#include "core/formats/probe_document.h"
#include "core/formats/reference_rows.h"
#include "core/formats/tolerance_sheet.h"
#include "core/sim/random.h"
#include "core/words/limit_words.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <clocale>
#include <cmath>
#include <fmt/format.h>
#include <map>

using namespace wavechroma;

/// Reference values and limits that people bring along.
class ReferencesTest : public QObject
{
    Q_OBJECT
private slots:
    void csvOfLabXyzAndSpectraIsRead();
    void cxfOfLabXyzAndSpectraIsRead();
    void brokenCxfNamesItsField_data();
    void brokenCxfNamesItsField();
    void faultsNameLineAndField_data();
    void faultsNameLineAndField();
    void anotherChartsValuesAreRefused();
    void tablesOfTwoMeanings_data();
    void tablesOfTwoMeanings();
    void randomTablesAreReadRightOrRefused();
    void labBesideXyzOfAnotherLightIsRefused();
    void spectraHaveOneScale();
    void lightsComeFromKeywordsOnly_data();
    void lightsComeFromKeywordsOnly();
    void aDarkTargetIsDark();
    void keywordsWithoutEndAreRefusedAtOnce();
    void lettersAreThoseOfNoLocale();
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

namespace {

/// A document as instruments write it: `values` of a patch, in a prefix of its own.
std::string cxfWith(const std::function<std::string(const ChartPatch &)> &values,
                    const std::string &illuminant = "D50", const std::string &observer = "2_Degree")
{
    std::string out = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<k:CxF "
                      "xmlns:k=\"http://colorexchangeformat.com/CxF3-core\">\n<k:FileInformation/>\n"
                      "<k:Resources><k:ObjectCollection>\n";
    int id = 0;
    for (const auto &patch : testing::classicChart().patches)
        out += fmt::format("<k:Object ObjectType=\"Target\" Name=\"{}\" Id=\"c{}\"><k:ColorValues>{}"
                           "</k:ColorValues></k:Object>\n",
                           patch.id, ++id, values(patch));
    return out + fmt::format("</k:ObjectCollection><k:ColorSpecificationCollection>"
                             "<k:ColorSpecification Id=\"CS1\"><k:TristimulusSpec><k:Illuminant>{}"
                             "</k:Illuminant><k:Observer>{}</k:Observer></k:TristimulusSpec>"
                             "<k:MeasurementSpec><k:WavelengthRange StartWL=\"400\" Increment=\"50\"/>"
                             "</k:MeasurementSpec></k:ColorSpecification>"
                             "</k:ColorSpecificationCollection></k:Resources></k:CxF>\n",
                             illuminant, observer);
}

std::string cxfLab(const ChartPatch &patch)
{
    const auto lab = labFromXyz(patch.reference);
    return fmt::format("<k:ColorCIELab ColorSpecification=\"CS1\"><k:L>{:.6f}</k:L><k:A>{:.6f}</k:A>"
                       "<k:B>{:.6f}</k:B></k:ColorCIELab>",
                       lab.l, lab.a, lab.b);
}

} // namespace

void ReferencesTest::cxfOfLabXyzAndSpectraIsRead()
{
    const auto &chart = testing::classicChart();
    TableReading how;
    const auto lab = withCxfReferences(chart, cxfWith(cxfLab), "batch.cxf", &how);
    QVERIFY2(bool(lab), lab ? "" : lab.error().message.c_str());
    QVERIFY(farthest(*lab) < 1e-6);
    QCOMPARE(int(how.kind), int(TableReading::Kind::Lab));
    const auto xyz = withCxfReferences(
        chart, cxfWith([](const ChartPatch &patch) {
            return fmt::format("<k:ColorCIEXYZ ColorSpecification=\"CS1\"><k:X>{}</k:X><k:Y>{}</k:Y>"
                               "<k:Z>{}</k:Z></k:ColorCIEXYZ>",
                               100 * patch.reference.x, 100 * patch.reference.y, 100 * patch.reference.z);
        }),
        "batch.cxf");
    QVERIFY2(bool(xyz), xyz ? "" : xyz.error().message.c_str());
    QVERIFY(farthest(*xyz) < 1e-6);
    // a spectrum goes before the colour beside it, in its own range or in the specification's
    for (const char *range : {"", " StartWL=\"380\" Increment=\"40\""}) {
        const auto grey =
            withCxfReferences(chart, cxfWith([range](const ChartPatch &patch) {
                                  return fmt::format("<k:ReflectanceSpectrum "
                                                     "ColorSpecification=\"CS1\"{}>0.5 0.5 0.5 0.5 "
                                                     "0.5\n0.5 0.5 0.5 0.5 0.5</k:"
                                                     "ReflectanceSpectrum>",
                                                     range) +
                                         cxfLab(patch);
                              }),
                              "batch.cxf");
        QVERIFY2(bool(grey), grey ? "" : grey.error().message.c_str());
        QVERIFY(grey->patches[3].reflectance && std::abs(grey->patches[3].reference.y - 0.5) < 1e-6);
        QCOMPARE(grey->patches[3].reflectance->startNm, *range ? 380. : 400.);
    }
    // colours under another light are taken to D50, as from a table
    const auto d65 = withCxfReferences(chart, cxfWith(cxfLab, "D65"), "batch.cxf");
    const auto table = withCsvReferences(chart, "# ILLUMINANT: D65\n" + labTable().substr(10), "batch.csv");
    QVERIFY2(d65 && table, d65 ? "" : d65.error().message.c_str());
    for (size_t i = 0; i < 24; ++i)
        QVERIFY(std::abs(d65->patches[i].reference.z - table->patches[i].reference.z) < 1e-6);
    const auto targets = targetsFrom(cxfWith(cxfLab), "brand.cxf");
    QVERIFY2(bool(targets), targets ? "" : targets.error().message.c_str());
    QCOMPARE(targets->size(), size_t(24));
    QVERIFY(std::abs((*targets)[2].lab.a - labFromXyz(chart.patches[2].reference).a) < 1e-4);
}

void ReferencesTest::brokenCxfNamesItsField_data()
{
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("words");
    const auto row = [](const char *name, const char *from, const char *to, const char *words) {
        QTest::newRow(name) << from << to << words;
    };
    row("cut off", "</k:Resources></k:CxF>", "", "broken XML");
    row("another document", "k:CxF", "k:Other", "has no CxF element");
    row("not a number", "<k:L>", "<k:L>x", "object A1: L of ColorCIELab is \"x");
    row("missing", "<k:A>", "<k:Q>", "broken XML");
    row("no field", "<k:B>", "<k:B/><k:B>", "object A1: B of ColorCIELab is \"\"");
    row("absurd", "<k:L>", "<k:L>9", "object A1: Lab 9");
    row("twice", "Name=\"A2\"", "Name=\"A1\"", "sample A1 is there twice");
    row("two of a kind",
        "</k:ColorCIELab></k:ColorValues></k:Object>\n<k:Object ObjectType=\"Target\" Name=\"A2\" "
        "Id=\"c2\"><k:ColorValues>",
        "</k:ColorCIELab>", "object A1: has ColorCIELab more than once");
    row("unknown specification", "Id=\"CS1\"", "Id=\"CS2\"",
        "ColorSpecification \"CS1\" is not in the document");
    row("observer", "2_Degree", "3_Degree", "Observer is \"3_Degree\"");
    row("of ten degrees", "2_Degree", "10_Degree", "10");
    row("another chart", "Name=\"D6\"", "Name=\"Q9\"", "");
    row("no colours", "ColorCIELab", "ColorCMYK", "no kind of value in common");
}

void ReferencesTest::brokenCxfNamesItsField()
{
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, words);
    auto text = QString::fromStdString(cxfWith(cxfLab));
    QVERIFY(text.contains(from));
    if (from.startsWith("ColorCIELab") || from == "k:CxF")
        text.replace(from, to);
    else
        text.replace(text.indexOf(from), from.size(), to);
    const auto read = withCxfReferences(testing::classicChart(), text.toStdString(), "batch.cxf");
    QVERIFY(!read);
    QVERIFY2(QString::fromStdString(read.error().message).contains(words), read.error().message.c_str());
    QVERIFY(QString::fromStdString(read.error().message).contains("batch.cxf"));
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

/// A table of the classic chart with columns in that order. Names: L a b X Y Z as such; x y are
/// chromaticities; R G B are codes; "b2" and the like are another set under the name without the digit.
static std::string tableOf(const std::vector<std::string> &columns, const char *separator = ",")
{
    std::string out = "id";
    for (const auto &column : columns)
        out += separator + (column.back() == '2' ? column.substr(0, column.size() - 1) : column);
    out += "\n";
    for (const auto &patch : testing::classicChart().patches) {
        const auto &xyz = patch.reference;
        const auto lab = labFromXyz(xyz);
        const double sum = xyz.x + xyz.y + xyz.z;
        const std::map<std::string, double> values{
            {"L", lab.l},       {"a", lab.a},       {"b", lab.b},       {"X", 100 * xyz.x},
            {"Y", 100 * xyz.y}, {"Z", 100 * xyz.z}, {"x", xyz.x / sum}, {"y", xyz.y / sum},
            {"R", 200},         {"G", 180},         {"B", 110},         {"b2", lab.b + 11},
            {"L2", lab.l - 9},  {"A", 17},          {"z", xyz.z / sum}, {"note", 5}};
        out += patch.id;
        for (const auto &column : columns)
            out += separator + fmt::format("{:.9f}", values.at(column));
        out += "\n";
    }
    return out;
}

void ReferencesTest::tablesOfTwoMeanings_data()
{
    QTest::addColumn<QStringList>("columns");
    QTest::addColumn<bool>("isRead");
    QTest::newRow("chromaticities beside XYZ") << QStringList{"X", "Y", "Z", "x", "y"} << true;
    QTest::newRow("before it") << QStringList{"x", "y", "X", "Y", "Z"} << true;
    QTest::newRow("x, y, z and Y") << QStringList{"x", "y", "z", "Y"} << false;
    QTest::newRow("RGB beside Lab") << QStringList{"L", "a", "b", "R", "G", "B"} << true;
    QTest::newRow("RGB before Lab") << QStringList{"R", "G", "B", "L", "a", "b"} << true;
    QTest::newRow("two sets of Lab") << QStringList{"L", "a", "b", "L2", "a", "b2"} << false;
    QTest::newRow("two b") << QStringList{"L", "a", "b", "b2"} << false;
}

void ReferencesTest::tablesOfTwoMeanings()
{
    QFETCH(QStringList, columns);
    QFETCH(bool, isRead);
    std::vector<std::string> names;
    for (const auto &column : columns)
        names.push_back(column.toStdString());
    const auto read = withCsvReferences(testing::classicChart(), tableOf(names), "two.csv");
    QVERIFY2(bool(read) == isRead, read ? "read" : read.error().message.c_str());
    if (read)
        QVERIFY(farthest(*read) < 1e-6);
    else
        QVERIFY2(read.error().message.find("column") != std::string::npos, read.error().message.c_str());
}

/// L*, a*, b* say nothing of their light; X, Y, Z beside them do.
void ReferencesTest::labBesideXyzOfAnotherLightIsRefused()
{
    const auto light = *lightFromName("D65");
    const auto white = xyzFromChromaticity(light.xy);
    const auto to = adaptation(kD50White, white);
    const auto tableWith = [&](const char *head, double offset) {
        std::string out = std::string(head) + "id,L,a,b,X,Y,Z\n";
        for (const auto &patch : testing::classicChart().patches) {
            const auto xyz = xyzOf(to * vectorOf(patch.reference));
            const auto lab =
                labFromXyz({xyz.x * kD50White.x / white.x, xyz.y, xyz.z * kD50White.z / white.z});
            out += fmt::format("{},{:.2f},{:.2f},{:.2f},{:.2f},{:.2f},{:.2f}\n", patch.id, lab.l,
                               lab.a + offset, lab.b, 100 * xyz.x, 100 * xyz.y, 100 * xyz.z);
        }
        return withCsvReferences(testing::classicChart(), out, "both.csv");
    };
    const auto silent = tableWith("", 0), said = tableWith("# illuminant: D65\n", 0),
               other = tableWith("", 9);
    QVERIFY(!silent && silent.error().message.find("under D65") != std::string::npos);
    QVERIFY2(bool(said), said ? "" : said.error().message.c_str());
    QVERIFY(farthest(*said) < 0.02); // figures of two decimals
    QVERIFY(!other && other.error().message.find("not the same colours") != std::string::npos);
}

/// Columns of every kind in any order, some of them twice: never other colours than the chart's.
void ReferencesTest::randomTablesAreReadRightOrRefused()
{
    sim::Random random(4711);
    int read = 0;
    for (int i = 0; i < 500; ++i) {
        std::vector<std::string> columns;
        for (const auto &set : {std::vector<std::string>{"L", "a", "b"},
                                {"X", "Y", "Z"},
                                {"x", "y"},
                                {"x", "y", "z"},
                                {"R", "G", "B"},
                                {"b2"},
                                {"L2"},
                                {"note"}})
            if (random.unit() < 0.4 &&
                (set[0].back() != '2' || std::find(columns.begin(), columns.end(), "L") != columns.end()))
                columns.insert(columns.end(), set.begin(), set.end());
        for (size_t k = columns.size(); k > 1; --k)
            std::swap(columns[k - 1], columns[size_t(random.below(int(k)))]);
        const auto table =
            withCsvReferences(testing::classicChart(), tableOf(columns, i % 2 ? ";" : ","), "r.csv");
        if (!table)
            continue;
        ++read;
        for (size_t p = 0; p < table->patches.size(); ++p) {
            const auto got = labFromXyz(table->patches[p].reference),
                       wanted = labFromXyz(testing::classicChart().patches[p].reference);
            if (std::hypot(got.l - wanted.l, got.a - wanted.a, got.b - wanted.b) > 1e-3) {
                QStringList all;
                for (const auto &column : columns)
                    all << QString::fromStdString(column);
                QFAIL(qPrintable(all.join(",")));
            }
        }
    }
    QVERIFY2(read > 100 && read < 490, qPrintable(QString::number(read)));
}

/// Black reflects under 1.5 per cent: its scale is that of its table.
void ReferencesTest::spectraHaveOneScale()
{
    std::string table = "patch,400,450,500,550,600,650,700\n";
    for (const auto &patch : testing::classicChart().patches)
        table += patch.id + (patch.id == "D6" ? ",0.9,0.9,0.9,0.9,0.9,0.9,0.9\n" : ",40,40,40,40,40,40,40\n");
    TableReading how;
    const auto read = withCsvReferences(testing::classicChart(), table, "dark.csv", &how);
    QVERIFY2(bool(read), read ? "" : read.error().message.c_str());
    QVERIFY(how.kind == TableReading::Kind::Spectra && how.isPerCent);
    QVERIFY(std::abs(read->patch("D6")->reference.y - 0.009) < 1e-6);
    QVERIFY(std::abs(read->patch("A1")->reference.y - 0.4) < 1e-6);
}

void ReferencesTest::lightsComeFromKeywordsOnly_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("light"); ///< empty: the table is refused
    QTest::newRow("a sentence") << "# illuminated by A. Meyer"
                                << "D50";
    QTest::newRow("a comment of a lamp") << "# measured with lamp Illumination=A"
                                         << "D50";
    QTest::newRow("a keyword") << "# Illuminant: D65"
                               << "D65";
    QTest::newRow("with an observer") << "# Reference illuminant and observer: D65, 2°"
                                      << "D65";
    QTest::newRow("in capitals") << "#ILLUMINANT D65"
                                 << "D65";
    QTest::newRow("a simulator") << "# Illuminant: a D50 simulator"
                                 << "";
    QTest::newRow("of no name") << "# Illuminant: shop window"
                                << "";
    QTest::newRow("two lights") << "# Illuminant: D50\n# Illuminant: D65"
                                << "";
    QTest::newRow("an observer of 10") << "# Observer: 10 degree"
                                       << "";
}

void ReferencesTest::lightsComeFromKeywordsOnly()
{
    QFETCH(QString, line);
    QFETCH(QString, light);
    TableReading how;
    const auto read =
        withCsvReferences(testing::classicChart(), line.toStdString() + "\n" + labTable(), "lit.csv", &how);
    QVERIFY2(bool(read) == !light.isEmpty(), read ? "read" : read.error().message.c_str());
    if (read)
        QCOMPARE(QString::fromStdString(how.light), light);
    // the same words in CGATS, whose lamp stands before the function that counts
    const std::string cgats =
        "CGATS.17\nMEASUREMENT_SOURCE \"Illumination=A\"\nWEIGHTING_FUNCTION \"ILLUMINANT, D50\"\n"
        "NUMBER_OF_FIELDS 4\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\n"
        "NUMBER_OF_SETS 1\nBEGIN_DATA\nlogo 50 20 10\nEND_DATA\n";
    const auto colours = cgatsColours(cgats, "lamp.txt");
    QVERIFY2(bool(colours), colours ? "" : colours.error().message.c_str());
    const auto lab = labFromXyz(colours->front().second);
    QVERIFY(std::hypot(lab.l - 50, lab.a - 20, lab.b - 10) < 1e-6);
}

void ReferencesTest::aDarkTargetIsDark()
{
    const auto cgats = [](const char *xyz, const char *columns = "SAMPLE_ID XYZ_X XYZ_Y XYZ_Z") {
        return fmt::format("CGATS.17\nNUMBER_OF_FIELDS 4\nBEGIN_DATA_FORMAT\n{}\nEND_DATA_FORMAT\n"
                           "NUMBER_OF_SETS 1\nBEGIN_DATA\nlogo {}\nEND_DATA\n",
                           columns, xyz);
    };
    const auto dark = cgatsColours(cgats("0.9642 1.0 0.8249"), "dark.txt");
    QVERIFY(dark && std::abs(labFromXyz(dark->front().second).l - 8.99) < 0.01);      // of Y 1 of 100
    const auto csv = targetsFrom("name,X,Y,Z\nlogo,0.9642,1.0,0.8249\n", "dark.csv"); // which says no scale
    QVERIFY(!csv);
    QVERIFY2(csv.error().message.find("L* 9") != std::string::npos &&
                 csv.error().message.find("L* 100") != std::string::npos,
             csv.error().message.c_str());
    QVERIFY(bool(targetsFrom("name,X,Y,Z\nlogo,0.9642,1.0,0.8249\npaper,90,93,77\n", "dark.csv")));
    QVERIFY(!cgatsColours(cgats("1e300 50 50"), "huge.txt"));
    QVERIFY(!cgatsColours(cgats("50 50 1e300"), "huge.txt"));
    QVERIFY(!cgatsColours(cgats("50 20 30", "SAMPLE_ID LAB_L LAB_A LAB_A"), "twice.txt"));
    const auto lit = targetsFrom("# Illuminant: D65\nname,L,a,b\nwhite,100,0,0\n", "lit.csv");
    QVERIFY(lit && std::abs((*lit)[0].lab.l - 100) < 1e-6 &&
            std::abs((*lit)[0].lab.b) < 1e-6); // white is white
}

void ReferencesTest::keywordsWithoutEndAreRefusedAtOnce()
{
    std::string text = "CGATS.17\n";
    for (int i = 0; i < 60000; ++i)
        text += fmt::format("KEY{} \"x\"\n", i);
    text += "NUMBER_OF_FIELDS 4\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\n"
            "NUMBER_OF_SETS 1\nBEGIN_DATA\nlogo 50 20 10\nEND_DATA\n";
    const auto read = cgatsColours(text, "keys.txt"); // took minutes, by the square of the keywords
    QVERIFY(!read && read.error().message.find("too large") != std::string::npos);
    const auto commas = targetsFrom("name" + std::string(3'000'000, ',') + "\n", "commas.csv");
    QVERIFY(!commas && commas.error().message.size() < 1000);
}

/// Under tr_TR the library's toupper makes no "I" of "i".
void ReferencesTest::lettersAreThoseOfNoLocale()
{
    QTemporaryDir folder;
    QProcess tool;
    tool.start("localedef", {"-i", "tr_TR", "-f", "ISO-8859-9", folder.filePath("tr_TR.ISO-8859-9")});
    QVERIFY2(tool.waitForFinished() && tool.exitCode() == 0, tool.readAllStandardError());
    qputenv("LOCPATH", folder.path().toLocal8Bit());
    QVERIFY(std::setlocale(LC_ALL, "tr_TR.ISO-8859-9"));
    TableReading how;
    const auto read = withCsvReferences(
        testing::classicChart(),
        "# illuminant: D65\nSAMPLE_ID,L,a,b\n" + labTable().substr(labTable().find("A1")), "tr.csv", &how);
    const auto sheet = plainPatchId("i01");
    std::setlocale(LC_ALL, "C");
    qunsetenv("LOCPATH");
    QVERIFY2(bool(read), read ? "" : read.error().message.c_str());
    QCOMPARE(how.light, std::string("D65"));
    QCOMPARE(sheet, std::string("I1"));
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
        QVERIFY2(!words::limit(limit.key).question.empty(), limit.key.c_str()); // each has words
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
