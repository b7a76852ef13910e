#include "core/chart/chart_definition.h"
#include "core/color/adaptation.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/sim/reflectance.h"
#include "core/tasks/studio_task.h"
#include "support/classic_chart.h"
#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"

#include <QDir>
#include <cmath>
#include <functional>
#include <sys/stat.h>

using namespace wavechroma;

/// What cannot be right is refused with what is wrong and what would be right, and nothing of the user's is
/// written over.
class RefusalsTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void initTestCase();
    void whatCannotBeRightIsRefused_data();
    void whatCannotBeRightIsRefused();
    void referencesAsPeopleHaveThem_data();
    void referencesAsPeopleHaveThem();
    void referencesForAnotherObserverAreRefused();
    void inputsAreNeverWrittenOver_data();
    void inputsAreNeverWrittenOver();
    void aLinkStaysALinkAndAPipeAPipe();
    void modesAreKept();
    void pathsThatCannotBeFollowedAreTold_data();
    void pathsThatCannotBeFollowedAreTold();
    void whatAKilledProgramLeftIsSwept();
    void twoLightsAskWhichOne();
    void aBracketGoesOnByItsBestExposure();
    void aMissedAimIsAnAnswer();
    void aShadowIsInTheDocumentAndStopsTheFit();
    void aPresetIsOfItsLight();
    void aPictureWithoutAProfileIsToldAbout();
};

namespace {

/// A table of the chart's references, a line a patch, as `line` has it.
QByteArray table(const QByteArray &header, const std::function<QString(const ChartPatch &)> &line)
{
    QByteArray out = header;
    for (const auto &patch : testing::classicChart().patches)
        out += line(patch).toUtf8() + "\n";
    return out;
}

QString labLine(const ChartPatch &patch, const Xyz &colour, const QString &separator = ",")
{
    const auto lab = labFromXyz(colour);
    return QStringList{QString::fromStdString(patch.id), QString::number(lab.l, 'f', 4),
                       QString::number(lab.a, 'f', 4), QString::number(lab.b, 'f', 4)}
        .join(separator);
}

QByteArray shifted(int by)
{
    const auto &all = testing::classicChart().patches;
    size_t i = 0;
    return table("id,L,a,b\n", [&](const ChartPatch &patch) {
        return labLine(patch, all[(i++ + size_t(by) + all.size()) % all.size()].reference);
    });
}

QByteArray cgats(const QByteArray &heading, const std::function<QString(const ChartPatch &)> &line,
                 const QByteArray &columns = "SAMPLE_ID LAB_L LAB_A LAB_B")
{
    return table("CGATS.17\n" + heading + "NUMBER_OF_FIELDS " +
                     QByteArray::number(columns.split(' ').size()) + "\nBEGIN_DATA_FORMAT\n" + columns +
                     "\nEND_DATA_FORMAT\nNUMBER_OF_SETS 24\nBEGIN_DATA\n",
                 line) +
           "END_DATA\n";
}

} // namespace

void RefusalsTest::initTestCase()
{
    testing::layDemoDay(at("demo").toStdString());
    const QString frames = "demo/frames/";
    QCOMPARE(run({"read", frames + "HR_0414.dng", "-o", "good.json"}).status, 0);
    QCOMPARE(run({"read", frames + "MB_0051.dng", "-o", "other.json"}).status, 0);
    QCOMPARE(run({"fit", "good.json", "--colour", "matrix", "-o", "matrix.json"}).status, 0);
    // the chart's corners, named from the wrong end
    const auto corners = json("good.json").object()["corners"].toArray();
    QStringList turned;
    for (const int i : {2, 3, 0, 1})
        for (const auto &v : corners[i].toArray())
            turned << QString::number(v.toDouble());
    QCOMPARE(run({"read", frames + "HR_0414.dng", "--corners", turned.join(','), "-o", "turned.json"}).status,
             3);
    auto warm = json("matrix.json").object(); // as if its camera had taken a warmer light for white
    auto color = warm["file_color"].toObject();
    color["as_shot_neutral"] = QJsonArray{0.9, 1.0, 0.42};
    warm["file_color"] = color;
    write("warm.json", QJsonDocument(warm).toJson());
    write("rows.csv", shifted(testing::classicChart().columns));
    write("columns.csv", shifted(-1));
}

void RefusalsTest::whatCannotBeRightIsRefused_data()
{
    QTest::addColumn<QStringList>("call");
    QTest::addColumn<QString>("said");
    const QStringList fit{"fit", "good.json", "--colour", "matrix", "-o", "out.json"};
    QTest::newRow("turned corners") << QStringList{"fit", "turned.json", "-o", "out.json"} << "fails";
    QTest::newRow("rows off by one") << fit + QStringList{"--reference", "rows.csv"}
                                     << "row B of the chart has the colours of row A";
    QTest::newRow("columns off by one")
        << fit + QStringList{"--reference", "columns.csv"} << "the columns are off by one";
    QTest::newRow("a light that cannot be")
        << fit + QStringList{"--light", "3200K"} << "its neutral shows about 6";
    QTest::newRow("an orange neutral")
        << QStringList{"balance", "good.json", "--patch", "B1", "-o", "out.json"} << "B1 is not neutral";
    QTest::newRow("an area of two things")
        << QStringList{"balance", "demo/frames/HR_0414.dng", "--area", "200,150,500,300", "-o", "out.json"}
        << "is not plain";
    const auto corners = json("good.json").object()["corners"].toArray();
    const auto along = [&](int i, double u) {
        const auto at = [&](int corner) { return corners[corner].toArray()[i].toDouble(); };
        return at(0) + u * (at(1) - at(0));
    };
    const auto down = [&](int i) {
        return 0.375 * (corners[3].toArray()[i].toDouble() - corners[0].toArray()[i].toDouble());
    };
    const QString orange = QString("%1,%2,30,30") // B1
                               .arg(along(0, 0.08) + down(0) - 15)
                               .arg(along(1, 0.08) + down(1) - 15);
    QTest::newRow("an orange area") << QStringList{"balance", "demo/frames/HR_0414.dng",
                                                   "--area",  orange,
                                                   "-o",      "out.json"}
                                    << "Is it a coloured thing?";
    QTest::newRow("a reference whose own check fails") << fit + QStringList{"--reference", "turned.json"}
                                                       << "cannot be a reference: its check “match” fails";
    QTest::newRow("proof by another camera's")
        << QStringList{"prove", "matrix.json", "other.json", "-o", "out.json"} << "another camera";
    QTest::newRow("profile into a frame of another light")
        << QStringList{"export", "warm.json", "--dng", "out.json", "demo/frames/HR_0414.dng"}
        << "Is it the same light";
    QTest::newRow("profile into another camera's frame")
        << QStringList{"export", "matrix.json", "--dng", "out.json", "demo/frames/MB_0051.dng"}
        << "another camera";
}

void RefusalsTest::whatCannotBeRightIsRefused()
{
    QFETCH(QStringList, call);
    QFETCH(QString, said);
    const auto refused = run(call);
    QCOMPARE(refused.status, 2);
    QVERIFY2(refused.err.contains(said.toUtf8()), refused.err);
    QVERIFY2(refused.err.contains("--force"), refused.err);
    QVERIFY(!QFile::exists(at("out.json")));
    const auto forced = run(call + QStringList{"--force"});
    QVERIFY2(forced.status == 0, forced.err);
    QVERIFY(QFile::remove(at("out.json")));
}

void RefusalsTest::referencesAsPeopleHaveThem_data()
{
    QTest::addColumn<QByteArray>("text");
    const auto plain = [](const QString &separator) {
        return [separator](const ChartPatch &p) { return labLine(p, p.reference, separator); };
    };
    const auto comma = [](const QString &separator) {
        return
            [separator](const ChartPatch &p) { return labLine(p, p.reference, separator).replace('.', ','); };
    };
    const auto xyz = [](double scale) {
        return [scale](const ChartPatch &p) {
            return QString("%1,%2,%3,%4")
                .arg(QString::fromStdString(p.id))
                .arg(scale * p.reference.x, 0, 'f', 6)
                .arg(scale * p.reference.y, 0, 'f', 6)
                .arg(scale * p.reference.z, 0, 'f', 6);
        };
    };
    QTest::newRow("semicolons and decimal commas") << table("Patch;L*;A*;B*\n", comma(";"));
    QTest::newRow("tabs and decimal commas") << table("id\tL\ta\tb\n", comma("\t"));
    QTest::newRow("quoted numbers with commas") << table("id,L,a,b\n", [](const ChartPatch &p) {
        auto fields = labLine(p, p.reference, ";").replace('.', ',').split(';');
        return "\"" + fields.join("\",\"") + "\"";
    });
    QTest::newRow("byte-order mark, CR ends")
        << QByteArray("\xEF\xBB\xBF") + table("ID,LAB_L,LAB_A,LAB_B\n", plain(",")).replace('\n', '\r');
    QTest::newRow("XYZ in per cent") << table("id,X,Y,Z\n", xyz(100));
    QTest::newRow("XYZ as shares") << table("id,X,Y,Z\n", xyz(1));
    int number = 0;
    QTest::newRow("numbered samples, names beside") << cgats(
        "",
        [&](const ChartPatch &p) {
            auto fields = labLine(p, p.reference, " ").split(' ');
            fields.prepend(QString::number(++number));
            return fields.join(' ');
        },
        "SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B");
    QTest::newRow("CGATS with decimal commas") << cgats("", comma("\t"));
    auto small = cgats("", plain(" "));
    for (const char *word : {"NUMBER_OF_FIELDS", "NUMBER_OF_SETS", "BEGIN_DATA_FORMAT", "END_DATA_FORMAT",
                             "BEGIN_DATA", "END_DATA", "SAMPLE_ID LAB_L LAB_A LAB_B"})
        small.replace(word, QByteArray(word).toLower());
    QTest::newRow("CGATS in small letters") << small;
    QTest::newRow("Latin-1 in the heading") << cgats("ORIGINATOR \"M\xFCller & S\xF6hne\"\n", plain(" "));
    const auto spectra = [](int from, int to, int step, double scale) {
        QByteArray columns = "SAMPLE_ID";
        for (int nm = from; nm <= to; nm += step)
            columns += " SPECTRAL_NM" + QByteArray::number(nm);
        const auto all = sim::chartReflectances(testing::classicChart());
        return cgats(
            "",
            [&](const ChartPatch &p) {
                QString line = QString::fromStdString(p.id);
                for (int nm = from; nm <= to; nm += step)
                    line += QString(" %1").arg(
                        scale * all[size_t(&p - testing::classicChart().patches.data())].at(nm), 0, 'f', 5);
                return line;
            },
            columns);
    };
    QTest::newRow("spectra at 5 nm, 380 to 780, shares") << spectra(380, 780, 5, 1);
    QTest::newRow("spectra at 10 nm, 400 to 700, per cent") << spectra(400, 700, 10, 100);
    // Lab under D65: its own white is its white
    const auto d65 = xyzFromChromaticity(lightFromName("D65")->xy);
    const auto toD65 = adaptation(kD50White, d65);
    const auto underD65 = [=](const ChartPatch &p) {
        const auto there = xyzOf(toD65 * vectorOf(p.reference));
        return labLine(p, {there.x * kD50White.x / d65.x, there.y, there.z * kD50White.z / d65.z}, " ");
    };
    QTest::newRow("Lab under D65, said") << cgats("ILLUMINANT \"D65\"\n", underD65);
    QTest::newRow("Lab under D65, as instruments say it") << cgats(
        "WEIGHTING_FUNCTION \"ILLUMINANT, D65\"\nWEIGHTING_FUNCTION \"OBSERVER, 2 degree\"\n", underD65);
}

void RefusalsTest::referencesAsPeopleHaveThem()
{
    QFETCH(QByteArray, text);
    write("references.txt", text);
    const auto ran = run({"fit", "good.json", "--colour", "matrix", "--tone", "as-shot", "--reference",
                          "references.txt", "-o", "given.json"});
    QVERIFY2(ran.status == 0, ran.err);
    const auto own = run({"fit", "good.json", "--colour", "matrix", "--tone", "as-shot", "-o", "own.json"});
    QCOMPARE(own.status, 0);
    const auto mean = [&](const char *name) {
        return json(name).object()["fit"].toObject()["mean"].toDouble();
    };
    QVERIFY(mean("own.json") > 0.1);
    // spectra are those of the printed chart, whose colours are the nominal ones to a fraction of a unit
    const double within = text.contains("SPECTRAL") ? 0.15 : 0.02;
    QVERIFY2(std::abs(mean("given.json") - mean("own.json")) < within,
             qPrintable(QString("%1 against %2").arg(mean("given.json")).arg(mean("own.json"))));
}

void RefusalsTest::referencesForAnotherObserverAreRefused()
{
    const auto line = [](const ChartPatch &p) { return labLine(p, p.reference, " "); };
    for (const char *heading : {"OBSERVER \"10\"\n", "WEIGHTING_FUNCTION \"OBSERVER, 10 degree\"\n",
                                "ILLUMINATION_NAME \"F11\"\n"}) {
        write("elsewhere.txt", cgats(heading, line));
        const auto ran = run({"fit", "good.json", "--reference", "elsewhere.txt", "-o", "out.json"});
        QCOMPARE(ran.status, 2);
        QVERIFY2(ran.err.contains("10°") || ran.err.contains("F11"), ran.err);
    }
}

void RefusalsTest::inputsAreNeverWrittenOver_data()
{
    QTest::addColumn<QStringList>("call");
    QTest::addColumn<QString>("kept");
    QTest::newRow("a frame by its reading")
        << QStringList{"read", "demo/frames/HR_0414.dng", "-o", "demo/frames/HR_0414.dng"}
        << "demo/frames/HR_0414.dng";
    QTest::newRow("by another spelling")
        << QStringList{"read", "demo/frames/HR_0414.dng", "-o", "demo/../demo/frames/HR_0414.dng"}
        << "demo/frames/HR_0414.dng";
    QTest::newRow("a reading by its calibration")
        << QStringList{"fit", "good.json", "-o", "./good.json"} << "good.json";
    QTest::newRow("the original by a table")
        << QStringList{"export", "matrix.json", "--csv", "matrix.json"} << "matrix.json";
    QTest::newRow("one output by another")
        << QStringList{"export", "matrix.json", "--csv", "new.txt", "--cgats", "./new.txt"} << "good.json";
}

void RefusalsTest::inputsAreNeverWrittenOver()
{
    QFETCH(QStringList, call);
    QFETCH(QString, kept);
    const auto before = content(kept);
    const auto ran = run(call);
    QCOMPARE(ran.status, 2);
    QVERIFY2(ran.err.contains("would replace") || ran.err.contains("both write this file"), ran.err);
    QVERIFY(!before.isEmpty() && content(kept) == before);
    QVERIFY(!QFile::exists(at("new.txt")));
}

void RefusalsTest::aLinkStaysALinkAndAPipeAPipe()
{
    write("real.json", "old");
    QVERIFY(QFile::link("real.json", at("link.json")));
    QCOMPARE(run({"balance", "good.json", "-o", "link.json"}).status, 0);
    QVERIFY(QFileInfo(at("link.json")).isSymLink());
    QVERIFY(content("real.json").contains("wavechroma.balance/1"));
    QCOMPARE(::mkfifo(at("pipe").toLocal8Bit().constData(), 0600), 0);
    QProcess reader;
    reader.start("cat", {at("pipe")});
    QVERIFY(reader.waitForStarted());
    QCOMPARE(run({"balance", "good.json", "-o", "pipe"}).status, 0);
    QVERIFY(reader.waitForFinished());
    QVERIFY(reader.readAllStandardOutput().contains("wavechroma.balance/1"));
    struct stat info
    {
    };
    QVERIFY(::stat(at("pipe").toLocal8Bit().constData(), &info) == 0 && S_ISFIFO(info.st_mode));
    QVERIFY(::stat("/dev/null", &info) == 0 && S_ISCHR(info.st_mode));
    QCOMPARE(run({"balance", "good.json", "-o", "/dev/null"}).status, 0);
    QVERIFY(::stat("/dev/null", &info) == 0 && S_ISCHR(info.st_mode));
}

void RefusalsTest::modesAreKept()
{
    write("private.json", "old");
    QVERIFY(QFile::setPermissions(at("private.json"), QFile::ReadOwner | QFile::WriteOwner));
    QCOMPARE(run({"balance", "good.json", "-o", "private.json"}).status, 0);
    struct stat info
    {
    };
    QCOMPARE(::stat(at("private.json").toLocal8Bit().constData(), &info), 0);
    QCOMPARE(int(info.st_mode & 0777), 0600);
}

void RefusalsTest::pathsThatCannotBeFollowedAreTold_data()
{
    QTest::addColumn<QStringList>("call");
    QFile::link("loop-b", at("loop-a"));
    QFile::link("loop-a", at("loop-b"));
    const QString longName = QString(5000, 'n');
    for (const auto &path : {QString("loop-a"), longName, QString("good.json/inside.json")}) {
        QTest::addRow("read of %s", qPrintable(path.left(20))) << QStringList{"read", path};
        QTest::addRow("fit of %s", qPrintable(path.left(20))) << QStringList{"fit", path};
        QTest::addRow("output to %s", qPrintable(path.left(20)))
            << QStringList{"balance", "good.json", "-o", path};
        QTest::addRow("references of %s", qPrintable(path.left(20)))
            << QStringList{"fit", "good.json", "--reference", path};
        QTest::addRow("job in %s", qPrintable(path.left(20)))
            << QStringList{"take", path, "demo/frames/HR_0414.dng"};
        QTest::addRow("inspect of %s", qPrintable(path.left(20))) << QStringList{"inspect", path};
    }
}

void RefusalsTest::pathsThatCannotBeFollowedAreTold()
{
    QFETCH(QStringList, call);
    const auto ran = run(call);
    QVERIFY2(ran.status == 2, ran.err);
    QVERIFY(!ran.err.contains("internal"));
}

void RefusalsTest::whatAKilledProgramLeftIsSwept()
{
    write(".swept.json.2147483000-00ff.part", "half");
    write(".other.json.2147483000-00ff.part", "half");
    QCOMPARE(run({"balance", "good.json", "-o", "swept.json"}).status, 0);
    QVERIFY(!QFile::exists(at(".swept.json.2147483000-00ff.part")));
    QVERIFY(QFile::exists(at(".other.json.2147483000-00ff.part"))); // that is another's
    const auto left = QDir(m_folder.path()).entryList({".swept*"}, QDir::Files | QDir::Hidden);
    QVERIFY2(left.isEmpty(), qPrintable(left.join(' ')));
}

void RefusalsTest::twoLightsAskWhichOne()
{
    const auto read = run({"read", "demo/frames/HR_0422.dng", "-o", "second.json"});
    QVERIFY2(read.status == 0, read.err);
    const auto both = run({"fit", "good.json", "second.json", "--colour", "matrix", "-o", "both.json"});
    QVERIFY2(both.status == 0, both.err);
    QCOMPARE(json("both.json").object()["lights"].toArray().size(), 2);
    const auto asked = run({"export", "both.json", "--icc", "one.icc"});
    QCOMPARE(asked.status, 2);
    const auto name = json("both.json").object()["lights"].toArray()[1].toObject()["name"].toString();
    QVERIFY2(asked.err.contains("--light") && asked.err.contains(name.toUtf8()), asked.err);
    QCOMPARE(run({"export", "both.json", "--icc", "one.icc", "--light", name}).status, 0);
    const auto inspected = run({"inspect", "one.icc"});
    QVERIFY2(inspected.out.contains(("under " + name).toUtf8()), inspected.out);
}

/// `read a b` gives an array: what follows takes the frame that the bracket's choice names, and says so.
void RefusalsTest::aBracketGoesOnByItsBestExposure()
{
    const auto read = run({"read", "demo/frames/HR_0413.dng", "demo/frames/HR_0414.dng",
                           "demo/frames/HR_0415.dng", "-o", "bracket.json"});
    QVERIFY2(read.status == 0 || read.status == 3, read.err);
    QCOMPARE(json("bracket.json").array().size(), 3);
    const auto line = read.err.mid(read.err.indexOf("use ") + 4);
    const auto chosen = line.left(line.indexOf(':'));
    QVERIFY2(chosen.endsWith(".dng"), read.err);
    QCOMPARE(run({"read", chosen, "-o", "chosen.json"}).status, 0);
    const auto one = run({"fit", "chosen.json", "--colour", "matrix", "-o", "one.json"}),
               array = run({"fit", "bracket.json", "--colour", "matrix", "-o", "array.json"});
    QVERIFY2(one.status == 0 && array.status == 0, array.err);
    QVERIFY2(array.err.contains(chosen + " is used"), array.err);
    QCOMPARE(json("array.json").object()["matrix"], json("one.json").object()["matrix"]);
    QVERIFY(run({"balance", "bracket.json"}).err.contains(" is used"));
    QVERIFY(run({"prove", "one.json", "bracket.json"}).err.contains(" is used"));
    // two cameras are no bracket
    auto mixed = json("bracket.json").array();
    mixed.append(json("other.json").object());
    write("mixed.json", QJsonDocument(mixed).toJson());
    const auto refused = run({"fit", "mixed.json"});
    QVERIFY2(refused.status == 2 && refused.err.contains("one camera, lens and chart"), refused.err);
}

/// What a script reads of a shadow is in fields, and a limit of one's own holds.
void RefusalsTest::aShadowIsInTheDocumentAndStopsTheFit()
{
    sim::StudioSettings s;
    s.shrink = 4;
    s.shadow = true;
    s.shadowAngle = 0.2;
    s.shadowShift = 0;
    QVERIFY(bool(shootToFile(s, at("shaded.dng").toStdString())));
    const auto read = run({"read", "shaded.dng", "-o", "shaded.json"});
    QVERIFY2(read.status == 3 && read.err.contains("A shadow lies over the right"), read.err);
    const auto shadow = [&](const QString &file) {
        for (const auto &check : json(file).object()["checks"].toArray())
            if (check.toObject()["id"] == "shadow")
                return check.toObject();
        return QJsonObject();
    };
    const auto check = shadow("shaded.json");
    QCOMPARE(check["severity"].toString(), QString("stop"));
    QCOMPARE(check["side"].toString(), QString("right"));
    QCOMPARE(check["unit"].toString(), QString("stops"));
    QVERIFY(std::abs(check["value"].toDouble() - 1.32) < 0.1); // 0.40 of the light is left
    QCOMPARE(check["stops"].toDouble(), check["value"].toDouble());
    const auto patches = check["patches"].toArray();
    QVERIFY(patches.contains("A6") && patches.contains("D5") && !patches.contains("A1"));
    const auto refused = run({"fit", "shaded.json"});
    QVERIFY2(refused.status == 2 && refused.err.contains("shadow") && refused.err.contains("--force"),
             refused.err);
    // a sheet that allows three stops
    write("loose.json", R"({"schema": "wavechroma.tolerance/1", "name": "loose",
                            "limits": {"shadow_stops": 3, "shadow_stop_at": 4}})");
    const auto loose = run({"read", "shaded.dng", "--tolerance", "loose.json", "-o", "loose-reading.json"});
    QVERIFY2(loose.status == 0, loose.err);
    QCOMPARE(shadow("loose-reading.json")["severity"].toString(), QString("ok"));
    write("wrong.json", R"({"schema": "wavechroma.tolerance/1", "name": "wrong",
                            "limits": {"shadow_stops": 1, "shadow_stop_at": 0.5}})");
    const auto wrong = run({"read", "shaded.dng", "--tolerance", "wrong.json"});
    QVERIFY2(wrong.status == 2 && wrong.err.contains("shadow_stop_at"), wrong.err);
}

void RefusalsTest::aMissedAimIsAnAnswer()
{
    const auto aimed = [&](const char *aims) {
        return run(
            {"balance", "good.json", "--calibration", "matrix.json", "--aims", aims, "-o", "aimed.json"});
    };
    QCOMPARE(aimed("D3=66.8±3").status, 0);
    const auto missed = aimed("D3=30±1");
    QVERIFY2(missed.status == 3, missed.err);
    QVERIFY(!json("aimed.json").object()["multipliers"].toArray().isEmpty()); // the document is still written
    QCOMPARE(aimed("D9=30").status, 2);
}

void RefusalsTest::aPresetIsOfItsLight()
{
    QCOMPARE(run({"read", "demo/frames/HR_0422.dng", "-o", "stand.json"}).status, 0);
    QCOMPARE(run({"balance", "good.json", "--name", "North", "-o", "north.json"}).status, 0);
    QCOMPARE(run({"balance", "good.json", "--preset", "north.json"}).status, 0);
    const auto other = run({"balance", "stand.json", "--preset", "north.json"});
    QVERIFY2(other.status == 2 && other.err.contains("another light than the preset North") &&
                 other.err.contains("--force"),
             other.err);
    QCOMPARE(run({"balance", "stand.json", "--preset", "north.json", "--force"}).status, 0);
    // a frame without a chart: by what the cameras took for white
    QCOMPARE(run({"balance", "demo/frames/HR_0416.dng", "--preset", "north.json"}).status, 0);
    auto north = json("north.json").object();
    auto facts = north["preset"].toObject();
    facts["as_shot_neutral"] = QJsonArray{0.9, 1.0, 0.42};
    north["preset"] = facts;
    write("warm-preset.json", QJsonDocument(north).toJson());
    const auto blind = run({"balance", "demo/frames/HR_0416.dng", "--preset", "warm-preset.json"});
    QVERIFY2(blind.status == 2 && blind.err.contains("Is it the same light"), blind.err);
    const auto profile = run({"export", "matrix.json", "--dcp", "matrix.dcp"});
    QCOMPARE(profile.status, 0);
    const auto wrong = run({"prove", "matrix.dcp", "good.json"});
    QVERIFY2(wrong.status == 2 && wrong.err.contains("is a DNG camera profile, not a calibration"),
             wrong.err);
}

/// A TIFF of one strip of 8-bit RGB without any profile.
static QByteArray plainTiff(int width, int height)
{
    QByteArray out("II\x2A\0\x08\0\0\0", 8);
    const std::pair<int, int> entries[] = {{256, width}, {257, height}, {258, 8},
                                           {259, 1},     {262, 2},      {273, 122},
                                           {277, 3},     {278, height}, {279, 3 * width * height}};
    const auto number = [&](int value, int bytes) {
        for (int i = 0; i < bytes; ++i)
            out += char(value >> (8 * i));
    };
    number(int(std::size(entries)), 2);
    for (const auto &[tag, value] : entries) {
        number(tag, 2);
        number(4, 2);
        number(1, 4);
        number(value, 4);
    }
    number(0, 4);
    return out + QByteArray(3 * width * height, char(120));
}

void RefusalsTest::aPictureWithoutAProfileIsToldAbout()
{
    write("plain.tif", plainTiff(64, 48));
    const auto plain = run({"balance", "plain.tif", "--whole"});
    QVERIFY2(plain.status == 0 && plain.err.contains("has no profile and is read as sRGB") &&
                 plain.err.contains("--assume"),
             plain.err);
    const auto romm = run({"balance", "plain.tif", "--whole", "--assume", "romm"});
    QVERIFY2(romm.status == 0 && romm.err.contains("read as ROMM RGB"), romm.err);
    QCOMPARE(run({"balance", "plain.tif", "--whole", "--assume", "wide"}).status, 2);
}

static const testing::Registered<RefusalsTest> registeredRefusalsTest("refusals_test");
#include "refusals_test.moc"
