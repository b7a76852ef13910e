#pragma once
#include "core/jobstore/sql.h"

#include <memory>

namespace wavechroma::sql {

/// The tables of an empty database, in one transaction.
[[nodiscard]] Result<Done> makeTables(sqlite3 *database, const std::string &name);
/// Is its form kJobSchemaVersion? Others are refused: newer ones, and those from before the first release.
[[nodiscard]] Result<Done> checkSchema(sqlite3 *database, const std::string &name);

/// The connection, kept open by the documents that are not parsed yet.
using Connection = std::shared_ptr<sqlite3>;
[[nodiscard]] Result<JobState> loadState(const Connection &database, const std::string &name);
/// Parses what a change is about to write over, so that its undoing still has it.
void keepBefore(const JobChange &change);

/// Files that still wait to be brought in, in their order.
[[nodiscard]] Result<std::vector<std::string>> loadWaiting(sqlite3 *database, const std::string &name);
[[nodiscard]] Result<Done> putWaiting(sqlite3 *database, const std::vector<std::string> &files,
                                      const std::string &name);

/// All of a change in one transaction, or nothing of it.
[[nodiscard]] Result<Done> store(sqlite3 *database, const JobChange &change, const std::string &name);

} // namespace wavechroma::sql
