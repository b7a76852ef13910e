#pragma once
#include "core/base/result.h"
#include "core/color/colors.h"

#include <array>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>

namespace wavechroma {

/// A monitor, by its ICC profile: what codes show a colour on it. Relative colorimetric, by lcms2; colours
/// outside its gamut are clipped.
class Screen
{
public:
    /// Unusable, naming the file, for anything but a profile of an RGB device that can be shown on.
    [[nodiscard]] static Result<std::shared_ptr<const Screen>> from(const std::filesystem::path &file);

    [[nodiscard]] const std::string &name() const { return m_name; } ///< the profile's description
    /// Codes 0…1 of n colours, three each. May be called from several threads.
    void codesOf(const Xyz *colors, float *codes, size_t n) const;
    /// An sRGB pixel 0xFFRRGGBB as this monitor shows it best.
    [[nodiscard]] uint32_t shown(uint32_t srgbPixel) const;

private:
    Screen() = default;
    std::string m_name;
    std::shared_ptr<void> m_transform;
};

} // namespace wavechroma
