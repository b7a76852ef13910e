#include "core/sim/expose.h"

#include "core/sim/mottle.h"
#include "core/sim/random.h"

#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma::sim {

namespace {

struct Prepared;

struct Seen
{
    int material = 0;
    float shade = 1;
    const Prepared *of = nullptr; ///< the thing it lies on; null: the background
};

bool inside(const Polygon &polygon, double x, double y)
{
    bool in = false;
    const auto &p = polygon.points;
    for (size_t i = 0, j = p.size() - 1; i < p.size(); j = i++)
        if ((p[i].y > y) != (p[j].y > y) && x < (p[j].x - p[i].x) * (y - p[i].y) / (p[j].y - p[i].y) + p[i].x)
            in = !in;
    return in;
}

/// A thing made ready for asking what lies at a point.
struct Prepared
{
    const Thing *thing = nullptr;
    double left = 0, top = 0, right = 0, bottom = 0;
    Matrix3 chartFromPicture;
    ChartPoint extent;
    double skeinLength = 0, unitX = 0, unitY = 0; ///< of a skein: its length and direction

    explicit Prepared(const Thing &t) : thing(&t)
    {
        std::vector<PixelPoint> points;
        double margin = 0;
        if (const auto *polygon = std::get_if<Polygon>(&t))
            points = polygon->points;
        else if (const auto *e = std::get_if<Ellipse>(&t))
            points = {{e->centre.x - e->radiusX, e->centre.y - e->radiusY},
                      {e->centre.x + e->radiusX, e->centre.y + e->radiusY}};
        else if (const auto *skein = std::get_if<Skein>(&t)) {
            points = {skein->from, skein->to};
            margin = skein->radius;
            skeinLength = std::hypot(skein->to.x - skein->from.x, skein->to.y - skein->from.y);
            unitX = (skein->to.x - skein->from.x) / skeinLength;
            unitY = (skein->to.y - skein->from.y) / skeinLength;
        } else {
            const auto &chart = std::get<PrintedChart>(t);
            const auto homography = *homographyFrom(chart.chart, chart.corners);
            chartFromPicture = *inverse(homography.pictureFromChart);
            extent = chartExtent(chart.chart);
            const double b = chart.borderMm;
            points = {homography.at({-b, -b}), homography.at({extent.x + b, -b}),
                      homography.at({extent.x + b, extent.y + b}), homography.at({-b, extent.y + b})};
        }
        left = right = points[0].x;
        top = bottom = points[0].y;
        for (const auto &p : points) {
            left = std::min(left, p.x);
            right = std::max(right, p.x);
            top = std::min(top, p.y);
            bottom = std::max(bottom, p.y);
        }
        left -= margin;
        top -= margin;
        right += margin;
        bottom += margin;
    }

    std::optional<Seen> at(double x, double y) const
    {
        if (x < left || x > right || y < top || y > bottom)
            return std::nullopt;
        if (const auto *polygon = std::get_if<Polygon>(thing))
            return inside(*polygon, x, y) ? std::optional<Seen>(Seen{polygon->material}) : std::nullopt;
        if (const auto *e = std::get_if<Ellipse>(thing)) {
            const double dx = (x - e->centre.x) / e->radiusX, dy = (y - e->centre.y) / e->radiusY;
            return dx * dx + dy * dy <= 1 ? std::optional<Seen>(Seen{e->material}) : std::nullopt;
        }
        if (const auto *skein = std::get_if<Skein>(thing))
            return atSkein(*skein, x, y);
        return atChart(std::get<PrintedChart>(*thing), x, y);
    }

    std::optional<Seen> atSkein(const Skein &s, double x, double y) const
    {
        const double along = (x - s.from.x) * unitX + (y - s.from.y) * unitY;
        const double across = (x - s.from.x) * unitY - (y - s.from.y) * unitX;
        const auto shade = skeinShade(along, across, skeinLength, s.radius);
        return shade ? std::optional(Seen{s.material, *shade}) : std::nullopt;
    }

    std::optional<Seen> atChart(const PrintedChart &printed, double x, double y) const
    {
        const Vector3 v = chartFromPicture * Vector3{x, y, 1};
        const double mx = v[0] / v[2], my = v[1] / v[2], b = printed.borderMm;
        if (v[2] <= 0 || mx < -b || my < -b || mx > extent.x + b || my > extent.y + b)
            return std::nullopt;
        const auto &chart = printed.chart;
        const double halfX = chart.patchWidthMm / 2, halfY = chart.patchHeightMm / 2;
        const bool beyondGap = chart.panelGap && mx > patchCentre(chart, 0, chart.panelGap->afterColumn).x -
                                                          halfX - chart.panelGap->widthMm / 2;
        const double alongX = mx - (beyondGap ? chart.panelGap->widthMm : 0);
        const int column =
            std::clamp(int(std::lround((alongX - halfX) / chart.pitchXMm)), 0, chart.columns - 1);
        const int row = std::clamp(int(std::lround((my - halfY) / chart.pitchYMm)), 0, chart.rows - 1);
        const auto centre = patchCentre(chart, row, column);
        if (std::abs(mx - centre.x) <= halfX * printed.patchScale &&
            std::abs(my - centre.y) <= halfY * printed.patchScale)
            return Seen{printed.patchMaterials[size_t(row * chart.columns + column)]};
        return Seen{printed.frameMaterial};
    }
};

constexpr int kTile = 16, kBlock = 4;

/// The grain of the materials that show in one tile, worked out when first asked for.
class TileGrain
{
public:
    TileGrain(const Scene &scene, int x0, int y0) : m_scene(scene), m_x0(x0), m_y0(y0) {}

    float at(int material, int x, int y)
    {
        const auto &m = m_scene.materials[size_t(material)];
        if (!(m.grain > 0))
            return 1;
        auto known = std::find_if(m_known.begin(), m_known.end(),
                                  [&](const auto &one) { return one.first == m.grainPixels; });
        if (known == m_known.end()) {
            m_known.push_back({m.grainPixels, {}});
            known = m_known.end() - 1;
            mottle<kTile>(m_x0, m_y0, m.grainPixels, known->second);
        }
        return 1 + float(m.grain) * known->second[size_t((y - m_y0) * kTile + x - m_x0)];
    }

private:
    const Scene &m_scene;
    int m_x0, m_y0;
    std::vector<std::pair<double, std::array<float, kTile * kTile>>> m_known;
};

class Exposure
{
public:
    Exposure(const Scene &scene, const Camera &camera, const Lamp &lamp, const Shot &shot)
        : m_scene(scene), m_lens(camera.lenses[size_t(shot.lens)])
    {
        const Vector3 white = response(camera, m_lens, lamp.spectrum, flatReflectance(1));
        m_neutral = {white[0] / white[1], 1, white[2] / white[1]};
        for (const auto &material : scene.materials) {
            Vector3 rgb = response(camera, m_lens, lamp.spectrum, material.reflectance);
            for (size_t c = 0; c < 3; ++c)
                rgb[c] = (rgb[c] / white[1] + scene.flare * m_neutral[c]) * shot.exposure;
            m_colors.push_back(rgb);
        }
        for (const auto &thing : scene.things)
            m_things.emplace_back(thing);
        m_width = shot.width ? shot.width : camera.width;
        m_height = shot.height ? shot.height : camera.height;
        m_perWidth = 1.0 / m_width;
        m_perHeight = 1.0 / m_height;
        m_halfDiagonal = std::hypot(m_width, m_height) / 2;
        m_exposure = shot.exposure;
        Random random(77);
        const bool spread = scene.blurPixels > 0.8 || scene.shakeX != 0 || scene.shakeY != 0;
        const int side = scene.blurPixels > 2.5 ? 8 : spread ? 6 : 4;
        for (int j = 0; j < side; ++j)
            for (int i = 0; i < side; ++i) {
                const double moment = (j * side + i + 0.5) / (side * side) - 0.5;
                m_offsets.push_back(
                    {(i + 0.5) / side + scene.blurPixels * random.normal() + moment * scene.shakeX,
                     (j + 0.5) / side + scene.blurPixels * random.normal() + moment * scene.shakeY});
            }
    }

    int width() const { return m_width; }
    int height() const { return m_height; }
    const Vector3 &neutral() const { return m_neutral; }

    double light(double x, double y) const
    {
        const double u = x * m_perWidth - 0.5, v = y * m_perHeight - 0.5;
        const auto &spot = m_scene.hotSpot;
        return (1 + m_scene.gradientX * u + m_scene.gradientY * v) *
               (1 - m_lens.vignetting * 2 * (u * u + v * v)) *
               (1 + (spot.amount != 0 ? spot.amount * bump(spot.centre, spot.radius, x, y) : 0));
    }

    /// Of lamps' reflections, in one channel.
    double glowAt(double x, double y, size_t channel) const
    {
        double sum = 0;
        for (const auto &glow : m_scene.glows) {
            const double dx = std::cos(glow.turn), dy = std::sin(glow.turn);
            const double along = std::clamp((x - glow.centre.x) * dx + (y - glow.centre.y) * dy,
                                            -glow.halfLength, glow.halfLength);
            sum += glow.amount *
                   bump({glow.centre.x + along * dx, glow.centre.y + along * dy}, glow.radius, x, y);
        }
        return sum * m_neutral[channel] * m_exposure;
    }

    /// What a shadow leaves of the light, a channel.
    Vector3 shadeAt(double x, double y) const
    {
        const auto &shade = *m_scene.shade;
        const double depth = shade.depthAt(x, y);
        return {1 - depth * (1 - shade.share[0]), 1 - depth * (1 - shade.share[1]),
                1 - depth * (1 - shade.share[2])};
    }

    /// What lies behind a point of the sensor.
    PixelPoint sceneAt(double x, double y) const
    {
        if (m_scene.distortion == 0)
            return {x, y};
        const double dx = x - m_width / 2.0, dy = y - m_height / 2.0;
        const double k = 1 + m_scene.distortion * (dx * dx + dy * dy) / (m_halfDiagonal * m_halfDiagonal);
        return {m_width / 2.0 + k * dx, m_height / 2.0 + k * dy};
    }

    /// Where the sensor has a point of the scene: the reverse, by fixed-point steps.
    PixelPoint sensorAt(const PixelPoint &p) const
    {
        PixelPoint at = p;
        for (int i = 0; i < 40; ++i) {
            const auto seen = sceneAt(at.x, at.y);
            at = {at.x + p.x - seen.x, at.y + p.y - seen.y};
        }
        return at;
    }

    using Things = std::vector<const Prepared *>;

    /// The things that may show in a square, the top one first.
    Things thingsNear(double x0, double y0, double size) const
    {
        Things near;
        const double reach =
            1.5 + 5 * m_scene.blurPixels + std::max(std::abs(m_scene.shakeX), std::abs(m_scene.shakeY)) / 2;
        // distortion is smooth: over a few pixels the corners bound it
        const auto upper = sceneAt(x0 - reach, y0 - reach),
                   lower = sceneAt(x0 + size + reach, y0 + size + reach);
        for (auto thing = m_things.rbegin(); thing != m_things.rend(); ++thing)
            if (thing->left < lower.x && thing->right > upper.x && thing->top < lower.y &&
                thing->bottom > upper.y)
                near.push_back(&*thing);
        return near;
    }

    Seen seenAt(const Things &things, double sensorX, double sensorY) const
    {
        const auto [x, y] = sceneAt(sensorX, sensorY);
        for (const auto *thing : things)
            if (auto seen = thing->at(x, y)) {
                seen->of = thing;
                return *seen;
            }
        return {m_scene.background, 1};
    }

    float valueOf(const Seen &seen, TileGrain &grain, int x, int y, size_t channel) const
    {
        return float(m_colors[size_t(seen.material)][channel]) * seen.shade * grain.at(seen.material, x, y);
    }

    /// Mean over the pixel and the blur.
    float pixel(const Things &things, TileGrain &grain, int x, int y, size_t channel) const
    {
        float sum = 0;
        for (const auto &o : m_offsets)
            sum += valueOf(seenAt(things, x + o.x, y + o.y), grain, x, y, channel);
        return sum / float(m_offsets.size());
    }

    /// One material of one thing all over a square and its surroundings, as far as a lattice of `steps`
    /// points a side tells. `isPlain`: without shades.
    struct Whole
    {
        Seen seen;
        bool isPlain = true;
    };
    std::optional<Whole> wholeSquare(const Things &things, int x0, int y0, int size, int steps) const
    {
        if (things.empty())
            return Whole{{m_scene.background, 1}, true};
        const double reach =
            1 + 3 * m_scene.blurPixels + std::max(std::abs(m_scene.shakeX), std::abs(m_scene.shakeY)) / 2;
        const double step = (size + 2 * reach) / steps;
        std::optional<Whole> only;
        for (int j = 0; j <= steps; ++j)
            for (int i = 0; i <= steps; ++i) {
                const Seen seen = seenAt(things, x0 - reach + step * i, y0 - reach + step * j);
                if (only && (only->seen.material != seen.material || only->seen.of != seen.of))
                    return std::nullopt;
                if (!only)
                    only = Whole{seen, true};
                only->isPlain = only->isPlain && seen.shade == 1;
            }
        return only;
    }

    /// What the scene sends to each pixel of a tile, before the light.
    using Tile = std::array<float, kTile * kTile>;
    void tile(int x0, int y0, int right, int bottom, const std::array<uint8_t, 4> &filter, Tile &out) const
    {
        const auto things = thingsNear(x0, y0, kTile);
        TileGrain grain(m_scene, x0, y0);
        const auto whole = wholeSquare(things, x0, y0, kTile, 6);
        const bool isSharp = m_scene.blurPixels <= 0.8 && m_scene.shakeX == 0 && m_scene.shakeY == 0;
        for (int by = y0; by < bottom; by += kBlock)
            for (int bx = x0; bx < right; bx += kBlock) {
                const bool isWhole = whole && whole->isPlain;
                const auto block = isWhole ? whole : wholeSquare(things, bx, by, kBlock, 4);
                for (int y = by; y < std::min(bottom, by + kBlock); ++y)
                    for (int x = bx; x < std::min(right, bx + kBlock); ++x) {
                        const size_t channel = filter[size_t(2 * (y % 2) + x % 2)];
                        // inside one thing the middle stands for the pixel: shades change slowly
                        out[size_t((y - y0) * kTile + x - x0)] =
                            block && block->isPlain ? valueOf(block->seen, grain, x, y, channel)
                            : block && isSharp
                                ? valueOf(seenAt(things, x + 0.5, y + 0.5), grain, x, y, channel)
                                : pixel(things, grain, x, y, channel);
                    }
            }
    }

    ChartTruth truthOf(const PrintedChart &printed) const
    {
        ChartTruth truth;
        // The corners asked for are of the definition's patches; the printed ones may be a little smaller or
        // larger.
        const auto homography = *homographyFrom(printed.chart, printed.corners);
        const auto extent = chartExtent(printed.chart);
        const double dx = printed.chart.patchWidthMm * (1 - printed.patchScale) / 2;
        const double dy = printed.chart.patchHeightMm * (1 - printed.patchScale) / 2;
        const auto onSensor = [&](double x, double y) { return sensorAt(homography.at({x, y})); };
        truth.corners = {onSensor(dx, dy), onSensor(extent.x - dx, dy),
                         onSensor(extent.x - dx, extent.y - dy), onSensor(dx, extent.y - dy)};
        for (size_t i = 0; i < 4; ++i)
            truth.light[i] = light(truth.corners[i].x, truth.corners[i].y);
        for (int row = 0; row < printed.chart.rows; ++row)
            for (int column = 0; column < printed.chart.columns; ++column) {
                const auto centre = patchCentre(printed.chart, row, column);
                Vector3 mean{};
                for (int j = -4; j <= 4; ++j)
                    for (int i = -4; i <= 4; ++i) {
                        const auto p = onSensor(centre.x + printed.chart.patchWidthMm * i / 18,
                                                centre.y + printed.chart.patchHeightMm * j / 18);
                        const auto shade = m_scene.shade ? shadeAt(p.x, p.y) : Vector3{1, 1, 1};
                        for (size_t c = 0; c < 3; ++c)
                            mean[c] += light(p.x, p.y) * shade[c] / 81;
                    }
                const auto &color = m_colors[size_t(printed.patchMaterials[truth.patches.size()])];
                truth.patches.push_back({color[0] * mean[0], color[1] * mean[1], color[2] * mean[2]});
            }
        return truth;
    }

private:
    static double bump(const PixelPoint &centre, double radius, double x, double y)
    {
        const double dx = (x - centre.x) / radius, dy = (y - centre.y) / radius;
        return std::exp(-0.5 * (dx * dx + dy * dy));
    }

    const Scene &m_scene;
    const Lens &m_lens;
    int m_width = 0, m_height = 0;
    double m_perWidth = 1, m_perHeight = 1, m_halfDiagonal = 1, m_exposure = 1;
    Vector3 m_neutral{};
    std::vector<Vector3> m_colors;
    std::vector<Prepared> m_things;
    std::vector<PixelPoint> m_offsets;
};

CameraFacts factsOf(const Camera &camera, const Shot &shot)
{
    CameraFacts facts;
    facts.make = camera.make;
    facts.model = camera.model;
    facts.uniqueModel = camera.make + " " + camera.model;
    facts.serial = camera.serial;
    facts.lens = camera.lenses[size_t(shot.lens)].name;
    facts.iso = shot.iso;
    facts.exposureSeconds = shot.exposureSeconds;
    facts.fNumber = shot.fNumber;
    facts.capturedAt = shot.capturedAt;
    return facts;
}

} // namespace

SimFrame expose(const Scene &scene, const Camera &camera, const Lamp &lamp, const Shot &shot,
                const Progress &progress)
{
    const Exposure exposure(scene, camera, lamp, shot);
    SimFrame frame;
    frame.width = exposure.width();
    frame.height = exposure.height();
    frame.black = camera.black;
    frame.white = camera.white;
    frame.camera = factsOf(camera, shot);
    frame.colorMatrix = publishedColorMatrix(camera);
    frame.asShotNeutral = shot.asShotNeutral.value_or(exposure.neutral());
    frame.orientation = shot.orientation;
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 2; ++x)
            frame.filter[size_t(2 * y + x)] =
                camera.filter[size_t(2 * ((y + shot.filterShiftY) % 2) + (x + shot.filterShiftX) % 2)];
    for (const auto &thing : scene.things)
        if (const auto *printed = std::get_if<PrintedChart>(&thing))
            frame.charts.push_back(exposure.truthOf(*printed));

    frame.samples.resize(size_t(frame.width) * size_t(frame.height));
    const int tileRows = (frame.height + kTile - 1) / kTile;
    const float range = float(camera.white - camera.black), readNoise = float(camera.readNoise);
    const float electrons = float(camera.fullWell * 100 / shot.iso), perElectron = 1 / electrons;
    const bool glows = !scene.glows.empty();
    std::atomic<int> done = 0;
    tbb::parallel_for(0, tileRows, [&](int tileRow) {
        if (progress.stopped())
            return;
        FastNormal normal(shot.seed * 1000003 + uint64_t(tileRow));
        const int y0 = tileRow * kTile, bottom = std::min(frame.height, y0 + kTile);
        Exposure::Tile tile;
        for (int x0 = 0; x0 < frame.width; x0 += kTile) {
            const int right = std::min(frame.width, x0 + kTile);
            exposure.tile(x0, y0, right, bottom, frame.filter, tile);
            for (int y = y0; y < bottom; ++y)
                for (int x = x0; x < right; ++x) {
                    float value =
                        tile[size_t((y - y0) * kTile + x - x0)] * float(exposure.light(x + 0.5, y + 0.5));
                    const size_t channel = frame.filter[size_t(2 * (y % 2) + x % 2)];
                    if (scene.shade)
                        value *= float(exposure.shadeAt(x + 0.5, y + 0.5)[channel]);
                    if (glows)
                        value += float(exposure.glowAt(x + 0.5, y + 0.5, channel));
                    const float noise =
                        std::sqrt(std::max(0.0F, value) * electrons + readNoise * readNoise) * perElectron;
                    const float code = float(camera.black) + (value + noise * normal.next()) * range;
                    frame.samples[size_t(y) * size_t(frame.width) + size_t(x)] =
                        uint16_t(std::clamp(code + 0.5F, 0.0F, float(camera.white)));
                }
        }
        progress.at(double(++done) / tileRows, "exposing");
    });
    Random random(shot.seed * 31 + 5);
    for (int i = 0; i < shot.hotPixels; ++i)
        frame.samples[random.next() % frame.samples.size()] = uint16_t(camera.white);
    return frame;
}

} // namespace wavechroma::sim
