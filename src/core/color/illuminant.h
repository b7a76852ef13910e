#pragma once
#include "core/color/spectrum.h"

namespace wavechroma {

/// CIE standard illuminant A: CIE 15:2004, 3.1 (Planck at 2 848 K with c₂ = 1.435e-2 m K, as first defined).
[[nodiscard]] Spectrum illuminantA();
/// A phase of daylight, CIE 15:2004, 3.2 and annex C: from its correlated colour temperature, 4 000…25 000 K,
/// clamped to that. D50 and D65 stand at 5 003 K and 6 504 K (c₂ has changed since they were named).
[[nodiscard]] Spectrum daylight(double cctKelvin);
[[nodiscard]] Spectrum illuminantD50();
[[nodiscard]] Spectrum illuminantD65();
/// Planck's radiator with c₂ = 1.438 776 877e-2 m K (CODATA 2018), relative.
[[nodiscard]] Spectrum planckian(double kelvin);
[[nodiscard]] Chromaticity daylightChromaticity(double cctKelvin);

/// A light that a user may name: its spectrum, its chromaticity, and its EXIF LightSource code (255 for
/// "other").
struct NamedLight
{
    std::string name;
    Spectrum spectrum;
    Chromaticity xy;
    int exifCode = 255;
    bool operator==(const NamedLight &) const = default;
};
/// "A", "D50", "D55", "D65", "D75", or a temperature such as "4100K": Planckian below 4 000 K, daylight from
/// there on. A spectrum file is the caller's to read.
[[nodiscard]] Result<NamedLight> lightFromName(const std::string &name);
/// The EXIF LightSource code of the standard light within 3 % in mireds and 0.004 in Duv of this one, else
/// 255.
[[nodiscard]] int exifCodeNear(const Chromaticity &xy);

} // namespace wavechroma
