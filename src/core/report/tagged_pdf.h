#pragma once
#include <cstdint>
#include <string>
#include <vector>

namespace wavechroma {

/// markedAsTagged() in the words of C++17: the PDF library's headers are none of C++20 to clang. Throws what
/// the library throws.
std::vector<uint8_t> taggedPdf(const std::vector<uint8_t> &pdf, const std::vector<std::string> &figures);

} // namespace wavechroma
