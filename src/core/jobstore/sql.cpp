#include "core/jobstore/sql.h"

namespace wavechroma::sql {

Error failure(sqlite3 *database, const std::string &name)
{
    const int code = database ? sqlite3_errcode(database) : SQLITE_NOMEM;
    switch (code & 0xFF) {
    case SQLITE_FULL:
        return unusable(
            "{file}: the disk is full. The last action was not saved; everything before it is safe",
            {{"file", name}});
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return unusable("{file}: another program is writing to this job", {{"file", name}});
    case SQLITE_READONLY:
    case SQLITE_PERM:
        return unusable("{file}: the job's folder cannot be written to", {{"file", name}});
    case SQLITE_CANTOPEN:
        return unusable("{file}: the job's file cannot be opened. Is the folder still there?",
                        {{"file", name}});
    case SQLITE_IOERR:
        return unusable("{file}: the disk did not answer. The last action was not saved", {{"file", name}});
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
        return unusable("{file}: the job's file is damaged", {{"file", name}});
    default:
        return internalError("{file}: {why}",
                             {{"file", name}, {"why", database ? sqlite3_errmsg(database) : "no memory"}});
    }
}

Result<Done> run(sqlite3 *database, const std::string &text, const std::string &name)
{
    if (sqlite3_exec(database, text.c_str(), nullptr, nullptr, nullptr) != SQLITE_OK)
        return failure(database, name);
    return Done{};
}

Statement::Statement(sqlite3 *database, const char *text)
{
    sqlite3_prepare_v2(database, text, -1, &m_statement, nullptr);
}

Statement::~Statement()
{
    sqlite3_finalize(m_statement);
}

Statement &Statement::bind(int64_t value)
{
    sqlite3_bind_int64(m_statement, ++m_bound, value);
    return *this;
}

Statement &Statement::bind(double value)
{
    sqlite3_bind_double(m_statement, ++m_bound, value);
    return *this;
}

Statement &Statement::bindNothing()
{
    sqlite3_bind_null(m_statement, ++m_bound);
    return *this;
}

Statement &Statement::bind(const std::string &value)
{
    sqlite3_bind_text(m_statement, ++m_bound, value.data(), int(value.size()), SQLITE_TRANSIENT);
    return *this;
}

std::string Statement::text(int column) const
{
    const auto *bytes = reinterpret_cast<const char *>(sqlite3_column_text(m_statement, column));
    return bytes ? std::string(bytes, size_t(sqlite3_column_bytes(m_statement, column))) : std::string();
}

} // namespace wavechroma::sql
