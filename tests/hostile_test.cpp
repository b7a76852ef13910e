#include "core/formats/documents.h"
#include "core/raw/open_frame.h"
#include "core/tasks/read_task.h"
#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"

#include <QDir>
#include <QProcess>
#include <QTest>
#include <QtEndian>
#include <random>
#include <sqlite3.h>
#include <sys/stat.h>
#include <unistd.h>

using namespace wavechroma;

/// Files made to break programs, files that change while they are read, damaged jobs: an answer each time.
class HostileTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void initTestCase();
    void brokenFilesAreAnswered_data();
    void brokenFilesAreAnswered();
    void filtersOfOtherColoursAreRefused_data();
    void filtersOfOtherColoursAreRefused();
    void aFileCutShortWhileItIsReadIsAnswered();
    void aFrameCutShortAfterItWasOpenedIsTold();
    void documentsOfAnyDepthAreAnswered_data();
    void documentsOfAnyDepthAreAnswered();
    void valuesThatNoCameraSeesAreRefused();
    void namesThatCannotBePrintedAreRefused_data();
    void namesThatCannotBePrintedAreRefused();
    void escapesInNamesOfFilesAreShown();
    void namesThatAreNotUtf8AreKept();
    void namesCannotBecomeFormulas();
    void aPipeThatNobodyWritesIntoIsTold();
    void damagedJobsAreRefused_data();
    void damagedJobsAreRefused();
    void aJobWithoutAByteIsNone();
    void standardStreamsMayBeClosed();
    void fewFilesOrLittleDiskIsTold_data();
    void fewFilesOrLittleDiskIsTold();
    void tablesOfAnySizeAreWrittenWholeOrNot();

private:
    [[nodiscard]] static QString broken(const QString &name)
    {
        return qEnvironmentVariable("WAVECHROMA_SOURCE_DIR") + "/tests/data/broken/" + name;
    }
    /// A call within a gigabyte and a half of memory (a sanitizer takes more for itself) and ten seconds.
    Ran bounded(const QStringList &arguments) const
    {
        QProcess process;
        process.setWorkingDirectory(m_folder.path());
#ifdef WAVECHROMA_SANITIZE
        const QString limit;
#else
        const QString limit = "ulimit -v 1500000; ";
#endif
        process.start("/bin/bash",
                      QStringList{"-c", limit + "exec timeout 100 \"$WAVECHROMA_CLI\" \"$@\"", "bash"} +
                          arguments);
        const bool ended = process.waitForFinished(120000);
        return {ended && process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
                process.readAllStandardOutput(), process.readAllStandardError()};
    }
};

void HostileTest::initTestCase()
{
    testing::layDemoDay(at("day").toStdString());
    QCOMPARE(run({"read", "day/frames/HR_0414.dng", "-o", "reading.json"}).status, 0);
    QCOMPARE(run({"fit", "reading.json", "--colour", "field", "-o", "fitted.json"}).status, 0);
}

void HostileTest::brokenFilesAreAnswered_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<int>("status");
    QTest::addColumn<QString>("said");
    const auto fit = [](const char *file) {
        return QStringList{"fit", "reading.json", "--reference", broken(file)};
    };
    const auto read = [](const char *file) { return QStringList{"read", broken(file)}; };
    QTest::newRow("CGATS without a format")
        << fit("cgats-no-data-format.txt") << 2 << "without data or their format";
    QTest::newRow("CGATS that reads another file") << fit("cgats-include.txt") << 2 << "another file";
    QTest::newRow("CGATS with a column a mile long")
        << fit("cgats-long-spectral-column.txt") << 2 << "wavelengths";
    QTest::newRow("linear, black is white") << read("linear-black-is-white.dng") << 2 << "black level";
    QTest::newRow("a tag that is none") << read("dng-odd-tag.dng") << 3 << "";
    QTest::newRow("a JPEG of a thousand scans")
        << read("jpeg-progressive-bomb.jpg") << 2 << "jpeg-progressive-bomb.jpg";
    QTest::newRow("a PNG that looks like a film") // the metadata library's film reader went in circles
        << read("png-that-looks-like-a-film.png") << 2 << "png-that-looks-like-a-film.png";
    QTest::newRow("a TIFF that claims 400 megapixels")
        << read("tiff-claims-20000.tif") << 2 << "its size can hold";
    QTest::newRow("a PNG that claims 361 megapixels")
        << read("png-claims-19000.png") << 2 << "its size can hold";
    QTest::newRow("a PNG with a profile of 400 megabytes")
        << read("png-profile-bomb.png") << 3 << "no profile";
    QTest::newRow("a profile that claims")
        << QStringList{"inspect", broken("profile-bomb.dcp")} << 2 << "hold more than the file";
}

void HostileTest::brokenFilesAreAnswered()
{
    QFETCH(QStringList, arguments);
    QFETCH(int, status);
    QFETCH(QString, said);
    const auto ran = bounded(arguments);
    QVERIFY2(ran.status == status, QByteArray::number(ran.status) + ran.err);
    QVERIFY2(ran.err.contains(said.toUtf8()), ran.err);
}

/// The first directory once more at the end, as one below; the first keeps a pointer where its filter was,
/// and becomes a preview.
static void moveBelow(QByteArray &frame, qsizetype filterTag)
{
    const auto at = qFromLittleEndian<quint32>(frame.constData() + 4);
    const auto size = 2 + 12 * qsizetype(qFromLittleEndian<quint16>(frame.constData() + at));
    const auto below = quint32(frame.size());
    frame += frame.mid(at, size) + QByteArray(4, '\0');
    const auto put = [&](qsizetype entry, quint16 tag, quint32 value) {
        qToLittleEndian(tag, frame.data() + entry);
        qToLittleEndian(quint16(4), frame.data() + entry + 2);
        qToLittleEndian(quint32(1), frame.data() + entry + 4);
        qToLittleEndian(value, frame.data() + entry + 8);
    };
    put(filterTag, 330, below);
    put(at + 2, 254, 1);
}

void HostileTest::filtersOfOtherColoursAreRefused_data()
{
    QTest::addColumn<QByteArray>(
        "pattern"); // DNG's CFAPattern: 0 red, 1 green, 2 blue, 3 cyan, 4 magenta, 5 yellow
    QTest::newRow("no blue") << QByteArray("\0\1\1\1", 4);
    QTest::newRow("green alone") << QByteArray("\1\1\1\1", 4);
    QTest::newRow("cyan, magenta, yellow") << QByteArray("\3\4\4\5", 4);
    QTest::newRow("in a directory below") << QByteArray("\3\4\4\5", 4);
}

void HostileTest::filtersOfOtherColoursAreRefused()
{
    QFETCH(QByteArray, pattern);
    auto frame = content("day/frames/HR_0414.dng");
    const QByteArray tag("\x8E\x82\1\0\4\0\0\0", 8);
    const auto place = frame.indexOf(tag);
    QVERIFY(place > 0);
    frame.replace(place + 8, 4, pattern);
    if (QTest::currentDataTag() == QByteArray("in a directory below"))
        moveBelow(frame, place);
    write("filter.dng", frame);
    const auto ran = bounded({"read", "filter.dng", "-o", "filter.json"});
    QVERIFY2(ran.status == 2, QByteArray::number(ran.status) + ran.err);
    QVERIFY2(ran.err.contains("filter.dng"), ran.err);
    QVERIFY(!QFile::exists(at("filter.json")));
}

void HostileTest::aFileCutShortWhileItIsReadIsAnswered()
{
    const auto whole = content("day/frames/HR_0414.dng");
    std::mt19937 random(11);
    int cut = 0;
    for (int round = 0; round < 50; ++round) {
        write("moving.dng", whole);
        QProcess process;
        process.setWorkingDirectory(m_folder.path());
        process.start(qEnvironmentVariable("WAVECHROMA_CLI"), {"read", "moving.dng", "-o", "moving.json"});
        QVERIFY(process.waitForStarted());
        ::usleep(useconds_t(random() % 60000));
        QCOMPARE(::truncate(at("moving.dng").toUtf8().constData(), off_t(random() % unsigned(whole.size()))),
                 0);
        QVERIFY(process.waitForFinished(60000));
        const auto said = process.readAllStandardError();
        QVERIFY2(process.exitStatus() == QProcess::NormalExit, said);
        QVERIFY2(process.exitCode() == 0 || process.exitCode() == 2,
                 QByteArray::number(process.exitCode()) + said);
        cut += process.exitCode() == 2;
        QCOMPARE(QFile::exists(at("moving.json")), process.exitCode() == 0);
        QFile::remove(at("moving.json"));
    }
    QVERIFY(cut > 5); // some were cut in the middle of it
}

/// Samples of an unpacked frame are the file's own bytes: what is gone must not be measured as black.
void HostileTest::aFrameCutShortAfterItWasOpenedIsTold()
{
    write("open.dng", content("day/frames/HR_0414.dng"));
    const auto file = at("open.dng").toStdString();
    const auto frame = openFrame(file);
    QVERIFY(frame);
    QVERIFY(readFrame(*frame));
    QCOMPARE(::truncate(file.c_str(), 5000), 0);
    const auto reading = readFrame(*frame);
    QVERIFY(!reading);
    QVERIFY2(reading.error().message.find("changed while it was read") != std::string::npos,
             reading.error().message.c_str());
    QVERIFY(!openFrame(file)); // and the program goes on
    const auto whole =
        content("day/frames/HR_0414.dng"); // its directories and preview come before its samples
    for (const int size : {1000, 5000, 30000, 60000, 200000, int(whole.size()) - 1000}) {
        write("cut.dng", whole.left(size));
        QVERIFY2(!openFrame(at("cut.dng").toStdString()), qPrintable(QString::number(size)));
    }
    QVERIFY(openFrame(at("day/frames/HR_0414.dng").toStdString()));
}

void HostileTest::documentsOfAnyDepthAreAnswered_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::newRow("arrays") << QByteArray(100000, '[');
    QTest::newRow("objects") << QByteArray(R"({"a":)").repeated(100000);
    QTest::newRow("closed") << QByteArray(100000, '[') + QByteArray(100000, ']');
    QTest::newRow("brackets in text do not count")
        << QByteArray(R"({"schema":"wavechroma.reading/1","image":")") + QByteArray(1000, '[') + "\"}";
}

void HostileTest::documentsOfAnyDepthAreAnswered()
{
    QFETCH(QByteArray, text);
    write("deep.json", text);
    for (const auto &arguments : {QStringList{"inspect", "deep.json"}, QStringList{"fit", "deep.json"},
                                  QStringList{"export", "deep.json", "--csv", "o.csv"},
                                  QStringList{"deliver", "day", "--plan", "deep.json", "-o", "never"}}) {
        const auto ran = bounded(arguments);
        const bool isShallow = text.size() < 5000;
        QVERIFY2(ran.status == 2 || (isShallow && ran.status == 0),
                 QByteArray::number(ran.status) + ran.err.left(300));
        QCOMPARE(ran.err.contains("nested deeper"), !isShallow);
    }
}

void HostileTest::valuesThatNoCameraSeesAreRefused()
{
    auto text = content("fitted.json");
    const auto from = text.indexOf('[', text.indexOf("\"rgb\"", text.indexOf("\"patches\":")));
    QVERIFY(from > 0);
    text.insert(from + 1, "1e308, 1e308, 1e308], \"was\": [");
    write("huge.json", text);
    const auto ran =
        bounded({"export", "huge.json", "--dcp", "huge.dcp", "--icc", "huge.icc", "--cube", "huge.cube"});
    QVERIFY2(ran.status == 2, QByteArray::number(ran.status) + ran.err);
    QVERIFY2(ran.err.contains("huge.json"), ran.err);
    QVERIFY(!QFile::exists(at("huge.dcp")));
}

void HostileTest::namesThatCannotBePrintedAreRefused_data()
{
    QTest::addColumn<QByteArray>("name");
    QTest::newRow("newline") << QByteArray(R"("two\nBEGIN_DATA\nlines")");
    QTest::newRow("nothing") << QByteArray(R"("nul\u0000name")");
    QTest::newRow("escape") << QByteArray(R"("\u001b[31mred")");
    QTest::newRow("right to left") << QByteArray(R"("\u202eabc")");
}

void HostileTest::namesThatCannotBePrintedAreRefused()
{
    QFETCH(QByteArray, name);
    auto text = content("fitted.json");
    const auto from = text.indexOf("\"name\": \"") + 8;
    text.replace(from, text.indexOf('\n', from) - 1 - from, name);
    write("named.json", text);
    const auto ran = run({"export", "named.json", "--dcp", "named.dcp", "--cube", "named.cube"});
    QVERIFY2(ran.status == 2, QByteArray::number(ran.status) + ran.err);
    QVERIFY2(ran.err.contains("cannot be printed"), ran.err);
}

void HostileTest::escapesInNamesOfFilesAreShown()
{
    const auto ran = run({"read", "no\x1b[31mframe.dng", "--chart", "classic\x1b[2J"});
    QCOMPARE(ran.status, 2);
    QVERIFY2(!ran.err.contains('\x1b') && ran.err.contains("\\x1b["), ran.err);
    const auto unknown = run({"read", "--\x1b[31m"});
    QVERIFY2(unknown.status == 2 && !unknown.err.contains('\x1b'), unknown.err);
}

/// From the frame to its picture, by a job and by documents.
void HostileTest::namesThatAreNotUtf8AreKept()
{
    const auto shell = [&](const char *commands) {
        QProcess process;
        process.setWorkingDirectory(m_folder.path());
        process.start("/bin/bash", {"-c", commands});
        const bool ended = process.waitForFinished(120000);
        return Ran{ended ? process.exitCode() : -1, process.readAllStandardOutput(),
                   process.readAllStandardError()};
    };
    const auto read = shell("mkdir odd; cp day/frames/HR_0414.dng $'odd/caf\\xe9.dng'; "
                            "cp day/frames/HR_0416.dng $'odd/\\xff.dng'; "
                            "\"$WAVECHROMA_CLI\" read $'odd/caf\\xe9.dng' -o odd.json && "
                            "\"$WAVECHROMA_CLI\" fit odd.json -o odd-fitted.json");
    QVERIFY2(read.status == 0, read.err);
    QCOMPARE(json("odd.json")["image"].toString(), QString("file:odd/caf%E9.dng"));
    const auto taken = shell("\"$WAVECHROMA_CLI\" take odd-job odd >/dev/null; "
                             "\"$WAVECHROMA_CLI\" day odd-job -o odd-day.json");
    QVERIFY2(taken.status == 0, taken.err);
    QVERIFY2(content("odd-day.json").contains("caf%E9.dng"), content("odd-day.json"));
    QVERIFY(content("odd-day.json").contains("%FF.dng"));
    for (int round = 0; round < 2; ++round) { // the second finds all there
        const auto delivered = shell("\"$WAVECHROMA_CLI\" deliver odd-job -o odd-out");
        QVERIFY2(delivered.status == 0, delivered.err);
        QCOMPARE(shell("ls odd-out").out, QByteArray("delivery.json\nxFF.tif\n"));
    }
    QCOMPARE(shell("rm -r odd").status, 0); // which the toolkit cannot remove
}

void HostileTest::namesCannotBecomeFormulas()
{
    auto text = content("fitted.json");
    const auto from = text.indexOf("\"id\": \"A1\"");
    QVERIFY(from > 0);
    text.replace(from, 10, R"("id": "=cmd|'/c calc'!A1, \"x\"")");
    write("formula.json", text);
    const auto ran = run({"export", "formula.json", "--csv", "formula.csv"});
    QVERIFY2(ran.status == 0, ran.err);
    const auto table = content("formula.csv");
    QVERIFY(!table.contains("\n=cmd"));
    QVERIFY2(table.contains(R"("'=cmd|'/c calc'!A1, ""x""")"), table);
}

void HostileTest::aPipeThatNobodyWritesIntoIsTold()
{
    QCOMPARE(::mkfifo(at("pipe").toUtf8().constData(), 0600), 0);
    for (const auto &arguments : {QStringList{"fit", "pipe"}, QStringList{"inspect", "pipe"}}) {
        const auto ran = bounded(arguments);
        QVERIFY2(ran.status == 2 && ran.err.contains("no program writes"), ran.err);
    }
    QProcess slow; // a writer may take its time
    slow.setWorkingDirectory(m_folder.path());
    slow.start("/bin/bash", {"-c", "\"$WAVECHROMA_CLI\" fit <(sleep 3; cat reading.json) -o from-pipe.json"});
    QVERIFY(slow.waitForFinished(60000));
    QVERIFY2(slow.exitCode() == 0, slow.readAllStandardError());
}

void HostileTest::damagedJobsAreRefused_data()
{
    QTest::addColumn<QString>("how");
    QTest::newRow("a version below nothing") << "PRAGMA user_version = -1";
    QTest::newRow("version nought") << "PRAGMA user_version = 0";
}

void HostileTest::damagedJobsAreRefused()
{
    QFETCH(QString, how);
    QDir(at("damaged")).removeRecursively();
    testing::layDemoDay(at("damaged").toStdString());
    sqlite3 *database = nullptr;
    QCOMPARE(sqlite3_open(at("damaged/job.sqlite").toUtf8().constData(), &database), SQLITE_OK);
    QCOMPARE(sqlite3_exec(database, how.toUtf8().constData(), nullptr, nullptr, nullptr), SQLITE_OK);
    sqlite3_close(database);
    for (const auto &arguments :
         {QStringList{"day", "damaged"}, QStringList{"take", "damaged", "day/frames/HR_0416.dng"},
          QStringList{"deliver", "damaged", "-o", "never"}}) {
        const auto ran = run(arguments);
        QVERIFY2(ran.status == 2, QByteArray::number(ran.status) + ran.err);
        QVERIFY2(ran.err.contains("no job"), ran.err);
    }
}

/// What a full disk leaves of a job that was to be made: it is none, and the next take makes it.
void HostileTest::aJobWithoutAByteIsNone()
{
    QVERIFY(QDir(m_folder.path()).mkpath("begun"));
    write("begun/job.sqlite", "");
    QCOMPARE(run({"day", "begun"}).status, 2);
    QCOMPARE(run({"deliver", "begun", "-o", "never"}).status, 2);
    const auto ran = run({"take", "begun", "day/frames/HR_0416.dng"});
    QVERIFY2(ran.status == 0, ran.err);
    QCOMPARE(run({"day", "begun"}).status, 0);
}

/// A document would else go into the next file that is opened, which is the socket to the readers.
void HostileTest::standardStreamsMayBeClosed()
{
    QProcess shell;
    shell.setWorkingDirectory(m_folder.path());
    write("good.json", "{}");
    shell.start("sh", {"-c", "\"$1\" inspect good.json >&- 2>&-; echo status $?", "sh",
                       qEnvironmentVariable("WAVECHROMA_CLI")});
    QVERIFY(shell.waitForFinished());
    QVERIFY2(shell.readAllStandardOutput().trimmed() != "status 0",
             "a document that went nowhere is no success");
}

void HostileTest::fewFilesOrLittleDiskIsTold_data()
{
    QTest::addColumn<QString>("limit");
    for (const auto *files : {"5", "8", "12"})
        QTest::addRow("%s files", files) << QString("ulimit -n ") + files;
    for (const auto *kilobytes : {"1", "40", "100"}) // what a file may grow to stands for the disk
        QTest::addRow("%s kB", kilobytes) << QString("ulimit -f ") + kilobytes;
}

/// Frames are taken or named as not to be read, and the same call goes on where there is room again.
void HostileTest::fewFilesOrLittleDiskIsTold()
{
    QFETCH(QString, limit);
    QDir(at("narrow")).removeRecursively();
    QProcess process;
    process.setWorkingDirectory(m_folder.path());
    process.start("/bin/bash",
                  {"-c", limit + "; exec \"$WAVECHROMA_CLI\" take narrow day/frames/HR_041{4,5,6}.dng"});
    QVERIFY(process.waitForFinished(60000));
    QCOMPARE(process.exitStatus(), QProcess::NormalExit);
    const auto said = process.readAllStandardError();
    const bool isTold = said.contains("Too many open files") || said.contains("cannot be opened") ||
                        said.contains("was not saved") || said.contains("File too large");
    const bool isWhole = process.exitCode() == 0 && run({"day", "narrow"}).out.count("\"part\"") == 3;
    QVERIFY2(isWhole || (process.exitCode() == 2 && isTold), said); // how many are open at once is chance
    QCOMPARE(
        run({"take", "narrow", "day/frames/HR_0414.dng", "day/frames/HR_0415.dng", "day/frames/HR_0416.dng"})
            .status,
        0);
    QCOMPARE(run({"day", "narrow"}).out.count("\"part\""), 3);
}

/// The library's tables end at 32 766 rows.
void HostileTest::tablesOfAnySizeAreWrittenWholeOrNot()
{
    auto fitted = *loadCalibration(at("fitted.json").toStdString());
    const auto patch = fitted.patches.front();
    for (const size_t patches : {size_t(2000), size_t(40000)}) {
        fitted.patches.resize(patches, patch);
        for (size_t i = 0; i < patches; ++i)
            fitted.patches[i].id = "P" + std::to_string(i);
        write("many.json", QByteArray::fromStdString(documentOf(fitted)));
        const auto ran = run({"export", "many.json", "--cgats", "many.txt"});
        if (ran.status == 0) {
            QVERIFY(content("many.txt").contains("P" + QByteArray::number(int(patches) - 1) + "\t"));
        } else {
            QVERIFY2(patches > 32766 && ran.status == 2 && ran.err.contains("40000 patches"), ran.err);
            QVERIFY(content("many.txt").contains("P1999\t")); // what was there stays
        }
    }
}

static const testing::Registered<HostileTest> registeredHostileTest("hostile_test");
#include "hostile_test.moc"
