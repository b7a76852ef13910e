#pragma once
#include "core/chart/chart_definition.h"

#include <cstdint>
#include <vector>

namespace wavechroma::sim {

/// A reflectance, everywhere inside 0…1, that has exactly this Lab under D50 (to 1e-9). Of all such curves it
/// is the one whose shape differs least from a pseudo-random wavy one drawn from `seed`, so that different
/// seeds give metamers with the ripple of real pigments; `ripple` 0 gives the smoothest curve (Burns 2020,
/// Color Res. Appl. 45(1), the hyperbolic-tangent form, with the ripple added). Unusable when the colour is
/// outside the object-colour solid.
[[nodiscard]] Result<Spectrum> reflectanceOf(const Lab &color, uint64_t seed, double ripple = 0.12);

/// Reflectances for a chart's patches in their order; neutrals get a tenth of the ripple.
[[nodiscard]] std::vector<Spectrum> chartReflectances(const ChartDefinition &chart, uint64_t seed = 24);

/// Hand-dyed yarns: eight dye lots of our dye house.
struct Yarn
{
    const char *name;
    Spectrum reflectance;
};
[[nodiscard]] const std::vector<Yarn> &yarns();

} // namespace wavechroma::sim
