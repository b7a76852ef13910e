#include "core/jobstore/job_tables.h"

#include "core/formats/brief_reading.h"
#include "core/formats/documents.h"
#include "core/formats/probe_document.h"
#include "core/jobstore/job_store.h"
#include "core/jobstore/row_sums.h"

#include <fmt/format.h>

namespace wavechroma::sql {

namespace {

const char *const kTables =
    "CREATE TABLE title (id INTEGER PRIMARY KEY, text TEXT NOT NULL, colour TEXT NOT NULL, tone TEXT NOT "
    "NULL,"
    " tolerance TEXT NOT NULL, intended_ppi REAL NOT NULL);"
    "CREATE TABLE setup (id INTEGER PRIMARY KEY, title TEXT NOT NULL, notes TEXT NOT NULL, lamps TEXT NOT "
    "NULL,"
    " modifiers TEXT NOT NULL, power TEXT NOT NULL, backdrop TEXT NOT NULL, picture TEXT NOT NULL,"
    " lamp_kind TEXT NOT NULL);"
    "CREATE TABLE frame (id INTEGER PRIMARY KEY, setup INTEGER NOT NULL REFERENCES setup, path TEXT NOT NULL,"
    " sha256 TEXT NOT NULL, part TEXT NOT NULL, make TEXT, model TEXT, unique_model TEXT, serial TEXT, lens "
    "TEXT, iso REAL, exposure_s REAL, f_number REAL, captured_at TEXT, width INTEGER, height INTEGER,"
    " orientation INTEGER, set_aside INTEGER NOT NULL, balance TEXT NOT NULL, level_thirds INTEGER NOT NULL,"
    " served_by INTEGER NOT NULL);"
    "CREATE TABLE reading (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES frame, brief TEXT NOT "
    "NULL, document TEXT NOT NULL);"
    "CREATE TABLE calibration (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES frame, colour TEXT "
    "NOT NULL, tone TEXT NOT NULL, recommended INTEGER NOT NULL, unseen REAL NOT NULL, mean REAL NOT NULL,"
    " worst REAL NOT NULL, worst_patch TEXT NOT NULL, light TEXT NOT NULL, cct_k REAL NOT NULL, duv REAL NOT "
    "NULL, document TEXT NOT NULL);"
    "CREATE TABLE chart (id INTEGER PRIMARY KEY, label TEXT NOT NULL, in_use INTEGER NOT NULL, document TEXT "
    "NOT NULL);"
    "CREATE TABLE probe (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES frame, name TEXT NOT NULL,"
    " x REAL NOT NULL, y REAL NOT NULL, radius REAL NOT NULL, proposed INTEGER NOT NULL);"
    "CREATE TABLE target (id INTEGER PRIMARY KEY, name TEXT NOT NULL, l REAL NOT NULL, a REAL NOT NULL, b "
    "REAL "
    "NOT NULL, tolerance REAL);"
    "CREATE TABLE delivery (id INTEGER PRIMARY KEY, title TEXT NOT NULL, plan TEXT NOT NULL);"
    "CREATE TABLE waiting (place INTEGER PRIMARY KEY, path TEXT NOT NULL);"
    "CREATE INDEX reading_frame ON reading (frame);"
    "CREATE INDEX calibration_frame ON calibration (frame);";

template <class Visit>
Result<Done> eachRow(sqlite3 *database, const std::string &name, const char *text, Visit &&visit)
{
    Statement rows(database, text);
    int code = rows.step();
    for (; code == SQLITE_ROW; code = rows.step())
        if (const Result<Done> done = visit(rows); !done)
            return done.error();
    if (code != SQLITE_DONE)
        return failure(database, name);
    return Done{};
}

/// Rows go into file names, pictures and sums: what cannot be there is damage.
Result<Done> checkFrame(const JobFrame &f, const std::string &part, const std::string &where)
{
    const auto &hash = f.sha256;
    const bool isHash = hash.empty() || (hash.size() == 64 &&
                                         hash.find_first_not_of("0123456789abcdef") == std::string::npos);
    const char *fault = !isHash                                     ? "its hash is not valid"
                        : !partFrom(part)                           ? "its kind of frame is not valid"
                        : f.path.empty()                            ? "it has no file"
                        : f.orientation < 1 || f.orientation > 8    ? "its orientation is not valid"
                        : f.width < 0 || f.height < 0               ? "its size is not valid"
                        : f.levelThirds < -60 || f.levelThirds > 60 ? "its level is not valid"
                                                                    : nullptr;
    if (fault)
        return unusable("{where}: is damaged: {fault}", {{"where", where}, {"fault", words::Phrase{fault}}});
    return Done{};
}

JobFrame frameFrom(const Statement &s)
{
    JobFrame f;
    f.id = s.integer(0);
    f.setup = s.integer(1);
    f.path = s.text(2);
    f.sha256 = s.text(3);
    f.part = partFrom(s.text(4)).value_or(FramePart::Product);
    f.camera = {s.text(5),    s.text(6),    s.text(8),  s.text(9), s.number(10),
                s.number(11), s.number(12), s.text(13), s.text(7)};
    f.width = int(s.integer(14));
    f.height = int(s.integer(15));
    f.orientation = int(s.integer(16));
    f.setAside = s.integer(17) != 0;
    f.levelThirds = int(s.integer(19));
    f.servedBy = s.integer(20);
    return f;
}

} // namespace

static std::vector<std::string> shapeOf(sqlite3 *database)
{
    std::vector<std::string> out;
    Statement rows(database, "SELECT type || ' ' || name || ': ' || coalesce(sql, '') FROM sqlite_master "
                             "WHERE name NOT LIKE 'sqlite_%' ORDER BY type, name");
    while (rows.step() == SQLITE_ROW)
        out.push_back(rows.text(0));
    return out;
}

static Result<int> schemaVersion(sqlite3 *database, const std::string &name)
{
    Statement s(database, "PRAGMA user_version");
    if (s.step() != SQLITE_ROW)
        return failure(database, name);
    return int(s.integer(0));
}

Result<Done> makeTables(sqlite3 *database, const std::string &name)
{
    const auto text = fmt::format("BEGIN IMMEDIATE; {} {} PRAGMA user_version = {}; COMMIT;", kTables,
                                  kSumsTable, kJobSchemaVersion);
    const auto done = run(database, text, name);
    if (!done)
        sqlite3_exec(database, "ROLLBACK", nullptr, nullptr, nullptr);
    return done;
}

Result<Done> checkSchema(sqlite3 *database, const std::string &name)
{
    const auto version = schemaVersion(database, name);
    if (!version)
        return version.error();
    if (*version > kJobSchemaVersion)
        return unusable(
            "{file}: was made by a newer version of the program (format {version}; this version reads "
            "{known})",
            {{"file", name}, {"version", double(*version)}, {"known", double(kJobSchemaVersion)}});
    if (*version <= 0)
        return unusable("{file}: job.sqlite holds no job; it is empty or damaged", {{"file", name}});
    if (*version < kJobSchemaVersion)
        return unusable(
            "{file}: was made before the first release (format {version}; this version reads {known}) and "
            "cannot be opened. The frames are unchanged: add them to a new job.",
            {{"file", name}, {"version", double(*version)}, {"known", double(kJobSchemaVersion)}});
    // Views and triggers could stand where tables are looked for, and run for ever.
    sqlite3 *fresh = nullptr;
    sqlite3_open(":memory:", &fresh);
    const Connection plain(fresh, sqlite3_close_v2);
    if (const auto made = makeTables(fresh, name); !made)
        return made;
    if (shapeOf(database) != shapeOf(fresh))
        return unusable("{file}: job.sqlite does not have the tables of a job; it is damaged",
                        {{"file", name}});
    return Done{};
}

/// The document of a row, fetched and parsed when it is asked for.
template <class T, class Parse>
static Lazy<T> documentLater(const Connection &database, const std::string &table, RowId id, std::string name,
                             Parse parse)
{
    return Lazy<T>::later([=]() -> Result<T> {
        Statement s(database.get(), fmt::format("SELECT document FROM {} WHERE id = ?", table).c_str());
        s.bind(id);
        if (s.step() != SQLITE_ROW)
            return failure(database.get(), name);
        const auto document = s.text(0);
        if (const auto sound = checkDocument(database.get(), table, id, document, name); !sound)
            return sound.error();
        return parse(document, name);
    });
}

/// "DAY: reading of frames/HR_0412.dng"
static std::string placeOf(const JobState &state, const std::string &name, const char *what, RowId frame,
                           RowId id)
{
    const auto *row = state.frame(frame);
    return row ? fmt::format("{}: the {} of {}", name, what, row->path)
               : fmt::format("{}: {} {}", name, what, id);
}

static CalibrationBrief briefFrom(const Statement &s)
{
    return {{s.text(2), s.text(3)},
            s.integer(4) != 0,
            s.number(5),
            s.number(6),
            s.number(7),
            s.text(8),
            s.text(9),
            s.number(10),
            s.number(11)};
}

void keepBefore(const JobChange &change)
{
    for (const auto &row : change.readings)
        if (row.before)
            (void)row.before->reading.fault();
    for (const auto &row : change.calibrations)
        if (row.before)
            (void)row.before->calibration.fault();
}

Result<std::vector<std::string>> loadWaiting(sqlite3 *database, const std::string &name)
{
    std::vector<std::string> out;
    const auto done = eachRow(database, name, "SELECT path FROM waiting ORDER BY place",
                              [&](const Statement &s) -> Result<Done> {
                                  out.push_back(s.text(0));
                                  return Done{};
                              });
    if (!done)
        return done.error();
    return out;
}

Result<Done> putWaiting(sqlite3 *database, const std::vector<std::string> &files, const std::string &name)
{
    if (const auto begun = run(database, "BEGIN IMMEDIATE; DELETE FROM waiting;", name); !begun)
        return begun;
    bool written = Statement(database, "DELETE FROM sums WHERE name = 'waiting'").step() == SQLITE_DONE;
    for (const auto &file : files)
        written =
            written &&
            Statement(database, "INSERT INTO waiting (path) VALUES (?)").bind(file).step() == SQLITE_DONE &&
            seal(database, "waiting", sqlite3_last_insert_rowid(database)) == SQLITE_DONE;
    if (written && sqlite3_exec(database, "COMMIT", nullptr, nullptr, nullptr) == SQLITE_OK)
        return Done{};
    const auto error = failure(database, name);
    sqlite3_exec(database, "ROLLBACK", nullptr, nullptr, nullptr);
    return error;
}

Result<JobState> loadState(const Connection &connection, const std::string &name)
{
    auto *const database = connection.get();
    JobState state;
    for (const char *table : {"title", "setup", "frame", "reading", "calibration", "chart", "probe", "target",
                              "delivery", "waiting"})
        if (const auto sound = checkSums(database, table, name); !sound)
            return sound.error();
    const Result<Done> parts[] = {
        eachRow(database, name,
                "SELECT id, text, colour, tone, tolerance, intended_ppi FROM title WHERE id = 1",
                [&](const Statement &s) -> Result<Done> {
                    state.title = {s.integer(0), s.text(1), {s.text(2), s.text(3)}, s.text(4), s.number(5)};
                    return Done{};
                }),
        eachRow(database, name,
                "SELECT id, title, notes, lamps, modifiers, power, backdrop, picture, lamp_kind FROM setup "
                "ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    const auto kind = lampKindFrom(s.text(8));
                    if (!kind)
                        return unusable("{file}: setup {setup} is damaged: its kind of lamp is not valid",
                                        {{"file", name}, {"setup", double(s.integer(0))}});
                    state.setups.push_back({s.integer(0), s.text(1), s.text(2), s.text(3), s.text(4),
                                            s.text(5), s.text(6), s.text(7), *kind});
                    return Done{};
                }),
        eachRow(database, name,
                "SELECT id, setup, path, sha256, part, make, model, unique_model, serial, lens, iso, "
                "exposure_s, f_number,"
                " captured_at, width, height, orientation, set_aside, balance, level_thirds, served_by FROM "
                "frame ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    auto frame = frameFrom(s);
                    if (const auto sound =
                            checkFrame(frame, s.text(4), fmt::format("{}: frame {}", name, s.integer(0)));
                        !sound)
                        return sound;
                    if (const auto document = s.text(18); !document.empty()) {
                        const auto balance =
                            balanceFrom(document, fmt::format("{}: balance of frame {}", name, s.integer(0)));
                        if (!balance)
                            return balance.error();
                        frame.balance = *balance;
                    }
                    state.frames.push_back(std::move(frame));
                    return Done{};
                }),
        eachRow(database, name, "SELECT id, frame, brief FROM reading ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    const auto where = placeOf(state, name, "reading", s.integer(1), s.integer(0));
                    auto brief = briefReadingFrom(s.text(2), where);
                    if (!brief)
                        return brief.error();
                    state.readings.push_back(
                        {s.integer(0), s.integer(1), std::move(*brief),
                         documentLater<Reading>(connection, "reading", s.integer(0), where, readingFrom)});
                    return Done{};
                }),
        eachRow(
            database, name,
            "SELECT id, frame, colour, tone, recommended, unseen, mean, worst, worst_patch, light, cct_k, "
            "duv FROM calibration ORDER BY id",
            [&](const Statement &s) -> Result<Done> {
                state.calibrations.push_back(
                    {s.integer(0), s.integer(1), briefFrom(s),
                     documentLater<Calibration>(
                         connection, "calibration", s.integer(0),
                         placeOf(state, name, "calibration", s.integer(1), s.integer(0)), calibrationFrom)});
                return Done{};
            }),
        eachRow(database, name, "SELECT id, label, in_use, document FROM chart ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    auto chart = chartFrom(s.text(3), fmt::format("{}: chart {}", name, s.integer(0)));
                    if (!chart)
                        return chart.error();
                    state.charts.push_back({s.integer(0), s.text(1), s.integer(2) != 0, *chart});
                    return Done{};
                }),
        eachRow(database, name, "SELECT id, frame, name, x, y, radius, proposed FROM probe ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    state.probes.push_back({s.integer(0),
                                            s.integer(1),
                                            {s.text(2), s.number(3), s.number(4), s.number(5)},
                                            s.integer(6) != 0});
                    if (const auto sound = check(state.probes.back().place); !sound)
                        return unusable("{file}: probe {probe} is damaged",
                                        {{"file", name}, {"probe", double(s.integer(0))}});
                    return Done{};
                }),
        eachRow(database, name,
                "SELECT id, name, l, a, b, tolerance, tolerance IS NULL FROM target ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    ProbeTarget target{s.text(1), {s.number(2), s.number(3), s.number(4)}};
                    if (s.integer(6) == 0)
                        target.tolerance = s.number(5);
                    state.targets.push_back({s.integer(0), target});
                    return Done{};
                }),
        eachRow(database, name, "SELECT id, title, plan FROM delivery ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    state.deliveries.push_back({s.integer(0), s.text(1), s.text(2)});
                    return Done{};
                })};
    for (const auto &part : parts)
        if (!part)
            return part.error();
    return state;
}

namespace {

int put(sqlite3 *database, const JobTitle &row)
{
    return Statement(database, "INSERT OR REPLACE INTO title VALUES (?,?,?,?,?,?)")
        .bind(row.id)
        .bind(row.text)
        .bind(row.parts.colour)
        .bind(row.parts.tone)
        .bind(row.tolerance)
        .bind(row.intendedPpi)
        .step();
}

int put(sqlite3 *database, const JobSetup &row)
{
    return Statement(database, "INSERT OR REPLACE INTO setup (id, title, notes, lamps, modifiers, power, "
                               "backdrop, picture, lamp_kind) VALUES (?,?,?,?,?,?,?,?,?)")
        .bind(row.id)
        .bind(row.title)
        .bind(row.notes)
        .bind(row.lamps)
        .bind(row.modifiers)
        .bind(row.power)
        .bind(row.backdrop)
        .bind(row.picture)
        .bind(std::string(nameOf(row.lampKind)))
        .step();
}

int put(sqlite3 *database, const JobFrame &f)
{
    const auto &c = f.camera;
    return Statement(database,
                     "INSERT OR REPLACE INTO frame VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)")
        .bind(f.id)
        .bind(f.setup)
        .bind(f.path)
        .bind(f.sha256)
        .bind(std::string(nameOf(f.part)))
        .bind(c.make)
        .bind(c.model)
        .bind(c.uniqueModel)
        .bind(c.serial)
        .bind(c.lens)
        .bind(c.iso)
        .bind(c.exposureSeconds)
        .bind(c.fNumber)
        .bind(c.capturedAt)
        .bind(int64_t(f.width))
        .bind(int64_t(f.height))
        .bind(int64_t(f.orientation))
        .bind(int64_t(f.setAside))
        .bind(f.balance ? documentOf(*f.balance) : std::string())
        .bind(int64_t(f.levelThirds))
        .bind(f.servedBy)
        .step();
}

int put(sqlite3 *database, const JobReading &row)
{
    return Statement(database, "INSERT OR REPLACE INTO reading VALUES (?,?,?,?)")
        .bind(row.id)
        .bind(row.frame)
        .bind(briefOf(row.brief))
        .bind(documentOf(*row.reading))
        .step();
}

int put(sqlite3 *database, const JobCalibration &row)
{
    const auto &b = row.brief;
    return Statement(database, "INSERT OR REPLACE INTO calibration VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)")
        .bind(row.id)
        .bind(row.frame)
        .bind(b.parts.colour)
        .bind(b.parts.tone)
        .bind(int64_t(b.recommended))
        .bind(b.unseen)
        .bind(b.mean)
        .bind(b.worst)
        .bind(b.worstPatch)
        .bind(b.light)
        .bind(b.cctKelvin)
        .bind(b.duv)
        .bind(documentOf(*row.calibration))
        .step();
}

int put(sqlite3 *database, const JobChart &row)
{
    return Statement(database, "INSERT OR REPLACE INTO chart VALUES (?,?,?,?)")
        .bind(row.id)
        .bind(row.label)
        .bind(int64_t(row.inUse))
        .bind(documentOf(row.definition))
        .step();
}

int put(sqlite3 *database, const JobProbe &row)
{
    return Statement(database, "INSERT OR REPLACE INTO probe VALUES (?,?,?,?,?,?,?)")
        .bind(row.id)
        .bind(row.frame)
        .bind(row.place.name)
        .bind(row.place.x)
        .bind(row.place.y)
        .bind(row.place.radius)
        .bind(int64_t(row.isProposed))
        .step();
}

int put(sqlite3 *database, const JobTarget &row)
{
    const auto &t = row.target;
    Statement statement(database, "INSERT OR REPLACE INTO target (id, name, l, a, b, tolerance) VALUES "
                                  "(?,?,?,?,?,?)");
    statement.bind(row.id).bind(t.name).bind(t.lab.l).bind(t.lab.a).bind(t.lab.b);
    if (t.tolerance) // else it stays NULL
        statement.bind(*t.tolerance);
    return statement.step();
}

int put(sqlite3 *database, const JobDelivery &row)
{
    return Statement(database, "INSERT OR REPLACE INTO delivery VALUES (?,?,?)")
        .bind(row.id)
        .bind(row.title)
        .bind(row.plan)
        .step();
}

int removeRow(sqlite3 *database, const std::string &table, RowId id)
{
    return Statement(database, fmt::format("DELETE FROM {} WHERE id = ?", table).c_str()).bind(id).step();
}

template <class Row>
bool write(sqlite3 *database, const std::string &table, const std::vector<RowChange<Row>> &changes)
{
    for (const auto &change : changes) {
        const int code =
            change.after ? put(database, *change.after) : removeRow(database, table, change.before->id);
        if (code != SQLITE_DONE)
            return false;
        const int sealed = change.after ? seal(database, table, change.after->id)
                                        : unseal(database, table, change.before->id);
        if (sealed != SQLITE_DONE)
            return false;
    }
    return true;
}

bool writeAll(sqlite3 *database, const JobChange &change)
{
    return write(database, "title", change.titles) && write(database, "setup", change.setups) &&
           write(database, "frame", change.frames) && write(database, "reading", change.readings) &&
           write(database, "calibration", change.calibrations) && write(database, "chart", change.charts) &&
           write(database, "probe", change.probes) && write(database, "target", change.targets) &&
           write(database, "delivery", change.deliveries);
}

} // namespace

Result<Done> store(sqlite3 *database, const JobChange &change, const std::string &name)
{
    if (const auto begun = run(database, "BEGIN IMMEDIATE", name); !begun)
        return begun;
    Result<Done> out = Done{};
    try {
        if (!writeAll(database, change) ||
            sqlite3_exec(database, "COMMIT", nullptr, nullptr, nullptr) != SQLITE_OK)
            out = failure(database, name);
    } catch (const Unreadable &damaged) { // a document that cannot be read is not stored back
        out = damaged.error;
    }
    if (!out)
        sqlite3_exec(database, "ROLLBACK", nullptr, nullptr, nullptr);
    return out;
}

} // namespace wavechroma::sql
