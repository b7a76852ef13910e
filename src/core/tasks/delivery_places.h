#pragma once
#include "core/base/result.h"

#include <filesystem>
#include <string>

/// How a file of a delivery takes its place; not for front ends.
namespace wavechroma {

/// One delivery at a time writes into a folder; the system lets go of it even after a kill.
class FolderLock
{
public:
    explicit FolderLock(const std::filesystem::path &file);
    ~FolderLock();
    FolderLock(const FolderLock &) = delete;
    FolderLock &operator=(const FolderLock &) = delete;
    [[nodiscard]] bool isOpen() const { return m_file >= 0; }
    [[nodiscard]] bool isOurs() const;
    /// False when its folder was moved or removed since.
    [[nodiscard]] bool isInPlace() const;

private:
    std::filesystem::path m_path;
    int m_file;
};

enum class Placed { There, InTheWay };

/// Moves a file to a place where nothing is. A file that came meanwhile is kept. Unusable, with the system's
/// reason.
[[nodiscard]] Result<Placed> placedAnew(const std::filesystem::path &grown,
                                        const std::filesystem::path &file);
/// Moves a file to the place of a file with exactly those bytes.
[[nodiscard]] Result<Placed> placedInstead(const std::filesystem::path &grown,
                                           const std::filesystem::path &file, const std::string &sha256);
/// Whatever is there goes.
[[nodiscard]] Result<Placed> placedOver(const std::filesystem::path &grown,
                                        const std::filesystem::path &file);

} // namespace wavechroma
