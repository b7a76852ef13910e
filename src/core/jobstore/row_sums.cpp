#include "core/jobstore/row_sums.h"

#include "core/raw/file_digest.h"

#include <fmt/format.h>
#include <map>

namespace wavechroma::sql {

namespace {

/// Tables whose documents are fetched when they are asked for.
bool hasLaterDocument(const std::string &table)
{
    return table == "reading" || table == "calibration";
}

std::string hashOf(const std::string &text)
{
    return sha256Of(text).substr(0, 16);
}

std::vector<std::string> columnsOf(sqlite3 *database, const std::string &table)
{
    std::vector<std::string> out;
    Statement rows(database, "SELECT name FROM pragma_table_info(?) ORDER BY cid");
    rows.bind(table);
    while (rows.step() == SQLITE_ROW)
        if (!hasLaterDocument(table) || rows.text(0) != "document")
            out.push_back(rows.text(0));
    return out;
}

/// The columns that a row's hash is of, its key first.
std::string selection(sqlite3 *database, const std::string &table)
{
    std::string out;
    for (const auto &column : columnsOf(database, table))
        out += (out.empty() ? "" : ", ") + column;
    return out;
}

/// Type, length and bytes of each value, so that none can pass for another.
std::string textOf(const Statement &row)
{
    std::string out;
    for (int i = 0; i < row.columns(); ++i) {
        const auto text = row.text(i);
        out += fmt::format("{} {} {}\n", row.type(i), text.size(), text);
    }
    return out;
}

Error damaged(const std::string &name, const std::string &table, RowId id)
{
    return unusable("{file}: {table} {row} is damaged. Use a copy of the job, or add the frames to a new job",
                    {{"file", name}, {"table", table}, {"row", double(id)}});
}

} // namespace

int seal(sqlite3 *database, const std::string &table, RowId id)
{
    Statement row(database, fmt::format("SELECT {} FROM {} WHERE {} = ?", selection(database, table), table,
                                        columnsOf(database, table).front())
                                .c_str());
    row.bind(id);
    if (row.step() != SQLITE_ROW)
        return SQLITE_ERROR;
    std::string document;
    if (hasLaterDocument(table)) {
        Statement later(database, fmt::format("SELECT document FROM {} WHERE id = ?", table).c_str());
        if (later.bind(id).step() != SQLITE_ROW)
            return SQLITE_ERROR;
        document = hashOf(later.text(0));
    }
    return Statement(database, "INSERT OR REPLACE INTO sums VALUES (?,?,?,?)")
        .bind(table)
        .bind(id)
        .bind(hashOf(textOf(row) + document))
        .bind(document)
        .step();
}

int unseal(sqlite3 *database, const std::string &table, RowId id)
{
    return Statement(database, "DELETE FROM sums WHERE name = ? AND row = ?").bind(table).bind(id).step();
}

Result<Done> checkSums(sqlite3 *database, const std::string &table, const std::string &name)
{
    std::map<RowId, std::pair<std::string, std::string>> kept;
    Statement sums(database, "SELECT row, sum, document FROM sums WHERE name = ?");
    sums.bind(table);
    int code = sums.step();
    for (; code == SQLITE_ROW; code = sums.step())
        kept[sums.integer(0)] = {sums.text(1), sums.text(2)};
    if (code != SQLITE_DONE)
        return failure(database, name);
    size_t rows = 0;
    Statement row(database, fmt::format("SELECT {} FROM {}", selection(database, table), table).c_str());
    for (code = row.step(); code == SQLITE_ROW; code = row.step(), ++rows) {
        const auto at = kept.find(row.integer(0));
        if (at == kept.end() || at->second.first != hashOf(textOf(row) + at->second.second))
            return damaged(name, table, row.integer(0));
    }
    if (code != SQLITE_DONE)
        return failure(database, name);
    if (rows != kept.size())
        return unusable("{file}: is damaged: {n} {n|row|rows} of {table} {n|is|are} missing. Use a copy of "
                        "the job, or add the frames to a new job",
                        {{"file", name}, {"n", double(kept.size()) - double(rows)}, {"table", table}});
    return Done{};
}

Result<Done> checkDocument(sqlite3 *database, const std::string &table, RowId id, const std::string &document,
                           const std::string &name)
{
    Statement sum(database, "SELECT document FROM sums WHERE name = ? AND row = ?");
    sum.bind(table).bind(id);
    if (sum.step() == SQLITE_ROW && sum.text(0) == hashOf(document))
        return Done{};
    return unusable("{file}: is damaged. Read its frame again", {{"file", name}});
}

} // namespace wavechroma::sql
