#include "core/formats/tolerance_sheet.h"
#include "core/jobstore/job_store.h"
#include "core/sim/random.h"
#include "support/full_disk.h"
#include "support/registry.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <csignal>
#include <fstream>
#include <memory>
#include <sqlite3.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace wavechroma;

class JobStoreTest : public QObject
{
    Q_OBJECT
private slots:
    void aChangeComesBackAfterOpening();
    void setupsChartsAndLimitsComeBack();
    void aReversedChangeUndoesIt();
    void mergedChangesAreOneStep();
    void killedAtAnyMomentItOpensAgain();
    void aSecondProgramMayOnlyLook();
    void aWriteProtectedFolderOpensForLooking();
    void aFullDiskLosesOnlyTheLastAction();
    void aNetworkFolderHasNoWriteAheadLog();
    void jobsFromBeforeTheReleaseAreRefusedUntouched();
    void documentsAreParsedWhenTheyAreAskedFor();
    void noDamageIsSilent();
    void aProtectedFolderShowsWhatWasCommitted();
    void aJobThatCannotBeMadeIsNone();
    void onlyItsOwnFilesAreRemoved();
    void filesThatWaitAreKept();
    void probesTargetsAndDeliveriesAreKept();
    void damagedAndNewerJobsAreRefusedWithWords();
    void rowsThatCannotBeAreRefused_data();
    void rowsThatCannotBeAreRefused();
    void aJobTakenAwayIsToldAndKept();
    void aLockTakenAwayLetsNoSecondWriterIn();
    void pathsBelowTheFolderAreRelative();

private:
    std::filesystem::path folder(const char *name) { return m_folder.filePath(name).toStdString(); }
    QTemporaryDir m_folder;
};

namespace {

JobChange addFrame(RowId id, const std::string &path)
{
    JobFrame frame;
    frame.id = id;
    frame.setup = 1;
    frame.path = path;
    frame.sha256 = std::string(64, 'b');
    frame.part = FramePart::Chart;
    frame.camera = {"Skerrow",       "Tarn 2", "SK1", "60 mm", 100, 0.01, 8, "2026-10-14T09:20:08",
                    "Skerrow Tarn 2"};
    frame.width = 60;
    frame.height = 40;
    JobChange change;
    change.frames.push_back({std::nullopt, frame});
    return change;
}

std::unique_ptr<JobStore> made(const std::filesystem::path &folder, const std::string &title)
{
    auto store = JobStore::create(folder, title);
    return store ? std::move(*store) : nullptr;
}

std::unique_ptr<JobStore> opened(const std::filesystem::path &folder)
{
    auto store = JobStore::open(folder);
    return store ? std::move(*store) : nullptr;
}

/// Runs sqlite statements on a job's file behind the program's back.
void tamper(const std::filesystem::path &folder, const char *text)
{
    sqlite3 *database = nullptr;
    QCOMPARE(sqlite3_open((folder / "job.sqlite").c_str(), &database), SQLITE_OK);
    QCOMPARE(sqlite3_exec(database, text, nullptr, nullptr, nullptr), SQLITE_OK);
    sqlite3_close(database);
}

} // namespace

void JobStoreTest::aChangeComesBackAfterOpening()
{
    auto state = JobState();
    {
        const auto store = made(folder("plain"), "Harbour Row");
        QVERIFY(store->usesWriteAheadLog());
        auto change = addFrame(2, "frames/a.dng");
        Reading reading;
        reading.image = "frames/a.dng";
        reading.chart = "classic-24";
        change.readings.push_back({std::nullopt, JobReading{3, 2, reading}});
        QVERIFY(bool(store->apply(change)));
        state = *store->load();
        QCOMPARE(state.frames.size(), size_t(1));
        QCOMPARE(state.readings.size(), size_t(1));
    }
    const auto again = opened(folder("plain"));
    QCOMPARE(*again->load(), state);
    QCOMPARE(state.title.text, std::string("Harbour Row"));
    QVERIFY(!JobStore::create(folder("plain"), "other")); // there is one already
}

void JobStoreTest::setupsChartsAndLimitsComeBack()
{
    JobState state;
    {
        const auto store = made(folder("all-rows"), "Full");
        state = *store->load();
        JobChange change;
        change.setups.push_back({state.setups.front(), JobSetup{1, "North", "notes", "two strobes", "softbox",
                                                                "1/2", "linen", "set.jpg", LampKind::Tube}});
        auto title = state.title;
        title.tolerance = documentOf(*shippedSheet("strict"));
        title.intendedPpi = 600;
        change.titles.push_back({state.title, title});
        auto aged = chartCatalogue().front();
        aged.reference.measuredOn = "2026-09-01";
        change.charts.push_back({std::nullopt, JobChart{7, "batch A", true, aged}});
        change.charts.push_back({std::nullopt, JobChart{8, "batch B", false, plainGrid(3, 5)}});
        QVERIFY(bool(store->apply(change)));
        apply(state, change);
    }
    const auto again = opened(folder("all-rows"));
    QCOMPARE(*again->load(), state);
    QVERIFY(!state.charts[1].definition.colorsKnown);
    JobChange remove;
    remove.charts.push_back({state.charts[0], std::nullopt});
    QVERIFY(bool(again->apply(remove)));
    apply(state, remove);
    QCOMPARE(*again->load(), state);
}

void JobStoreTest::aReversedChangeUndoesIt()
{
    const auto store = made(folder("undo"), "x");
    const auto before = *store->load();
    auto memory = before;
    const auto change = addFrame(5, "a.dng");
    QVERIFY(bool(store->apply(change)));
    apply(memory, change);
    QCOMPARE(*store->load(), memory);
    QVERIFY(bool(store->apply(reversed(change))));
    apply(memory, reversed(change));
    QCOMPARE(*store->load(), before);
    QCOMPARE(memory, before);
}

void JobStoreTest::mergedChangesAreOneStep()
{
    JobState state;
    const auto first = addFrame(2, "a.dng");
    auto moved = *first.frames[0].after;
    moved.setAside = true;
    JobChange second;
    second.frames.push_back({first.frames[0].after, moved});
    const auto both = merged(first, second);
    QCOMPARE(both.frames.size(), size_t(1));
    apply(state, both);
    QVERIFY(state.frame(2)->setAside);
    apply(state, reversed(both));
    QVERIFY(state.frames.empty());
    JobChange gone;
    gone.frames.push_back({first.frames[0].after, std::nullopt});
    QVERIFY(merged(first, gone).isEmpty()); // made and unmade
}

void JobStoreTest::killedAtAnyMomentItOpensAgain()
{
    for (int round = 0; round < 5; ++round) {
        const auto where = folder(("kill" + std::to_string(round)).c_str());
        int told[2];
        QCOMPARE(::pipe(told), 0);
        const pid_t child = ::fork();
        if (child == 0) {
            auto store = JobStore::create(where, "x");
            for (RowId id = 2; store && id < 100000; ++id)
                if ((*store)->apply(addFrame(id, "f.dng")) && ::write(told[1], "+", 1) != 1)
                    break;
            ::_exit(0);
        }
        char byte;
        int saved = 0;
        while (saved < 3 + round * 7 && ::read(told[0], &byte, 1) == 1)
            ++saved;
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        ::close(told[1]);
        while (::read(told[0], &byte, 1) == 1)
            ++saved;
        ::close(told[0]);
        auto store = JobStore::open(where);
        QVERIFY2(bool(store), store ? "" : store.error().message.c_str());
        QVERIFY(!(*store)->isReadOnly()); // the lock went with the process
        const auto frames = (*store)->load()->frames.size();
        QVERIFY2(frames == size_t(saved) || frames == size_t(saved) + 1,
                 qPrintable(QString("%1 told, %2 there").arg(saved).arg(frames)));
    }
}

void JobStoreTest::aSecondProgramMayOnlyLook()
{
    const auto first = made(folder("shared"), "x");
    const auto second =
        opened(folder("shared")); // flock is held by the open file, so one process can stand for two
    QVERIFY(second->isReadOnly());
    QVERIFY(second->readOnlyReason().text.find("open in another window or program") != std::string::npos);
    QVERIFY(bool(first->apply(addFrame(2, "a.dng"))));
    QCOMPARE(second->load()->frames.size(), size_t(1)); // sees what the first wrote
    QVERIFY(!second->apply(addFrame(3, "b.dng")));
}

void JobStoreTest::aWriteProtectedFolderOpensForLooking()
{
    if (::geteuid() == 0) {
        // the superuser may write anywhere: do it as somebody else, in a child process
        const auto where = folder("protected");
        QVERIFY(bool(made(where, "x")->apply(addFrame(2, "a.dng"))));
        ::chmod(m_folder.path().toStdString().c_str(), 0755);
        for (const auto &file : std::filesystem::directory_iterator(where))
            ::chmod(file.path().c_str(), 0444);
        ::chmod(where.c_str(), 0555);
        const pid_t child = ::fork();
        if (child == 0) {
            if (::setgid(65534) != 0 || ::setuid(65534) != 0)
                ::_exit(9);
            auto store = JobStore::open(where);
            const bool right = store && (*store)->isReadOnly() && (*store)->load() &&
                               (*store)->load()->frames.size() == 1 && !(*store)->apply(addFrame(3, "b"));
            ::_exit(right ? 0 : 1);
        }
        int status = 0;
        ::waitpid(child, &status, 0);
        ::chmod(where.c_str(), 0755);
        QCOMPARE(WEXITSTATUS(status), 0);
        return;
    }
    const auto where = folder("protected");
    {
        QVERIFY(bool(made(where, "x")->apply(addFrame(2, "a.dng"))));
    }
    ::chmod(where.c_str(), 0555);
    auto store = JobStore::open(where);
    ::chmod(where.c_str(), 0755);
    QVERIFY(store && (*store)->isReadOnly());
}

void JobStoreTest::aFullDiskLosesOnlyTheLastAction()
{
    const auto store = made(folder("full"), "x");
    QVERIFY(bool(store->apply(addFrame(2, "kept.dng"))));
    auto full = std::make_unique<wavechroma::testing::FullDisk>(200000);
    auto huge = addFrame(3, std::string(500000, 'x'));
    const auto failed = store->apply(huge);
    full.reset();
    QVERIFY(!failed);
    QVERIFY2(failed.error().message.find("disk") != std::string::npos, failed.error().message.c_str());
    QCOMPARE(store->load()->frames.size(), size_t(1));
    QVERIFY(bool(store->apply(addFrame(4, "after.dng")))); // and goes on when there is room again
}

void JobStoreTest::aNetworkFolderHasNoWriteAheadLog()
{
    qputenv("WAVECHROMA_NETWORK_FOLDER", "1");
    const auto store = made(folder("share"), "x");
    qunsetenv("WAVECHROMA_NETWORK_FOLDER");
    QVERIFY(!store->usesWriteAheadLog());
    QVERIFY(bool(store->apply(addFrame(2, "a.dng"))));
    QVERIFY(!std::filesystem::exists(folder("share") / "job.sqlite-wal"));
}

void JobStoreTest::jobsFromBeforeTheReleaseAreRefusedUntouched()
{
    // as version 1 wrote it
    const auto where = folder("old");
    std::filesystem::create_directories(where);
    tamper(where, "CREATE TABLE title (id INTEGER PRIMARY KEY, text TEXT NOT NULL); INSERT INTO title VALUES "
                  "(1, 'Old job');"
                  "CREATE TABLE setup (id INTEGER PRIMARY KEY, title TEXT NOT NULL, notes TEXT NOT NULL); "
                  "INSERT INTO setup VALUES (1, 'S', '');"
                  "CREATE TABLE frame (id INTEGER PRIMARY KEY, setup INTEGER NOT NULL REFERENCES setup, path "
                  "TEXT NOT NULL,"
                  " sha256 TEXT NOT NULL, part TEXT NOT NULL, make TEXT, model TEXT, unique_model TEXT, "
                  "serial TEXT, lens TEXT, iso REAL,"
                  " exposure_s REAL, f_number REAL, captured_at TEXT, width INTEGER, height INTEGER, "
                  "orientation INTEGER, set_aside INTEGER NOT NULL);"
                  "INSERT INTO frame (id, setup, path, sha256, part, set_aside) VALUES (2, 1, 'a.dng', 'h', "
                  "'chart', 0);"
                  "CREATE TABLE reading (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES frame, "
                  "document TEXT NOT NULL);"
                  "CREATE TABLE calibration (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES "
                  "frame, document TEXT NOT NULL);"
                  "PRAGMA user_version = 1;");
    const auto file = where / "job.sqlite";
    const auto before = std::filesystem::file_size(file);
    const auto store = JobStore::open(where);
    QVERIFY(!store);
    QVERIFY2(store.error().message.find("before the first release") != std::string::npos,
             store.error().message.c_str());
    QCOMPARE(std::filesystem::file_size(file), before);
}

void JobStoreTest::documentsAreParsedWhenTheyAreAskedFor()
{
    const auto where = folder("lazy");
    Reading reading;
    reading.image = "a.dng";
    reading.chart = "classic-24";
    reading.found = true;
    reading.patches = {{"A1", {0.1, 0.2, 0.3}, {}, 100, 0, 0}};
    reading.checks = {{CheckId::Exposure, Severity::Warn, 1.5, 1, "stops", {"D1"}, "over"}};
    auto change = addFrame(2, "a.dng");
    change.readings.push_back({std::nullopt, jobReading(3, 2, reading)});
    {
        auto store = made(where, "Lazy");
        QVERIFY(bool(store->apply(change)));
    }
    JobState state;
    {
        auto store = opened(where);
        state = *store->load();
        // the brief is there without the document
        QCOMPARE(state.readings[0].brief.patches[0].mean, reading.patches[0].mean);
        QCOMPARE(state.readings[0].brief.checks, reading.checks);
        // one that is written over is kept for the undoing first
        auto other = reading;
        other.chart = "field-140";
        JobChange next;
        next.readings.push_back({state.readings[0], jobReading(3, 2, other)});
        QVERIFY(bool(store->apply(next)));
    }
    QCOMPARE(state.readings[0].reading->chart, std::string("classic-24")); // after the store is gone
    QCOMPARE((*opened(where)->load()).readings[0].reading->chart, std::string("field-140"));
    // a damaged document is no reason to refuse the job, and says so when it is asked for
    tamper(where, "UPDATE reading SET document = '{\"schema\": 7}'");
    state = *opened(where)->load();
    QCOMPARE(state.frames.size(), size_t(1));
    QVERIFY(state.readings[0].reading.fault());
    QVERIFY2(state.readings[0].reading.fault()->message.find("a.dng") !=
                 std::string::npos, // the frame's name
             state.readings[0].reading.fault()->message.c_str());
    // it never passes for a value: not when it is used, nor stored back with something else
    QVERIFY_THROWS_EXCEPTION(Unreadable, (void)state.readings[0].reading->found);
    auto aside = state.readings[0];
    aside.brief.found = false;
    JobChange back;
    back.readings.push_back({state.readings[0], aside});
    const auto stored = opened(where)->apply(back);
    QVERIFY(!stored);
    QVERIFY2(stored.error().message.find("a.dng") != std::string::npos, stored.error().message.c_str());
    // one changed letter of a document that still parses
    tamper(where,
           "UPDATE reading SET document = (SELECT replace(document, 'field-140', 'field-141') FROM reading)");
    QVERIFY(opened(where)->load()->readings[0].reading.fault());
}

/// Bytes changed, pages swapped, zeroed or cut off at random places: refused, told, or the same. None in
/// silence.
void JobStoreTest::noDamageIsSilent()
{
    const auto where = folder("random");
    {
        const auto store = made(where, "Random");
        JobChange change;
        for (int i = 0; i < 12; ++i) {
            auto one = addFrame(10 + i, "frames/" + std::to_string(i) + ".dng");
            one.frames[0].after->levelThirds = i - 4;
            Reading reading;
            reading.image = one.frames[0].after->path;
            reading.chart = "classic-24";
            reading.found = true;
            for (int p = 0; p < 24; ++p)
                reading.patches.push_back(
                    {"A" + std::to_string(p), {0.01 * p, 0.02 * p, 0.003 * i}, {}, 100, 0, 0});
            one.readings.push_back({std::nullopt, jobReading(40 + i, 10 + i, reading)});
            one.probes.push_back({std::nullopt, JobProbe{70 + i, 10 + i, {"yarn", 10.0 + i, 20, 5}, false}});
            change = merged(std::move(change), one);
        }
        change.targets.push_back({std::nullopt, JobTarget{90, {"yarn", {50, 20, 10}}}});
        QVERIFY(bool(store->apply(change)));
        QVERIFY(bool(store->setWaiting({"/cards/A.dng", "/cards/B.dng"})));
    }
    const auto file = where / "job.sqlite";
    std::ifstream in(file, std::ios::binary);
    const std::string whole((std::istreambuf_iterator<char>(in)), {});
    const auto before = *opened(where)->load();
    const auto waitingBefore = *opened(where)->waiting();
    sim::Random random(160);
    int told = 0, same = 0;
#ifdef WAVECHROMA_SANITIZE // all takes five times as long
    constexpr int kDamages = 250;
#else
    constexpr int kDamages = 1000;
#endif
    for (int i = 0; i < kDamages; ++i) {
        auto bytes = whole;
        const auto place = [&](size_t size) { return size_t(random.below(int(bytes.size() - size))); };
        constexpr size_t kPage = 4096;
        const size_t pages = bytes.size() / kPage;
        switch (i % 5) {
        case 0:
        case 1:
            bytes[place(1)] ^= char(1 << random.below(8));
            break;
        case 2:
            bytes[place(1)] = char('a' + random.below(26));
            break;
        case 3: {
            const size_t a = size_t(random.below(int(pages))), b = size_t(random.below(int(pages)));
            std::swap_ranges(bytes.begin() + long(a * kPage), bytes.begin() + long((a + 1) * kPage),
                             bytes.begin() + long(b * kPage));
            break;
        }
        default:
            if (random.below(2))
                bytes.resize(place(1));
            else
                std::fill_n(bytes.begin() + long(place(200)), 200, '\0');
        }
        std::ofstream(file, std::ios::binary).write(bytes.data(), std::streamsize(bytes.size()));
        for (const char *ending : {"-wal", "-shm", "-journal"})
            std::filesystem::remove(file.string() + ending);
        const auto store = JobStore::open(where);
        const auto state = store ? (*store)->load() : Result<JobState>(store.error());
        const auto waiting = store ? (*store)->waiting() : Result<std::vector<std::string>>(store.error());
        const bool isTold = !state || !waiting ||
                            std::any_of(state->readings.begin(), state->readings.end(),
                                        [](const JobReading &r) { return r.reading.fault().has_value(); });
        told += isTold;
        same += !isTold && *state == before && *waiting == waitingBefore;
        QVERIFY2(isTold || (*state == before && *waiting == waitingBefore),
                 qPrintable(QString("damage %1").arg(i)));
    }
    QVERIFY2(told > kDamages / 10 && same > kDamages / 10,
             qPrintable(QString("%1 told, %2 the same").arg(told).arg(same)));
}

/// What was committed lies in the log of a program that was killed: a folder that may only be read shows it.
void JobStoreTest::aProtectedFolderShowsWhatWasCommitted()
{
    if (::geteuid() != 0)
        QSKIP("needs the superuser, to be somebody else");
    const auto where = folder("protected-log");
    QVERIFY(made(where, "x") != nullptr);
    const auto inChild = [](auto &&work) {
        const pid_t child = ::fork();
        if (child == 0)
            ::_exit(work());
        int status = 0;
        ::waitpid(child, &status, 0);
        return WEXITSTATUS(status);
    };
    QCOMPARE(inChild([&] { // ends without closing anything
                 auto *store = JobStore::open(where)->release();
                 return store->apply(addFrame(2, "a.dng")) ? 0 : 1;
             }),
             0);
    QVERIFY(std::filesystem::file_size(where / "job.sqlite-wal") > 0);
    ::chmod(m_folder.path().toStdString().c_str(), 0755);
    for (const auto &file : std::filesystem::directory_iterator(where))
        ::chmod(file.path().c_str(), 0444);
    ::chmod(where.c_str(), 0555);
    const int answer = inChild([&] {
        if (::setgid(65534) != 0 || ::setuid(65534) != 0)
            return 9;
        auto store = JobStore::open(where);
        if (!store || !(*store)->isReadOnly())
            return 2;
        const auto state = (*store)->load();
        return state && state->frames.size() == 1 ? 0 : 1;
    });
    ::chmod(where.c_str(), 0755);
    QCOMPARE(answer, 0);
}

/// A disk without room for a job leaves none behind, and the next try makes it.
void JobStoreTest::aJobThatCannotBeMadeIsNone()
{
    const auto where = folder("no-room");
    for (const rlim_t room : {0, 5000, 20000}) {
        auto full = std::make_unique<wavechroma::testing::FullDisk>(room);
        const auto store = JobStore::create(where, "x");
        full.reset();
        QVERIFY(!store);
        QVERIFY(!JobStore::holdsJob(where));
    }
    std::ofstream(where / "job.sqlite").close(); // as an earlier program left it
    QVERIFY(!JobStore::holdsJob(where));
    QVERIFY(made(where, "x") != nullptr);
}

/// What lies at a job's path by now is not taken away for it.
void JobStoreTest::onlyItsOwnFilesAreRemoved()
{
    const auto here = folder("came-to-nothing"), other = folder("restored");
    auto store = made(here, "x");
    made(other, "y");
    std::filesystem::rename(here, folder("moved"));
    std::filesystem::rename(other, here);
    store->removeFiles(true);
    QVERIFY(JobStore::holdsJob(here) && opened(here)->load()->title.text == "y");
    std::filesystem::remove_all(here);
    std::filesystem::rename(folder("moved"), here);
    store->removeFiles(true);
    QVERIFY(!std::filesystem::exists(here));
}

void JobStoreTest::filesThatWaitAreKept()
{
    const auto where = folder("waiting");
    {
        auto store = made(where, "Waiting");
        QVERIFY(bool(store->setWaiting({"/cards/B.dng", "/cards/A.dng"})));
    }
    auto store = opened(where);
    QCOMPARE(*store->waiting(), (std::vector<std::string>{"/cards/B.dng", "/cards/A.dng"}));
    QVERIFY(bool(store->setWaiting({})));
    QVERIFY(store->waiting()->empty());
}

void JobStoreTest::probesTargetsAndDeliveriesAreKept()
{
    const auto where = folder("probes");
    JobFrame frame;
    frame.id = 2;
    frame.setup = 1;
    frame.path = "a.dng";
    frame.levelThirds = -4;
    frame.servedBy = 17;
    JobChange change;
    change.frames.push_back({std::nullopt, frame});
    change.probes.push_back({std::nullopt, JobProbe{3, 2, {"harbour slate", 10.5, 20.25, 7}, true}});
    change.targets.push_back({std::nullopt, JobTarget{4, {"harbour slate", {33, 2, -3}, 1.5}}});
    change.targets.push_back({std::nullopt, JobTarget{5, {"oat", {80, 2, 14}, std::nullopt}}});
    change.deliveries.push_back({std::nullopt, JobDelivery{6, "For the client", "{}"}});
    JobState held;
    {
        const auto store = made(where, "Probes");
        QVERIFY(bool(store->apply(change)));
        held = *store->load();
    }
    const auto state = *opened(where)->load();
    QVERIFY(state == held);
    QCOMPARE(state.frames[0], frame);
    QCOMPARE(state.probes[0], *change.probes[0].after);
    QCOMPARE(state.targets[0], *change.targets[0].after);
    QVERIFY(!state.targets[1].target.tolerance);
    QCOMPARE(state.deliveries[0].title, std::string("For the client"));
    QCOMPARE(nextId(state), RowId(7));
    // and taken back as one
    {
        auto store = opened(where);
        QVERIFY(bool(store->apply(reversed(change))));
    }
    const auto after = *opened(where)->load();
    QVERIFY(after.frames.empty() && after.probes.empty() && after.targets.empty() &&
            after.deliveries.empty());
}

void JobStoreTest::damagedAndNewerJobsAreRefusedWithWords()
{
    const auto words = [&](const std::filesystem::path &where) {
        const auto result = JobStore::open(where);
        if (!result)
            return QString::fromStdString(result.error().message);
        const auto state = (*result)->load();
        return state ? QString() : QString::fromStdString(state.error().message);
    };
    QVERIFY(words(folder("nothing")).contains("no job"));
    {
        (void)JobStore::create(folder("newer"), "x");
    }
    tamper(folder("newer"), "PRAGMA user_version = 99");
    QVERIFY(words(folder("newer")).contains("newer version"));
    std::filesystem::create_directories(folder("damaged"));
    QFile file(QString::fromStdString((folder("damaged") / "job.sqlite").string()));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray(9000, 'x'));
    file.close();
    QVERIFY2(words(folder("damaged")).contains("damaged"), qPrintable(words(folder("damaged"))));
    {
        QVERIFY(bool(made(folder("document"), "x")->apply(addFrame(2, "a.dng"))));
    }
    tamper(folder("document"),
           "INSERT INTO reading VALUES (7, 2, '{\"schema\": \"wavechroma.reading/9\"}', '{}')");
    QVERIFY(words(folder("document")).contains("reading 7"));
}

void JobStoreTest::rowsThatCannotBeAreRefused_data()
{
    QTest::addColumn<QString>("how");
    QTest::newRow("a hash that is a path") << "UPDATE frame SET sha256 = '../../../etc/passwd'";
    QTest::newRow("a part that is none") << "UPDATE frame SET part = 'poster'";
    QTest::newRow("no file") << "UPDATE frame SET path = ''";
    QTest::newRow("turned nine times") << "UPDATE frame SET orientation = 9";
    QTest::newRow("a probe without a radius") << "INSERT INTO probe VALUES (9, 2, 'p', 10, 10, -1, 0)";
    QTest::newRow("a view that never ends") << "DROP TABLE waiting; CREATE VIEW waiting AS WITH RECURSIVE "
                                               "n(path) AS (VALUES('') UNION ALL SELECT path || "
                                               "'x' FROM n) SELECT path, 1 AS place FROM n";
    QTest::newRow("a trigger") << "CREATE TRIGGER t AFTER INSERT ON frame BEGIN DELETE FROM frame; END";
}

void JobStoreTest::rowsThatCannotBeAreRefused()
{
    QFETCH(QString, how);
    const auto where = folder(QTest::currentDataTag());
    {
        const auto store = made(where, "Harbour Row");
        QVERIFY(bool(store->apply(addFrame(2, "frames/a.dng"))));
    }
    QVERIFY(bool(opened(where)->load()));
    tamper(where, how.toUtf8().constData());
    const auto store = JobStore::open(where);
    const auto error = store ? (*store)->load().error() : store.error();
    QVERIFY2(error.message.find("damaged") != std::string::npos, error.message.c_str());
}

void JobStoreTest::aJobTakenAwayIsToldAndKept()
{
    const auto where = folder("taken away");
    const auto store = made(where, "Harbour Row");
    QVERIFY(bool(store->apply(addFrame(2, "frames/a.dng"))));
    for (const char *file : {"job.sqlite", "job.sqlite-wal", "job.sqlite-shm"})
        std::filesystem::remove(where / file);
    for (RowId id : {3, 4}) {
        const auto refused = store->apply(addFrame(id, "frames/b.dng"));
        QVERIFY(!refused);
        QVERIFY2(refused.error().message.find("saved as job-kept-1.sqlite") != std::string::npos,
                 refused.error().message.c_str());
    }
    QVERIFY(!store->setWaiting({"c.dng"}));
    QVERIFY(!std::filesystem::exists(where / "job-kept-2.sqlite"));
    std::filesystem::create_directory(where / "again");
    std::filesystem::copy(where / "job-kept-1.sqlite", where / "again" / "job.sqlite");
    QCOMPARE(opened(where / "again")->load()->frames.size(), size_t(1));
    // put back by somebody else: that is another file
    std::filesystem::copy(where / "job-kept-1.sqlite", where / "job.sqlite");
    QVERIFY(!store->apply(addFrame(3, "frames/b.dng")));
    // and the whole folder gone
    std::filesystem::rename(where, folder("elsewhere"));
    const auto gone = store->apply(addFrame(3, "frames/b.dng"));
    QVERIFY(!gone && gone.error().message.find("not saved") != std::string::npos);
}

void JobStoreTest::aLockTakenAwayLetsNoSecondWriterIn()
{
    const auto where = folder("unlocked");
    const auto first = made(where, "Harbour Row");
    std::filesystem::remove(where / "job.lock");
    QVERIFY(bool(first->apply(addFrame(2, "frames/a.dng")))); // nobody else is there: taken again
    QVERIFY(opened(where)->isReadOnly());
    std::filesystem::remove(where / "job.lock");
    const auto second = opened(where);
    QVERIFY(!second->isReadOnly());
    QVERIFY(!first->apply(addFrame(3, "frames/b.dng"))); // the second has it now
    QVERIFY(first->isReadOnly());
    QVERIFY(bool(second->apply(addFrame(3, "frames/b.dng"))));
    QCOMPARE(second->load()->frames.size(), size_t(2));
}

void JobStoreTest::pathsBelowTheFolderAreRelative()
{
    const auto store = made(folder("paths"), "x");
    QCOMPARE(JobStore::keptPath(store->folder(), store->folder() / "frames" / "a.dng"),
             std::string("frames/a.dng"));
    QCOMPARE(JobStore::keptPath(store->folder(), "/elsewhere/a.dng"), std::string("/elsewhere/a.dng"));
    JobFrame frame;
    frame.path = "frames/a.dng";
    QCOMPARE(store->fullPath(frame), store->folder() / "frames/a.dng");
}

static const testing::Registered<JobStoreTest> registeredJobStoreTest("job_store_test");
#include "job_store_test.moc"
