#pragma once
#include <string>

namespace wavechroma {

/// `@font-face` rules with the letters of `text` in each weight of the typeface as data, so that a page looks
/// alike where it is not installed. `text` is UTF-8; letters that the typeface has not are left to the
/// reader.
[[nodiscard]] std::string fontFacesFor(const std::string &text);

} // namespace wavechroma
