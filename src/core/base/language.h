#pragma once
#include <functional>
#include <string>
#include <string_view>

namespace wavechroma::words {

/// How sentences are made from templates and figures: as they stand (files, command line), or as a
/// translation and a locale have them (the window).
struct Language
{
    std::string decimalSign = ".";
    /// A template in another language, with the same places in any order; empty, or an empty answer: as it
    /// stands.
    std::function<std::string(std::string_view templateText)> translated = {};
    /// Which of a template's plural forms a count takes, from 0 on; empty: one, and all others.
    std::function<size_t(double count)> pluralForm = {};
};
/// Files and the command line: no translation, a decimal point, under every locale.
[[nodiscard]] const Language &plain();

} // namespace wavechroma::words
