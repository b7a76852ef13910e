#include "core/sim/random_scene.h"

#include "core/sim/random.h"
#include "core/sim/reflectance.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::sim {

namespace {

Spectrum randomReflectance(Random &random)
{
    for (;;) {
        const double l = random.uniform(15, 90), c = random.uniform(0, 60), h = random.uniform(0, 6.2832);
        if (const auto r = reflectanceOf({l, c * std::cos(h), c * std::sin(h)}, random.next(), 0.1))
            return *r;
    }
}

Polygon rectangle(double x, double y, double w, double h, double turn, int material)
{
    const double c = std::cos(turn), s = std::sin(turn);
    Polygon p;
    p.material = material;
    for (const auto &[u, v] : {std::pair{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}})
        p.points.push_back({x + u * w * c - v * h * s, y + u * w * s + v * h * c});
    return p;
}

/// Rows of swatches in a regular grid, as a colour card or a rack of yarn labels shows them.
void addSwatches(Scene &scene, Random &random, double width, double height)
{
    const int columns = 2 + random.below(7), rows = 1 + random.below(5);
    const double size = random.uniform(0.015, 0.05) * width, pitch = size * random.uniform(1.05, 1.4);
    const double x0 = random.uniform(0.05, 0.8) * width, y0 = random.uniform(0.05, 0.8) * height,
                 turn = random.uniform(-0.6, 0.6);
    const double c = std::cos(turn), s = std::sin(turn);
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i) {
            const double u = i * pitch, v = j * pitch;
            scene.things.push_back(rectangle(x0 + u * c - v * s, y0 + u * s + v * c, size, size, turn,
                                             addMaterial(scene, randomReflectance(random))));
        }
}

void addClutter(Scene &scene, Random &random, double width, double height)
{
    const int swatches = random.below(3), pieces = 4 + random.below(8);
    for (int i = 0; i < pieces; ++i) {
        const double x = random.unit() * width, y = random.unit() * height,
                     size = random.uniform(0.03, 0.18) * width;
        const int material = addMaterial(scene, randomReflectance(random), random.unit() < 0.3 ? 0.1 : 0);
        const int kind = random.below(3);
        if (kind == 0)
            scene.things.push_back(
                rectangle(x, y, size, size * random.uniform(0.4, 1.6), random.uniform(-1, 1), material));
        else if (kind == 1)
            scene.things.push_back(Ellipse{{x, y}, size / 2, size / 2 * random.uniform(0.5, 1), material});
        else
            scene.things.push_back(
                Skein{{x, y},
                      {x + size * random.uniform(-1, 1), y + size * random.uniform(0.4, 1)},
                      size / 5,
                      addMaterial(scene, yarns()[size_t(random.below(int(yarns().size())))].reflectance)});
    }
    for (int i = 0; i < swatches; ++i)
        addSwatches(scene, random, width, height);
}

PrintedChart printedChart(Scene &scene, Random &random, const std::string &id, const SceneRecipe &recipe)
{
    PrintedChart printed;
    printed.chart = *chartFromCatalogue(id);
    for (const auto &reflectance : chartReflectances(printed.chart, 24 + random.next() % 5))
        printed.patchMaterials.push_back(addMaterial(scene, reflectance));
    printed.frameMaterial = addMaterial(
        scene, flatReflectance(random.unit() < 0.8 ? random.uniform(0.02, 0.05) : random.uniform(0.6, 0.85)));
    printed.patchScale = random.uniform(recipe.leastPatch, recipe.mostPatch);
    return printed;
}

/// Several charts share the frame's width: each keeps to its own part of it.
void addCharts(Scene &scene, Random &random, const SceneRecipe &recipe)
{
    const double share = 1.0 / double(recipe.charts.size()), margin = 0.02 * recipe.width;
    for (size_t i = 0; i < recipe.charts.size(); ++i) {
        auto printed = printedChart(scene, random, recipe.charts[i], recipe);
        const double left = share * double(i) * recipe.width, right = left + share * recipe.width;
        const bool quarterTurns = random.unit() < 0.6;
        double size = recipe.exactWidth > 0 ? recipe.exactWidth
                                            : random.uniform(recipe.narrowest, recipe.widest) * share;
        for (;; size *= recipe.exactWidth > 0 ? 1 : 0.96) {
            Pose pose;
            pose.widthPixels = size * recipe.width;
            pose.turn =
                quarterTurns ? 90 * random.below(4) + random.uniform(-12, 12) : random.uniform(0, 360);
            pose.tiltX = random.uniform(-recipe.mostTilt, recipe.mostTilt);
            pose.tiltY = random.uniform(-recipe.mostTilt, recipe.mostTilt);
            pose.distance = random.uniform(2.5, 6);
            pose.centre = {left + random.uniform(0.2, 0.8) * share * recipe.width,
                           random.uniform(0.2, 0.8) * recipe.height};
            printed.corners = cornersAt(printed.chart, pose);
            const bool inside =
                std::all_of(printed.corners.begin(), printed.corners.end(), [&](const PixelPoint &p) {
                    return p.x > left + margin && p.y > margin && p.x < right - margin &&
                           p.y < recipe.height - margin;
                });
            if (inside)
                break;
        }
        scene.things.push_back(printed);
    }
}

} // namespace

Scene randomScene(const SceneRecipe &recipe)
{
    Random random(recipe.seed);
    Scene scene;
    scene.background =
        addMaterial(scene, randomReflectance(random), random.unit() < 0.5 ? 0.06 : 0, random.uniform(3, 30));
    scene.gradientX = random.uniform(-recipe.mostGradient, recipe.mostGradient);
    scene.gradientY = random.uniform(-recipe.mostGradient, recipe.mostGradient);
    scene.flare = random.unit() < 0.5 ? 0 : random.uniform(0, 0.005);
    scene.blurPixels = random.uniform(0.3, recipe.mostBlur);
    if (recipe.clutter)
        addClutter(scene, random, recipe.width, recipe.height);
    if (recipe.withChart)
        addCharts(scene, random, recipe);
    return scene;
}

} // namespace wavechroma::sim
