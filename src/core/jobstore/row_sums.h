#pragma once
#include "core/jobstore/sql.h"

/// Hashes of rows, so that a letter that changed in the file is told (SHA-256, its first 64 bits).
namespace wavechroma::sql {

/// The table that keeps them: for each row its hash, and that of the document that is read later.
inline constexpr const char *kSumsTable =
    "CREATE TABLE sums (name TEXT NOT NULL, row INTEGER NOT NULL, sum TEXT NOT NULL, document TEXT NOT NULL,"
    " PRIMARY KEY (name, row)) WITHOUT ROWID;";

/// Keeps the hash of a row that was just written; SQLITE_DONE when it worked.
[[nodiscard]] int seal(sqlite3 *database, const std::string &table, RowId id);
[[nodiscard]] int unseal(sqlite3 *database, const std::string &table, RowId id);
/// Are a table's rows those that were written, all of them and no others? Their later documents are not
/// looked at.
[[nodiscard]] Result<Done> checkSums(sqlite3 *database, const std::string &table, const std::string &name);
/// Is a document that was fetched the one that was written?
[[nodiscard]] Result<Done> checkDocument(sqlite3 *database, const std::string &table, RowId id,
                                         const std::string &document, const std::string &name);

} // namespace wavechroma::sql
