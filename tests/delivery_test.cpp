#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/raw/file_digest.h"
#include "core/raw/open_frame.h"
#include "core/sim/random.h"
#include "core/tasks/deliver_task.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/read_task.h"
#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"

#include <QDir>
#include <QProcess>
#include <QRegularExpression>
#include <QTest>
#include <cmath>
#include <csignal>
#include <fstream>
#include <random>
#include <sys/stat.h>
#include <system_error>

using namespace wavechroma;

/// The commands `probe` and `deliver` as the contract says.
class DeliveryTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void initTestCase();
    void aProbeReadsWhatProveSays();
    void aProbeIsHeldToItsTarget();
    void targetsComeInEveryForm_data();
    void targetsComeInEveryForm();
    void aProbeThatCannotBeSaysWhy();
    void levelsAreTakenOutOrKept();
    void placesAreSavedInTheJob();
    void brokenPlacesAndTargetsAreRefused_data();
    void brokenPlacesAndTargetsAreRefused();
    void aDeliveryIsRenderedAsTheJobSays();
    void aDryRunWritesNothing();
    void everyFormLeaves();
    void aFormHasItsOwnColour();
    void aFormHasItsOwnFolderAndCrops();
    void whatChangedSinceIsStale();
    void lightsThatCannotBeJoinedLeaveTheRestAlone();
    void whatIsThereIsNotWrittenAgain();
    void nothingOfSomebodyElsesIsReplaced();
    void aRetouchedPictureIsKept();
    void aFolderChangedMeanwhileKeepsWhatIsTheUsers();
    void aSourceThatWasReplacedIsTold();
    void aDamagedDocumentLeavesItsFramesOut();
    void aFileTakenAgainIsTheSameFrame();
    void framesThatNothingServesAreNamed();
    void killedAtAnyMomentItGoesOn();
    void aFullDiskIsToldAndLeftBehind();
    void aFolderThatIsTakenAwayIsToldAtOnce();
    void manyMachinesMakeTheSameBytes();
    void commandsHoldAnyName();
    void theKindOfLampIsGivenNotGuessed();
    void brokenPlansAreRefused_data();
    void brokenPlansAreRefused();
    void documentsFollowTheirSchemas_data();
    void documentsFollowTheirSchemas();

private:
    [[nodiscard]] std::filesystem::path path(const QString &name) const { return at(name).toStdString(); }
    [[nodiscard]] QJsonObject probed(const QStringList &arguments, int status = 0) const;
    [[nodiscard]] QStringList leftOutOf(const char *file) const; ///< "path code" of a delivery.json
    [[nodiscard]] QByteArray hashOf(const QString &name) const
    {
        const auto hash = sha256OfFile(path(name));
        return hash ? QByteArray::fromStdString(*hash) : QByteArray();
    }
    /// Relative paths of all files below a folder.
    [[nodiscard]] QStringList filesBelow(const QString &folder) const;
    [[nodiscard]] QStringList picturesBelow(const QString &folder) const;
};

void DeliveryTest::initTestCase()
{
    testing::layDemoDay(path("day"));
    QCOMPARE(run({"read", testing::kGoodFrame, "-o", "reading.json"}).status, 0);
    QCOMPARE(run({"fit", "reading.json", "-o", "fitted.json"}).status, 0);
    QCOMPARE(run({"prove", "fitted.json", "reading.json", "-o", "proof.json"}).status, 0);
    const auto reading = *loadReading(path("reading.json"));
    const auto chart = *chartFromCatalogue(reading.chart);
    const auto homography = *homographyFrom(chart, reading.corners);
    QByteArray places = "name,x,y,r\n";
    for (int row = 0; row < 4; ++row)
        for (int column = 0; column < 6; ++column) {
            const auto at = homography.at(patchCentre(chart, row, column));
            places += QByteArray::fromStdString(patchId(row, column)) + ',' +
                      QByteArray::number(at.x, 'f', 2) + ',' + QByteArray::number(at.y, 'f', 2) + ",6\n";
        }
    write("patches.csv", places);
    QCOMPARE(run({"balance", testing::kGoodFrame, "--lean", "3,0", "-o", "warm.json"}).status, 0);
    write("colours.json", R"({"schema": "wavechroma.delivery/1", "frames": ["frames/HR_0416.dng"], "forms": [
        {"name": "exact", "format": "png16", "ppi": 300},
        {"name": "people", "format": "png16", "ppi": 300, "colour": "matrix", "tone": "as-shot",
         "lean": {"reds": -2}},
        {"name": "warm", "format": "png16", "ppi": 300, "balance": ")" +
                              at("warm.json").toUtf8() + R"("},
        {"name": "cold", "format": "png16", "ppi": 300, "balance": {"multipliers": [1, 1, 3]}},
        {"name": "tables", "kind": "profile", "files": ["csv"], "colour": "matrix", "lean": {"reds": -2}},
        {"name": "copies", "kind": "dng", "balance": {"multipliers": [1, 1, 3]}}]})");
    QCOMPARE(run({"deliver", "day", "-o", "again"}).status, 0); // undisturbed, to compare with
    QVERIFY(std::filesystem::create_directory(path("alone")));
    std::filesystem::copy(path(testing::kProductFrame), path("alone/p.dng"));
    QCOMPARE(run({"take", "job-alone", "alone"}).status, 0);
}

QJsonObject DeliveryTest::probed(const QStringList &arguments, int status) const
{
    const auto ran = run(QStringList{"probe"} + arguments);
    if (ran.status != status)
        qWarning("status %d: %s", ran.status, ran.err.constData());
    return ran.status == status ? QJsonDocument::fromJson(ran.out).object() : QJsonObject();
}

QStringList DeliveryTest::filesBelow(const QString &folder) const
{
    QStringList out;
    std::error_code code;
    for (const auto &entry : std::filesystem::recursive_directory_iterator(path(folder), code))
        if (entry.is_regular_file())
            out << QString::fromStdString(entry.path().lexically_relative(path(folder)).string());
    out.sort();
    return out;
}

QStringList DeliveryTest::leftOutOf(const char *file) const
{
    QStringList out;
    for (const auto &one : json(file).object()["left_out"].toArray())
        out << one.toObject()["path"].toString() + " " + one.toObject()["why"].toString();
    return out;
}

static Lab labOf(const QJsonValue &value)
{
    const auto a = value.toArray();
    return a.size() == 3 ? Lab{a[0].toDouble(), a[1].toDouble(), a[2].toDouble()} : Lab{-1, -1, -1};
}

/// Discs within the patches give what their windows gave.
void DeliveryTest::aProbeReadsWhatProveSays()
{
    const auto document =
        probed({testing::kGoodFrame, "--calibration", "fitted.json", "--places", "patches.csv"});
    QCOMPARE(document["schema"].toString(), QString("wavechroma.probes/1"));
    QCOMPARE(document["image"].toString(), testing::kGoodFrame);
    const auto probes = document["probes"].toArray();
    QCOMPARE(probes.size(), 24);
    std::map<QString, Lab> proved;
    for (const auto &patch : json("proof.json").object()["patches"].toArray())
        proved[patch.toObject()["id"].toString()] = labOf(patch.toObject()["lab"]);
    double sum = 0;
    for (const auto &value : probes) {
        const auto probe = value.toObject();
        const double off = de2000(labOf(probe["lab"]), proved.at(probe["name"].toString()));
        QVERIFY2(off < 1, qPrintable(probe["name"].toString() + QString::number(off)));
        sum += off;
        QVERIFY(probe["n"].toInt() > 80 && probe["n"].toInt() < 130); // samples of a disc of radius 6
        QVERIFY(probe["foretold_error"].toDouble() > 0.2 && probe["foretold_error"].toDouble() < 15);
        QVERIFY(probe["target_lab"].isNull() && probe["within"].isNull());
        QCOMPARE(probe["sd"].toArray().size(), 3);
    }
    QVERIFY2(sum / 24 < 0.4, qPrintable(QString::number(sum / 24)));
}

void DeliveryTest::aProbeIsHeldToItsTarget()
{
    write("targets.csv", "name,L,a,b,tolerance\nheather,44,16,-26,2\nslate,90,0,0,\n");
    const auto document = probed({testing::kProductFrame, "--job", "day", "--at", "Slate,160,240,10",
                                  "heather,650,240,10", "--targets", "targets.csv"});
    const auto probes = document["probes"].toArray();
    QCOMPARE(probes.size(), 2);
    for (const auto &value : probes) {
        const auto probe = value.toObject();
        const auto lab = labOf(probe["lab"]), target = labOf(probe["target_lab"]);
        QVERIFY(std::abs(probe["de00"].toDouble() - de2000(lab, target)) < 1e-6);
        QVERIFY(std::abs(probe["dL"].toDouble() - (lab.l - target.l)) < 1e-6);
        QCOMPARE(probe["within"].toBool(), probe["de00"].toDouble() <= (target.l < 60 ? 2 : 4));
        QVERIFY(!probe["direction"].toString().isEmpty());
    }
    QVERIFY(!probes[0].toObject()["within"].toBool()); // a dark yarn is no paper
    QVERIFY(!document["calibration"].toString().isEmpty());
}

void DeliveryTest::targetsComeInEveryForm_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<double>("l");
    QTest::newRow("JSON, Lab")
        << QByteArray(
               R"({"schema":"wavechroma.targets/1","targets":[{"name":"yarn","lab":[50,10,-10],"tolerance":1.5}]})")
        << 50.0;
    QTest::newRow("JSON, XYZ")
        << QByteArray(
               R"({"schema":"wavechroma.targets/1","targets":[{"name":"yarn","xyz":[0.1776,0.184187,0.151937]}]})")
        << 50.0;
    QTest::newRow("JSON, reflectance")
        << QByteArray(
               R"({"schema":"wavechroma.targets/1","targets":[{"name":"yarn","reflectance":{"start_nm":380,"step_nm":100,"values":[0.184187,0.184187,0.184187,0.184187,0.184187]}}]})")
        << 50.0;
    QTest::newRow("JSON, hex")
        << QByteArray(R"({"schema":"wavechroma.targets/1","targets":[{"name":"yarn","srgb":"#777777"}]})")
        << 50.034;
    QTest::newRow("CSV, hex") << QByteArray("name,srgb\nyarn,#777777\n") << 50.034;
    QTest::newRow("CSV with decimal commas") << QByteArray("name;L;a;b\nyarn;50,0;10,0;-10,0\n") << 50.0;
    QTest::newRow("CGATS") << QByteArray(
                                  "CGATS.17\nNUMBER_OF_FIELDS 4\nBEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L LAB_A "
                                  "LAB_B\nEND_DATA_FORMAT\nNUMBER_OF_SETS 1\nBEGIN_DATA\nyarn 50 10 "
                                  "-10\nEND_DATA\n")
                           << 50.0;
}

void DeliveryTest::targetsComeInEveryForm()
{
    QFETCH(QByteArray, text);
    QFETCH(double, l);
    write("given", text);
    const auto document =
        probed({testing::kProductFrame, "--job", "day", "--at", "yarn,160,240,10", "--targets", "given"});
    const auto target = labOf(document["probes"].toArray()[0].toObject()["target_lab"]);
    QVERIFY2(std::abs(target.l - l) < 0.01, qPrintable(QString::number(target.l)));
}

void DeliveryTest::aProbeThatCannotBeSaysWhy()
{
    const auto why = [&](const QStringList &arguments) {
        const auto probe = probed(arguments, 3)["probes"].toArray()[0].toObject();
        return probe["lab"].isNull() ? probe["why"].toString() : QString();
    };
    QCOMPARE(why({testing::kProductFrame, "--job", "day", "--at", "edge,5,240,10"}), QString("outside"));
    // the first chart of the day is clipped its white
    const auto clipped = probed({"day/frames/HR_0412.dng", "--job", "day", "--places", "patches.csv"}, 3);
    int count = 0;
    for (const auto &probe : clipped["probes"].toArray())
        count += probe.toObject()["why"].toString() == "clipped";
    QVERIFY2(count >= 1 && count < 10, qPrintable(QString::number(count)));
    QCOMPARE(why({"alone/p.dng", "--job", "job-alone", "--at", "yarn,160,240,10"}), QString("unserved"));
}

/// The same chart, exposed otherwise: at the chart's level its greys are the same, as shot they are lighter.
void DeliveryTest::levelsAreTakenOutOrKept()
{
    const QStringList places{"--calibration", "fitted.json", "--places", "patches.csv"};
    const auto lightness = [&](const QString &image, const QString &level) {
        const auto ran = run(QStringList{"probe", image, "--level", level} + places); // whites may be clipped
        return labOf(QJsonDocument::fromJson(ran.out)["probes"].toArray().at(21).toObject()["lab"]).l;
    };
    const double chart = lightness(testing::kGoodFrame, "chart"),
                 taken = lightness(testing::kBrighterFrame, "chart"),
                 kept = lightness(testing::kBrighterFrame, "as-shot");
    QVERIFY2(std::abs(chart - taken) < 0.3, qPrintable(QString("%1 %2").arg(chart).arg(taken)));
    QVERIFY2(kept - chart > 5, qPrintable(QString("%1 %2").arg(kept).arg(chart)));
    QCOMPARE(lightness(testing::kGoodFrame, "as-shot"), chart);
}

void DeliveryTest::placesAreSavedInTheJob()
{
    testing::layDemoDay(path("kept"));
    const QString frame = "kept/frames/HR_0425.dng";
    write("kept.csv", "name,L,a,b,tolerance\nnew one,40,5,5,1\n");
    QCOMPARE(run({"probe", frame, "--job", "kept", "--save", "--at", "new one,300,100,12", "--targets",
                  "kept.csv", "-o", "first.json"})
                 .status,
             0);
    const auto again = probed({frame, "--job", "kept"}); // by the job's own places
    bool isThere = false;
    for (const auto &value : again["probes"].toArray())
        if (value.toObject()["name"].toString() == "new one") {
            isThere = true;
            QCOMPARE(value.toObject(), json("first.json").object()["probes"].toArray()[0].toObject());
        }
    QVERIFY(isThere);
    QVERIFY(again["probes"].toArray().size() > 1); // the demo's own stay
    // saved again under its name it is moved, not doubled
    const auto count = again["probes"].toArray().size();
    QCOMPARE(run({"probe", frame, "--job", "kept", "--save", "--at", "new one,310,100,12", "-o", "-"}).status,
             0);
    QCOMPARE(probed({frame, "--job", "kept"})["probes"].toArray().size(), count);
}

void DeliveryTest::brokenPlacesAndTargetsAreRefused_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QString>("said");
    const QStringList at{"--job", "day", "--at", "yarn,160,240,10"};
    QTest::newRow("no radius") << QStringList{"--job", "day", "--at", "yarn,160,240"} << QByteArray()
                               << "NAME,x,y,r";
    QTest::newRow("a radius of nothing")
        << QStringList{"--job", "day", "--at", "yarn,160,240,0"} << QByteArray() << "radius";
    QTest::newRow("no colour in it") << at + QStringList{"--targets", "given"}
                                     << QByteArray("name,weight\na,3\n") << "line 1";
    QTest::newRow("not hex") << at + QStringList{"--targets", "given"} << QByteArray("name,srgb\na,#12345\n")
                             << "#12345";
    QTest::newRow("twice") << at + QStringList{"--targets", "given"}
                           << QByteArray("name,srgb\na,#111111\nA,#222222\n") << "twice";
    QTest::newRow("no surface") << at + QStringList{"--targets", "given"}
                                << QByteArray("name,L,a,b\na,150,0,0\n") << "150";
    QTest::newRow("tolerance") << at + QStringList{"--targets", "given"}
                               << QByteArray("name,L,a,b,tolerance\na,50,0,0,0\n") << "tolerance";
    QTest::newRow("places without a column") << QStringList{"--job", "day", "--places", "given"}
                                             << QByteArray("name,x,y\na,1,2\n") << "name, x, y and r";
    QTest::newRow("both sources") << QStringList{"--job",       "day",  "--calibration",
                                                 "fitted.json", "--at", "a,1,2,3"}
                                  << QByteArray() << "either";
    QTest::newRow("no job to save in")
        << QStringList{"--calibration", "fitted.json", "--save", "--at", "a,160,240,3"} << QByteArray()
        << "--job";
    QTest::newRow("a frame of no job") << QStringList{"--job", "job-alone", "--at", "a,160,240,3"}
                                       << QByteArray() << "not a frame of the job";
}

void DeliveryTest::brokenPlacesAndTargetsAreRefused()
{
    QFETCH(QStringList, arguments);
    QFETCH(QByteArray, text);
    QFETCH(QString, said);
    write("given", text);
    const QString image = said.startsWith("not a frame") ? testing::kGoodFrame : testing::kProductFrame;
    const auto ran = run(QStringList{"probe", image, "-o", "never.json"} + arguments);
    QCOMPARE(ran.status, 2);
    QVERIFY2(ran.err.contains(said.toUtf8()), ran.err);
    QVERIFY(!QFile::exists(at("never.json")));
}

void DeliveryTest::aDeliveryIsRenderedAsTheJobSays()
{
    const auto ran = run({"deliver", "day", "-o", "out"});
    QVERIFY2(ran.status == 0, ran.err);
    const auto receipts = json("out/delivery.json").object()["receipts"].toArray();
    QCOMPARE(receipts.size(), 8);
    QCOMPARE(filesBelow("out").size(), 9); // and the receipts; nothing that grew is left
    QStringList images;
    for (const auto &value : receipts) {
        const auto receipt = value.toObject();
        const auto file = receipt["path"].toString();
        QCOMPARE(hashOf("out/" + file), receipt["sha256"].toString().toLatin1());
        QCOMPARE(hashOf("day/" + receipt["source"].toString()),
                 receipt["source_sha256"].toString().toLatin1());
        QCOMPARE(QFileInfo(at("out/" + file)).size(), qint64(receipt["bytes"].toDouble()));
        QVERIFY(!receipt["calibration"].toString().isEmpty() && !receipt["written_at"].toString().isEmpty());
        images << "day/" + receipt["source"].toString();
    }
    QCOMPARE(run(QStringList{"render", "--job", "day", "-o", "rendered"} + images).status, 0);
    for (const auto &value : receipts)
        QCOMPARE(content("rendered/" + value.toObject()["path"].toString()),
                 content("out/" + value.toObject()["path"].toString()));
    // the light moved after this one's chart
    QVERIFY(receipts[5].toObject()["doubts"].toArray().contains("light-moved"));
}

void DeliveryTest::aDryRunWritesNothing()
{
    const auto ran = run({"deliver", "day", "--dry-run", "-o", "nowhere"});
    QCOMPARE(ran.status, 0);
    QVERIFY(!QFile::exists(at("nowhere")));
    const auto planned = QJsonDocument::fromJson(ran.out).object();
    const auto done = json("again/delivery.json").object();
    QCOMPARE(planned["schema"].toString(), QString("wavechroma.delivery/1"));
    QCOMPARE(planned["receipts"].toArray().size(), 8);
    for (qsizetype i = 0; i < 8; ++i) {
        auto was = done["receipts"].toArray()[i].toObject();
        for (const char *key : {"sha256", "bytes", "written_at", "made_by"})
            was.remove(key);
        QCOMPARE(planned["receipts"].toArray()[i].toObject(), was);
    }
    // what it prints is a plan
    write("plan.json", ran.out);
    QVERIFY(run({"deliver", "day", "--plan", "plan.json", "-o", "planned"}).status == 0);
    QCOMPARE(filesBelow("planned"), filesBelow("again"));
}

void DeliveryTest::everyFormLeaves()
{
    write("forms.json",
          R"({"schema": "wavechroma.delivery/1", "frames": ["frames/HR_0416.dng", "frames/HR_0420.dng"],
        "names": "{form}/{setup}/{frame}", "forms": [
        {"name": "client", "format": "jpeg", "long_side": 300, "quality": 90},
        {"name": "archive", "format": "tiff16", "space": "romm", "ppi": 300, "deflate": true},
        {"name": "retoucher", "kind": "dng"}, {"name": "profiles", "kind": "profile", "files": ["dcp", "icc", "cube"]},
        {"name": "presets", "kind": "balance"}, {"name": "evidence", "kind": "values"}]})");
    const auto ran = run({"deliver", "day", "--plan", "forms.json", "-o", "forms"});
    QVERIFY2(ran.status == 0, ran.err);
    const auto files = filesBelow("forms");
    const auto count = [&](const QString &folder, const QString &extension) {
        return files.filter(QRegularExpression("^" + folder + "/.*\\" + extension + "$")).size();
    };
    QCOMPARE(count("client", ".jpg"), 2);
    QCOMPARE(count("archive", ".tif"), 2);
    QCOMPARE(count("retoucher", ".dng"), 2);
    QCOMPARE(count("profiles", ".dcp"), 2);
    QCOMPARE(count("profiles", ".icc"), 2);
    QCOMPARE(count("profiles", ".cube"), 2);
    QCOMPARE(count("presets", ".json"), 2);
    QCOMPARE(count("evidence", ".csv"), 3); // two charts' patches and the probes
    QCOMPARE(json("forms/delivery.json").object()["receipts"].toArray().size(), 17);
    // a picture of the size asked for
    const auto picture = openFrame(path("forms/client/North_table_two_softboxes/HR_0416.jpg"));
    QVERIFY2(picture, files.join(' ').toUtf8());
    QCOMPARE(std::max(picture->width, picture->height), 300);
    // a copy with the calibration's balance and profile inside; the original is only read
    const auto copy = openFrame(path("forms/retoucher/North_table_two_softboxes/HR_0416.dng"));
    QVERIFY(copy);
    const auto source = *PictureSource::open({{}, path("day"), {}, {}});
    const auto serves = *source.servesFor(path(testing::kProductFrame));
    const auto neutral = *copy->fileColor.asShotNeutral;
    for (size_t c = 0; c < 3; ++c)
        QVERIFY(std::abs(neutral[c] / neutral[1] * serves.calibration.multipliers[c] - 1) < 1e-4);
    const auto inside = run({"inspect", "forms/retoucher/North_table_two_softboxes/HR_0416.dng"});
    QCOMPARE(inside.status, 0);
    QVERIFY(content("forms/retoucher/North_table_two_softboxes/HR_0416.dng") !=
            content(testing::kProductFrame));
    QVERIFY(content("forms/evidence/probes.csv").contains("harbour slate"));
}

/// Exact for the catalogue and calmer for people, of one chart: what `fit` makes of its reading so.
void DeliveryTest::aFormHasItsOwnColour()
{
    const auto source = *PictureSource::open({{}, path("day"), {}, {}});
    const auto serves = *source.servesFor(path(testing::kProductFrame));
    QVERIFY(serves.flats.empty());
    QVERIFY(saveReading(path("its-chart.json"), *source.state().readingOf(serves.chart)->reading));
    QCOMPARE(run({"fit", "its-chart.json", "--colour", "matrix", "--tone", "as-shot", "--reds", "-2",
                  "--setup", "North table, two softboxes", "-o", "calm.json"})
                 .status,
             0);
    const auto ran = run({"deliver", "day", "--plan", "colours.json", "-o", "colours"});
    QVERIFY2(ran.status == 0, ran.err);
    // the very pictures of the calibration and the preset by themselves
    const auto rendered = [&](const QStringList &more, const QString &folder) {
        const auto one = run(
            QStringList{"render", testing::kProductFrame, "--format", "png16", "--ppi", "300", "-o", folder} +
            more);
        return one.status == 0 ? content(folder + "/HR_0416.png") : one.err;
    };
    const auto people = content("colours/people/HR_0416.png");
    QVERIFY(people == rendered({"--calibration", "calm.json"}, "by-calm"));
    QVERIFY(content("colours/warm/HR_0416.png") ==
            rendered({"--job", "day", "--balance", "warm.json"}, "by-warm"));
    QVERIFY(content("colours/exact/HR_0416.png") == rendered({"--job", "day"}, "by-job"));
    QVERIFY(people != content("colours/exact/HR_0416.png"));
    QVERIFY(content("colours/cold/HR_0416.png") != content("colours/exact/HR_0416.png"));
    // sectors of the form's own: the picture of a calibration that was fitted with that table
    const auto exact =
        R"({"schema": "wavechroma.delivery/1", "frames": ["frames/HR_0416.dng"], "forms": [)"
        R"({"name": "hues", "format": "png16", "ppi": 300, "colour": "matrix", "tone": "as-shot", )"
        R"("lean": {"sectors": "%1"}}]})";
    write("hues.json", QString(exact).arg(at("wanted.csv")).toUtf8());
    QCOMPARE(
        run({"fit", "its-chart.json", "--colour", "matrix", "--tone", "as-shot", "-o", "plain.json"}).status,
        0);
    QCOMPARE(run({"export", "plain.json", "--sectors", "wanted.csv"}).status, 0);
    auto table = QString::fromUtf8(content("wanted.csv")).split('\n');
    auto cells = table[2].split(',');
    QCOMPARE(cells.size(), 6);
    cells[4] = QString::number(cells[4].toDouble() - 10, 'f', 2); // a sector of less chroma
    table[2] = cells.join(',');
    write("wanted.csv", table.join('\n').toUtf8());
    QCOMPARE(run({"fit", "its-chart.json", "--colour", "matrix", "--tone", "as-shot", "--sectors",
                  "wanted.csv", "--setup", "North table, two softboxes", "-o", "hues-by-hand.json"})
                 .status,
             0);
    const auto hues = run({"deliver", "day", "--plan", "hues.json", "-o", "hues"});
    QVERIFY2(hues.status == 0, hues.err);
    QVERIFY(content("hues/HR_0416.png") == rendered({"--calibration", "hues-by-hand.json"}, "by-hues"));
    QVERIFY(content("hues/HR_0416.png") != rendered({"--calibration", "plain.json"}, "by-plain"));
    // a preset of another camera says nothing of this one
    QCOMPARE(run({"balance", "day/frames/MB_0051.dng", "--name", "other", "-o", "other.json"}).status, 0);
    write("other-camera.json",
          R"({"schema": "wavechroma.delivery/1", "frames": ["frames/HR_0416.dng"], "forms": [
        {"name": "a", "format": "jpeg"}, {"name": "b", "format": "jpeg", "balance": ")" +
              at("other.json").toUtf8() + R"("}]})");
    QCOMPARE(run({"deliver", "day", "--plan", "other-camera.json", "-o", "other-camera"}).status, 3);
    QCOMPARE(leftOutOf("other-camera/delivery.json"), QStringList{"frames/HR_0416.dng other-camera"});
    QCOMPARE(filesBelow("other-camera").size(), 2); // the other form is written
    // tables and copies have it too
    const auto tables = filesBelow("colours").filter(QRegularExpression("^tables/.*\\.csv$"));
    QCOMPARE(tables.size(), 1);
    QVERIFY2(tables.front().contains("reds_-2"), tables.front().toUtf8());
    const auto copy = openFrame(path("colours/copies/HR_0416.dng"));
    QVERIFY(copy && std::abs((*copy->fileColor.asShotNeutral)[2] - 1.0 / 3) < 1e-4);
    // and so does each machine that renders a part of it
    const auto listed = run({"deliver", "day", "--plan", "colours.json", "--list-commands", "-o", "listed"});
    QCOMPARE(listed.out.count("--form "), 3);
    QCOMPARE(run({"render", testing::kProductFrame, "--job", "day", "--plan", "colours.json", "--form",
                  "people", "-o", "by-form"})
                 .status,
             0);
    QVERIFY(content("by-form/HR_0416.png") == people);
    QCOMPARE(run({"render", testing::kProductFrame, "--job", "day", "--plan", "colours.json", "--form",
                  "tables", "-o", "by-form"})
                 .status,
             2);
}

/// Each folder has its own receipts; crops are of one frame each, and machines make them alike.
void DeliveryTest::aFormHasItsOwnFolderAndCrops()
{
    const QByteArray plan = R"({"schema": "wavechroma.delivery/1",
        "frames": ["frames/HR_0416.dng", "frames/HR_0417.dng"], "names": "{frame}", "forms": [
        {"name": "cut", "format": "png16", "crop": {"frames/HR_0416.dng": [100, 60, 300, 200, -2.5]}},
        {"name": "tables", "kind": "profile", "files": ["csv"], "folder": "to-studio"}]})";
    write("own.json", plan);
    const auto ran = run({"deliver", "day", "--plan", "own.json", "-o", "own"});
    QVERIFY2(ran.status == 0, ran.err);
    QCOMPARE(filesBelow("own").filter(".png").size(), 2);
    QCOMPARE(filesBelow("day/to-studio").size(), 2); // below the job's folder: a table, and its receipts
    const auto cut = openFrame(path("own/HR_0416.png")), whole = openFrame(path("own/HR_0417.png"));
    QVERIFY(cut && cut->width == 300 && cut->height == 200 && whole && whole->width > 500);
    const auto listed = run({"deliver", "day", "--plan", "own.json", "--list-commands", "-o", "own-listed"});
    QCOMPARE(listed.out.count("--crop 100,60,300,200,-2.5"), 1);
    QProcess shell;
    shell.setWorkingDirectory(m_folder.path());
    shell.start("/bin/sh", {"-c", listed.out});
    QVERIFY(shell.waitForFinished(120000) && shell.exitCode() == 0);
    QCOMPARE(content("own-listed/HR_0416.png"), content("own/HR_0416.png"));
    // a plan whose forms all have folders needs no other; a crop that leaves the picture stops it
    write("all-own.json", QByteArray(plan).replace("\"format\"", "\"folder\": \"cut-here\", \"format\""));
    QCOMPARE(run({"deliver", "day", "--plan", "all-own.json"}).status, 0);
    QVERIFY(QFile::exists(at("day/cut-here/HR_0416.png")));
    QCOMPARE(run({"deliver", "day", "--plan", "own.json"}).status, 2);
    write("outside.json", QByteArray(plan).replace("-2.5", "-44"));
    QCOMPARE(run({"deliver", "day", "--plan", "outside.json", "-o", "outside"}).status, 2);
    QCOMPARE(
        run({"render", testing::kProductFrame, "--job", "day", "--crop", "0,0,99999,20", "-o", "outside"})
            .status,
        2);
    QCOMPARE(
        run({"render", testing::kProductFrame, "--job", "day", "--crop", "0,0,20", "-o", "outside"}).status,
        2);
}

void DeliveryTest::whatChangedSinceIsStale()
{
    const QByteArray plan =
        R"({"schema": "wavechroma.delivery/1", "frames": ["frames/HR_0416.dng"], "forms": [
        {"name": "tables", "kind": "profile", "files": ["csv", "cube"]}]})";
    write("kept.json", plan);
    const auto stale = [&](const char *name) {
        QStringList out;
        const auto dry = run({"deliver", "day", "--plan", name, "--dry-run", "-o", "kept"});
        for (const auto &receipt : QJsonDocument::fromJson(dry.out).object()["receipts"].toArray())
            if (receipt.toObject()["stale"].toBool())
                out << receipt.toObject()["path"].toString();
        return out;
    };
    QCOMPARE(run({"deliver", "day", "--plan", "kept.json", "-o", "kept"}).status, 0);
    QCOMPARE(stale("kept.json"), QStringList());
    // the same table of another calibration: its name may be another, too
    write("changed.json", QByteArray(plan).replace("\"kind\"", "\"lean\": {\"reds\": -1}, \"kind\""));
    const auto outlived = stale("changed.json");
    QCOMPARE(outlived.size(), 2);
    for (const auto &file : outlived)
        QVERIFY(QFile::exists(at("kept/" + file)));
    write("wide.json", QByteArray(plan).replace("\"kind\"", "\"space\": \"romm\", \"kind\""));
    QCOMPARE(stale("wide.json").size(), 2); // of the same names: written anew, since they are ours
    QCOMPARE(run({"deliver", "day", "--plan", "wide.json", "-o", "kept"}).status, 0);
    QCOMPARE(stale("wide.json"), QStringList());
    // one that somebody edited since is not ours any more
    const auto cube = filesBelow("kept").filter(".cube").front();
    write("kept/" + cube, content("kept/" + cube) + "# mine\n");
    QCOMPARE(run({"deliver", "day", "--plan", "kept.json", "-o", "kept"}).status, 3);
    QVERIFY(content("kept/" + cube).endsWith("# mine\n"));
}

void DeliveryTest::lightsThatCannotBeJoinedLeaveTheRestAlone()
{
    const std::pair<const char *, const char *> charts[] = {{"one", "HR_0413.dng"}, {"two", "HR_0414.dng"}};
    for (const auto &[setup, file] : charts) { // of one light
        QVERIFY(std::filesystem::create_directories(path(QString("alike/") + setup)));
        std::filesystem::copy(path(QString("day/frames/") + file),
                              path(QString("alike/") + setup + "/" + file));
        QCOMPARE(run({"take", "job-alike", QString("alike/") + setup, "--setup", setup}).status, 0);
    }
    const auto frame = [&](const char *name) { return at(QString("alike/") + name).toUtf8(); };
    write("alike.json", R"({"schema": "wavechroma.delivery/1", "names": "{form}/{setup}", "frames": [")" +
                            frame("one/HR_0413.dng") + R"(", ")" + frame("two/HR_0414.dng") +
                            R"("], "forms": [{"name": "all", "kind": "profile", "files": ["dcp", "cube"],
        "lights": "joined"}, {"name": "evidence", "kind": "values"}]})");
    QCOMPARE(run({"deliver", "job-alike", "--plan", "alike.json", "-o", "alike-out"}).status, 3);
    QCOMPARE(leftOutOf("alike-out/delivery.json"), QStringList{frame("one/HR_0413.dng") + " cannot-join"});
    const auto files = filesBelow("alike-out");
    QVERIFY(files.filter(".dcp").isEmpty());
    QCOMPARE(files.filter(".cube").size(), 2); // of one light each
    QCOMPARE(files.filter(".csv").size(), 2);
}

void DeliveryTest::whatIsThereIsNotWrittenAgain()
{
    const auto inode = [&](const QString &name) {
        struct stat info
        {
        };
        ::stat(at(name).toUtf8().constData(), &info);
        return info.st_ino;
    };
    QCOMPARE(run({"deliver", "day", "-o", "out"}).status, 0);
    const auto whole = hashOf("out/HR_0417.tif"), gone = hashOf("out/HR_0418.tif");
    const auto kept = inode("out/HR_0416.tif");
    QVERIFY(QFile::remove(at("out/HR_0417.tif")));
    QVERIFY(QFile::remove(at("out/HR_0418.tif")));
    const auto ran = run({"deliver", "day", "-o", "out"});
    QVERIFY2(ran.status == 0, ran.err);
    QCOMPARE(hashOf("out/HR_0417.tif"), whole);
    QCOMPARE(hashOf("out/HR_0418.tif"), gone);
    QCOMPARE(inode("out/HR_0416.tif"), kept);
    // a form that changed is made anew
    write("wide.json",
          R"({"schema": "wavechroma.delivery/1", "forms": [{"name": "pictures", "space": "romm"}]})");
    QCOMPARE(run({"deliver", "day", "--plan", "wide.json", "-o", "out"}).status, 0);
    QVERIFY(hashOf("out/HR_0416.tif") != json("again/delivery.json")
                                             .object()["receipts"]
                                             .toArray()[0]
                                             .toObject()["sha256"]
                                             .toString()
                                             .toLatin1());
}

void DeliveryTest::nothingOfSomebodyElsesIsReplaced()
{
    QVERIFY(QDir(m_folder.path()).mkdir("theirs"));
    write("theirs/HR_0418.tif", "a retoucher's afternoon");
    for (int round = 0; round < 2; ++round) { // the second call is no invitation either
        const auto ran = run({"deliver", "day", "-o", "theirs"});
        QCOMPARE(ran.status, 3);
        QVERIFY2(ran.err.contains("HR_0418.tif"), ran.err);
        QCOMPARE(content("theirs/HR_0418.tif"), QByteArray("a retoucher's afternoon"));
        QVERIFY(QFile::exists(at("theirs/HR_0416.tif"))); // the others are written
        QCOMPARE(leftOutOf("theirs/delivery.json"), QStringList{"HR_0418.tif in-the-way"});
    }
    QCOMPARE(run({"deliver", "day", "--replace", "-o", "theirs"}).status, 0);
    QCOMPARE(filesBelow("theirs"), filesBelow("again"));
    QCOMPARE(hashOf("theirs/HR_0418.tif"), hashOf("again/HR_0418.tif"));
}

/// A receipt is no right to a file for ever: only while its bytes are there.
void DeliveryTest::aRetouchedPictureIsKept()
{
    QCOMPARE(run({"deliver", "day", "-o", "retouched"}).status, 0);
    QFile file(at("retouched/HR_0417.tif"));
    QVERIFY(file.open(QIODevice::ReadWrite) && file.seek(file.size() / 2) && file.write("retouched") == 9);
    file.close();
    const auto theirs = content("retouched/HR_0417.tif");
    write("wide.json",
          R"({"schema": "wavechroma.delivery/1", "forms": [{"name": "pictures", "space": "romm"}]})");
    for (const auto &plan : {QStringList(), QStringList{"--plan", "wide.json"}}) {
        const auto ran = run(QStringList{"deliver", "day", "-o", "retouched"} + plan);
        QCOMPARE(ran.status, 3);
        QVERIFY2(ran.err.contains("HR_0417.tif"), ran.err);
        QVERIFY(content("retouched/HR_0417.tif") == theirs);
        QCOMPARE(leftOutOf("retouched/delivery.json"), QStringList{"HR_0417.tif in-the-way"});
        const auto dry = run(QStringList{"deliver", "day", "--dry-run", "-o", "retouched"} + plan);
        QCOMPARE(dry.status, 3);
    }
    QCOMPARE(run({"deliver", "day", "--replace", "--plan", "wide.json", "-o", "retouched"}).status, 0);
    QVERIFY(content("retouched/HR_0417.tif") != theirs);
}

/// Files of the user's that come, change or go at any moment: none is lost, whatever the delivery does.
void DeliveryTest::aFolderChangedMeanwhileKeepsWhatIsTheUsers()
{
    const auto source = *PictureSource::open({{}, path("day"), {}, {}});
    auto wide = ordinaryDelivery();
    wide.forms[0].picture.space = RgbSpaceId::Romm;
    const auto names = filesBelow("again").filter(".tif");
    sim::Random random(77);
    for (int round = 0; round < 3; ++round) {
        std::map<QString, QByteArray> theirs;
        QCOMPARE(run({"deliver", "day", "-o", "busy"}).status, 0);
        const int when = random.below(20);
        const auto name = names[random.below(int(names.size()))];
        const int what = round; // removed, written over, or put in its place
        int said = 0;
        Progress progress;
        progress.report = [&](double, const words::Phrase &) {
            if (said++ != when)
                return;
            const auto file = at("busy/" + name);
            if (what == 0)
                QFile::remove(file);
            if (what > 0) { // in place, or as a new file, as programs save
                const auto bytes = QByteArray("retouched ") + QByteArray::number(round);
                if (what == 2)
                    QFile::remove(file);
                write("busy/" + name.toUtf8(), bytes);
                theirs[name] = bytes;
            }
        };
        const auto done = deliver(source, wide, path("busy"), {}, progress);
        QVERIFY2(bool(done), done ? "" : done.error().message.c_str());
        for (const auto &[file, bytes] : theirs)
            QVERIFY2(content("busy/" + file) == bytes, qPrintable(QString("%1 %2").arg(round).arg(file)));
        // what has a receipt is there with its bytes, unless somebody changed it afterwards
        for (const auto &receipt : done->receipts) {
            const auto file = QString::fromStdString(receipt.path);
            if (!theirs.count(file) && QFile::exists(at("busy/" + file)))
                QCOMPARE(hashOf("busy/" + file), QByteArray::fromStdString(receipt.sha256));
        }
        std::filesystem::remove_all(path("busy"));
    }
}

/// One changed letter of the calibration that serves: its frames are named, the other stations' go out.
void DeliveryTest::aDamagedDocumentLeavesItsFramesOut()
{
    std::filesystem::copy(path("day"), path("letter"), std::filesystem::copy_options::recursive);
    QString chart; // that serves the first product
    const auto day = QJsonDocument::fromJson(run({"day", "letter"}).out).object();
    for (const auto &station : day["stations"].toArray())
        for (const auto &frame : station.toObject()["frames"].toArray())
            if (chart.isEmpty() && frame.toObject()["part"] == "product")
                chart = frame.toObject()["served_by"].toObject()["chart"].toString();
    QVERIFY(!chart.isEmpty());
    QProcess python;
    python.start("python3", {"-c", R"py(
import sqlite3, sys
job = sqlite3.connect(sys.argv[1])
job.execute("UPDATE calibration SET document = replace(document, 'matrix', 'matrjx') "
            "WHERE frame = (SELECT id FROM frame WHERE path = ?)", (sys.argv[2],))
job.commit())py",
                             at("letter/job.sqlite"), chart});
    QVERIFY2(python.waitForFinished() && python.exitCode() == 0, python.readAllStandardError());
    write("all.json", R"({"schema": "wavechroma.delivery/1", "forms": [{"name": "pictures"},
        {"name": "for others", "kind": "profile"}, {"name": "presets", "kind": "balance"}]})");
    const auto ran = run({"deliver", "letter", "--plan", "all.json", "-o", "letters"});
    QCOMPARE(ran.status, 3);
    const auto left = leftOutOf("letters/delivery.json");
    QVERIFY2(!left.isEmpty(), ran.err);
    for (const auto &one : left)
        QVERIFY2(one.endsWith(" unreadable"), qPrintable(left.join(", ")));
    QVERIFY(!filesBelow("letters").filter(".tif").isEmpty()); // the rest goes on
    for (const auto &name : filesBelow("letters").filter(".balance.json"))
        QVERIFY(content("letters/" + name).contains("calibration") ||
                json(("letters/" + name).toUtf8()).isObject());
    const auto frame = left.front().section(' ', 0, 0);
    const auto rendered = run({"render", "letter/" + frame, "--job", "letter", "-o", "one-letter"});
    QCOMPARE(rendered.status, 2);
    QVERIFY2(rendered.err.contains("damaged") && rendered.err.contains(".dng"), rendered.err);
    const auto shown = run({"day", "letter"});
    QCOMPARE(shown.status, 0); // the rest of the day is there
    QVERIFY2(shown.err.contains("the calibration of " + chart.toUtf8()), shown.err);
}

/// Other bytes under a path that the job has: one frame that changed, with its new reading.
void DeliveryTest::aFileTakenAgainIsTheSameFrame()
{
    QVERIFY(std::filesystem::create_directory(path("twice")));
    std::filesystem::copy(path(testing::kGoodFrame), path("twice/a.dng"));
    QCOMPARE(run({"take", "job-twice", "twice"}).status, 0);
    const auto before = hashOf("twice/a.dng");
    std::filesystem::copy_file(path(testing::kProductFrame), path("twice/a.dng"),
                               std::filesystem::copy_options::overwrite_existing);
    QCOMPARE(run({"take", "job-twice", "twice"}).status, 0);
    QList<QJsonObject> frames;
    const auto day = QJsonDocument::fromJson(run({"day", "job-twice"}).out).object();
    for (const auto &station : day["stations"].toArray())
        for (const auto &frame : station.toObject()["frames"].toArray())
            frames << frame.toObject();
    QCOMPARE(frames.size(), 1);
    QCOMPARE(frames[0]["sha256"].toString().toLatin1(), hashOf("twice/a.dng"));
    QVERIFY(hashOf("twice/a.dng") != before);
    QCOMPARE(frames[0]["part"].toString(), QString("product"));
}

/// A receipt names the hash of the very file that was rendered.
void DeliveryTest::aSourceThatWasReplacedIsTold()
{
    std::filesystem::copy(path("day"), path("moved"), std::filesystem::copy_options::recursive);
    QCOMPARE(run({"deliver", "moved", "-o", "before"}).status, 0);
    std::filesystem::copy_file(path("moved/frames/HR_0417.dng"), path("moved/frames/HR_0416.dng"),
                               std::filesystem::copy_options::overwrite_existing);
    for (const char *folder : {"before", "after"}) { // delivered before, and not yet
        const auto ran = run({"deliver", "moved", "-o", folder});
        QCOMPARE(ran.status, 3);
        QVERIFY2(ran.err.contains("HR_0416.dng") && ran.err.contains("not the one that was added"), ran.err);
    }
    QVERIFY(!QFile::exists(at("after/HR_0416.tif")) && QFile::exists(at("after/HR_0417.tif")));
    const auto rendered = run({"render", "moved/frames/HR_0416.dng", "--job", "moved", "-o", "one"});
    QCOMPARE(rendered.status, 0); // those bytes are those of another frame of the job: served as that one
    std::ofstream(path("moved/frames/HR_0416.dng"), std::ios::app) << "x";
    const auto none = run({"render", "moved/frames/HR_0416.dng", "--job", "moved", "-o", "none"});
    QCOMPARE(none.status, 2);
    QVERIFY2(none.err.contains("HR_0416.dng") && none.err.contains("not the file that was added"), none.err);
    const auto probed = run({"probe", "moved/frames/HR_0416.dng", "--job", "moved", "--at", "a,100,100,5"});
    QCOMPARE(probed.status, 2);
}

void DeliveryTest::framesThatNothingServesAreNamed()
{
    const auto ran = run({"deliver", "job-alone", "-o", "alone-out"});
    QCOMPARE(ran.status, 3);
    const auto leftOut = json("alone-out/delivery.json").object()["left_out"].toArray();
    QCOMPARE(leftOut.size(), 1);
    QCOMPARE(leftOut[0].toObject()["why"].toString(), QString("no-chart"));
    testing::layDemoDay(path("holes"));
    QVERIFY(QFile::remove(at("holes/frames/HR_0417.dng")));
    QCOMPARE(run({"deliver", "holes", "-o", "holes-out"}).status, 3);
    QCOMPARE(json("holes-out/delivery.json").object()["left_out"].toArray()[0].toObject()["why"].toString(),
             QString("missing"));
    QVERIFY(QFile::exists(at("holes-out/HR_0418.tif"))); // the others leave
}

/// Those that were delivered.
QStringList DeliveryTest::picturesBelow(const QString &folder) const
{
    auto out = filesBelow(folder);
    out.removeIf([](const QString &file) { return file.startsWith('.') || file == "delivery.json"; });
    return out;
}

/// Whatever moment it is killed at, all that is there is whole and has its receipt, and the next call ends up
/// where an undisturbed one does.
void DeliveryTest::killedAtAnyMomentItGoesOn()
{
    std::mt19937 random(5);
    QStringList fates;
    for (int round = 0; round < 2; ++round) {
        const auto folder = QString("killed-%1").arg(round);
        if (round % 2 == 1) // there are pictures in another form, which are replaced
            QCOMPARE(run({"deliver", "day", "--plan", "wide.json", "-o", folder}).status, 0);
        for (int kill = 0; kill < 4; ++kill) {
            QProcess process;
            process.setWorkingDirectory(m_folder.path());
            process.start(qEnvironmentVariable("WAVECHROMA_CLI"), {"deliver", "day", "-o", folder});
            QVERIFY(process.waitForStarted());
            const auto times = [&] {
                QList<QDateTime> out;
                for (const auto &file : picturesBelow(folder))
                    out << QFileInfo(at(folder + '/' + file)).lastModified();
                return out;
            };
            const auto before = times();
            if (kill % 2 == 0) {
                QTest::qWait(int(random() % 400));
            } else { // at the very moment that another picture takes its place
                QElapsedTimer since;
                for (since.start(); since.elapsed() < 3000 && times() == before;)
                    if (process.waitForFinished(0))
                        break;
            }
            ::kill(pid_t(process.processId()), SIGKILL);
            process.waitForFinished();
            auto receipts = json(folder + "/delivery.json").object()["receipts"].toArray();
            for (const auto &line : content(folder + "/.delivery-growing/receipts").split('\n'))
                if (const auto receipt = QJsonDocument::fromJson(line); receipt.isObject())
                    receipts << receipt.object();
            QMap<QString, QStringList> known;
            for (const auto &receipt : receipts)
                for (const char *key : {"sha256", "replaces"})
                    known[receipt.toObject()["path"].toString()] << receipt.toObject()[key].toString();
            for (const auto &file : picturesBelow(folder)) {
                QVERIFY2(known.contains(file), qPrintable(file));
                QVERIFY2(known[file].contains(hashOf(folder + '/' + file)), qPrintable(file));
            }
            fates << QString::number(picturesBelow(folder).size());
        }
        QCOMPARE(run({"deliver", "day", "-o", folder}).status, 0);
        QCOMPARE(filesBelow(folder), filesBelow("again"));
        for (const auto &file : filesBelow(folder))
            if (file != "delivery.json")
                QCOMPARE(hashOf(folder + '/' + file), hashOf("again/" + file));
    }
    QVERIFY2(fates.contains("1") || fates.contains("2") || fates.contains("3"), // killed on the way, too
             qPrintable(fates.join(' ')));
}

void DeliveryTest::aFullDiskIsToldAndLeftBehind()
{
    // a limit on what a file may grow to stands for the disk
    QProcess process;
    process.setWorkingDirectory(m_folder.path());
    process.start("/bin/bash", {"-c", "ulimit -f 3000; exec \"$WAVECHROMA_CLI\" deliver day -o full"});
    QVERIFY(process.waitForFinished(60000));
    const auto said = process.readAllStandardError();
    QCOMPARE(process.exitStatus(), QProcess::NormalExit);
    QCOMPARE(process.exitCode(), 2);
    QVERIFY2(said.contains("full/HR_0416.tif: "), said); // its own name, not the one that it grows under
    const auto whole = QStringList{"MB_0052.tif", "MB_0053.tif"}; // those that are small enough
    for (const auto &file : filesBelow("full"))
        QVERIFY2(file.startsWith('.') || file == "delivery.json" || whole.contains(file), qPrintable(file));
    QCOMPARE(run({"deliver", "day", "-o", "full"}).status, 0);
    QCOMPARE(filesBelow("full"), filesBelow("again"));
}

/// What was written went with it: nothing may claim to be whole where it was.
void DeliveryTest::aFolderThatIsTakenAwayIsToldAtOnce()
{
    const auto source = *PictureSource::open({{}, path("day"), {}, {}});
    for (int when = 1; when < 24; when += 6) {
        int said = 0;
        Progress progress;
        progress.report = [&](double, const words::Phrase &) {
            if (++said == when)
                std::filesystem::rename(path("away"), path("elsewhere"));
        };
        const auto done = deliver(source, ordinaryDelivery(), path("away"), {}, progress);
        QVERIFY(said >= when);
        QVERIFY2(!done, qPrintable(QString::number(when)));
        QVERIFY2(done.error().message.find("away") != std::string::npos, done.error().message.c_str());
        QCOMPARE(filesBelow("away"), QStringList());
        QCOMPARE(run({"deliver", "day", "-o", "elsewhere"}).status, 0); // goes on where it lies now
        QCOMPARE(filesBelow("elsewhere"), filesBelow("again"));
        std::filesystem::remove_all(path("elsewhere"));
        std::filesystem::remove_all(path("away"));
    }
}

void DeliveryTest::manyMachinesMakeTheSameBytes()
{
    const auto listed = run({"deliver", "day", "--list-commands", "-o", "spread"});
    QCOMPARE(listed.status, 0);
    QCOMPARE(listed.out.count('\n'), 8);
    QVERIFY(!QFile::exists(at("spread")));
    write("commands", listed.out);
    QProcess process;
    process.setWorkingDirectory(m_folder.path());
    auto environment = QProcessEnvironment::systemEnvironment(); // in whose path the program is not
    environment.insert("HOME", m_folder.path());
    process.setProcessEnvironment(environment);
    process.setStandardInputFile(at("commands"));
    process.start("parallel", {"-j2"});
    QVERIFY(process.waitForFinished(120000));
    QVERIFY2(process.exitCode() == 0, process.readAllStandardError());
    for (const auto &file : filesBelow("again"))
        if (file != "delivery.json")
            QCOMPARE(content("spread/" + file), content("again/" + file));
    // and the delivery knows them for its own
    const auto inode = QFileInfo(at("spread/HR_0416.tif")).lastModified();
    QCOMPARE(run({"deliver", "day", "-o", "spread"}).status, 0);
    QCOMPARE(json("spread/delivery.json").object()["receipts"].toArray().size(), 8);
    QCOMPARE(QFileInfo(at("spread/HR_0416.tif")).lastModified(), inode);
}

/// What lamps they are is said, or asked for where it decides the level; words about them are only shown.
void DeliveryTest::theKindOfLampIsGivenNotGuessed()
{
    QVERIFY(QDir(m_folder.path()).mkpath("lit"));
    QVERIFY(QFile::copy(at(testing::kGoodFrame), at("lit/a.dng")));
    QVERIFY(QFile::copy(at(testing::kProductFrame), at("lit/b.dng")));
    QProcess exiftool; // a product shot four times as long as its chart
    exiftool.start("exiftool", {"-q", "-overwrite_original", "-ExposureTime=1/25", at("lit/b.dng")});
    QVERIFY(exiftool.waitForFinished() && exiftool.exitCode() == 0);
    QCOMPARE(run({"take", "job-lit", "lit", "--lamp", "two strobes"}).status, 2);
    QCOMPARE(run({"take", "job-lit", "lit"}).status, 0);
    QCOMPARE(run({"take", "job-flash", "lit", "--lamp", "strobe"}).status, 0);
    QCOMPARE(run({"take", "job-led", "lit", "--lamp", "led", "--setup", "Panel"}).status, 0);
    const auto lampOf = [&](const char *job) {
        return QJsonDocument::fromJson(run({"day", job}).out)
            .object()["setups"]
            .toArray()[0]
            .toObject()["lamp_kind"]
            .toString();
    };
    QCOMPARE(lampOf("job-lit"), QString("unknown"));
    QCOMPARE(lampOf("job-flash"), QString("strobe"));
    QCOMPARE(lampOf("job-led"), QString("led"));
    const auto lightnessIn = [&](const char *job, bool isDoubted) {
        const auto ran = run({"probe", "lit/b.dng", "--job", job, "--at", "a,160,240,10"});
        if (ran.status != 0 || ran.err.contains("kind of lamp") != isDoubted)
            return -1.0;
        return QJsonDocument::fromJson(ran.out)
            .object()["probes"]
            .toArray()[0]
            .toObject()["lab"]
            .toArray()[0]
            .toDouble();
    };
    const double unknown = lightnessIn("job-lit", true), flash = lightnessIn("job-flash", false),
                 led = lightnessIn("job-led", false);
    QCOMPARE(unknown, led);
    const auto light = [](double lightness) { return xyzFromLab({lightness, 0, 0}).y; };
    QVERIFY(led > 0 && std::abs(light(flash) / light(led) - 4) < 0.01); // two stops
    write("level.json", R"({"schema": "wavechroma.delivery/1", "forms": [{"name": "a", "kind": "picture",
                        "format": "jpeg", "space": "srgb", "level": "chart"}]})");
    for (const auto &[job, isDoubted] : {std::pair("job-lit", true), std::pair("job-flash", false)}) {
        const auto plan = QJsonDocument::fromJson(
            run({"deliver", job, "--plan", "level.json", "--dry-run", "-o", "lit-out"}).out);
        const auto doubts = plan.object()["receipts"].toArray()[0].toObject()["doubts"].toArray();
        QCOMPARE(doubts.contains("lamp-unknown"), isDoubted);
    }
}

/// A name may hold whatever a file system takes.
void DeliveryTest::commandsHoldAnyName()
{
    QVERIFY(QDir(m_folder.path()).mkpath("odd"));
    QVERIFY(QFile::copy(at(testing::kGoodFrame), at("odd/a.dng")));
    QVERIFY(QFile::copy(at(testing::kProductFrame), at("odd/b '$(x)`\n\\;.dng")));
    QCOMPARE(run({"take", "job-odd", "odd"}).status, 0);
    QCOMPARE(run({"deliver", "job-odd", "-o", "odd-out"}).status, 0);
    const auto listed = run({"deliver", "job-odd", "--list-commands", "-o", "odd-spread"});
    QCOMPARE(listed.out.count('\n'), 1);
    write("commands", listed.out);
    QProcess shell;
    shell.setWorkingDirectory(m_folder.path());
    shell.start("sh", {"-c", "PATH=$(dirname \"$WAVECHROMA_CLI\"):$PATH; . ./commands"});
    QVERIFY(shell.waitForFinished(60000));
    QVERIFY2(shell.exitCode() == 0, shell.readAllStandardError());
    const auto pictures = picturesBelow("odd-out");
    QCOMPARE(pictures.size(), 1);
    QCOMPARE(content("odd-spread/" + pictures[0]), content("odd-out/" + pictures[0]));
}

void DeliveryTest::brokenPlansAreRefused_data()
{
    QTest::addColumn<QByteArray>("plan");
    QTest::addColumn<QString>("said");
    const auto of = [](const char *fields) {
        return QByteArray(R"({"schema": "wavechroma.delivery/1", )") + fields + "}";
    };
    QTest::newRow("no such place") << of(R"("names": "{client}")") << "{client}";
    QTest::newRow("leads away") << of(R"("names": "../{frame}")") << "below";
    QTest::newRow("no such format") << of(R"("forms": [{"name": "a", "format": "webp"}])") << "format";
    QTest::newRow("no such kind") << of(R"("forms": [{"name": "a", "kind": "film"}])") << "kind";
    QTest::newRow("two of a name") << of(R"("forms": [{"name": "a"}, {"name": "a"}])") << "two called a";
    QTest::newRow("no name") << of(R"("forms": [{"format": "jpeg"}])") << "name";
    QTest::newRow("none of the job's") << of(R"("frames": ["frames/XX_1.dng"])") << "XX_1.dng";
    QTest::newRow("quality") << of(R"("forms": [{"name": "a", "quality": 900}])") << "quality";
    QTest::newRow("no such part") << of(R"("forms": [{"name": "a", "colour": "film"}])") << "colour";
    QTest::newRow("a step too many") << of(R"("forms": [{"name": "a", "lean": {"reds": 5}}])") << "reds";
    QTest::newRow("no such table") << of(R"("forms": [{"name": "a", "lean": {"sectors": "none.csv"}}])")
                                   << "none.csv";
    QTest::newRow("no such preset") << of(R"("forms": [{"name": "a", "balance": "none.json"}])")
                                    << "none.json";
    QTest::newRow("no multiplier") << of(R"("forms": [{"name": "a", "balance": {"multipliers": [1, 1, 0]}}])")
                                   << "multiplier";
    QTest::newRow("values") << of(R"("forms": [{"name": "a", "kind": "values", "colour": "matrix"}])")
                            << "no colour of its own";
    QTest::newRow("newer") << QByteArray(R"({"schema": "wavechroma.delivery/2"})") << "delivery/2";
}

void DeliveryTest::brokenPlansAreRefused()
{
    QFETCH(QByteArray, plan);
    QFETCH(QString, said);
    write("broken.json", plan);
    const auto ran = run({"deliver", "day", "--plan", "broken.json", "-o", "never"});
    QCOMPARE(ran.status, 2);
    QVERIFY2(ran.err.contains(said.toUtf8()), ran.err);
    QVERIFY(!QFile::exists(at("never")));
}

void DeliveryTest::documentsFollowTheirSchemas_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QString>("schema");
    QTest::newRow("probes") << QStringList{"probe", testing::kProductFrame, "--job", "day"} << "probes";
    QTest::newRow("a probe outside") << QStringList{"probe", testing::kProductFrame, "--job", "day",
                                                    "--at",  "edge,5,240,10"}
                                     << "probes";
    QTest::newRow("a dry run") << QStringList{"deliver", "day", "--dry-run", "-o", "out"} << "delivery";
    QTest::newRow("left out") << QStringList{"deliver", "job-alone", "--dry-run", "-o", "out"} << "delivery";
    QTest::newRow("forms of their own colour")
        << QStringList{"deliver", "day", "--plan", "colours.json", "--dry-run", "-o", "out"} << "delivery";
    QTest::newRow("receipts") << QStringList() << "delivery";
}

void DeliveryTest::documentsFollowTheirSchemas()
{
    QFETCH(QStringList, arguments);
    QFETCH(QString, schema);
    write("document.json", arguments.isEmpty() ? content("again/delivery.json") : run(arguments).out);
    const auto source = qEnvironmentVariable("WAVECHROMA_SOURCE_DIR");
    QProcess process;
    process.start("/usr/bin/python3",
                  {source + "/tests/support/validate.py", source + "/docs/schemas/" + schema + ".schema.json",
                   at("document.json")});
    QVERIFY(process.waitForFinished(30000));
    QVERIFY2(process.exitCode() == 0, process.readAllStandardOutput() + process.readAllStandardError());
}

static const testing::Registered<DeliveryTest> registeredDeliveryTest("delivery_test");
#include "delivery_test.moc"
