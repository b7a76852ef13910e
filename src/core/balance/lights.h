#pragma once
#include "core/balance/balance.h"
#include "core/values/light_ladder.h"

namespace wavechroma {

/// What a station knows of its camera's answer to lights: XYZ → camera matrices with the temperature each is
/// right for.
struct CameraLights
{
    struct Known
    {
        Matrix3 cameraFromXyz;
        double cctKelvin = 5000;
    };
    std::vector<Known> matrices;
    /// A light whose neutral was measured: what the matrices say of any light is corrected, channel by
    /// channel, by how far they are off for this one.
    std::optional<std::pair<Chromaticity, Vector3>> anchor;
};
[[nodiscard]] CameraLights cameraLightsOf(const FileColor &color);

/// Camera RGB of a neutral under a light, green 1: the matrices interpolated in mired, corrected by the
/// anchor. Nothing without a matrix, and for lights that the camera would see with a channel at or below 0.
[[nodiscard]] std::optional<Vector3> neutralUnder(const CameraLights &camera, const Chromaticity &light);
[[nodiscard]] std::optional<Vector3> multipliersFor(const CameraLights &camera, const Temperature &light);
/// The inverse, by Newton's steps on the chromaticity. Nothing where there is none.
[[nodiscard]] std::optional<Temperature> temperatureFor(const CameraLights &camera,
                                                        const Vector3 &multipliers);

/// Tungsten (CIE A), studio tungsten (3 200 K), white LED (4 000 K), D50, D55, strobe (5 600 K), D65, shade
/// (D75), and the lights given, from warm to cool. One name means the same light on every body, whatever its
/// multipliers are there.
[[nodiscard]] std::vector<LadderRung>
ladderOf(const CameraLights &camera, const std::vector<std::pair<std::string, Temperature>> &more = {});

/// Multipliers that make a grey of L* 65 come out at a* = rosier, b* = warmer. `xyzFromBalanced` is the
/// calibration's matrix.
[[nodiscard]] Vector3 leaned(const Vector3 &multipliers, const Lean &lean, const Matrix3 &xyzFromBalanced);

} // namespace wavechroma
