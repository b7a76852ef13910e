#pragma once
#include "core/color/colors.h"

#include <optional>
#include <string>
#include <vector>

/// Tables that give a colour twice; not for other folders.
namespace wavechroma {

/// One colour as a row has it.
struct BothColours
{
    Xyz fromLab; ///< L*, a*, b* taken as against D50's white
    Xyz given;   ///< X, Y, Z as they stand, over 100
};

/// Are they the same colours, L*, a*, b* being against the white of that light (lightFromName())? By the
/// median of their differences, with X, Y, Z as shares or per cent.
[[nodiscard]] bool agreeUnder(const std::string &light, const std::vector<BothColours> &colours);
/// The standard illuminant under which they are the same colours, if any.
[[nodiscard]] std::optional<std::string> lightOfAgreement(const std::vector<BothColours> &colours);

} // namespace wavechroma
