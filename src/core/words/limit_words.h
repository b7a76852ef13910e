#pragma once
#include "core/base/language.h"

#include <string>

namespace wavechroma::words {

/// How a limit of a tolerance sheet is shown to people, who set it too.
struct LimitText
{
    std::string question;    ///< that it answers, with others: "Is the exposure right?"
    std::string name;        ///< "Glare on one patch"
    std::string unit;        ///< " %", " stops" …
    double factor = 1;       ///< shown is this times the sheet's value: 100 for per cent
    int decimals = 1;        ///< shown
    bool mayBeUnset = false; ///< 0 sets no limit
};

/// Returns the text of the limit with that key; one with the key itself as its name if it has none.
[[nodiscard]] LimitText limit(const std::string &key, const Language &language = plain());

} // namespace wavechroma::words
