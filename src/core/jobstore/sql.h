#pragma once
#include "core/base/result.h"
#include "core/jobstore/job_rows.h"

#include <sqlite3.h>

/// A thin hold on SQLite for this folder only.
namespace wavechroma::sql {

/// What went wrong, in a photographer's words where it is one of the usual things.
[[nodiscard]] Error failure(sqlite3 *database, const std::string &name);

[[nodiscard]] Result<Done> run(sqlite3 *database, const std::string &text, const std::string &name);

/// A prepared statement; bound values are counted from 1 in the order of the calls.
class Statement
{
public:
    Statement(sqlite3 *database, const char *text);
    ~Statement();
    Statement(const Statement &) = delete;
    Statement &operator=(const Statement &) = delete;

    Statement &bind(int64_t value);
    Statement &bind(double value);
    Statement &bind(const std::string &value);
    Statement &bindNothing(); ///< NULL
    [[nodiscard]] int step() { return m_statement ? sqlite3_step(m_statement) : SQLITE_ERROR; }

    [[nodiscard]] int64_t integer(int column) const { return sqlite3_column_int64(m_statement, column); }
    [[nodiscard]] double number(int column) const { return sqlite3_column_double(m_statement, column); }
    [[nodiscard]] std::string text(int column) const;
    [[nodiscard]] int columns() const { return sqlite3_column_count(m_statement); }
    [[nodiscard]] int type(int column) const
    {
        return sqlite3_column_type(m_statement, column);
    } ///< SQLITE_NULL …

private:
    sqlite3_stmt *m_statement = nullptr;
    int m_bound = 0;
};

} // namespace wavechroma::sql
