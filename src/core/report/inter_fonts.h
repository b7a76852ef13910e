#pragma once
#include <span>

namespace wavechroma {

/// The typeface of data/fonts as OpenType files: regular, semi-bold, bold.
[[nodiscard]] std::span<const std::span<const char>> interFonts();

} // namespace wavechroma
