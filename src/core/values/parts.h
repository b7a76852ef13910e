#pragma once
#include <compare>
#include <string>

namespace wavechroma {

inline constexpr const char *kToneAsShot = "as-shot"; ///< the tone that changes nothing

/// One choice of each, by name. "auto" stands for what the evidence supports (see recommend.h).
struct Parts
{
    std::string colour = "auto", tone = "auto";
    auto operator<=>(const Parts &) const = default;
};

} // namespace wavechroma
