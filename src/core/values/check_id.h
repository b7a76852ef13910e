#pragma once
#include <array>
#include <cstddef>
#include <optional>
#include <string_view>

namespace wavechroma {

/// The capture checks, in the contract's order.
enum class CheckId {
    Found,
    Clipping,
    Exposure,
    Underexposure,
    Evenness,
    Shadow,
    Glare,
    Focus,
    Noise,
    Flare,
    Obstruction,
    Match
};

/// What a check is, beside how it is measured (core/capture), limited (values/capture_limits.h) and told
/// (words/check_words.cpp).
struct CheckRow
{
    CheckId id;
    const char *name; ///< of the contract
    /// While it warns, the levels of the reading say nothing of the lamp: it is not asked whether the light
    /// moved.
    bool spoilsLevels;
    /// While it warns, no colour freer than a matrix is recommended, since that would follow the fault.
    bool holdsColourBack;
    /// A reading that it stops can be merged with others: other exposures have what this one lacks.
    bool mergeForgives;
    std::array<const char *, 5> findings; ///< its outcomes, as Check::finding; null at the end
};

inline constexpr std::array<CheckRow, 12> kChecks{{
    {CheckId::Found,
     "found",
     false,
     false,
     false,
     {"found", "not-found", "none-of-catalogue", "cube-by-corners"}},
    {CheckId::Clipping, "clipping", false, true, true, {"none", "clipped"}},
    {CheckId::Exposure,
     "exposure",
     false,
     false,
     true,
     {"no-neutral", "cannot-tell", "at-aim", "over", "under"}},
    {CheckId::Underexposure, "underexposure", false, true, true, {"none", "noisy", "gamut"}},
    {CheckId::Evenness, "evenness", true, true, false, {"even", "too-few", "field", "side"}},
    {CheckId::Shadow, "shadow", true, true, false, {"none", "edge"}},
    {CheckId::Glare, "glare", true, true, false, {"none", "glare"}},
    {CheckId::Focus, "focus", false, false, false, {"sharp", "too-small", "shaken", "soft"}},
    {CheckId::Noise, "noise", false, false, false, {"low", "no-grey", "noisy"}},
    {CheckId::Flare, "flare", true, true, false, {"none", "veil"}},
    {CheckId::Obstruction, "obstruction", true, true, false, {"none", "one", "several", "colour"}},
    {CheckId::Match, "match", true, true, false, {"fits", "other", "values-unknown"}},
}};
static_assert([] {
    for (size_t i = 0; i < kChecks.size(); ++i)
        if (kChecks[i].id != CheckId(i))
            return false;
    return true;
}());

[[nodiscard]] constexpr const CheckRow &rowOf(CheckId id)
{
    return kChecks[size_t(id)];
}
[[nodiscard]] constexpr const char *nameOf(CheckId id)
{
    return rowOf(id).name;
}
[[nodiscard]] constexpr std::optional<CheckId> checkFrom(std::string_view name)
{
    for (const auto &row : kChecks)
        if (name == row.name)
            return row.id;
    return std::nullopt;
}

} // namespace wavechroma
