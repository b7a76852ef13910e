#include "core/formats/whole_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace wavechroma {

namespace {

/// A file under a temporary name; removed unless it was moved into place.
class Temporary
{
public:
    explicit Temporary(std::filesystem::path target)
        : m_target(std::move(target)), m_path(m_target.string() + fmt::format(".part-{}", getpid()))
    {
    }
    ~Temporary()
    {
        if (m_descriptor >= 0)
            ::close(m_descriptor);
        if (!m_path.empty())
            ::unlink(m_path.c_str());
    }
    Temporary(Temporary &&other) noexcept
        : m_target(std::move(other.m_target)), m_path(std::exchange(other.m_path, {})),
          m_descriptor(std::exchange(other.m_descriptor, -1))
    {
    }

    Result<Done> fill(std::span<const uint8_t> bytes)
    {
        m_descriptor = ::open(m_path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
        if (m_descriptor < 0)
            return failure();
        while (!bytes.empty()) {
            const ssize_t written = ::write(m_descriptor, bytes.data(), bytes.size());
            if (written < 0 && errno == EINTR)
                continue;
            if (written <= 0)
                return failure();
            bytes = bytes.subspan(size_t(written));
        }
        // Some file systems tell of a full disk only here or at close.
        if (::fsync(m_descriptor) != 0 && errno != EINVAL && errno != EROFS)
            return failure();
        if (::close(std::exchange(m_descriptor, -1)) != 0)
            return failure();
        return Done{};
    }

    Result<Done> moveIntoPlace()
    {
        if (::rename(m_path.c_str(), m_target.c_str()) != 0)
            return failure();
        m_path.clear();
        return Done{};
    }

private:
    Error failure() const
    {
        return unusable("{file}: cannot be written: {why}",
                        {{"file", m_target.string()}, {"why", std::strerror(errno)}});
    }

    std::filesystem::path m_target;
    std::string m_path;
    int m_descriptor = -1;
};

} // namespace

Bytes bytesOf(std::string_view text)
{
    return {text.begin(), text.end()};
}

Result<Done> writeWhole(const std::vector<OutputFile> &files)
{
    std::vector<Temporary> temporaries;
    for (const auto &file : files) {
        if (std::filesystem::is_directory(file.path))
            return unusable("{file}: is a folder", {{"file", file.path.string()}});
        temporaries.emplace_back(file.path);
        if (const auto filled = temporaries.back().fill(file.bytes); !filled)
            return filled.error();
    }
    for (auto &temporary : temporaries)
        if (const auto moved = temporary.moveIntoPlace(); !moved)
            return moved.error();
    return Done{};
}

Result<Bytes> readWhole(const std::filesystem::path &path, size_t most)
{
    std::error_code code;
    if (std::filesystem::is_directory(path, code))
        return unusable("{file}: is a folder", {{"file", path.string()}});
    std::ifstream in(path, std::ios::binary);
    if (!in)
        return unusable("{file}: {why}",
                        {{"file", path.string()}, {"why", std::strerror(errno ? errno : ENOENT)}});
    const auto size = std::filesystem::file_size(path, code);
    if (!code && size > most)
        return unusable("{file}: is larger than expected of such a file", {{"file", path.string()}});
    Bytes bytes((std::istreambuf_iterator<char>(in)), {});
    if (in.bad())
        return unusable("{file}: cannot be read", {{"file", path.string()}});
    return bytes;
}

Result<std::string> readText(const std::filesystem::path &path, size_t most)
{
    const auto bytes = readWhole(path, most);
    if (!bytes)
        return bytes.error();
    return std::string(bytes->begin(), bytes->end());
}

} // namespace wavechroma
