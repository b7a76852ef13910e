#pragma once
#include "core/base/language.h"

#include <string>

namespace wavechroma::words {

/// What a limit of a tolerance sheet is of, by its key: "glare of one patch, share of white". The key itself
/// for one that has no words.
[[nodiscard]] std::string limit(const std::string &key, const Language &language = plain());

} // namespace wavechroma::words
