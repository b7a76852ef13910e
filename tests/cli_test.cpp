#include "core/color/de2000.h"
#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"

#include <QDir>
#include <QProcess>
#include <QTest>
#include <cmath>
#include <utility>

/// The command line end to end, as the automation contract says. Sentences in quotes are the contract's.
class CliTest : public QObject, private wavechroma::testing::Shell
{
    Q_OBJECT
private slots:
    void initTestCase();
    void theDemoIsMade();
    void theWholePassFromAShell();
    void documentsFollowTheirSchemas();
    void exitStatusesAreTheContracts_data();
    void exitStatusesAreTheContracts();
    void severalImagesMakeAnArray();
    void placedByHand();
    void balanceTakesAPatchAnAreaOrTheFrame();
    void failuresLeaveNoOutput();
    void inspectReadsEverythingWritten();
    void theJobStoresWhatTheCommandLinePrints();
    void everyCrossingGoesAllTheWay_data();
    void everyCrossingGoesAllTheWay();
    void aShootBecomesAJob();
    void balanceTakesLightsLeansAndPresets();
    void twoLightsMakeOneCalibration();
    void oneCameraIsFittedToAnother();
    void aCopyOfTheFrameCarriesTheProfile();
    void aChartFileStandsForItself();
    void aFlatIsNamedInTheReading();
    void leftOutPatchesAndNamesAreKept();
    void aLinearToneCurveGoesIntoTheProfile();
    void sectorsThatWereEditedAreReadBack();
    void tablesEndInAVerdict();
    void twoSidesAreCompared();
    void aTiredLampIsTold();
    void theEvidenceIsComputedAgain();
    void stationsAreHeldSideBySide();
    void aWatchedFolderIsAnswered();

private:
    /// Does the document follow its schema, by another program's validation?
    bool isValid(const QString &kind, const QString &name) const
    {
        const QString source = qEnvironmentVariable("WAVECHROMA_SOURCE_DIR");
        QProcess validator;
        validator.start("/usr/bin/python3",
                        {source + "/tests/support/validate.py",
                         source + "/docs/schemas/" + kind + ".schema.json", m_folder.filePath(name)});
        const bool valid = validator.waitForFinished() && validator.exitCode() == 0;
        if (!valid)
            qWarning("%s: %s", qPrintable(name),
                     (validator.readAllStandardOutput() + validator.readAllStandardError()).constData());
        return valid;
    }
};

static const QString kGood = "demo/frames/HR_0414.dng", kClipped = "demo/frames/HR_0412.dng",
                     kProduct = "demo/frames/HR_0416.dng";

void CliTest::initTestCase()
{
    wavechroma::testing::layDemoDay(at("demo").toStdString());
}

void CliTest::theDemoIsMade()
{
    const auto made = run({"demo", "made", "--shrink", "8", "--days", "1"});
    QVERIFY2(made.status == 0, made.err);
    QVERIFY(made.out.isEmpty()); // "Progress and messages go to standard error only."
    QCOMPARE(run({"day", "made", "-o", "made.json"}).status, 0);
    QVERIFY(!json("made.json").object()["stations"].toArray().isEmpty());
}

void CliTest::theWholePassFromAShell()
{
    const auto all = [&](const QStringList &arguments) {
        const auto ran = run(arguments);
        QVERIFY2(ran.status == 0, arguments.join(' ').toUtf8() + ": " + ran.err);
    };
    all({"read", kGood, "-o", "reading.json"});
    all({"balance", "reading.json", "-o", "balance.json"});
    all({"fit", "reading.json", "--colour", "matrix", "--tone", "as-shot", "-o", "matrix.json", "--setup",
         "North table"});
    all({"fit", "reading.json", "--colour", "balance", "-o", "plain.json"});
    all({"prove", "matrix.json", "reading.json", "-o", "proof.json"});
    all({"export", "matrix.json", "--dcp", "out.dcp", "--icc", "out.icc", "--csv", "out.csv", "--cgats",
         "out.txt"});
    all({"fit", "reading.json", "--colour", "matrix", "--tone", "as-shot", "--reference", "out.txt",
         "--light", "D50", "-o", "again.json"});
    const auto matrix = json("matrix.json").object(), proof = json("proof.json").object();
    // a calibration proven on the reading that it was made from has its fitted error
    QVERIFY(std::abs(matrix["fit"].toObject()["mean"].toDouble() - proof["mean"].toDouble()) < 1e-9);
    QVERIFY(matrix["fit"].toObject()["mean"].toDouble() <
            json("plain.json").object()["fit"].toObject()["mean"].toDouble());
    QVERIFY(matrix["name"].toString().startsWith("Tarn 2, 60 mm f/2.8, North table"));
    // the exported references are those it was fitted to
    QVERIFY(std::abs(json("again.json").object()["fit"].toObject()["mean"].toDouble() -
                     proof["mean"].toDouble()) < 1e-6);
    QCOMPARE(json("again.json").object()["light"].toObject()["exif_light_source"].toInt(), 23);
}

void CliTest::documentsFollowTheirSchemas()
{
    run({"read", kProduct, "-o", "none.json"});
    run({"read", kClipped, "-o", "clipped.json"});
    for (const auto &[kind, name] : {std::pair{"reading", "reading.json"},
                                     {"reading", "none.json"},
                                     {"reading", "clipped.json"},
                                     {"balance", "balance.json"},
                                     {"calibration", "matrix.json"},
                                     {"calibration", "plain.json"},
                                     {"proof", "proof.json"}})
        QVERIFY(isValid(kind, name));
}

void CliTest::exitStatusesAreTheContracts_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<int>("status");
    QTest::addColumn<QByteArray>("words"); // on standard error
    const auto row = [](const char *name, const QStringList &arguments, int status, const char *words) {
        QTest::newRow(name) << arguments << status << QByteArray(words);
    };
    row("a good frame", {"read", kGood}, 0, "");
    row("a frame with a stop", {"read", kClipped}, 3, "D1 is clipped");
    row("no chart", {"read", kProduct}, 3, "No known chart");
    row("not such a file", {"read", "nowhere.dng"}, 2, "nowhere.dng");
    row("not a picture", {"read", "matrix.json"}, 2, "matrix.json");
    row("no command", {}, 2, "");
    row("unknown command", {"paint"}, 2, "");
    row("unknown option", {"read", kGood, "--loud"}, 2, "");
    row("unknown chart", {"read", kGood, "--chart", "classic-25"}, 2, "classic-24");
    row("three corners", {"read", kGood, "--corners", "1,2,3,4,5,6"}, 2, "takes 8 numbers");
    row("corners that cross", {"read", kGood, "--corners", "100,100,200,200,200,100,100,200"}, 2, "convex");
    row("unknown part", {"fit", "reading.json", "--colour", "magic"}, 2,
        "auto, balance, matrix, roots, field");
    row("a picture as a reading", {"fit", kGood}, 2, "is not JSON");
    row("a calibration as a reading", {"fit", "matrix.json"}, 2, "not a wavechroma.reading");
    row("unknown light", {"fit", "reading.json", "--light", "moon"}, 2, "moon");
    row("a reading without a chart", {"fit", "none.json"}, 2, "no chart");
    row("nothing to export", {"export", "matrix.json"}, 2, "nothing to export");
    row("unwritable place", {"export", "matrix.json", "--icc", "no/such/place.icc"}, 2, "place.icc");
    row("a demo over a job", {"demo", "demo"}, 2, "already");
    row("help", {"--help"}, 0, "");
}

void CliTest::exitStatusesAreTheContracts()
{
    QFETCH(QStringList, arguments);
    QFETCH(int, status);
    QFETCH(QByteArray, words);
    const auto ran = run(arguments);
    QVERIFY2(ran.status == status, QByteArray::number(ran.status) + " " + ran.err);
    QVERIFY2(ran.err.contains(words), ran.err);
    if (status == 3) // "the document is still written"
        QVERIFY(QJsonDocument::fromJson(ran.out).isObject());
    if (status == 2)
        QVERIFY(ran.out.isEmpty());
}

void CliTest::severalImagesMakeAnArray()
{
    // "With several images the exit status is the highest of theirs."
    const auto ran = run({"read", kGood, kClipped});
    QCOMPARE(ran.status, 3);
    const auto list = QJsonDocument::fromJson(ran.out).array();
    QCOMPARE(list.size(), 2);
    QCOMPARE(list[0].toObject()["image"].toString(), kGood); // "`image` is the path as given"
}

void CliTest::placedByHand()
{
    QString corners;
    const auto found = json("reading.json").object();
    for (const auto &point : found["corners"].toArray())
        for (const auto &v : point.toArray())
            corners += (corners.isEmpty() ? "" : ",") + QString::number(v.toDouble(), 'g', 17);
    const auto ran = run({"read", kGood, "--corners", corners});
    QCOMPARE(ran.status, 0);
    const auto placed = QJsonDocument::fromJson(ran.out).object();
    QCOMPARE(placed["placed_by"].toString(), QString("hand"));
    QCOMPARE(placed["patches"].toArray(), found["patches"].toArray());
}

void CliTest::balanceTakesAPatchAnAreaOrTheFrame()
{
    const auto multipliers = [&](const QStringList &arguments) {
        return QJsonDocument::fromJson(run(arguments).out).object()["multipliers"].toArray();
    };
    const auto byDefault = multipliers({"balance", "reading.json"});
    QCOMPARE(multipliers({"balance", "reading.json", "--patch", "D2"}), byDefault);
    QCOMPARE(multipliers({"balance", kGood}), byDefault);
    QVERIFY(multipliers({"balance", "reading.json", "--patch", "D3"}) != byDefault);
    // an area inside D2's window sees what the patch saw
    const auto corners = json("reading.json").object()["corners"].toArray();
    const auto at = [&](int i, int k) { return corners[i].toArray()[k].toDouble(); };
    const double u = 1.44 / 6, v = 3.6 / 4; // where D2 lies between the corners, nearly
    const double x = (1 - v) * ((1 - u) * at(0, 0) + u * at(1, 0)) + v * ((1 - u) * at(3, 0) + u * at(2, 0));
    const double y = (1 - v) * ((1 - u) * at(0, 1) + u * at(1, 1)) + v * ((1 - u) * at(3, 1) + u * at(2, 1));
    const auto area = multipliers({"balance", kGood, "--area", QString("%1,%2,12,12").arg(x - 6).arg(y - 6)});
    QCOMPARE(area.size(), 3);
    QVERIFY(std::abs(area[0].toDouble() / byDefault[0].toDouble() - 1) < 0.02);
    QCOMPARE(run({"balance", kGood, "--area", "0,0,99999,5"}).status, 2);
    QCOMPARE(run({"balance", "reading.json", "--area", "0,0,9,9"}).status, 2);
}

void CliTest::failuresLeaveNoOutput()
{
    // "Never a crash, never a partial output file: outputs appear whole or not at all."
    run({"fit", "none.json", "-o", "never.json"});
    QVERIFY(!QFile::exists(m_folder.filePath("never.json")));
    run({"export", "matrix.json", "--dcp", "never.dcp", "--icc", "no/such/place.icc"});
    QVERIFY(!QFile::exists(m_folder.filePath("never.dcp")));
    QVERIFY(QDir(m_folder.path()).entryList({"*.part*"}).isEmpty());
}

void CliTest::inspectReadsEverythingWritten()
{
    const auto matrix = json("matrix.json").object();
    const auto content = [&](const char *name) {
        return QJsonDocument::fromJson(run({"inspect", name}).out).object();
    };
    const auto entry = [&](const QJsonValue &m, int i, int j) {
        return m.toArray()[i].toArray()[j].toDouble();
    };
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs(entry(content("out.dcp")["forward_matrix"], i, j) -
                             entry(matrix["matrix"], i, j)) < 1e-6);
    QCOMPARE(content("out.icc")["class"].toString(), QString("scnr"));
    QCOMPARE(content("out.txt")["rows"].toArray().size(), 24);
    QVERIFY(content("out.csv")["rows"].toArray().size() > 24);
    QCOMPARE(content("matrix.json"), matrix);
    QCOMPARE(QJsonDocument::fromJson(run({"inspect", kGood}).out).object()["kind"].toString(),
             QString("raw"));
    QCOMPARE(run({"inspect", "nothing.here"}).status, 2);
}

void CliTest::theJobStoresWhatTheCommandLinePrints()
{
    // The demo job was filled by the functions that the window uses: what it stores is what the command line
    // prints.
    QProcess sqlite;
    sqlite.start("/usr/bin/python3",
                 {"-c",
                  "import sqlite3,sys; c=sqlite3.connect(sys.argv[1]); print(c.execute(\"select document "
                  "from calibration where frame=(select id from frame where path like '%HR_0414%') and "
                  "colour='matrix' and tone='as-shot'\").fetchone()[0])",
                  m_folder.filePath("demo/job.sqlite")});
    QVERIFY(sqlite.waitForFinished());
    const auto stored = QJsonDocument::fromJson(sqlite.readAllStandardOutput()).object(),
               printed = json("matrix.json").object();
    for (const char *key : {"matrix", "multipliers", "exposure_scale", "fit", "cross_validated", "patches"}) {
        QVERIFY(!stored[key].isUndefined());
        QCOMPARE(stored[key], printed[key]);
    }
}

void CliTest::everyCrossingGoesAllTheWay_data()
{
    QTest::addColumn<QString>("colour");
    QTest::addColumn<QString>("tone");
    for (const char *colour : {"balance", "matrix", "roots", "field"})
        for (const char *tone : {"as-shot", "greys", "channels"})
            QTest::addRow("%s, %s", colour, tone) << colour << tone;
}

void CliTest::everyCrossingGoesAllTheWay()
{
    QFETCH(QString, colour);
    QFETCH(QString, tone);
    QCOMPARE(
        run({"fit", "reading.json", "--colour", colour, "--tone", tone, "--reds", "-1", "-o", "rich.json"})
            .status,
        0);
    QVERIFY(isValid("calibration", "rich.json"));
    const auto calibration = json("rich.json").object();
    QCOMPARE(calibration["parts"].toObject()["colour"].toString(), colour);
    QCOMPARE(calibration["parts"].toObject()["tone"].toString(), tone);
    QCOMPARE(calibration["asked"].toObject()["lean"].toObject()["reds"].toInt(), -1);
    const auto proof = QJsonDocument::fromJson(run({"prove", "rich.json", "reading.json"}).out).object();
    QVERIFY(std::abs(proof["mean"].toDouble() - calibration["fit"].toObject()["mean"].toDouble()) < 1e-9);
    const auto exported = run({"export", "rich.json", "--dcp", "rich.dcp", "--icc", "rich.icc", "--cube",
                               "rich.cube", "--csv", "rich.csv", "--cgats", "rich.txt", "--sectors",
                               "sectors.csv", "--icc-version", "2", "--icc-table"});
    QVERIFY2(exported.status == 0, exported.err);
    const auto content = [&](const char *name) {
        return QJsonDocument::fromJson(run({"inspect", name}).out).object();
    };
    QVERIFY(content("rich.icc").contains("a_to_b0"));
    QCOMPARE(content("rich.cube")["size"].toInt(), 33);
    QVERIFY(content("rich.cube")["comments"].toArray()[2].toString().contains(
        calibration["made_from"].toArray()[0].toObject()["sha256"].toString()));
    QCOMPARE(content("rich.dcp").contains("tone_curve"), tone != "as-shot");
    QVERIFY(content("rich.dcp").contains("hue_sat_map")); // the lean's, if nothing else's
    QCOMPARE(content("sectors.csv")["rows"].toArray().size(), 9);
}

void CliTest::aShootBecomesAJob()
{
    // "frames put on their stations, charts read, fitted and answered as when dropped on the window"
    const auto taken = run({"take", "shoot", "demo/frames"});
    QVERIFY2(taken.status == 0 && taken.out.isEmpty(), taken.err);
    QCOMPARE(run({"day", "shoot", "-o", "day.json"}).status, 0);
    QVERIFY(isValid("day", "day.json"));
    const auto again = run({"take", "shoot", kGood}); // by hash
    QVERIFY2(again.status == 0 && again.err.contains("0 added, 1 already there"), again.err);
    QCOMPARE(QJsonDocument::fromJson(run({"day", "shoot"}).out), json("day.json"));
    run({"day", "demo", "-o", "demo-day.json"});
    QVERIFY(isValid("day", "demo-day.json"));
    // the same answers, to the digit, whatever the setups are called
    const auto answers = [&](const char *day) {
        QMap<QString, QJsonObject> out;
        for (const auto &station : json(day).object()["stations"].toArray())
            for (const auto &frame : station.toObject()["frames"].toArray())
                if (frame.toObject()["used"].toBool() && frame.toObject()["bracket"].isDouble())
                    out[QFileInfo(frame.toObject()["path"].toString()).fileName()] =
                        station.toObject()["answer"].toObject();
        return out;
    };
    QVERIFY(!answers("day.json").isEmpty());
    QCOMPARE(answers("day.json"), answers("demo-day.json"));
    QCOMPARE(run({"day", "nowhere"}).status, 2);
    QCOMPARE(run({"take", "nothing", "no-such-folder"}).status, 2);
    QVERIFY(!QFile::exists(m_folder.filePath("nothing")));
    const auto spoilt = run({"take", "some", kGood, "matrix.json"}); // one that is no frame is named
    QVERIFY2(spoilt.status == 2 && spoilt.err.contains("matrix.json"), spoilt.err);
    QCOMPARE(QJsonDocument::fromJson(run({"day", "some"}).out).object()["stations"].toArray().size(), 1);
}

void CliTest::balanceTakesLightsLeansAndPresets()
{
    const auto balanced = [&](const QStringList &options) {
        const auto ran = run(QStringList{"balance", "reading.json"} + options);
        if (ran.status != 0)
            qWarning("%s", ran.err.constData());
        return QJsonDocument::fromJson(ran.out).object();
    };
    const auto multiplier = [](const QJsonObject &balance, const char *key, int i) {
        return balance[key].toArray()[i].toDouble();
    };
    // "type 5 000 K, +0.002 and get multipliers", and back
    const auto named = balanced({"--light", "5000K,+0.002", "--calibration", "matrix.json"});
    QVERIFY(std::abs(named["cct_k"].toDouble() - 5000) < 1e-9 &&
            std::abs(named["duv"].toDouble() - 0.002) < 1e-9);
    const auto warmer = balanced({"--light", "4000K", "--calibration", "matrix.json"});
    QVERIFY(multiplier(warmer, "multipliers", 2) > multiplier(named, "multipliers", 2));
    // a lean is kept apart
    const auto leaned = balanced({"--lean", "3,0", "--name", "North, warm", "-o", "preset.json"});
    QVERIFY(leaned.isEmpty());
    QVERIFY(isValid("balance", "preset.json"));
    const auto preset = json("preset.json").object(), plain = json("balance.json").object();
    QCOMPARE(preset["multipliers"], plain["multipliers"]);
    QVERIFY(multiplier(preset, "leaned_multipliers", 2) < multiplier(preset, "multipliers", 2));
    // for its own camera, not for another
    QCOMPARE(run({"balance", kProduct, "--preset", "preset.json"}).status, 0);
    const auto refused = run({"balance", "demo/frames/MB_0051.dng", "--preset", "preset.json"});
    QVERIFY(refused.status == 2 && refused.err.contains("Tarn 2"));
    const auto aims = run({"balance", "reading.json", "--calibration", "matrix.json", "--aims",
                           "D1=92,D2=160@srgb", "--ladder"});
    QVERIFY(aims.status == 3 && aims.err.contains("D2 is code") && aims.err.contains("Tungsten (A)"));
    QCOMPARE(run({"balance", "reading.json", "--light", "50K"}).status, 2);
    QCOMPARE(run({"balance", "reading.json", "--whole"}).status, 2);
    QCOMPARE(run({"balance", kGood, "--whole"}).status, 0);
}

void CliTest::twoLightsMakeOneCalibration()
{
    // another camera's light stands in for this one's second: the same facts, another spectrum
    auto other = json("reading.json").object();
    QJsonArray patches;
    for (const auto &value : other["patches"].toArray()) {
        auto patch = value.toObject();
        const auto mean = patch["mean"].toArray();
        patch["mean"] = QJsonArray{mean[0].toDouble() * 1.4, mean[1].toDouble(), mean[2].toDouble() * 0.6};
        patches.append(patch);
    }
    other["patches"] = patches;
    write("tungsten.json", QJsonDocument(other).toJson());
    const auto fitted = run(
        {"fit", "reading.json", "tungsten.json", "--light", "D55", "--light", "3000K", "-o", "both.json"});
    QVERIFY2(fitted.status == 0, fitted.err);
    QVERIFY(isValid("calibration", "both.json"));
    const auto both = json("both.json").object();
    const auto lights = both["lights"].toArray();
    QCOMPARE(lights.size(), 2);
    QCOMPARE(both["matrix"], lights[0].toObject()["matrix"]);
    QCOMPARE(run({"export", "both.json", "--dcp", "both.dcp"}).status, 0);
    QCOMPARE(QJsonDocument::fromJson(run({"inspect", "both.dcp"}).out).object()["lights"].toArray().size(),
             2);
    QCOMPARE(run({"fit", "reading.json", "tungsten.json", "--light", "D55"}).status,
             2); // two lights, one name
    QCOMPARE(run({"fit", "reading.json", "reading.json", "-o", "merged.json"}).status,
             0); // one light, merged
    QVERIFY(!json("merged.json").object().contains("lights"));
}

void CliTest::oneCameraIsFittedToAnother()
{
    // "each having only white balance": without the makers' matrices, which are half a calibration already
    const auto withoutMatrix = [&](const QString &from, const QString &to) {
        auto reading = json(from).object();
        auto color = reading["file_color"].toObject();
        color["matrices"] = QJsonArray();
        reading["file_color"] = color;
        write(to, QJsonDocument(reading).toJson());
    };
    QCOMPARE(run({"read", "demo/frames/MB_0051.dng", "-o", "second.json"}).status, 0);
    withoutMatrix("second.json", "second.json");
    withoutMatrix("reading.json", "first.json");
    const auto fitted = run({"fit", "second.json", "--reference", "first.json", "-o", "match.json"});
    QVERIFY2(fitted.status == 0, fitted.err);
    const auto plain = run({"fit", "second.json", "--colour", "balance", "--reference", "first.json", "-o",
                            "only-balance.json"});
    QCOMPARE(plain.status, 0);
    const auto mean = [&](const char *calibration) {
        return QJsonDocument::fromJson(
                   run({"prove", calibration, "second.json", "--reference", "first.json"}).out)
            .object()["mean"]
            .toDouble();
    };
    QVERIFY2(mean("match.json") < 0.75 * mean("only-balance.json"),
             qPrintable(QString("%1 of %2").arg(mean("match.json")).arg(mean("only-balance.json"))));
    QCOMPARE(run({"prove", "matrix.json", "reading.json", "-o", "asproof.json"}).status, 0);
    QCOMPARE(run({"fit", "second.json", "--reference", "asproof.json", "-o", "match2.json"}).status, 0);
}

void CliTest::aCopyOfTheFrameCarriesTheProfile()
{
    QFile original(m_folder.filePath(kGood));
    QVERIFY(original.open(QIODevice::ReadOnly));
    const auto before = original.readAll();
    QCOMPARE(run({"fit", "reading.json", "--colour", "roots", "-o", "rich.json"}).status, 0);
    const auto done = run({"export", "rich.json", "--dng", "copy.dng", kGood});
    QVERIFY2(done.status == 0, done.err);
    original.seek(0);
    QCOMPARE(original.readAll(), before);
    const auto frame = QJsonDocument::fromJson(run({"inspect", "copy.dng"}).out).object();
    QCOMPARE(frame["kind"].toString(), QString("raw"));
    const auto neutral = frame["file_color"].toObject()["as_shot_neutral"].toArray();
    const auto multipliers = json("rich.json").object()["multipliers"].toArray();
    QVERIFY(std::abs(neutral[1].toDouble() / neutral[0].toDouble() - multipliers[0].toDouble()) < 1e-3);
    // another program's reading of the tags
    QProcess tool;
    tool.start("exiftool", {"-j", "-n", "-ProfileName", "-ProfileHueSatMapDims", "-ForwardMatrix1", "-Make",
                            m_folder.filePath("copy.dng")});
    QVERIFY(tool.waitForFinished());
    const auto tags = QJsonDocument::fromJson(tool.readAllStandardOutput()).array()[0].toObject();
    QCOMPARE(tags["ProfileName"].toString(), json("rich.json").object()["name"].toString());
    QCOMPARE(tags["ProfileHueSatMapDims"].toString().split(' ').size(), 3);
    QCOMPARE(tags["Make"].toString(), QString("Skerrow"));
    // the pixels are the same
    QCOMPARE(run({"read", "copy.dng", "-o", "copied.json"}).status, 0);
    QCOMPARE(json("copied.json").object()["patches"], json("reading.json").object()["patches"]);
    QCOMPARE(run({"export", "rich.json", "--dng", kGood, kGood}).status, 2);
}

void CliTest::aChartFileStandsForItself()
{
    // "A reading made with a chart file carries the definition's references, so `fit` needs no `--reference`
    // for it."
    QJsonObject chart{{"schema", "wavechroma.chart/1"},
                      {"id", "studio-own"},
                      {"rows", 4},
                      {"columns", 6},
                      {"patch_size", QJsonArray{40, 40}},
                      {"pitch", QJsonArray{45.5, 45.5}},
                      {"neutral", QJsonArray{"D1", "D2", "D3", "D4", "D5", "D6"}}};
    QJsonArray patches;
    for (const auto &used : json("matrix.json").object()["patches"].toArray()) {
        auto xyz = used.toObject()["reference_xyz"].toArray();
        for (int i = 0; i < 3; ++i)
            xyz[i] = xyz[i].toDouble() * 0.8; // this print is darker
        patches.append(QJsonObject{{"id", used.toObject()["id"]}, {"xyz", xyz}});
    }
    chart["patches"] = patches;
    QFile file(m_folder.filePath("own.json"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QJsonDocument(chart).toJson());
    file.close();
    QCOMPARE(run({"read", kGood, "--chart", "own.json", "-o", "own-reading.json"}).status, 0);
    QCOMPARE(json("own-reading.json").object()["chart"].toString(), QString("studio-own"));
    QCOMPARE(run({"fit", "own-reading.json", "-o", "own-fit.json"}).status, 0);
    const double ratio = json("own-fit.json").object()["exposure_scale"].toDouble() /
                         json("matrix.json").object()["exposure_scale"].toDouble();
    QVERIFY2(std::abs(ratio - 0.8) < 0.005, QByteArray::number(ratio));
    // broken in several ways, each told
    chart["rows"] = 5;
    QVERIFY(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
    file.write(QJsonDocument(chart).toJson());
    file.close();
    const auto wrong = run({"read", kGood, "--chart", "own.json"});
    QCOMPARE(wrong.status, 2);
    QVERIFY2(wrong.err.contains("24 patches for 5 rows of 6"), wrong.err);
}

void CliTest::aFlatIsNamedInTheReading()
{
    // no flat in the demo: a product frame is refused as one, with the reason, and nothing is written
    const auto refused = run({"read", kGood, "--flat", kProduct, "-o", "flat.json"});
    QCOMPARE(refused.status, 2);
    QVERIFY2(refused.err.contains("HR_0416"), refused.err);
    QVERIFY(!QFile::exists(m_folder.filePath("flat.json")));
    QCOMPARE(run({"read", kGood, "--flat", "nowhere.dng"}).status, 2);
}

void CliTest::leftOutPatchesAndNamesAreKept()
{
    QCOMPARE(run({"fit", "reading.json", "--without", "C6,A5", "--name", "By hand", "--light", "5600K", "-o",
                  "less.json"})
                 .status,
             0);
    const auto less = json("less.json").object();
    QCOMPARE(less["name"].toString(), QString("By hand"));
    QCOMPARE(less["patches_used"].toArray().size(), 22);
    QVERIFY(!less["patches_used"].toArray().contains("C6"));
    QVERIFY(std::abs(less["light"].toObject()["cct_k"].toDouble() - 5600) < 5);
    QVERIFY(!less["light"].toObject()["estimated"].toBool());
    // the proof still judges every patch
    const auto proof = QJsonDocument::fromJson(run({"prove", "less.json", "reading.json"}).out).object();
    QCOMPARE(proof["patches"].toArray().size(), 24);
}

void CliTest::aLinearToneCurveGoesIntoTheProfile()
{
    QCOMPARE(
        run({"export", "matrix.json", "--dcp", "straight.dcp", "--linear-tone", "--copyright", "Harbour Row"})
            .status,
        0);
    const auto content = QJsonDocument::fromJson(run({"inspect", "straight.dcp"}).out).object();
    QVERIFY(content["linear_tone"].toBool());
    QCOMPARE(content["copyright"].toString(), QString("Harbour Row"));
    QVERIFY(!QJsonDocument::fromJson(run({"inspect", "out.dcp"}).out).object()["linear_tone"].toBool());
    QCOMPARE(run({"export", "matrix.json", "--icc", "coded.icc", "--encoding", "srgb"}).status, 0);
    QVERIFY(QJsonDocument::fromJson(run({"inspect", "coded.icc"}).out)
                .object()["description"]
                .toString()
                .contains("sRGB-coded"));
}

/// Amounts on top of the exact result: a table that was not edited changes nothing, an edited one is what
/// comes out again, its neighbours as they were.
void CliTest::sectorsThatWereEditedAreReadBack()
{
    QCOMPARE(run({"read", kGood, "-o", "sr.json"}).status, 0);
    const QStringList ask{"fit", "sr.json", "--colour", "roots", "--contrast", "2", "-o"};
    QCOMPARE(run(ask + QStringList{"exact.json"}).status, 0);
    QCOMPARE(run({"export", "exact.json", "--sectors", "exact.csv"}).status, 0);
    QCOMPARE(run(ask + QStringList{"same.json", "--sectors", "exact.csv"}).status, 0);
    QCOMPARE(content("same.json"), content("exact.json"));
    auto lines = content("exact.csv").split('\n');
    auto fields = lines[4].split(',');
    QCOMPARE(fields.front(), QByteArray("4"));
    fields[3] = QByteArray::number(fields[3].toDouble() + 5, 'f', 2);
    fields[4] = QByteArray::number(fields[4].toDouble() - 12, 'f', 2);
    lines[4] = fields.join(',');
    write("edited.csv",
          lines.join('\n').replace(',', ';').replace('.', ',')); // as a table program may write it
    QCOMPARE(run(ask + QStringList{"edited.json", "--sectors", "edited.csv"}).status, 0);
    QCOMPARE(run({"export", "edited.json", "--sectors", "again.csv"}).status, 0);
    const auto again = content("again.csv").split('\n');
    for (int i = 1; i <= 8; ++i)
        for (int k = 3; k < 6; ++k) {
            const double wanted = lines[i].split(',')[k].toDouble(), got = again[i].split(',')[k].toDouble();
            QVERIFY2(std::abs(got - wanted) < 0.011, again[i]);
        }
    QVERIFY(isValid("calibration", "edited.json"));
    for (const auto &[text, said] : {std::pair<QByteArray, QByteArray>{"sector,hue_from\n1,0\n", "hue_to"},
                                     {lines.mid(0, 7).join('\n'), "6 of eight"},
                                     {content("exact.csv").replace("45.0", "often"), "is not a number"},
                                     {content("exact.csv").replace("180.0", "170.0"), "eight of 45"}}) {
        write("broken.csv", text);
        const auto refused = run(ask + QStringList{"broken.json", "--sectors", "broken.csv"});
        QCOMPARE(refused.status, 2);
        QVERIFY2(refused.err.contains(said), refused.err);
    }
    QCOMPARE(run({"fit", "sr.json", "--contrast", "5", "-o", "none.json"}).status, 2);
}

/// Text for eyes in place of the document; the status follows the limits.
void CliTest::tablesEndInAVerdict()
{
    QCOMPARE(run({"read", kGood, "-o", "tr.json"}).status, 0);
    QCOMPARE(run({"fit", "tr.json", "--colour", "matrix", "-o", "tc.json"}).status, 0);
    const auto proof = QJsonDocument::fromJson(run({"prove", "tc.json", "tr.json"}).out).object();
    QVERIFY(!proof.contains("passes"));
    const auto judged = run({"prove", "tc.json", "tr.json", "--tolerance", "strict", "-o", "tp.json"});
    QCOMPARE(judged.status, 3);
    QCOMPARE(json("tp.json").object()["passes"], QJsonValue(false));
    QVERIFY(isValid("proof", "tp.json"));
    const auto table =
        run({"prove", "tc.json", "tr.json", "--tolerance", "strict", "--table", "-o", "tp2.json"});
    QCOMPARE(table.status, 3);
    QCOMPARE(content("tp2.json"), content("tp.json"));
    const auto lines = table.out.trimmed().split('\n');
    QCOMPARE(lines.size(), 26); // headings, 24 patches, verdict
    const auto mean = QByteArray::number(proof["mean"].toDouble(), 'f', 2);
    QVERIFY2(lines.last().startsWith("fail: ΔE00 mean " + mean + " of "), lines.last());
    const auto day = run({"day", "demo", "--table"});
    QVERIFY2(day.out.trimmed().split('\n').last().contains(" stations good"), day.out);
    QCOMPARE(day.status, day.out.contains("\npass: ") ? 0 : 3);
    const auto dry = run({"deliver", "demo", "--dry-run", "--table", "-o", "dry"});
    QVERIFY2(dry.status == 0 && dry.out.trimmed().split('\n').last().startsWith("pass: "), dry.out + dry.err);
    QVERIFY(!QFile::exists(at("dry")));
    write("target.csv", "name,L,a,b,tolerance\nwall,20,60,0,1\n");
    const auto probed = run({"probe", kProduct, "--job", "demo", "--at", "wall,200,200,20", "--targets",
                             "target.csv", "--table"});
    QCOMPARE(probed.status, 3);
    QVERIFY2(probed.out.contains("outside") && probed.out.contains("fail: 0 of 1 target held"), probed.out);
}

/// A calibration against its own files says that they are the same; against a plainer one, and by any
/// measure, how far they are apart; each figure by the side that it is of.
void CliTest::twoSidesAreCompared()
{
    QCOMPARE(run({"read", kGood, "-o", "cr.json"}).status, 0);
    QCOMPARE(run({"fit", "cr.json", "--colour", "roots", "-o", "cb.json"}).status, 0);
    QCOMPARE(run({"export", "cb.json", "--dcp", "cb.dcp", "--icc", "cb.icc", "--cube", "cb.cube"}).status, 0);
    for (const char *file : {"cb.dcp", "cb.icc", "cb.cube"}) {
        const auto ran = run({"compare", "cb.json", file, "--reading", "cr.json", "-o", "compared.json"});
        QVERIFY2(ran.status == 0, ran.err);
        QVERIFY(isValid("comparison", "compared.json"));
        const auto document = json("compared.json").object();
        QCOMPARE(document["b"].toObject()["kind"].toString(), QString(file).section('.', 1));
        double sum = 0;
        for (const auto &patch : document["patches"].toArray())
            sum += patch.toObject()["between"].toDouble() / 24;
        QVERIFY2(sum < 0.3, qPrintable(QString("%1 %2").arg(file).arg(sum)));
        QVERIFY(std::abs(document["errors"].toObject()["b_less_a"].toObject()["mean"].toDouble()) < 0.15);
    }
    const auto plain =
        run({"compare", "plain", "cb.json", "--reading", "cr.json", "--measure", "de76", "--table"});
    QVERIFY2(plain.status == 0 && plain.out.contains("ΔE76") && plain.out.contains("surface colours"),
             plain.err);
    QCOMPARE(run({"compare", "plain", "cb.json", "--reading", "cr.json", "-o", "plain-compared.json"}).status,
             0);
    const auto errors = json("plain-compared.json").object()["errors"].toObject();
    // B's are those of patches that its fit left out, as its own document has them
    QVERIFY(errors["b"].toObject()["unseen"].toBool() && !errors["a"].toObject()["unseen"].toBool());
    QVERIFY(std::abs(errors["b"].toObject()["mean"].toDouble() -
                     json("cb.json").object()["cross_validated"].toObject()["mean"].toDouble()) < 0.02);
    // limits of a sheet in the measure, and a group of one's own
    QFile sheet(at("textile.json"));
    QVERIFY(sheet.open(QIODevice::WriteOnly));
    sheet.write(R"({"schema": "wavechroma.tolerance/1", "name": "textile", "title": "Cloth",
                    "limits": {"mean_de94_textiles": 1000, "patch_de76": 0.01}})");
    sheet.close();
    const QStringList held{"compare",     "plain",        "cb.json", "--reading", "cr.json",
                           "--tolerance", "textile.json", "--group", "B3,C3"};
    const auto textiles = run(held + QStringList{"--measure", "de94-textiles", "-o", "held.json"});
    QVERIFY2(textiles.status == 0 && textiles.err.contains("both pass."), textiles.err);
    QVERIFY(isValid("comparison", "held.json"));
    const auto group = json("held.json").object()["group"].toObject();
    QCOMPARE(group["patches"].toArray(), QJsonArray({"B3", "C3"}));
    double mean = 0;
    for (const auto &patch : json("held.json").object()["patches"].toArray())
        if (group["patches"].toArray().contains(patch.toObject()["id"]))
            mean += patch.toObject()["error_a"].toDouble() / 2;
    QVERIFY(std::abs(group["errors"].toObject()["a"].toObject()["mean"].toDouble() - mean) < 1e-9);
    QVERIFY(json("held.json").object()["limits"].toObject()["patch"].isNull());
    QVERIFY(run(held + QStringList{"--measure", "de76"}).err.contains("both fail."));
    QVERIFY(run(held + QStringList{"--measure", "de94"}).err.contains("Cloth sets no limits in ΔE94."));
    QCOMPARE(run({"compare", "plain", "cb.json", "--reading", "cr.json", "--group", "Z9"}).status, 2);
    // a proof is held to them as well
    const auto proved = run({"prove", "cb.json", "cr.json", "--tolerance", "textile.json", "--table"});
    QVERIFY2(proved.status == 3 && proved.out.contains("ΔE76 mean") && proved.out.contains("of 0.0"),
             proved.out);
    // the frame is known again by another path
    QCOMPARE(run({"read", at(kGood), "-o", "elsewhere.json"}).status, 0);
    QCOMPARE(
        run({"compare", "plain", "cb.json", "--reading", "elsewhere.json", "-o", "elsewhere-compared.json"})
            .status,
        0);
    QVERIFY(json("elsewhere-compared.json").object()["errors"].toObject() == errors);
    // the other way round all is of the other sign
    QCOMPARE(run({"compare", "cb.json", "plain", "--reading", "cr.json", "-o", "turned.json"}).status, 0);
    const auto turned = json("turned.json").object()["errors"].toObject();
    QVERIFY(std::abs(turned["b_less_a"].toObject()["mean"].toDouble() +
                     errors["b_less_a"].toObject()["mean"].toDouble()) < 1e-9);
    QCOMPARE(run({"compare", "cb.json", "cb.dcp"}).status, 2); // says that a reading is needed
    QCOMPARE(run({"compare", "cb.json", kGood, "--reading", "cr.json"}).status, 2);
    QCOMPARE(run({"compare", "cb.json", "plain", "--reading", "cr.json", "--measure", "de1931"}).status, 2);
}

/// The panel of the demo's second setup tired from one chart to the next; the bracket of the first setup was
/// shot by a steady strobe at several apertures.
void CliTest::aTiredLampIsTold()
{
    const QString before = "demo/frames/HR_0419.dng", after = "demo/frames/HR_0422.dng";
    for (const auto &[frame, file] : {std::pair{before, "fresh.json"}, {after, "tired.json"}})
        QCOMPARE(run({"read", frame, "-o", file}).status, 0);
    QCOMPARE(run({"fit", "fresh.json", "-o", "panel.json"}).status, 0);
    const auto ran = run({"drift", "panel.json", "fresh.json", "tired.json", "-o", "drift.json"});
    QCOMPARE(ran.status, 3);
    QVERIFY2(ran.err.contains("stops weaker") && ran.err.contains("mired warmer"), ran.err);
    QVERIFY(isValid("drift", "drift.json"));
    const auto checks = json("drift.json").object()["checks"].toArray();
    const auto fresh = checks[0].toObject(), tired = checks[1].toObject();
    QVERIFY(fresh["causes"].toArray().isEmpty());
    QVERIFY(std::abs(fresh["mean"].toDouble() - fresh["was"].toDouble()) < 1e-9);
    QCOMPARE(fresh["passes"].toBool(), fresh["mean"].toDouble() <= 2 && fresh["max"].toDouble() <= 4);
    QVERIFY(!tired["passes"].toBool());
    // as `prove` says it: the settings were the same
    QCOMPARE(run({"prove", "panel.json", "tired.json", "-o", "tired-proof.json"}).status, 0);
    QVERIFY(std::abs(json("tired-proof.json").object()["mean"].toDouble() - tired["mean"].toDouble()) < 1e-9);
    // a quarter weaker at full, so a fifth at 0.8
    QVERIFY(std::abs(tired["level_stops"].toDouble() - std::log2(0.8)) < 0.08);
    QVERIFY(tired["light"].toObject()["d_mired"].toDouble() > 4);
    QCOMPARE(tired["causes"].toArray()[0].toObject()["cause"].toString(), QString("power"));
    QCOMPARE(run({"drift", "panel.json", "tired.json", "--limits", "strict", "--table"}).status, 3);
    QCOMPARE(run({"drift", "panel.json", "none.json"}).status, 2);
    // the apertures of a bracket are no drift
    QCOMPARE(run({"read", "demo/frames/HR_0413.dng", "-o", "closed.json"}).status, 0);
    QCOMPARE(run({"read", kGood, "-o", "steady-reading.json"}).status, 0);
    QCOMPARE(run({"fit", "steady-reading.json", "--colour", "roots", "-o", "steady.json"}).status, 0);
    QCOMPARE(run({"drift", "steady.json", "closed.json", "-o", "closed-drift.json"}).status, 0);
    const auto closed = json("closed-drift.json").object()["checks"].toArray()[0].toObject();
    QVERIFY(closed["passes"].toBool() && closed["causes"].toArray().isEmpty());
    // a strobe in place of the panel
    const auto other = run({"drift", "panel.json", "closed.json"});
    QCOMPARE(other.status, 3);
    QVERIFY2(other.err.contains("another kind"), other.err);
}

/// The record holds the figures of the other commands; computed again from the frames, all come out the same,
/// and a figure that was changed by a thousandth is found.
void CliTest::theEvidenceIsComputedAgain()
{
    QCOMPARE(run({"deliver", "demo", "-o", "demo/handover/first"}).status, 0);
    const auto ran = run({"report", "demo", "-o", "report.pdf", "--record", "record.json"});
    QVERIFY2(ran.status == 0, ran.err);
    QVERIFY(isValid("record", "record.json"));
    const auto record = json("record.json").object();
    const auto stations = record["stations"].toArray();
    QVERIFY(stations.size() >= 4);
    const auto day = QJsonDocument::fromJson(run({"day", "demo"}).out).object()["stations"].toArray();
    int compared = 0;
    for (const auto &one : day)
        for (const auto &other : stations)
            if (one.toObject()["name"] == other.toObject()["name"] &&
                other.toObject()["figures"].isObject()) {
                const auto figures = other.toObject()["figures"].toObject();
                QCOMPARE(figures["unseen_mean"], one.toObject()["answer"].toObject()["mean"]);
                const auto interval = figures["interval"].toArray();
                QVERIFY(interval[0].toDouble() < figures["unseen_mean"].toDouble() &&
                        figures["unseen_mean"].toDouble() < interval[1].toDouble());
                ++compared;
            }
    QVERIFY(compared >= 3);
    QVERIFY(record["deliveries"].toArray().size() >= 3);
    QProcess words;
    words.start("pdftotext", {at("report.pdf"), "-"});
    QVERIFY(words.waitForFinished(30000));
    const auto pages = QString::fromUtf8(words.readAllStandardOutput());
    for (const auto &station : stations)
        for (const auto &frame : station.toObject()["frames"].toArray())
            QVERIFY(QString(pages).remove('\n').contains(frame.toObject()["sha256"].toString().left(40)));

    const auto same = run({"report", "--verify", "record.json", "demo"});
    QVERIFY2(same.status == 0 && same.out.isEmpty(), same.out + same.err);
    auto changed = content("record.json");
    const auto mean = QByteArray("\"unseen_mean\": ");
    const auto from = changed.indexOf(mean) + mean.size();
    const auto to = changed.indexOf(',', from);
    changed.replace(from, to - from,
                    QByteArray::number(changed.mid(from, to - from).toDouble() * 1.001, 'g', 12));
    write("changed.json", changed);
    const auto found = run({"report", "--verify", "changed.json", "demo"});
    QCOMPARE(found.status, 3);
    QVERIFY2(found.out.startsWith("stations[0].figures.unseen_mean: ") && found.out.count('\n') == 1,
             found.out);
    // a delivered file that somebody retouched
    QFile picture(at("demo/handover/first/HR_0416.tif"));
    QVERIFY(picture.open(QIODevice::Append) && picture.write("x") == 1);
    picture.close();
    const auto touched = run({"report", "--verify", "record.json", "demo"});
    QVERIFY2(touched.status == 3 && touched.out.contains("HR_0416.tif"), touched.out);
    QDir(at("demo/handover")).removeRecursively();
    QCOMPARE(run({"report", "--verify", "changed.json", "nowhere"}).status, 2);
    QCOMPARE(run({"report", "--verify", "report.pdf", "demo"}).status, 2);
    QCOMPARE(run({"report", "demo", "-o", "report.doc"}).status, 2);
    QCOMPARE(run({"report", "demo", "--station", "nowhere", "-o", "report.html"}).status, 2);
    QVERIFY(!QFile::exists(at("report.html")) && !QFile::exists(at("report.doc")));
}

/// Spreads are means over pairs of the colours that stand beside them, and those are what prove and probe
/// say.
void CliTest::stationsAreHeldSideBySide()
{
    const auto ran = run({"agree", "demo", "-o", "agreed.json"});
    QVERIFY2(ran.status == 0 && ran.err.contains("furthest apart"), ran.err);
    QVERIFY(isValid("agreement", "agreed.json"));
    const auto document = json("agreed.json").object();
    QCOMPARE(document["patches"].toArray().size(), 24);
    QVERIFY(document["objects"].toArray().size() >= 5);
    const auto labOf = [](const QJsonValue &v) {
        return wavechroma::Lab{v.toArray()[0].toDouble(), v.toArray()[1].toDouble(),
                               v.toArray()[2].toDouble()};
    };
    for (const char *kind : {"patches", "objects"})
        for (const auto &thing : document[kind].toArray()) {
            const auto labs = thing.toObject()["lab"].toObject();
            double sum = 0;
            int pairs = 0;
            for (auto a = labs.begin(); a != labs.end(); ++a)
                for (auto b = labs.begin(); b != a; ++b, ++pairs)
                    sum += wavechroma::de2000(labOf(a.value()), labOf(b.value()));
            QVERIFY(std::abs(sum / pairs - thing.toObject()["spread"].toDouble()) < 1e-9);
        }
    // an object has the colour that probe says, as the mean of the station's frames
    const auto probed = run({"probe", "demo/frames/MB_0052.dng", "demo/frames/MB_0053.dng", "--job", "demo"});
    std::map<QString, std::vector<wavechroma::Lab>> seen;
    for (const auto &frame : QJsonDocument::fromJson(probed.out).array())
        for (const auto &probe : frame.toObject()["probes"].toArray())
            if (probe.toObject()["lab"].isArray())
                seen[probe.toObject()["name"].toString()].push_back(labOf(probe.toObject()["lab"]));
    int checked = 0;
    for (const auto &thing : document["objects"].toArray()) {
        const auto labs = thing.toObject()["lab"].toObject();
        const auto &own = seen[thing.toObject()["id"].toString()];
        for (auto at = labs.begin(); at != labs.end() && !own.empty(); ++at)
            if (at.key().contains("Marram 8")) {
                double l = 0;
                for (const auto &lab : own)
                    l += lab.l / double(own.size());
                QVERIFY(std::abs(labOf(at.value()).l - l) < 1e-6);
                ++checked;
            }
    }
    QVERIFY2(checked >= 3, qPrintable(QString::number(checked)));
    const auto drawn =
        run({"agree", "demo", "--draw-together", "--give", "0.3", "--out", "drawn", "-o", "drawn.json"});
    QVERIFY2(drawn.status == 0, drawn.err);
    // a house standard gives up nothing; one that is no station is refused
    const auto leader = document["stations"].toArray()[0].toString();
    const auto led =
        run({"agree", "demo", "--draw-together", "--give", "0.3", "--leader", leader, "-o", "led.json"});
    QVERIFY2(led.status == 0, led.err);
    QVERIFY(isValid("agreement", "led.json"));
    const auto standard = json("led.json").object()["drawn"].toObject()[leader].toObject();
    QVERIFY(std::abs(standard["before"].toDouble() - standard["after"].toDouble()) < 1e-6);
    QCOMPARE(run({"agree", "demo", "--draw-together", "--leader", "nowhere"}).status, 2);
    QCOMPARE(run({"agree", "demo", "--leader", leader}).status, 2);
    QVERIFY(isValid("agreement", "drawn.json"));
    const auto figures = json("drawn.json").object()["drawn"].toObject();
    QVERIFY(figures["weight"].toDouble() > 0 && figures["spread"].toObject()["after"].toDouble() <
                                                    figures["spread"].toObject()["before"].toDouble());
    for (const auto &station : document["stations"].toArray()) {
        const auto figure = figures[station.toString()].toObject();
        QVERIFY(figure["after"].toDouble() <= 1.3 * figure["before"].toDouble());
    }
    const auto files = QDir(at("drawn")).entryList({"*.json"});
    QCOMPARE(files.size(), document["stations"].toArray().size());
    QCOMPARE(run({"agree", "demo", "--give", "2"}).status, 2);
    QCOMPARE(run({"agree", "demo", "--apply"}).status, 2);
}

void CliTest::aWatchedFolderIsAnswered()
{
    QVERIFY(QDir(m_folder.path()).mkpath("arriving"));
    QVERIFY(QFile::copy(at(kGood), at("arriving/a.dng")));
    const auto once = run({"watch", "watched", "arriving", "--once"});
    QCOMPARE(once.status, 0);
    QVERIFY2(once.out.startsWith("a.dng, good, ") && once.out.count('\n') == 1, once.out);
    QCOMPARE(run({"watch", "watched", "arriving", "--once"}).out, QByteArray()); // the job has it
    QCOMPARE(run({"watch", "watched", "nowhere"}).status, 2);

    QProcess watch;
    watch.setWorkingDirectory(m_folder.path());
    watch.start(qEnvironmentVariable("WAVECHROMA_CLI"), {"watch", "watched", "arriving"});
    QVERIFY(watch.waitForStarted());
    // half a frame first, as a slow copy has it: nothing is said until all of it is there
    QFile whole(at(kProduct)), slow(at("arriving/b.dng"));
    QVERIFY(whole.open(QFile::ReadOnly) && slow.open(QFile::WriteOnly));
    const auto bytes = whole.readAll();
    slow.write(bytes.left(bytes.size() / 2));
    slow.flush();
    QVERIFY(!watch.waitForReadyRead(1500));
    slow.write(bytes.mid(bytes.size() / 2));
    slow.close();
    QVERIFY(watch.waitForReadyRead(20000));
    const auto line = watch.readAllStandardOutput();
    QVERIFY2(line.startsWith("b.dng, "), line);
    QVERIFY(line.contains("served") || line.contains("doubt"));
    watch.terminate();
    QVERIFY(watch.waitForFinished());
    QCOMPARE(watch.exitStatus(), QProcess::NormalExit);
    QCOMPARE(watch.exitCode(), 0);
}

static const wavechroma::testing::Registered<CliTest> registeredCliTest("cli_test");
#include "cli_test.moc"
