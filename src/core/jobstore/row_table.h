#pragma once
#include "core/jobstore/sql.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

/// A kind of row as a table: its columns by name, with the member that each is. Making the table, reading and
/// writing rows follow from it.
namespace wavechroma::sql {

template <class Row> struct Column
{
    std::string name, type;
    std::function<void(Statement &, const Row &)> bind;
    /// Reads the column of that number into a row. An error is what is wrong with the value, as the end of a
    /// sentence.
    std::function<Result<Done>(const Statement &, int column, Row &)> read;
    bool isLater = false; ///< a document that is fetched when it is asked for: `read` is not called
};

template <class Row> struct Table
{
    std::string name;
    std::vector<Column<Row>> columns; ///< the first one is the key
};

namespace detail {

template <class Value> constexpr const char *typeOf()
{
    if constexpr (std::is_same_v<Value, std::string>)
        return "TEXT NOT NULL";
    else if constexpr (std::is_same_v<Value, double>)
        return "REAL NOT NULL";
    else if constexpr (std::is_same_v<Value, std::optional<double>>)
        return "REAL";
    else
        return "INTEGER NOT NULL";
}

template <class Value> void bindValue(Statement &to, const Value &value)
{
    if constexpr (std::is_same_v<Value, std::string> || std::is_same_v<Value, double>)
        to.bind(value);
    else if constexpr (std::is_same_v<Value, std::optional<double>>)
        value ? to.bind(*value) : to.bindNothing();
    else
        to.bind(int64_t(value));
}

template <class Value> void readValue(const Statement &from, int column, Value &value)
{
    if constexpr (std::is_same_v<Value, std::string>)
        value = from.text(column);
    else if constexpr (std::is_same_v<Value, double>)
        value = from.number(column);
    else if constexpr (std::is_same_v<Value, std::optional<double>>)
        value = from.type(column) == SQLITE_NULL ? Value() : Value(from.number(column));
    else
        value = Value(from.integer(column));
}

} // namespace detail

/// A column that is a member, or a member of a member …: column<JobFrame>("lens", &JobFrame::camera,
/// &CameraFacts::lens).
template <class Row, class... Members> Column<Row> column(const char *name, Members... members)
{
    const auto of = [members...](auto &row) -> auto &
    {
        return (row.*....*members);
    };
    using Value = std::remove_cvref_t<decltype(of(std::declval<Row &>()))>;
    return {name, detail::typeOf<Value>(),
            [of](Statement &to, const Row &row) { detail::bindValue(to, of(row)); },
            [of](const Statement &from, int at, Row &row) -> Result<Done> {
                detail::readValue(from, at, of(row));
                return Done{};
            }};
}

/// A column of text that a value is written as.
template <class Row>
Column<Row> textColumn(const char *name, std::function<std::string(const Row &)> write,
                       std::function<Result<Done>(const std::string &, Row &)> read)
{
    return {name, "TEXT NOT NULL", [write](Statement &to, const Row &row) { to.bind(write(row)); },
            [read](const Statement &from, int at, Row &row) { return read(from.text(at), row); }};
}
template <class Row> Column<Row> laterColumn(const char *name, std::function<std::string(const Row &)> write)
{
    return {name, "TEXT NOT NULL", [write](Statement &to, const Row &row) { to.bind(write(row)); }, {}, true};
}

/// "title, notes": the columns' names; those that are read at once, or all.
template <class Row> std::string namesOf(const Table<Row> &table, bool withLater)
{
    std::string out;
    for (const auto &column : table.columns)
        if (withLater || !column.isLater)
            out += (out.empty() ? "" : ", ") + column.name;
    return out;
}

template <class Row> std::string creation(const Table<Row> &table)
{
    std::string out = "CREATE TABLE " + table.name + " (";
    for (size_t i = 0; i < table.columns.size(); ++i)
        out += (i ? ", " : "") + table.columns[i].name + " " +
               (i ? table.columns[i].type : std::string("INTEGER PRIMARY KEY"));
    return out + ");";
}

/// Writes a row, new or in the place of the one with its id; SQLITE_DONE when it worked.
template <class Row> int put(sqlite3 *database, const Table<Row> &table, const Row &row)
{
    std::string places;
    for (size_t i = 0; i < table.columns.size(); ++i)
        places += i ? ",?" : "?";
    Statement statement(database, ("INSERT OR REPLACE INTO " + table.name + " (" + namesOf(table, true) +
                                   ") VALUES (" + places + ")")
                                      .c_str());
    for (const auto &column : table.columns)
        column.bind(statement, row);
    return statement.step();
}

/// Reads all rows in the order of their ids and hands each to `take`. A value that cannot be is named with
/// its table and row.
template <class Row>
Result<Done> readRows(sqlite3 *database, const Table<Row> &table, const std::string &name,
                      const std::function<Result<Done>(Row)> &take)
{
    Statement rows(database,
                   ("SELECT " + namesOf(table, false) + " FROM " + table.name + " ORDER BY id").c_str());
    int code = rows.step();
    for (; code == SQLITE_ROW; code = rows.step()) {
        Row row;
        int at = 0;
        for (const auto &column : table.columns) {
            if (column.isLater)
                continue;
            if (const auto read = column.read(rows, at++, row); !read)
                return unusable("{file}: {table} {row} is damaged: {column} {fault}",
                                {{"file", name},
                                 {"table", table.name},
                                 {"row", double(rows.integer(0))},
                                 {"column", column.name},
                                 {"fault", read.error().phrase}});
        }
        if (const auto taken = take(std::move(row)); !taken)
            return taken;
    }
    return code == SQLITE_DONE ? Result<Done>(Done{}) : failure(database, name);
}

} // namespace wavechroma::sql
