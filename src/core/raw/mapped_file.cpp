#include "core/raw/decoders.h"

#include <array>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <openssl/evp.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace wavechroma {

namespace raw {

Result<std::shared_ptr<const MappedFile>> MappedFile::open(const std::filesystem::path &path)
{
    const std::string name = path.string();
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK); // a pipe must not make us wait
    if (fd < 0)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(errno)}});
    struct stat info
    {
    };
    if (fstat(fd, &info) != 0 || !S_ISREG(info.st_mode)) {
        ::close(fd);
        return unusable(S_ISDIR(info.st_mode) ? "{file}: is a folder, not a picture"
                                              : "{file}: is not a regular file",
                        {{"file", name}});
    }
    if (info.st_size == 0) {
        ::close(fd);
        return unusable("{file}: the file is empty", {{"file", name}});
    }
    void *data = mmap(nullptr, size_t(info.st_size), PROT_READ, MAP_PRIVATE, fd, 0);
    const int mapError = errno;
    ::close(fd);
    if (data == MAP_FAILED)
        return unusable("{file}: {why}", {{"file", name}, {"why", std::strerror(mapError)}});
    std::shared_ptr<MappedFile> file(new MappedFile);
    file->m_data = static_cast<const uint8_t *>(data);
    file->m_size = size_t(info.st_size);
    return std::shared_ptr<const MappedFile>(std::move(file));
}

MappedFile::~MappedFile()
{
    if (m_data)
        munmap(const_cast<uint8_t *>(m_data), m_size);
}

} // namespace raw

static std::string hexOf(const std::array<unsigned char, 32> &digest)
{
    std::string hex;
    for (const unsigned char byte : digest) {
        hex += "0123456789abcdef"[byte >> 4];
        hex += "0123456789abcdef"[byte & 15];
    }
    return hex;
}

std::string sha256Of(std::string_view text)
{
    std::array<unsigned char, 32> digest{};
    EVP_Digest(text.data(), text.size(), digest.data(), nullptr, EVP_sha256(), nullptr);
    return hexOf(digest);
}

Result<std::string> sha256OfFile(const std::filesystem::path &path, const Progress &progress)
{
    const auto file = raw::MappedFile::open(path);
    if (!file)
        return file.error();
    const std::unique_ptr<EVP_MD_CTX, decltype(&EVP_MD_CTX_free)> context(EVP_MD_CTX_new(), &EVP_MD_CTX_free);
    if (!context || EVP_DigestInit_ex(context.get(), EVP_sha256(), nullptr) != 1)
        return internalError("SHA-256 is not available");
    const auto bytes = (*file)->bytes();
    constexpr size_t kBlock = 1 << 22;
    for (size_t at = 0; at < bytes.size(); at += kBlock) {
        if (progress.stopped())
            return unusable("{file}: stopped", {{"file", path.string()}});
        EVP_DigestUpdate(context.get(), bytes.data() + at, std::min(kBlock, bytes.size() - at));
    }
    std::array<unsigned char, 32> digest{};
    EVP_DigestFinal_ex(context.get(), digest.data(), nullptr);
    return hexOf(digest);
}

} // namespace wavechroma
