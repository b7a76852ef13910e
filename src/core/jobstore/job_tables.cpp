#include "core/jobstore/job_tables.h"

#include "core/formats/documents.h"
#include "core/jobstore/job_store.h"

#include <fmt/format.h>

namespace wavechroma::sql {

namespace {

/// Step i takes version i to i + 1. Never edited once released; new ones go to the end.
const char *const kMigrations[] = {
    "CREATE TABLE title (id INTEGER PRIMARY KEY, text TEXT NOT NULL);"
    "INSERT INTO title VALUES (1, '');"
    "CREATE TABLE setup (id INTEGER PRIMARY KEY, title TEXT NOT NULL, notes TEXT NOT NULL);"
    "CREATE TABLE frame (id INTEGER PRIMARY KEY, setup INTEGER NOT NULL REFERENCES setup, path TEXT NOT NULL,"
    " sha256 TEXT NOT NULL, part TEXT NOT NULL, make TEXT, model TEXT, unique_model TEXT, serial TEXT, lens "
    "TEXT, iso REAL,"
    " exposure_s REAL, f_number REAL, captured_at TEXT, width INTEGER, height INTEGER, orientation INTEGER,"
    " set_aside INTEGER NOT NULL);"
    "CREATE TABLE reading (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES frame, document TEXT "
    "NOT NULL);"
    "CREATE TABLE calibration (id INTEGER PRIMARY KEY, frame INTEGER NOT NULL REFERENCES frame, document "
    "TEXT NOT NULL);",
    // 2: which model the job's answers are given by
    "ALTER TABLE title ADD COLUMN chosen_model TEXT NOT NULL DEFAULT 'matrix';"
    "CREATE INDEX reading_frame ON reading (frame);"
    "CREATE INDEX calibration_frame ON calibration (frame);",
    // 3: what a setup consists of, the tolerance sheet in force, charts with references of their own, the
    // scale
    "ALTER TABLE setup ADD COLUMN lamps TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE setup ADD COLUMN modifiers TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE setup ADD COLUMN power TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE setup ADD COLUMN backdrop TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE setup ADD COLUMN picture TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE title ADD COLUMN tolerance TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE title ADD COLUMN intended_ppi REAL NOT NULL DEFAULT 0;"
    "CREATE TABLE chart (id INTEGER PRIMARY KEY, label TEXT NOT NULL, in_use INTEGER NOT NULL, document TEXT "
    "NOT NULL);",
    // 4: a white balance chosen by hand, as its document
    "ALTER TABLE frame ADD COLUMN balance TEXT NOT NULL DEFAULT '';",
};
static_assert(std::size(kMigrations) == kJobSchemaVersion);

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
    return f;
}

} // namespace

Result<int> schemaVersion(sqlite3 *database, const std::string &name)
{
    Statement s(database, "PRAGMA user_version");
    if (s.step() != SQLITE_ROW)
        return failure(database, name);
    return int(s.integer(0));
}

Result<Done> migrate(sqlite3 *database, const std::string &name)
{
    const auto version = schemaVersion(database, name);
    if (!version)
        return version.error();
    if (*version > kJobSchemaVersion)
        return unusable(
            fmt::format("{}: was made by a newer version of the program (its form is {}, this one knows {})",
                        name, *version, kJobSchemaVersion));
    if (*version == kJobSchemaVersion)
        return Done{};
    std::string text = "BEGIN IMMEDIATE;";
    for (int i = *version; i < kJobSchemaVersion; ++i)
        text += kMigrations[i];
    text += fmt::format("PRAGMA user_version = {}; COMMIT;", kJobSchemaVersion);
    const auto done = run(database, text, name);
    if (!done)
        sqlite3_exec(database, "ROLLBACK", nullptr, nullptr, nullptr);
    return done;
}

Result<JobState> loadState(sqlite3 *database, const std::string &name)
{
    JobState state;
    const Result<Done> parts[] = {
        eachRow(database, name,
                "SELECT id, text, chosen_model, tolerance, intended_ppi FROM title WHERE id = 1",
                [&](const Statement &s) -> Result<Done> {
                    state.title = {s.integer(0), s.text(1), s.text(2), s.text(3), s.number(4)};
                    return Done{};
                }),
        eachRow(database, name,
                "SELECT id, title, notes, lamps, modifiers, power, backdrop, picture FROM setup ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    state.setups.push_back({s.integer(0), s.text(1), s.text(2), s.text(3), s.text(4),
                                            s.text(5), s.text(6), s.text(7)});
                    return Done{};
                }),
        eachRow(database, name,
                "SELECT id, setup, path, sha256, part, make, model, unique_model, serial, lens, iso, "
                "exposure_s, f_number,"
                " captured_at, width, height, orientation, set_aside, balance FROM frame ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    state.frames.push_back(frameFrom(s));
                    if (const auto document = s.text(18); !document.empty()) {
                        const auto balance =
                            balanceFrom(document, fmt::format("{}: balance of frame {}", name, s.integer(0)));
                        if (!balance)
                            return balance.error();
                        state.frames.back().balance = *balance;
                    }
                    return Done{};
                }),
        eachRow(database, name, "SELECT id, frame, document FROM reading ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    auto reading = readingFrom(s.text(2), fmt::format("{}: reading {}", name, s.integer(0)));
                    if (!reading)
                        return reading.error();
                    state.readings.push_back({s.integer(0), s.integer(1), *reading});
                    return Done{};
                }),
        eachRow(database, name, "SELECT id, frame, document FROM calibration ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    auto calibration =
                        calibrationFrom(s.text(2), fmt::format("{}: calibration {}", name, s.integer(0)));
                    if (!calibration)
                        return calibration.error();
                    state.calibrations.push_back({s.integer(0), s.integer(1), *calibration});
                    return Done{};
                }),
        eachRow(database, name, "SELECT id, label, in_use, document FROM chart ORDER BY id",
                [&](const Statement &s) -> Result<Done> {
                    auto chart = chartFrom(s.text(3), fmt::format("{}: chart {}", name, s.integer(0)));
                    if (!chart)
                        return chart.error();
                    state.charts.push_back({s.integer(0), s.text(1), s.integer(2) != 0, *chart});
                    return Done{};
                })};
    for (const auto &part : parts)
        if (!part)
            return part.error();
    return state;
}

int put(sqlite3 *database, const JobTitle &row)
{
    return Statement(database, "INSERT OR REPLACE INTO title (id, text, chosen_model, tolerance, "
                               "intended_ppi) VALUES (?,?,?,?,?)")
        .bind(row.id)
        .bind(row.text)
        .bind(row.chosenModel)
        .bind(row.tolerance)
        .bind(row.intendedPpi)
        .step();
}

int put(sqlite3 *database, const JobSetup &row)
{
    return Statement(database, "INSERT OR REPLACE INTO setup (id, title, notes, lamps, modifiers, power, "
                               "backdrop, picture) VALUES (?,?,?,?,?,?,?,?)")
        .bind(row.id)
        .bind(row.title)
        .bind(row.notes)
        .bind(row.lamps)
        .bind(row.modifiers)
        .bind(row.power)
        .bind(row.backdrop)
        .bind(row.picture)
        .step();
}

int put(sqlite3 *database, const JobFrame &f)
{
    const auto &c = f.camera;
    return Statement(database, "INSERT OR REPLACE INTO frame VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)")
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
        .step();
}

int put(sqlite3 *database, const JobReading &row)
{
    return Statement(database, "INSERT OR REPLACE INTO reading VALUES (?,?,?)")
        .bind(row.id)
        .bind(row.frame)
        .bind(documentOf(row.reading))
        .step();
}

int put(sqlite3 *database, const JobCalibration &row)
{
    return Statement(database, "INSERT OR REPLACE INTO calibration VALUES (?,?,?)")
        .bind(row.id)
        .bind(row.frame)
        .bind(documentOf(row.calibration))
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

int removeRow(sqlite3 *database, const char *table, RowId id)
{
    return Statement(database, fmt::format("DELETE FROM {} WHERE id = ?", table).c_str()).bind(id).step();
}

} // namespace wavechroma::sql
