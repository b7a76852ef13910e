#include "core/jobstore/job_tables.h"

#include "core/formats/documents.h"
#include "core/jobstore/job_store.h"
#include "core/jobstore/row_sums.h"
#include "core/jobstore/row_tables.h"

#include <fmt/format.h>

namespace wavechroma::sql {

namespace {

/// Calls `f` with the table of each kind of row, the title's first.
template <class F> void forEachTable(F &&f)
{
    f(tableOf<JobTitle>());
    forEachKind([&](auto rows, auto) {
        using Rows = std::remove_cvref_t<decltype(std::declval<JobState>().*rows)>;
        f(tableOf<typename Rows::value_type>());
    });
}

std::string allTables()
{
    std::string out;
    forEachTable([&](const auto &table) { out += creation(table); });
    return out + "CREATE TABLE waiting (place INTEGER PRIMARY KEY, path TEXT NOT NULL);"
                 "CREATE INDEX reading_frame ON reading (frame);"
                 "CREATE INDEX calibration_frame ON calibration (frame);";
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
    const auto text = fmt::format("BEGIN IMMEDIATE; {} {} PRAGMA user_version = {}; COMMIT;", allTables(),
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
    Statement rows(database, "SELECT path FROM waiting ORDER BY place");
    int code = rows.step();
    for (; code == SQLITE_ROW; code = rows.step())
        out.push_back(rows.text(0));
    if (code != SQLITE_DONE)
        return failure(database, name);
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

namespace {

/// Documents that are fetched later are tied to the connection; other kinds of row are whole as they are.
template <class Row> void tieDocument(Row &, const JobState &, const Connection &, const std::string &) {}
void tieDocument(JobReading &row, const JobState &state, const Connection &connection,
                 const std::string &name)
{
    row.reading = documentLater<Reading>(connection, "reading", row.id,
                                         placeOf(state, name, "reading", row.frame, row.id), readingFrom);
}
void tieDocument(JobCalibration &row, const JobState &state, const Connection &connection,
                 const std::string &name)
{
    row.calibration =
        documentLater<Calibration>(connection, "calibration", row.id,
                                   placeOf(state, name, "calibration", row.frame, row.id), calibrationFrom);
}

} // namespace

Result<JobState> loadState(const Connection &connection, const std::string &name)
{
    auto *const database = connection.get();
    JobState state;
    Result<Done> done = Done{};
    forEachTable([&](const auto &table) {
        if (done)
            done = checkSums(database, table.name, name);
    });
    if (done)
        done = checkSums(database, "waiting", name);
    if (done)
        done = readRows<JobTitle>(database, tableOf<JobTitle>(), name, [&](JobTitle row) -> Result<Done> {
            state.title = std::move(row);
            return Done{};
        });
    forEachKind([&](auto rows, auto) { // frames come before what is made of them
        using Row = typename std::remove_cvref_t<decltype(state.*rows)>::value_type;
        if (done)
            done = readRows<Row>(database, tableOf<Row>(), name, [&](Row row) -> Result<Done> {
                tieDocument(row, state, connection, name);
                (state.*rows).push_back(std::move(row));
                return Done{};
            });
    });
    if (!done)
        return done.error();
    state.common = commonParts(state);
    return state;
}

namespace {

int removeRow(sqlite3 *database, const std::string &table, RowId id)
{
    return Statement(database, fmt::format("DELETE FROM {} WHERE id = ?", table).c_str()).bind(id).step();
}

template <class Row> bool write(sqlite3 *database, const std::vector<RowChange<Row>> &changes)
{
    const auto &table = tableOf<Row>();
    for (const auto &change : changes) {
        const int code = change.after ? put(database, table, *change.after)
                                      : removeRow(database, table.name, change.before->id);
        if (code != SQLITE_DONE)
            return false;
        const int sealed = change.after ? seal(database, table.name, change.after->id)
                                        : unseal(database, table.name, change.before->id);
        if (sealed != SQLITE_DONE)
            return false;
    }
    return true;
}

bool writeAll(sqlite3 *database, const JobChange &change)
{
    bool isWritten = write(database, change.titles);
    forEachKind([&](auto, auto changes) { isWritten = isWritten && write(database, change.*changes); });
    return isWritten;
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
