#include "core/jobstore/job_store.h"

#include "core/base/said.h"
#include "core/jobstore/job_tables.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <linux/magic.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/vfs.h>
#include <system_error>
#include <tuple>
#include <unistd.h>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

constexpr const char *kDatabase = "job.sqlite";
constexpr const char *kLock = "job.lock";
constexpr const char *kLog = "job.sqlite-wal";
constexpr const char *kGrowing = "job.sqlite-new"; ///< a job that is being made

/// NFS, SMB/CIFS and file systems in user space (which is how other shares are mounted) do not give the
/// shared memory that a write-ahead log stands on: SQLite documentation, "Write-Ahead Logging", section 1,
/// point 2.
bool isNetworkFolder(const fs::path &folder)
{
    constexpr long kCifs = 0xFF534D42, kSmb2 = 0xFE534D42, kFuse = 0x65735546;
    struct statfs info
    {
    };
    if (statfs(folder.c_str(), &info) != 0)
        return false;
    const auto type = long(info.f_type);
    return type == NFS_SUPER_MAGIC || type == SMB_SUPER_MAGIC || type == kCifs || type == kSmb2 ||
           type == kFuse ||
           std::getenv("WAVECHROMA_NETWORK_FOLDER") != nullptr; // for tests, which have no share at hand
}

std::string uriEscaped(const std::string &path)
{
    std::string out;
    for (const char c : path)
        out += c == '?' || c == '#' || c == '%' ? fmt::format("%{:02X}", uint8_t(c)) : std::string(1, c);
    return out;
}

/// Does the log hold changes? One that is empty, or was written back, is cut to nothing or begins anew.
bool hasCommitted(const fs::path &log)
{
    std::error_code code;
    const auto size = fs::file_size(log, code);
    return !code && size > 0;
}

/// Which file a path or a descriptor stands for; nothing where there is none.
using FileIdentity = std::pair<dev_t, ino_t>;

std::optional<FileIdentity> identityOf(const struct stat &info)
{
    return FileIdentity{info.st_dev, info.st_ino};
}

std::optional<FileIdentity> identityOf(const fs::path &path)
{
    struct stat info
    {
    };
    return ::stat(path.c_str(), &info) == 0 ? identityOf(info) : std::nullopt;
}

std::optional<FileIdentity> identityOf(int descriptor)
{
    struct stat info
    {
    };
    return ::fstat(descriptor, &info) == 0 ? identityOf(info) : std::nullopt;
}

/// Size and time of the last writing; −1 for a file that is not there.
std::tuple<int64_t, int64_t, int64_t> stampOf(const fs::path &path)
{
    struct stat info
    {
    };
    if (::stat(path.c_str(), &info) != 0)
        return {-1, 0, 0};
    return {info.st_size, info.st_mtim.tv_sec, info.st_mtim.tv_nsec};
}

} // namespace

struct JobStore::Inner
{
    fs::path folder;
    sql::Connection connection; ///< shared with documents that are not parsed yet
    sqlite3 *database = nullptr;
    int lock = -1;
    words::Phrase readOnlyReason;
    bool writeAhead = false;
    std::optional<FileIdentity> opened; ///< the database's file
    fs::path rescued;                   ///< the copy, where one was needed

    fs::path copied; ///< the folder of the copy that is read, where one is needed

    ~Inner()
    {
        if (lock >= 0)
            ::close(lock);
        std::error_code code;
        if (!copied.empty())
            fs::remove_all(copied, code); // documents to be parsed later keep what they have open
    }
    std::string name() const { return folder.string(); }

    /// Sets readOnlyReason when the lock is not to be had.
    void takeLock()
    {
        lock = ::open((folder / kLock).c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666);
        if (lock < 0) {
            readOnlyReason = {
                words::said(
                    "This folder cannot be written to ({why}). You can look at the job but not change it."),
                {{"why", std::strerror(errno)}}};
            return;
        }
        if (::flock(lock, LOCK_EX | LOCK_NB) == 0)
            return;
        ::close(lock);
        lock = -1;
        readOnlyReason = {
            words::said(
                "The job {job} is open in another window or program. You can look at it here; changes are "
                "made there."),
            {{"job", name()}}};
    }

    /// What was stored so far into a file of its own; empty where that cannot be.
    fs::path rescue()
    {
        for (int n = 1; rescued.empty() && n < 100; ++n) {
            const auto to = folder / fmt::format("job-kept-{}.sqlite", n);
            std::error_code code;
            if (fs::exists(to, code))
                continue;
            if (sql::Statement(database, "VACUUM INTO ?").bind(to.string()).step() != SQLITE_DONE)
                return {};
            rescued = to;
        }
        return rescued;
    }

    /// Is it still our file that the path names, and our lock?
    Result<Done> stillOurs()
    {
        const auto now = identityOf(folder / kDatabase);
        if (now != opened || !now) {
            const auto copy = rescue();
            if (copy.empty())
                return unusable("{folder}: job.sqlite was deleted, moved or replaced by another program. "
                                "This change was not saved. Close the job and open it where it is now.",
                                {{"folder", name()}});
            return unusable("{folder}: job.sqlite was deleted, moved or replaced by another program. This "
                            "change was not saved. Everything before it is saved as {copy}.",
                            {{"folder", name()}, {"copy", copy.filename().string()}});
        }
        if (identityOf(folder / kLock) == identityOf(lock))
            return Done{};
        ::close(lock);
        lock = -1;
        takeLock();
        if (!readOnlyReason.empty())
            return unusable(readOnlyReason);
        return Done{};
    }

    /// Database and log as they are at one moment, in a folder of their own.
    Result<fs::path> copyToRead()
    {
        std::error_code code;
        const auto name = (fs::temp_directory_path(code) / "wavechroma-job-XXXXXX").string();
        std::vector<char> place(name.c_str(), name.c_str() + name.size() + 1);
        if (code || !::mkdtemp(place.data()))
            return unusable("{folder}: its last changes are in {log}, which can only be read through a copy, "
                            "but the temporary folder cannot be written to",
                            {{"folder", this->name()}, {"log", kLog}});
        copied = place.data();
        constexpr int kTries = 5; // another program may write meanwhile
        for (int i = 0; i < kTries; ++i) {
            const auto before = std::pair(stampOf(folder / kDatabase), stampOf(folder / kLog));
            for (const char *file : {kDatabase, kLog})
                fs::copy_file(folder / file, copied / file, fs::copy_options::overwrite_existing, code);
            if (code)
                return unusable("{folder}: {why}", {{"folder", this->name()}, {"why", code.message()}});
            if (before == std::pair(stampOf(folder / kDatabase), stampOf(folder / kLog)))
                return copied / kDatabase;
        }
        return unusable("{folder}: another program is writing to this job", {{"folder", this->name()}});
    }

    Result<Done> openDatabase()
    {
        std::string path = (folder / kDatabase).string();
        int mode = readOnlyReason.empty() ? SQLITE_OPEN_READWRITE : SQLITE_OPEN_READONLY;
        // A write-ahead database cannot be opened in a folder where its shared memory cannot be made, unless
        // SQLite is told that nobody writes to it.
        if (!readOnlyReason.empty() && ::access(folder.c_str(), W_OK) != 0) {
            const auto hasLog = hasCommitted(folder / kLog);
            if (hasLog) { // which "immutable" would pass over
                const auto copy = copyToRead();
                if (!copy)
                    return copy.error();
                path = copy->string();
                mode = SQLITE_OPEN_READWRITE;
            } else {
                path = "file:" + uriEscaped(path) + "?immutable=1";
                mode |= SQLITE_OPEN_URI;
            }
        }
        const int code = sqlite3_open_v2(path.c_str(), &database, mode, nullptr);
        connection = sql::Connection(database, sqlite3_close_v2);
        opened = identityOf(folder / kDatabase);
        if (code != SQLITE_OK)
            return sql::failure(database, name());
        sqlite3_busy_timeout(database, 2000);
        if (!readOnlyReason.empty())
            return Done{};
        const std::string journal = isNetworkFolder(folder) ? "DELETE" : "WAL";
        sql::Statement set(database, ("PRAGMA journal_mode=" + journal).c_str());
        if (set.step() != SQLITE_ROW)
            return sql::failure(database, name());
        writeAhead = set.text(0) == "wal";
        return sql::run(database, "PRAGMA synchronous=FULL; PRAGMA foreign_keys=OFF;", name());
    }
};

JobStore::JobStore(std::unique_ptr<Inner> inner) : m_inner(std::move(inner)) {}
JobStore::~JobStore() = default;

bool JobStore::holdsJob(const fs::path &folder)
{
    std::error_code code;
    return fs::is_regular_file(folder / kDatabase, code) && fs::file_size(folder / kDatabase, code) > 0;
}

void JobStore::removeFiles(bool withFolder)
{
    auto &in = *m_inner;
    if (in.lock < 0 || identityOf(in.folder / kLock) != identityOf(in.lock) ||
        identityOf(in.folder / kDatabase) != in.opened || !in.opened)
        return;
    std::error_code code;
    for (const char *file : {kDatabase, kLog, "job.sqlite-shm", kLock})
        fs::remove(in.folder / file, code);
    if (withFolder)
        fs::remove(in.folder, code); // only when nothing else is in it
}

/// A whole database under another name, its connection closed again.
static Result<Done> makeDatabase(const fs::path &folder, const std::string &title)
{
    sqlite3 *database = nullptr;
    const auto file = folder / kGrowing;
    const auto name = folder.string();
    std::error_code code;
    for (const char *ending : {"", "-journal"}) // of a program that was ended half way
        fs::remove(file.string() + ending, code);
    const int opened =
        sqlite3_open_v2(file.c_str(), &database, SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE, nullptr);
    const sql::Connection connection(database, sqlite3_close_v2);
    if (opened != SQLITE_OK)
        return sql::failure(database, name);
    JobChange change;
    change.titles.push_back({JobTitle{}, JobTitle{1, title}});
    change.setups.push_back({std::nullopt, JobSetup{1, "Setup 1", ""}});
    if (const auto tables = sql::makeTables(database, name); !tables)
        return tables;
    return sql::store(database, change, name);
}

Result<std::unique_ptr<JobStore>> JobStore::create(const fs::path &folder, const std::string &title)
{
    std::error_code code;
    fs::create_directories(folder, code);
    if (code)
        return unusable("{folder}: the folder cannot be made: {why}",
                        {{"folder", folder.string()}, {"why", code.message()}});
    if (holdsJob(folder))
        return unusable("{folder}: this folder already holds a job", {{"folder", folder.string()}});
    auto inner = std::make_unique<Inner>();
    inner->folder = folder;
    inner->takeLock();
    if (!inner->readOnlyReason.empty())
        return unusable("{folder}: {reason}",
                        {{"folder", folder.string()}, {"reason", inner->readOnlyReason}});
    const auto growing = folder / kGrowing;
    auto made = makeDatabase(folder, title);
    // an empty file of that name is what a full disk left of an earlier try
    if (made && ::rename(growing.c_str(), (folder / kDatabase).c_str()) != 0)
        made = unusable("{folder}: {why}", {{"folder", folder.string()}, {"why", std::strerror(errno)}});
    if (!made) {
        fs::remove(growing, code);
        fs::remove(folder / kLock, code);
        return made.error();
    }
    if (const auto opened = inner->openDatabase(); !opened)
        return opened.error();
    return std::unique_ptr<JobStore>(new JobStore(std::move(inner)));
}

Result<std::unique_ptr<JobStore>> JobStore::open(const fs::path &folder)
{
    if (!holdsJob(folder))
        return unusable("{folder}: there is no job in this folder", {{"folder", folder.string()}});
    auto inner = std::make_unique<Inner>();
    inner->folder = folder;
    inner->takeLock();
    if (inner->readOnlyReason.empty() && ::access((folder / kDatabase).c_str(), W_OK) != 0)
        inner->readOnlyReason = {
            words::said("The job's file is write-protected. You can look at the job but not change it.")};
    if (const auto opened = inner->openDatabase(); !opened)
        return opened.error();
    if (const auto known = sql::checkSchema(inner->database, inner->name()); !known)
        return known.error();
    return std::unique_ptr<JobStore>(new JobStore(std::move(inner)));
}

const fs::path &JobStore::folder() const
{
    return m_inner->folder;
}

bool JobStore::isReadOnly() const
{
    return !m_inner->readOnlyReason.empty();
}

const words::Phrase &JobStore::readOnlyReason() const
{
    return m_inner->readOnlyReason;
}

bool JobStore::usesWriteAheadLog() const
{
    return m_inner->writeAhead;
}

Result<JobState> JobStore::load() const
{
    return sql::loadState(m_inner->connection, m_inner->name());
}

Result<Done> JobStore::apply(const JobChange &change)
{
    if (isReadOnly())
        return unusable(m_inner->readOnlyReason);
    if (const auto ours = m_inner->stillOurs(); !ours)
        return ours;
    sql::keepBefore(change);
    return sql::store(m_inner->database, change, m_inner->name());
}

Result<std::vector<std::string>> JobStore::waiting() const
{
    return sql::loadWaiting(m_inner->database, m_inner->name());
}

Result<Done> JobStore::setWaiting(const std::vector<std::string> &files)
{
    if (isReadOnly())
        return unusable(m_inner->readOnlyReason);
    if (const auto ours = m_inner->stillOurs(); !ours)
        return ours;
    return sql::putWaiting(m_inner->database, files, m_inner->name());
}

std::string JobStore::keptPath(const fs::path &folder, const fs::path &file)
{
    std::error_code code;
    const auto full = fs::weakly_canonical(file, code), base = fs::weakly_canonical(folder, code);
    const auto relative = full.lexically_relative(base);
    const bool below = !relative.empty() && *relative.begin() != "..";
    return below ? relative.string() : full.string();
}

fs::path JobStore::fullPath(const JobFrame &frame) const
{
    const fs::path path = frame.path;
    return path.is_absolute() ? path : m_inner->folder / path;
}

} // namespace wavechroma
