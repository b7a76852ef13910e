#include "core/sim/scene.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wavechroma::sim {

int addMaterial(Scene &scene, const Spectrum &reflectance, double grain, double grainPixels)
{
    scene.materials.push_back({reflectance, grain, grainPixels});
    return int(scene.materials.size()) - 1;
}

Spectrum flatReflectance(double value)
{
    return spectrumFrom([=](double) { return value; });
}

double Shade::depthAt(double x, double y) const
{
    const double into = (x - at.x) * std::cos(angle) + (y - at.y) * std::sin(angle);
    const auto beyond = [&](double way) { // a straight edge before a disc of light, as a smooth step
        const double t = std::clamp(0.5 + way / (2 * softness), 0.0, 1.0);
        return t * t * (3 - 2 * t);
    };
    return beyond(into) * beyond(width - into);
}

static Matrix3 rotation(int axis, double degrees)
{
    const double c = std::cos(degrees * std::numbers::pi / 180),
                 s = std::sin(degrees * std::numbers::pi / 180);
    Matrix3 m = identity();
    const int a = (axis + 1) % 3, b = (axis + 2) % 3;
    m(a, a) = m(b, b) = c;
    m(a, b) = -s;
    m(b, a) = s;
    return m;
}

Corners cornersAt(const ChartDefinition &chart, const Pose &pose)
{
    const auto extent = chartExtent(chart);
    const double ratio = extent.y / extent.x;
    const Vector3 flat[] = {
        {-0.5, -ratio / 2, 0}, {0.5, -ratio / 2, 0}, {0.5, ratio / 2, 0}, {-0.5, ratio / 2, 0}};
    const Matrix3 turn = rotation(1, pose.tiltY) * (rotation(0, pose.tiltX) * rotation(2, pose.turn));
    Corners corners;
    for (size_t i = 0; i < 4; ++i) {
        const Vector3 p = turn * flat[i];
        const double scale = pose.widthPixels * pose.distance / (pose.distance + p[2]);
        corners[i] = {pose.centre.x + p[0] * scale, pose.centre.y + p[1] * scale};
    }
    return corners;
}

std::optional<float> skeinShade(double along, double across, double length, double radius)
{
    const double over = along - std::clamp(along, 0.0, length);
    const double squared = (over * over + across * across) / (radius * radius);
    if (squared > 1)
        return std::nullopt;
    const float strands = std::sin(float((along + 0.9 * across) / radius * 9));
    return (0.72F + 0.28F * std::sqrt(float(1 - squared))) * (0.9F + 0.1F * strands);
}

} // namespace wavechroma::sim
