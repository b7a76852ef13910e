#pragma once
#include "core/jobstore/sql.h"

namespace wavechroma::sql {

/// Brings an empty or older database to kJobSchemaVersion, in one transaction. A newer one is refused.
[[nodiscard]] Result<Done> migrate(sqlite3 *database, const std::string &name);
[[nodiscard]] Result<int> schemaVersion(sqlite3 *database, const std::string &name);

[[nodiscard]] Result<JobState> loadState(sqlite3 *database, const std::string &name);

/// Writes or removes single rows; SQLITE_DONE when it worked.
[[nodiscard]] int put(sqlite3 *database, const JobTitle &row);
[[nodiscard]] int put(sqlite3 *database, const JobSetup &row);
[[nodiscard]] int put(sqlite3 *database, const JobFrame &row);
[[nodiscard]] int put(sqlite3 *database, const JobReading &row);
[[nodiscard]] int put(sqlite3 *database, const JobCalibration &row);
[[nodiscard]] int put(sqlite3 *database, const JobChart &row);
[[nodiscard]] int removeRow(sqlite3 *database, const char *table, RowId id);

} // namespace wavechroma::sql
