#pragma once
#include "core/formats/delivery_document.h"

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

} // namespace wavechroma
