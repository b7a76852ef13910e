#include "core/sim/studio_set.h"

#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/sim/reflectance.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace wavechroma::sim {

const std::vector<Modifier> &modifiers()
{
    static const std::vector<Modifier> kAll{{"softbox", 0, 0.04, 0.002},
                                            {"umbrella", -0.3, 0.07, 0.006},
                                            {"scrim", -1.0, 0.02, 0.003},
                                            {"bare reflector", 1.0, 0.24, 0.004}};
    return kAll;
}

namespace {

const Modifier &modifier(const std::string &name)
{
    const auto at =
        std::find_if(modifiers().begin(), modifiers().end(), [&](const auto &m) { return m.name == name; });
    if (at == modifiers().end())
        throw std::out_of_range("no modifier is called " + name);
    return *at;
}

/// A tired lamp: weaker, and more so at the blue end.
Lamp lampOf(const StudioSettings &s)
{
    Lamp out = lamp(s.lamp);
    for (size_t i = 0; i < out.spectrum.values.size(); ++i) {
        const double nm = out.spectrum.startNm + out.spectrum.stepNm * double(i);
        out.spectrum.values[i] *= std::pow(nm / 560, 0.35 * s.drift);
    }
    return out;
}

void addTable(Scene &scene, double w, double h)
{
    const auto linen = *reflectanceOf({74, 1.5, 7}, 41, 0.05), plank = *reflectanceOf({38, 8, 16}, 43, 0.05);
    scene.background = addMaterial(scene, linen, 0.035, w / 660);
    scene.things.push_back(
        Polygon{{{0, 0.86 * h}, {w, 0.84 * h}, {w, h}, {0, h}}, addMaterial(scene, plank, 0.08, w / 270)});
}

constexpr int kSkeins = 5;
constexpr double kFirstSkein = 0.16, kSkeinStep = 0.165; ///< in frame widths

Skein skeinAt(double w, double h, int number, double left, double step)
{
    const double x = (left + step * number) * w;
    return {{x, 0.24 * h}, {x + 0.012 * w * (number % 3 - 1), 0.72 * h}, 0.045 * w, 0};
}

void addSkeins(Scene &scene, double w, double h, int first, int count, double left, double step)
{
    for (int i = 0; i < count; ++i) {
        auto skein = skeinAt(w, h, i, left, step);
        skein.material = addMaterial(scene, yarns()[size_t(first + i) % yarns().size()].reflectance);
        scene.things.push_back(skein);
    }
}

/// Mean share of light over a disc in the middle of a skein.
double meanShade(const Skein &skein, double radius)
{
    const double length = std::hypot(skein.to.x - skein.from.x, skein.to.y - skein.from.y);
    double sum = 0;
    int count = 0;
    for (double along = -radius; along <= radius; along += 0.5)
        for (double across = -radius; across <= radius; across += 0.5)
            if (const auto shade = skeinShade(length / 2 + along, across, length, skein.radius);
                shade && std::hypot(along, across) <= radius) {
                sum += double(*shade);
                ++count;
            }
    return sum / count;
}

ChartDefinition chartOf(const StudioSettings &s)
{
    const auto chart = chartFromCatalogue(s.chart);
    if (!chart || !chart->colorsKnown)
        throw std::out_of_range("the studio has no chart called " + s.chart);
    return *chart;
}

void addFinger(Scene &scene, const PrintedChart &printed, const Homography &homography, int wanted)
{
    const auto &chart = printed.chart;
    const int column = std::clamp(wanted, 0, chart.columns - 1);
    const auto centre = patchCentre(chart, chart.rows - 1, column);
    const int skin = addMaterial(scene, *reflectanceOf({62, 15, 17}, 97, 0.05));
    scene.things.push_back(Skein{homography.at(centre),
                                 homography.at({centre.x, centre.y + 3 * chart.pitchYMm}),
                                 0.55 * pitchPixels(chart, homography), skin});
}

void addChart(Scene &scene, const StudioSettings &s, double w, double h)
{
    PrintedChart printed;
    printed.chart = chartOf(s);
    for (const auto &reflectance : chartReflectances(printed.chart))
        printed.patchMaterials.push_back(addMaterial(scene, reflectance));
    printed.frameMaterial = addMaterial(scene, flatReflectance(0.03));
    printed.corners = cornersAt(printed.chart, {{s.chartX * w, s.chartY * h},
                                                s.chartWidth * w,
                                                s.chartTurn,
                                                s.tipped ? 38.0 : 7.0,
                                                s.tipped ? -24.0 : -5.0,
                                                5});
    scene.things.push_back(printed);
    const auto homography = *homographyFrom(printed.chart, printed.corners);
    if (s.finger)
        addFinger(scene, printed, homography, s.fingerColumn);
    if (s.glare) {
        const int row = std::clamp(s.glareRow, 0, printed.chart.rows - 1),
                  column = std::clamp(s.glareColumn, 0, printed.chart.columns - 1);
        scene.glows.push_back({homography.at(patchCentre(printed.chart, row, column)),
                               0.35 * pitchPixels(printed.chart, homography), 0.3});
    }
    if (s.shadow) { // of a stand: what the walls give is left, a little bluer
        const double away = s.shadowShift * s.chartWidth * w;
        scene.shade = Shade{
            {s.chartX * w + away * std::cos(s.shadowAngle), s.chartY * h + away * std::sin(s.shadowAngle)},
            s.shadowAngle,
            1e9,
            0.1 * pitchPixels(printed.chart, homography),
            {0.38, 0.40, 0.42}};
    }
    if (s.tipped)
        scene.gradientX += 0.25; // towards one lamp: that side gets more of it
}

/// An even board or card in the frame's plane.
void addBoard(Scene &scene, double reflectance, double left, double top, double right, double bottom)
{
    scene.things.push_back(Polygon{{{left, top}, {right, top}, {right, bottom}, {left, bottom}},
                                   addMaterial(scene, flatReflectance(reflectance))});
}

Scene sceneOf(const StudioSettings &s, double w, double h)
{
    const auto &before = modifier(s.modifier);
    Scene scene;
    scene.gradientX = before.gradient;
    scene.gradientY = before.gradient / 3;
    scene.flare = s.veiled ? 0.05 : before.flare;
    scene.blurPixels = s.outOfFocus ? 4.0 : s.shrink > 1 ? 0.5 : 0.9;
    if (s.shaken) {
        scene.shakeX = 12;
        scene.shakeY = 5;
    }
    addTable(scene, w, h);
    switch (s.subject) {
    case Subject::Chart:
        addSkeins(scene, w, h, 1, 2, 0.80, 0.11);
        addChart(scene, s, w, h);
        break;
    case Subject::Skeins:
        addSkeins(scene, w, h, s.firstYarn, kSkeins, kFirstSkein, kSkeinStep);
        break;
    case Subject::Board:
        addBoard(scene, 0.6, -0.1 * w, -0.1 * h, 1.1 * w, 1.1 * h);
        break;
    case Subject::GreyCard:
        addBoard(scene, 0.18, 0.3 * w, 0.25 * h, 0.68 * w, 0.7 * h);
        break;
    }
    return scene;
}

const Camera &bodyOf(const StudioSettings &s)
{
    const auto &body = camera(s.camera);
    (void)body.lenses.at(size_t(s.lens));
    return body;
}

} // namespace

double exposureOf(const StudioSettings &s)
{
    const auto &body = bodyOf(s);
    const auto white = response(body, body.lenses[size_t(s.lens)], lamp(s.lamp).spectrum, flatReflectance(1));
    const double strongest = *std::max_element(white.begin(), white.end()) / white[1];
    const double time = s.lamp == "strobe" ? 1 : s.exposureSeconds * 100;
    const double stops = s.powerStops + modifier(s.modifier).stops;
    return 0.76 / strongest * std::exp2(stops) * (s.iso / 100) * time * std::pow(8 / s.fNumber, 2) *
           (1 - 0.25 * s.drift);
}

std::vector<LaidYarn> laidYarns(const StudioSettings &s)
{
    const auto &body = bodyOf(s);
    const double w = body.width / std::max(1, s.shrink) / 2 * 2,
                 h = body.height / std::max(1, s.shrink) / 2 * 2;
    std::vector<LaidYarn> out;
    for (int i = 0; i < kSkeins; ++i) {
        const auto &yarn = yarns()[size_t(s.firstYarn + i) % yarns().size()];
        const auto skein = skeinAt(w, h, i, kFirstSkein, kSkeinStep);
        const double radius = 0.6 * skein.radius, shade = meanShade(skein, radius);
        Xyz color = xyzD50FromReflectance(yarn.reflectance, illuminantD50());
        color = {shade * color.x, shade * color.y, shade * color.z};
        out.push_back({yarn.name,
                       {(skein.from.x + skein.to.x) / 2, (skein.from.y + skein.to.y) / 2},
                       radius,
                       labFromXyz(color)});
    }
    return out;
}

SimFrame shootStudio(const StudioSettings &s, const Progress &progress)
{
    const auto &body = bodyOf(s);
    Shot shot;
    shot.width = body.width / std::max(1, s.shrink) / 2 * 2;
    shot.height = body.height / std::max(1, s.shrink) / 2 * 2;
    shot.exposure = exposureOf(s);
    shot.iso = s.iso;
    shot.exposureSeconds = s.exposureSeconds;
    shot.fNumber = s.fNumber;
    shot.lens = s.lens;
    shot.orientation = s.orientation;
    shot.capturedAt = s.capturedAt;
    shot.seed = s.seed;
    return expose(sceneOf(s, shot.width, shot.height), body, lampOf(s), shot, progress);
}

} // namespace wavechroma::sim
