#pragma once
#include "core/chart/chart_geometry.h"
#include "core/sim/studio.h"

#include <cstdint>
#include <optional>
#include <variant>

namespace wavechroma::sim {

struct Material
{
    Spectrum reflectance;
    double grain = 0;       ///< amplitude of a mottled texture, relative
    double grainPixels = 6; ///< its size
};

/// Any polygon, convex or not; pixel coordinates.
struct Polygon
{
    std::vector<PixelPoint> points;
    int material = 0;
};
struct Ellipse
{
    PixelPoint centre;
    double radiusX = 0, radiusY = 0;
    int material = 0;
};
/// A twisted hank of yarn: a capsule from one end to the other with a lay of strands across it.
struct Skein
{
    PixelPoint from, to;
    double radius = 0;
    int material = 0;
};
/// Share of the light that a place of a skein gives, against yarn laid flat: its roundness and its strands.
/// `along` and `across` its axis in pixels, from one end; nothing beyond `radius`.
[[nodiscard]] std::optional<float> skeinShade(double along, double across, double length, double radius);
/// A printed chart lying in the scene, in true perspective through its four corners.
struct PrintedChart
{
    ChartDefinition chart;
    Corners corners{};
    std::vector<int> patchMaterials; ///< in the chart's order
    int frameMaterial = 0;           ///< between and round the patches
    double borderMm = 8;
    double patchScale = 1; ///< printed patch size over the definition's, about each patch's centre
};
/// A lamp's reflection: light of the lamp's own colour laid on top, whatever the surface.
struct Glow
{
    PixelPoint centre;
    double radius = 0;     ///< standard deviation of its soft edge, pixels
    double amount = 0;     ///< in its middle, as a share of what a perfect diffuser gives
    double halfLength = 0; ///< of a band: how far its middle is drawn out to both sides, pixels
    double turn = 0;       ///< of a band, radians from the picture's x
};
/// Something stands before the lamp: beyond a straight edge, or between two, less of the light comes.
struct Shade
{
    PixelPoint at;          ///< on the first edge
    double angle = 0;       ///< from the light into the shadow, radians from the picture's x
    double width = 1e9;     ///< to the second edge, pixels
    double softness = 1;    ///< half the width of an edge, pixels
    Vector3 share{1, 1, 1}; ///< of the light that comes there all the same, one a camera channel
    [[nodiscard]] double depthAt(double x, double y) const; ///< 0 in the light … 1 in the shadow
};
/// A patch of stronger (or, negative, weaker) light.
struct HotSpot
{
    PixelPoint centre;
    double radius = 1, amount = 0; ///< standard deviation in pixels; relative
};
using Thing = std::variant<Polygon, Ellipse, Skein, PrintedChart>;

struct Scene
{
    std::vector<Material> materials;
    int background = 0;
    std::vector<Thing> things;           ///< later ones lie on top
    double gradientX = 0, gradientY = 0; ///< relative change of light across the frame's width and height
    double flare = 0;        ///< veiling light added everywhere, as a share of what a perfect diffuser gives
    double blurPixels = 0.4; ///< standard deviation of the lens' blur
    double shakeX = 0, shakeY = 0; ///< way of the camera while the shutter is open, pixels
    std::vector<Glow> glows;
    std::optional<Shade> shade;
    HotSpot hotSpot;
    /// Barrel (positive) or pincushion distortion: a point of the sensor at distance r from the middle shows
    /// the scene at r (1 + distortion r²), r in half diagonals.
    double distortion = 0;
};

/// Adds a material and says its index.
int addMaterial(Scene &scene, const Spectrum &reflectance, double grain = 0, double grainPixels = 6);
[[nodiscard]] Spectrum flatReflectance(double value);

/// Corners of a chart seen in true perspective: centred at a point, `widthPixels` wide where it is nearest
/// the middle, turned in the picture plane, tilted about the picture's x and y axes; angles in degrees. The
/// camera stands `distance` chart widths away.
struct Pose
{
    PixelPoint centre;
    double widthPixels = 0;
    double turn = 0, tiltX = 0, tiltY = 0;
    double distance = 4;
};
[[nodiscard]] Corners cornersAt(const ChartDefinition &chart, const Pose &pose);

} // namespace wavechroma::sim
