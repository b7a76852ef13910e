#pragma once
#include "core/base/result.h"
#include "core/color/colors.h"

#include <string>
#include <string_view>
#include <vector>

namespace wavechroma {

/// Values on a regular wavelength grid. Power spectra are relative; reflectances and sensitivities are 0…1.
struct Spectrum
{
    double startNm = 380, stepNm = 5;
    std::vector<double> values;

    [[nodiscard]] double endNm() const { return startNm + stepNm * double(values.size() - 1); }
    /// Linear between grid points; the first or last value beyond the ends (CIE 15:2004, 7.2.3 allows
    /// either).
    [[nodiscard]] double at(double nm) const;
    bool operator==(const Spectrum &) const = default;
};

/// The grid all sums run on: that of the CIE table, 380…780 nm by 5 nm, 81 values.
inline constexpr double kGridStartNm = 380, kGridStepNm = 5;
inline constexpr size_t kGridSize = 81;
[[nodiscard]] Spectrum onGrid(const Spectrum &spectrum);
/// A spectrum on the grid from a function of wavelength.
template <class F> Spectrum spectrumFrom(F &&value)
{
    Spectrum s{kGridStartNm, kGridStepNm, std::vector<double>(kGridSize)};
    for (size_t i = 0; i < kGridSize; ++i)
        s.values[i] = value(kGridStartNm + kGridStepNm * double(i));
    return s;
}

/// CIE 1931 2° colour-matching functions (CIE 018:2019 table, 5 nm).
struct ColorMatching
{
    Spectrum x, y, z;
};
[[nodiscard]] const ColorMatching &cie1931();

/// XYZ of a light, scaled to Y = 1. The spectrum must have power in the visible range.
[[nodiscard]] Xyz xyzFromLight(const Spectrum &light);
/// XYZ of a reflectance under a light; the perfect diffuser has Y = 1.
[[nodiscard]] Xyz xyzFromReflectance(const Spectrum &reflectance, const Spectrum &light);

/// XYZ relative to D50 of a reflectance seen under a light, each of X, Y, Z scaled so that the perfect
/// diffuser gives kD50White exactly. Under D50 this is the colorimetric value; under another light it is how
/// the light's own white would be called white (a von Kries scaling in XYZ).
[[nodiscard]] Xyz xyzD50FromReflectance(const Spectrum &reflectance, const Spectrum &light);

/// Reads "nm,value" lines on a regular, rising grid with at least 4 values.
[[nodiscard]] Result<Spectrum> parseSpectrum(std::string_view text, const std::string &name);

} // namespace wavechroma
