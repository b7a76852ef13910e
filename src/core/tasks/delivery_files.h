#pragma once
#include "core/tasks/deliver_task.h"

#include <filesystem>
#include <string>
#include <vector>

/// What the plan and the writing of a delivery share; not for front ends.
namespace wavechroma {

inline constexpr const char *kReceipts = "delivery.json";
/// Folder in which a file grows before it takes its place; removed when the delivery is done.
inline constexpr const char *kGrowing = ".delivery-growing";
inline constexpr const char *kLock = "lock"; ///< within it

[[nodiscard]] std::string fileNameExtension(const std::string &path); ///< ".dng", in small letters
[[nodiscard]] uint64_t roughPictureBytes(const PictureSettings &settings, int width, int height);

/// The forms that go into one folder, which has its own receipts.
struct FolderOfDelivery
{
    std::filesystem::path folder;
    Delivery asked;
    std::vector<size_t> forms; ///< into the whole delivery's, in the order of `asked`
    bool isElsewhere = false;  ///< the forms' own, not the one given for all
};
[[nodiscard]] std::vector<FolderOfDelivery> foldersOf(const PictureSource &source, const Delivery &asked,
                                                      const std::filesystem::path &folder);
[[nodiscard]] Result<DeliveryPlan> planOneFolder(const PictureSource &source, const Delivery &asked,
                                                 const std::filesystem::path &folder, bool verify);

} // namespace wavechroma
