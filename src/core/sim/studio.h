#pragma once
#include "core/base/camera_facts.h"
#include "core/color/spectrum.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

/// The simulated studio's equipment. All of it is made up.
namespace wavechroma::sim {

struct Lens
{
    std::string name;
    Spectrum transmission; ///< relative; lenses have casts of their own
    double vignetting = 0; ///< loss at the frame's corner, 0…1
};

struct Camera
{
    std::string make, model, serial;
    int width = 0, height = 0;
    std::array<Spectrum, 3>
        sensitivity; ///< R, G, B per photon energy unit, relative; filters and sensor together
    std::array<uint8_t, 4> filter{}; ///< 2 × 2, row by row: 0 R, 1 G, 2 B
    int black = 0, white = 0;        ///< code values
    double fullWell = 0;             ///< electrons at saturation, ISO 100
    double readNoise = 0;            ///< electrons
    std::vector<Lens> lenses;
};

struct Lamp
{
    std::string name;
    Spectrum spectrum;
};

/// "Tarn 2", "Marram 8" and the small "Osprey Mini".
[[nodiscard]] const std::vector<Camera> &cameras();
/// "daylight", "tungsten", "strobe", "led", "tube".
[[nodiscard]] const std::vector<Lamp> &lamps();
[[nodiscard]] const Lamp &lamp(const std::string &name);
[[nodiscard]] const Camera &camera(const std::string &model);

/// Camera response to a surface under a lamp, before exposure: sum over the grid.
[[nodiscard]] Vector3 response(const Camera &camera, const Lens &lens, const Spectrum &lamp,
                               const Spectrum &reflectance);
/// The least-squares XYZ → camera RGB matrix under D65 over ordinary surfaces, as a maker would publish it
/// from a sample body that is not quite this one.
[[nodiscard]] Matrix3 publishedColorMatrix(const Camera &camera);

} // namespace wavechroma::sim
