#pragma once
#include "core/base/progress.h"
#include "core/sim/scene.h"

namespace wavechroma::sim {

/// How one frame is taken.
struct Shot
{
    double exposure = 0.8; ///< green value of a perfect diffuser in the frame's middle; 1 is saturation
    double iso = 100;
    double exposureSeconds = 1 / 60.0, fNumber = 8;
    std::string capturedAt = "2026-10-14T09:22:10";
    int orientation = 1; ///< only written into the file; the samples stay as the sensor has them
    int lens = 0;
    int width = 0, height = 0;              ///< 0: the camera's own
    int filterShiftX = 0, filterShiftY = 0; ///< moves the filter pattern, for any of its phases
    int hotPixels = 40;
    std::optional<Vector3> asShotNeutral; ///< absent: that of the lamp
    uint64_t seed = 1;
};

/// What the sensor was shown, without noise: for judging, never for answering.
struct ChartTruth
{
    Corners corners{};
    std::vector<Vector3> patches;  ///< camera RGB, means over the central half of each patch, in the chart's
                                   ///< order; without lamps' reflections and what lies on the chart
    std::array<double, 4> light{}; ///< on the corners, relative to the frame's middle; without a shadow
};

struct SimFrame
{
    int width = 0, height = 0;
    std::vector<uint16_t> samples;
    std::array<uint8_t, 4> filter{};
    int black = 0, white = 0;
    CameraFacts camera;
    Matrix3 colorMatrix; ///< for D65
    Vector3 asShotNeutral{};
    int orientation = 1;
    std::vector<ChartTruth> charts; ///< one per printed chart, in the scene's order
};

/// Takes the picture: spectra summed over wavelength, anti-aliased geometry, blur, falloff, flare, shot and
/// read noise, clipping. The same arguments give the same samples, whatever the number of threads.
[[nodiscard]] SimFrame expose(const Scene &scene, const Camera &camera, const Lamp &lamp, const Shot &shot,
                              const Progress &progress = {});

} // namespace wavechroma::sim
