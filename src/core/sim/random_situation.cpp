#include "core/sim/random_situation.h"

#include "core/sim/random.h"
#include "core/sim/reflectance.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace wavechroma::sim {

const char *nameOf(Mishap mishap)
{
    static constexpr const char *kNames[kMishaps] = {
        "none",    "fingers", "glare",         "clipped", "dark",    "uneven",  "flare",
        "defocus", "shake",   "high ISO",      "tilted",  "small",   "several", "wrong chart",
        "barrel",  "shadow",  "band of glare", "dirt",    "no chart"};
    return kNames[int(mishap)];
}

namespace {

const PrintedChart &chartIn(const Scene &scene)
{
    for (const auto &thing : scene.things)
        if (const auto *printed = std::get_if<PrintedChart>(&thing))
            return *printed;
    throw std::logic_error("the scene has no chart");
}

/// One or two fingertips on neighbouring patches of the bottom row, as of a hand that holds the chart there.
/// Gives the patches they cover.
std::vector<size_t> addFingers(Scene &scene, Random &random)
{
    const auto printed = chartIn(scene);
    const auto &chart = printed.chart;
    const auto homography = *homographyFrom(chart, printed.corners);
    const int row = chart.rows - 1, column = random.below(chart.columns), count = 1 + random.below(2);
    const double pitch = pitchPixels(chart, homography);
    const int skin =
        addMaterial(scene, *reflectanceOf({random.uniform(35, 72), 14, 17}, random.next(), 0.05));
    std::vector<size_t> covered;
    for (int i = 0; i < count && column + i < chart.columns; ++i) {
        const auto centre = patchCentre(chart, row, column + i);
        scene.things.push_back(Skein{homography.at(centre),
                                     homography.at({centre.x, centre.y + 3 * chart.pitchYMm}), 0.5 * pitch,
                                     skin});
        covered.push_back(size_t(row * chart.columns + column + i));
    }
    return covered;
}

/// A blot on one patch: what was spilt there, or rubbed off. Gives the patch.
std::vector<size_t> addDirt(Scene &scene, Random &random)
{
    const auto printed = chartIn(scene);
    const auto &chart = printed.chart;
    const auto homography = *homographyFrom(chart, printed.corners);
    const size_t patch = size_t(random.below(int(chart.patches.size())));
    const auto centre = patchCentre(chart, int(patch) / chart.columns, int(patch) % chart.columns);
    const int dirt =
        addMaterial(scene,
                    *reflectanceOf({random.uniform(20, 75), random.uniform(-6, 12), random.uniform(-4, 24)},
                                   random.next(), 0.1),
                    0.12);
    Polygon blot{{}, dirt};
    const double radius = random.uniform(0.32, 0.46);
    for (int i = 0; i < 24; ++i) {
        const double turn = i * 6.2832 / 24, reach = radius * random.uniform(0.85, 1.15);
        blot.points.push_back(homography.at({centre.x + reach * chart.pitchXMm * std::cos(turn),
                                             centre.y + reach * chart.pitchYMm * std::sin(turn)}));
    }
    scene.things.push_back(blot);
    return {patch};
}

std::vector<size_t> addGlare(Scene &scene, Random &random)
{
    const auto printed = chartIn(scene);
    const auto &chart = printed.chart;
    const auto homography = *homographyFrom(chart, printed.corners);
    const size_t patch = size_t(random.below(int(chart.patches.size())));
    const auto at = homography.at(patchCentre(chart, int(patch) / chart.columns, int(patch) % chart.columns));
    scene.glows.push_back(
        {at, pitchPixels(chart, homography) * random.uniform(0.25, 0.4), random.uniform(0.08, 0.6)});
    return {patch};
}

/// A reflection drawn out over several patches.
std::vector<size_t> addGlareBand(Scene &scene, Random &random)
{
    const auto printed = chartIn(scene);
    const auto &chart = printed.chart;
    const auto homography = *homographyFrom(chart, printed.corners);
    const size_t patch = size_t(random.below(int(chart.patches.size())));
    const double pitch = pitchPixels(chart, homography);
    Glow glow{homography.at(patchCentre(chart, int(patch) / chart.columns, int(patch) % chart.columns)),
              pitch * random.uniform(0.25, 0.4), random.uniform(0.08, 0.5), pitch * random.uniform(1, 2),
              random.uniform(0, 3.1416)};
    scene.glows.push_back(glow);
    std::vector<size_t> touched;
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto p = homography.at(patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns));
        const double dx = p.x - glow.centre.x, dy = p.y - glow.centre.y,
                     along = std::clamp(dx * std::cos(glow.turn) + dy * std::sin(glow.turn), -glow.halfLength,
                                        glow.halfLength);
        if (std::hypot(dx - along * std::cos(glow.turn), dy - along * std::sin(glow.turn)) <
            3.5 * glow.radius + 0.4 * pitch)
            touched.push_back(i);
    }
    return touched;
}

struct Shadowed
{
    int dark = 0, lit = 0;
    std::vector<size_t> crossed;
    double stops = 0;
};

/// The edge of a shadow, or both of one, across the chart.
Shadowed addShadow(Scene &scene, Random &random)
{
    const auto printed = chartIn(scene);
    const auto &chart = printed.chart;
    const auto homography = *homographyFrom(chart, printed.corners);
    const auto extent = chartExtent(chart);
    const double pitch = pitchPixels(chart, homography);
    Shadowed out;
    out.stops = random.uniform(0.4, 2.5);
    const double share = std::exp2(-out.stops), warmth = random.uniform(-0.07, 0.07);
    Shade shade{homography.at({extent.x * random.uniform(0.25, 0.75), extent.y * random.uniform(0.25, 0.75)}),
                random.uniform(0, 6.2832),
                random.unit() < 0.25 ? pitch * random.uniform(1.6, 3.5) : 1e9,
                pitch * random.uniform(0.02, 0.3),
                {share * (1 + warmth), share, share * (1 - warmth)}};
    scene.shade = shade;
    for (size_t i = 0; i < chart.patches.size(); ++i) {
        const auto centre = patchCentre(chart, int(i) / chart.columns, int(i) % chart.columns);
        double least = 1, most = 0;
        for (const double dy : {-0.55, 0.0, 0.55})
            for (const double dx : {-0.55, 0.0, 0.55}) {
                const auto p =
                    homography.at({centre.x + dx * chart.patchWidthMm, centre.y + dy * chart.patchHeightMm});
                least = std::min(least, shade.depthAt(p.x, p.y));
                most = std::max(most, shade.depthAt(p.x, p.y));
            }
        out.dark += least > 0.95;
        out.lit += most < 0.05;
        if (most - least > 0.02)
            out.crossed.push_back(i);
    }
    return out;
}

/// Right and wrong as far as it is out of doubt.
void judge(std::map<std::string, bool> &faults, const std::string &id, double value, double limit,
           double room = 0.2)
{
    if (value > limit * (1 + room))
        faults[id] = true;
    else if (value < limit * (1 - room))
        faults[id] = false;
}

struct Covered
{
    std::vector<size_t> fingers, glare; ///< patches under fingers or dirt, and under reflections
    Shadowed shadow;
};

void judgeLevels(Situation &s, const ChartDefinition &chart, const Camera &camera, const Shot &shot)
{
    const auto &truth = s.frame.charts.front();
    double most = 0;
    for (const auto &patch : truth.patches)
        most = std::max({most, patch[0], patch[1], patch[2]});
    if (s.mishap != Mishap::Glare && s.mishap != Mishap::GlareBand) // a reflection may clip a patch
        judge(s.faults, "clipping", most, 0.99, 0.03);
    const auto index = [&](const std::string &id) { return size_t(chart.patch(id) - chart.patches.data()); };
    const auto &white = truth.patches[index(chart.neutral.front())];
    judge(s.faults, "exposure", std::abs(std::log2(std::max({white[0], white[1], white[2]}) / 0.70)), 1.0,
          0.08);
    const double electrons = camera.fullWell * 100 / shot.iso;
    const auto noiseAt = [&](double v) {
        return std::sqrt(v * electrons + camera.readNoise * camera.readNoise) / electrons / v;
    };
    if (chart.id == "classic-24")
        judge(s.faults, "noise", noiseAt(truth.patches[index("D4")][1]), 0.08, 0.15);
    double weakest = 1e9, side = 0;
    for (const auto &patch : truth.patches)
        weakest = std::min({weakest, patch[0], patch[1], patch[2]});
    const auto &c = truth.corners;
    side = std::hypot(c[1].x - c[0].x, c[1].y - c[0].y) / chart.columns *
           std::hypot(c[3].x - c[0].x, c[3].y - c[0].y) / chart.rows;
    const double samples = std::min(20000.0, 0.5 * 0.5 * 0.78 * side / 4);
    judge(s.faults, "underexposure", noiseAt(weakest) / std::sqrt(samples), 0.01, 0.35);
}

void judgeLight(Situation &s, const Scene &scene)
{
    const auto &light = s.frame.charts.front().light;
    const auto [least, most] = std::minmax_element(light.begin(), light.end());
    judge(s.faults, "evenness", 1 - *least / *most, 0.10, 0.35);
    judge(s.faults, "flare", scene.flare, 0.015, 0.5);
    judge(s.faults, "focus",
          std::max(scene.blurPixels, std::hypot(scene.shakeX, scene.shakeY) / std::sqrt(12.0)), 2.2, 0.25);
    s.faults["match"] = s.mishap == Mishap::WrongChart;
}

/// Does what lies on a patch differ from it by more than a print that is not clean?
bool stands(const Scene &scene, const PrintedChart &printed, size_t patch, const Camera &camera,
            const Lamp &lamp)
{
    const auto &cover = scene.materials.back().reflectance; // it came last
    const auto a = response(camera, camera.lenses[0], lamp.spectrum, cover);
    const auto b = response(camera, camera.lenses[0], lamp.spectrum,
                            scene.materials[size_t(printed.patchMaterials[patch])].reflectance);
    double sum = 0;
    for (size_t c = 0; c < 3; ++c)
        sum += std::pow(a[c] / (b[c] + 0.04 * b[1]) - 1, 2) / 3;
    return std::sqrt(sum) > 0.6;
}

SceneRecipe recipeFor(Mishap mishap, uint64_t seed, Random &random, Situation &s)
{
    static const char *kCharts[] = {"classic-24", "double-24", "field-140"};
    SceneRecipe recipe;
    recipe.seed = seed;
    recipe.narrowest = 0.25;
    recipe.widest = 0.9;
    recipe.mostTilt = mishap == Mishap::Tilted ? 45 : 25;
    recipe.mostGradient = mishap == Mishap::Uneven ? 0.5 : 0.05;
    recipe.withChart = mishap != Mishap::NoChart;
    recipe.charts = {kCharts[random.below(3)]};
    if (mishap == Mishap::Several)
        recipe.charts = {kCharts[random.below(3)], kCharts[random.below(3)]};
    if (mishap == Mishap::Small)
        recipe.exactWidth = random.uniform(0.06, 0.12);
    if (mishap == Mishap::WrongChart) {
        // the same layout in other colours is made below; here only the name asked for
        recipe.charts = {"classic-24"};
        s.asked = "classic-24";
    }
    s.charts = recipe.charts;
    return recipe;
}

void applyMishap(Situation &s, Scene &scene, Shot &shot, Random &random, Covered &covered)
{
    scene.flare = std::min(scene.flare, 0.004);
    scene.blurPixels = std::min(scene.blurPixels, 1.2);
    switch (s.mishap) {
    case Mishap::Fingers:
        covered.fingers = addFingers(scene, random);
        break;
    case Mishap::Dirt:
        covered.fingers = addDirt(scene, random);
        break;
    case Mishap::Glare:
        covered.glare = addGlare(scene, random);
        break;
    case Mishap::Clipped:
        shot.exposure = random.uniform(1.25, 1.8);
        break;
    case Mishap::Dark:
        shot.exposure = random.uniform(0.03, 0.12);
        break;
    case Mishap::Flare:
        scene.flare = random.uniform(0.03, 0.07);
        break;
    case Mishap::Defocus:
        scene.blurPixels = random.uniform(3, 5);
        break;
    case Mishap::Shake: {
        const double angle = random.uniform(0, 6.2832), way = random.uniform(10, 16);
        scene.shakeX = way * std::cos(angle);
        scene.shakeY = way * std::sin(angle);
        break;
    }
    case Mishap::HighIso:
        shot.iso = 3200 << random.below(3);
        break;
    case Mishap::Barrel:
        scene.distortion = random.uniform(-0.03, 0.08);
        break;
    case Mishap::Shadow:
        covered.shadow = addShadow(scene, random);
        break;
    case Mishap::GlareBand:
        covered.glare = addGlareBand(scene, random);
        break;
    case Mishap::WrongChart:
        // the chart's colours in another order: the layout is that asked for, the pattern is not
        for (auto &thing : scene.things)
            if (auto *printed = std::get_if<PrintedChart>(&thing))
                for (size_t i = printed->patchMaterials.size() - 1; i > 0; --i)
                    std::swap(printed->patchMaterials[i], printed->patchMaterials[random.next() % (i + 1)]);
        break;
    default:
        break;
    }
}

} // namespace

namespace {

Situation situationOf(uint64_t seed, const Equipment &equipment, Random &random)
{
    Situation s;
    s.mishap = equipment.mishap;
    const auto &body = equipment.camera;
    const auto &light = equipment.lamp;
    Shot shot;
    shot.width = equipment.width;
    shot.height = equipment.width * 2 / 3;
    shot.exposure = random.uniform(0.55, 0.85);
    shot.iso = 100 << random.below(4);
    shot.seed = seed;
    shot.filterShiftX = random.below(2);
    shot.filterShiftY = random.below(2);
    auto recipe = recipeFor(s.mishap, seed, random, s);
    recipe.width = shot.width;
    recipe.height = shot.height;
    auto scene = randomScene(recipe);
    Covered covered;
    applyMishap(s, scene, shot, random, covered);
    s.frame = expose(scene, body, light, shot);
    const double electrons = body.fullWell * 100 / shot.iso, grey = 0.18 * shot.exposure * electrons;
    s.greyNoise = std::sqrt(grey + body.readNoise * body.readNoise) / grey;
    if (s.mishap == Mishap::NoChart || s.mishap == Mishap::Several)
        return s;
    const auto &printed = chartIn(scene);
    judgeLevels(s, printed.chart, body, shot);
    judgeLight(s, scene);
    // a shadow is one when both of its sides have patches enough to tell it from things that lie there
    const int all = int(printed.chart.patches.size());
    if (s.mishap != Mishap::Shadow)
        s.faults["shadow"] = false;
    else if (std::min(covered.shadow.dark, covered.shadow.lit) >= std::max(4, all / 8))
        s.faults["shadow"] = true;
    if (s.mishap == Mishap::Shadow)
        s.faults.erase("exposure"); // which neutrals it lies on decides
    if (s.mishap == Mishap::Glare || s.mishap == Mishap::GlareBand)
        s.faults["glare"] = true;
    else if (covered.fingers.empty())
        s.faults["glare"] = false;
    if (covered.fingers.empty())
        s.faults["obstruction"] = false;
    else if (std::any_of(covered.fingers.begin(), covered.fingers.end(),
                         [&](size_t patch) { return stands(scene, printed, patch, body, light); }))
        s.faults["obstruction"] = true;
    if (s.mishap == Mishap::WrongChart)
        s.faults = {{"match", true}};
    if (!covered.fingers.empty())
        s.faults.erase("underexposure");
    for (const auto &patch : covered.fingers) // no truth for what cannot be seen
        s.frame.charts.front().patches[patch] = {1, 1, 1};
    for (const auto &patch : covered.shadow.crossed)
        s.frame.charts.front().patches[patch] = {1, 1, 1};
    for (const auto &patch : covered.glare)
        s.frame.charts.front().patches[patch] = {1, 1, 1};
    return s;
}

} // namespace

Situation randomSituation(uint64_t seed, const Equipment &equipment)
{
    Random random(seed * 104729 + 11);
    return situationOf(seed, equipment, random);
}

Situation randomSituation(uint64_t seed)
{
    Random random(seed * 104729 + 11);
    const auto mishap = Mishap(seed % kMishaps);
    const auto &body = cameras()[size_t(random.below(3))];
    const auto &light = lamps()[size_t(random.below(5))];
    return situationOf(seed, {mishap, body, light, mishap == Mishap::Small ? 6000 : 3000}, random);
}

} // namespace wavechroma::sim
