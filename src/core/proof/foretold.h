#pragma once
#include "core/base/matrix3.h"
#include "core/color/colors.h"
#include "core/fit/calibration.h"

#include <array>
#include <vector>

namespace wavechroma {

/// What a calibration's evidence lets one expect of colours that its chart does not hold. Each patch that was
/// left out of the fit says by how much XYZ it came out wrong. That shift, which grows as the root of the
/// light reflected, is carried to the colour asked about and seen there as ΔE2000; shifts of near patches
/// count more (a kernel mean of squares: Nadaraya 1964, Watson 1964), and the farther the colour lies from
/// all patches the more is expected. How much more than its chart surfaces of a colour usually err, for they
/// differ in what no chart shows (metamerism), is a factor over L*, chroma and hue. The constants were fitted
/// to simulated surfaces, see docs/methods.md.
class ForetoldError
{
public:
    /// Unknown without patches that were left out: a preview, a document of another program.
    explicit ForetoldError(const Calibration &calibration);
    [[nodiscard]] bool isKnown() const { return !m_patches.empty(); }
    /// ΔE2000 to be expected of a surface that came out as this colour; 0 when unknown.
    [[nodiscard]] double at(const Lab &color) const;

private:
    using Place = std::array<double, 3>;
    struct Patch
    {
        Place place;
        Vector3 shift{}; ///< of XYZ, over the root of each share of the white
        double weight = 1;
    };
    /// Returns the place of a colour in a space that shrinks chroma as CIEDE2000 does.
    [[nodiscard]] static Place placeOf(const Lab &color);
    std::vector<Patch> m_patches;
};

} // namespace wavechroma
