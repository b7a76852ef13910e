#include "core/formats/whole_file.h"

#include <array>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <optional>
#include <poll.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>

namespace wavechroma {

namespace {

Error failure(const std::filesystem::path &file)
{
    return unusable("{file}: cannot be written: {why}",
                    {{"file", file.string()}, {"why", std::strerror(errno)}});
}

Error existsAlready(const std::filesystem::path &file)
{
    return unusable("{file}: exists already and is not replaced", {{"file", file.string()}});
}

/// All of it, or why not.
Result<Done> write(int descriptor, std::span<const uint8_t> bytes, const std::filesystem::path &file)
{
    while (!bytes.empty()) {
        const ssize_t written = ::write(descriptor, bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR)
            continue;
        if (written <= 0)
            return failure(file);
        bytes = bytes.subspan(size_t(written));
    }
    return Done{};
}

/// What stands where a file is to go.
struct Target
{
    std::filesystem::path file; ///< with links followed: a link stays one
    bool isStream = false;      ///< a device, pipe or socket: written into, never replaced
    std::optional<struct stat> before = {};
};

Result<Target> targetOf(std::filesystem::path file)
{
    std::error_code code;
    for (int links = 0; std::filesystem::is_symlink(file, code); ++links) {
        const auto to = std::filesystem::read_symlink(file, code);
        if (code || links > 32) {
            errno = code ? code.value() : ELOOP;
            return failure(file);
        }
        file = to.is_absolute() ? to : file.parent_path() / to;
    }
    Target out{file};
    struct stat info
    {
    };
    if (::stat(file.c_str(), &info) != 0) {
        if (errno != ENOENT)
            return failure(file);
        return out;
    }
    if (S_ISDIR(info.st_mode))
        return unusable("{file}: is a folder", {{"file", file.string()}});
    out.isStream = !S_ISREG(info.st_mode);
    out.before = info;
    return out;
}

std::string randomWord()
{
    std::array<uint8_t, 8> bytes{};
    if (::getentropy(bytes.data(), bytes.size()) != 0)
        bytes[0] = uint8_t(::getpid());
    std::string out;
    for (const auto b : bytes)
        out += fmt::format("{:02x}", b);
    return out;
}

/// ".north.json.4711-9f3a….part": names the program, so that what a killed one left can be told.
std::string partPrefix(const std::filesystem::path &file)
{
    return "." + file.filename().string().substr(0, 200) + ".";
}

/// Removes what programs that are gone left of this file.
void sweep(const std::filesystem::path &file)
{
    const auto prefix = partPrefix(file);
    const auto folder = file.parent_path().empty() ? std::filesystem::path(".") : file.parent_path();
    std::error_code code;
    for (std::filesystem::directory_iterator at(folder, code), end; !code && at != end; at.increment(code)) {
        const auto name = at->path().filename().string();
        if (name.rfind(prefix, 0) != 0 || !name.ends_with(".part"))
            continue;
        const int owner = std::atoi(name.c_str() + prefix.size());
        if (owner > 0 && ::kill(owner, 0) != 0 && errno == ESRCH)
            std::filesystem::remove(at->path(), code);
    }
}

/// A file under a temporary name; removed unless it was moved into place.
class Temporary
{
public:
    explicit Temporary(Target target)
        : m_target(std::move(target)),
          m_path(m_target.file.parent_path() /
                 (partPrefix(m_target.file) + fmt::format("{}-{}.part", getpid(), randomWord())))
    {
    }
    ~Temporary()
    {
        if (m_descriptor >= 0)
            ::close(m_descriptor);
        if (m_isThere)
            ::unlink(m_path.c_str());
    }
    Temporary(Temporary &&other) noexcept
        : m_target(std::move(other.m_target)), m_path(std::move(other.m_path)),
          m_descriptor(std::exchange(other.m_descriptor, -1)),
          m_isThere(std::exchange(other.m_isThere, false))
    {
    }

    Result<Done> begin()
    {
        m_descriptor = ::open(m_path.c_str(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666);
        if (m_descriptor < 0)
            return failure(m_target.file);
        m_isThere = true;
        if (m_target.before) { // as the file that it replaces; where that may not be, as any new one
            (void)!::fchown(m_descriptor, m_target.before->st_uid, m_target.before->st_gid);
            (void)!::fchmod(m_descriptor, m_target.before->st_mode & 07777);
        }
        return Done{};
    }

    Result<Done> fill(std::span<const uint8_t> bytes)
    {
        if (const auto begun = begin(); !begun)
            return begun;
        if (const auto written = write(m_descriptor, bytes, m_target.file); !written)
            return written;
        return finish();
    }

    Result<Done> finish()
    {
        // Some file systems tell of a full disk only here or at close.
        if (::fsync(m_descriptor) != 0 && errno != EINVAL && errno != EROFS)
            return failure(m_target.file);
        if (::close(std::exchange(m_descriptor, -1)) != 0)
            return failure(m_target.file);
        return Done{};
    }

    /// Where nothing may be replaced, a link that fails if something is there takes the place of the move.
    Result<Done> takeEmptyPlace()
    {
        if (::link(m_path.c_str(), m_target.file.c_str()) != 0) {
            if (errno == EEXIST || std::filesystem::exists(m_target.file))
                return existsAlready(m_target.file);
            return moveIntoPlace(); // a file system without links
        }
        return Done{};
    }

    [[nodiscard]] int descriptor() const { return m_descriptor; }
    [[nodiscard]] const std::filesystem::path &place() const { return m_target.file; }

    Result<Done> moveIntoPlace()
    {
        if (::rename(m_path.c_str(), m_target.file.c_str()) != 0)
            return failure(m_target.file);
        m_isThere = false;
        return Done{};
    }

private:
    Target m_target;
    std::filesystem::path m_path;
    int m_descriptor = -1;
    bool m_isThere = false;
};

Result<Done> writeInto(const Target &stream, std::span<const uint8_t> bytes)
{
    const int descriptor = ::open(stream.file.c_str(), O_WRONLY | O_CLOEXEC | O_NOCTTY);
    if (descriptor < 0)
        return failure(stream.file);
    auto written = write(descriptor, bytes, stream.file);
    if (::close(descriptor) != 0 && written)
        written = failure(stream.file);
    return written;
}

} // namespace

Bytes bytesOf(std::string_view text)
{
    return {text.begin(), text.end()};
}

Result<Done> writeWhole(const std::vector<OutputFile> &files)
{
    std::vector<Temporary> temporaries;
    std::vector<std::pair<Target, const OutputFile *>> streams;
    for (const auto &file : files) {
        const auto target = targetOf(file.path);
        if (!target)
            return target.error();
        if (target->isStream) {
            streams.emplace_back(*target, &file);
            continue;
        }
        sweep(target->file);
        temporaries.emplace_back(*target);
        if (const auto filled = temporaries.back().fill(file.bytes); !filled)
            return filled.error();
    }
    for (auto &temporary : temporaries)
        if (const auto moved = temporary.moveIntoPlace(); !moved)
            return moved.error();
    for (const auto &[stream, file] : streams)
        if (const auto written = writeInto(stream, file->bytes); !written)
            return written.error();
    return Done{};
}

struct GrowingFile::State
{
    Temporary temporary;
    bool replace = false;
};

GrowingFile::GrowingFile(std::unique_ptr<State> state) : m_state(std::move(state)) {}
GrowingFile::GrowingFile(GrowingFile &&) noexcept = default;
GrowingFile::~GrowingFile() = default;

Result<GrowingFile> GrowingFile::begin(const std::filesystem::path &file, bool replace)
{
    const auto target = targetOf(file);
    if (!target)
        return target.error();
    if (target->isStream)
        return unusable("{file}: is a device or a pipe, which holds no picture", {{"file", file.string()}});
    if (target->before && !replace)
        return existsAlready(file);
    sweep(target->file);
    auto state = std::make_unique<State>(State{Temporary(*target), replace});
    if (const auto begun = state->temporary.begin(); !begun)
        return begun.error();
    return GrowingFile(std::move(state));
}

int GrowingFile::descriptorOfItsOwn() const
{
    return ::fcntl(m_state->temporary.descriptor(), F_DUPFD_CLOEXEC, 0);
}

std::filesystem::path GrowingFile::path() const
{
    return m_state->temporary.place();
}

Result<Done> GrowingFile::commit()
{
    if (const auto finished = m_state->temporary.finish(); !finished)
        return finished;
    return m_state->replace ? m_state->temporary.moveIntoPlace() : m_state->temporary.takeEmptyPlace();
}

Error GrowingFile::failure() const
{
    if (errno == 0)
        errno = EIO;
    return wavechroma::failure(m_state->temporary.place());
}

namespace {

struct Descriptor
{
    int number = -1;
    ~Descriptor()
    {
        if (number >= 0)
            ::close(number);
    }
};

/// The next bytes; none at the end. A pipe has an end only after somebody wrote into it, which is waited for
/// a moment; once there is a writer, it may take its time.
Result<size_t> readSome(int from, std::span<uint8_t> into, bool isPipeSoFarEmpty, const std::string &name)
{
    constexpr int kPatience = 40, kStepMs = 50;
    for (int waited = 0;;) {
        const ssize_t n = ::read(from, into.data(), into.size());
        if (n > 0 || (n == 0 && !isPipeSoFarEmpty))
            return size_t(n);
        if (n < 0 && errno != EAGAIN && errno != EINTR)
            return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(errno)}});
        if (n == 0 && ++waited > kPatience)
            return unusable("{file}: is a pipe that no program writes to", {{"file", name}});
        pollfd ready{from, POLLIN, 0};
        if (n == 0)
            ::usleep(kStepMs * 1000);
        else
            ::poll(&ready, 1, -1);
    }
}

} // namespace

Result<Bytes> readWhole(const std::filesystem::path &path, size_t most)
{
    const std::string name = path.string();
    struct stat info
    {
    };
    if (::stat(path.c_str(), &info) != 0)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(errno)}});
    if (S_ISDIR(info.st_mode))
        return unusable("{file}: is a folder", {{"file", name}});
    if (!S_ISREG(info.st_mode) && !S_ISFIFO(info.st_mode)) // devices have no end
        return unusable("{file}: is a device, not a file", {{"file", name}});
    const Descriptor in{::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK)};
    if (in.number < 0)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(errno)}});
    const bool isPipe = S_ISFIFO(info.st_mode);
    if (!isPipe && size_t(info.st_size) > most)
        return unusable("{file}: is larger than expected of such a file", {{"file", name}});
    Bytes bytes;
    bytes.reserve(isPipe ? 0 : size_t(info.st_size));
    for (std::array<uint8_t, 1 << 16> chunk{};;) {
        const auto n = readSome(in.number, chunk, isPipe && bytes.empty(), name);
        if (!n)
            return n.error();
        if (*n == 0)
            return bytes;
        if (bytes.size() + *n > most) // a pipe tells no size before
            return unusable("{file}: is larger than expected of such a file", {{"file", name}});
        bytes.insert(bytes.end(), chunk.begin(), chunk.begin() + ptrdiff_t(*n));
    }
}

Result<std::string> readText(const std::filesystem::path &path, size_t most)
{
    const auto bytes = readWhole(path, most);
    if (!bytes)
        return bytes.error();
    return std::string(bytes->begin(), bytes->end());
}

} // namespace wavechroma
