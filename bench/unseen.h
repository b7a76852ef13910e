#pragma once
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/studio.h"
#include "core/values/reading.h"

#include <algorithm>
#include <cmath>

/// What the fit benches train on and judge by: noisy readings of a simulated chart, and surfaces that no fit
/// has seen.
namespace wavechroma::bench {

inline const ChartDefinition &chart()
{
    return chartCatalogue().front();
}

struct Unseen
{
    Spectrum reflectance;
    Lab lab;
};

inline std::vector<Unseen> unseenColours(int count, double ripple = 0.12)
{
    sim::Random random(20261);
    std::vector<Unseen> out;
    while (int(out.size()) < count) {
        const double hue = random.uniform(0, 6.2832),
                     chroma = 60 * random.uniform(0, 1); // as objects are: more pale than strong
        const Lab lab{random.uniform(22, 90), chroma * std::cos(hue), chroma * std::sin(hue)};
        if (const auto r = sim::reflectanceOf(lab, random.next(), ripple))
            out.push_back({*r, lab});
    }
    return out;
}

enum class Trouble { None, Gradient, HotSpot, Flare, Both, Covered, Glare, HighIso };
inline constexpr const char *kFaults[] = {
    "clean",       "25 % gradient",     "20 % hot spot", "5 % flare", "gradient and flare",
    "two covered", "three under glare", "ISO 12 800"};

struct Body
{
    const sim::Camera &camera;
    const sim::Lamp &lamp;
    Vector3 white; ///< of a perfect diffuser, green 1
};

/// Bodies that nobody drew by hand, for evidence on cameras that no choice was made on: three bells of random
/// place, width and lean each, with side lobes as dyes and microlenses have them, behind an infrared cut.
inline sim::Camera randomCamera(uint64_t seed)
{
    sim::Random random(seed * 7919 + 17);
    const auto bell = [](double nm, double at, double below, double above) {
        return std::exp(-0.5 * std::pow((nm - at) / (nm < at ? below : above), 2));
    };
    sim::Camera out = sim::cameras().front();
    out.model = "Body " + std::to_string(seed);
    const double cut = random.uniform(645, 695);
    for (size_t c = 0; c < 3; ++c) {
        const double places[] = {606, 533, 460};
        const double at = places[c] + random.uniform(-14, 14), below = random.uniform(20, 36),
                     above = random.uniform(28, 42), high = random.uniform(0.75, 1);
        double lobeAt[2], lobe[2];
        for (int i = 0; i < 2; ++i) {
            lobeAt[i] = random.uniform(430, 650);
            lobe[i] = random.uniform(0, 0.12);
        }
        out.sensitivity[c] = spectrumFrom([&](double nm) {
            const double infrared = 1 / (1 + std::exp((nm - cut) / 9));
            return infrared * (high * bell(nm, at, below, above) + lobe[0] * bell(nm, lobeAt[0], 30, 34) +
                               lobe[1] * bell(nm, lobeAt[1], 30, 34));
        });
    }
    return out;
}

/// Sensors as unlike the usual ones as are sold: bells from very narrow to very broad, crossing much or
/// hardly, and some that see infrared.
inline sim::Camera anySensor(uint64_t seed)
{
    sim::Random random(seed * 15485863 + 29);
    sim::Camera out = sim::cameras().front();
    out.model = "Sensor " + std::to_string(seed);
    const double breadth = std::exp(random.uniform(std::log(0.45), std::log(1.7))), // of a usual bell
        cut = random.below(3) ? random.uniform(640, 700) : random.uniform(700, 760);
    for (size_t c = 0; c < 3; ++c) {
        const double places[] = {604, 534, 458};
        const double at = places[c] + random.uniform(-18, 18), below = breadth * random.uniform(20, 34),
                     above = breadth * random.uniform(24, 40), lobeAt = random.uniform(420, 660),
                     lobe = random.uniform(0, 0.15),
                     leak = cut > 700 ? random.uniform(0.1, 0.5) : 0; // dyes open in the infrared
        out.sensitivity[c] = spectrumFrom([&](double nm) {
            const double d = (nm - at) / (nm < at ? below : above), e = (nm - lobeAt) / 32;
            return (std::exp(-0.5 * d * d) + lobe * std::exp(-0.5 * e * e) +
                    leak / (1 + std::exp((690 - nm) / 12))) /
                   (1 + std::exp((nm - cut) / 9));
        });
    }
    return out;
}

/// Lamps of every kind: glowing wire, daylight, white LEDs of one or two phosphors, three narrow LEDs, tubes.
inline sim::Lamp anyLamp(uint64_t seed)
{
    sim::Random random(seed * 32452843 + 41);
    const auto line = [](double nm, double at, double wide) {
        return std::exp(-0.5 * std::pow((nm - at) / wide, 2));
    };
    const int kind = random.below(5);
    if (kind == 0) {
        const double kelvin = random.uniform(2300, 3400);
        return {"glowing wire", spectrumFrom([&](double nm) {
                    return std::pow(560 / nm, 5) * (std::exp(1.4388e7 / (560 * kelvin)) - 1) /
                           (std::exp(1.4388e7 / (nm * kelvin)) - 1);
                })};
    }
    if (kind == 1) {
        const double kelvin = random.uniform(4200, 9000), dip = random.uniform(0, 0.1);
        return {"daylight", spectrumFrom([&](double nm) {
                    return std::pow(560 / nm, 5) * (std::exp(1.4388e7 / (560 * kelvin)) - 1) /
                           (std::exp(1.4388e7 / (nm * kelvin)) - 1) * (1 - dip * line(nm, 590, 12));
                })};
    }
    if (kind == 2) {
        const double pump = random.uniform(440, 462), blue = random.uniform(0.25, 1.6),
                     at = random.uniform(545, 610), wide = random.uniform(40, 62),
                     red = random.uniform(0, 0.7);
        return {"white LED", spectrumFrom([&](double nm) {
                    return 0.002 + blue * line(nm, pump, 10) + line(nm, at, wide) + red * line(nm, 632, 14);
                })};
    }
    if (kind == 3) {
        const double r = random.uniform(0.6, 2), g = random.uniform(0.7, 1.4), b = random.uniform(0.4, 1.4);
        return {"three LEDs", spectrumFrom([&](double nm) {
                    return 0.002 + r * line(nm, 630, 9) + g * line(nm, 530, 15) + b * line(nm, 460, 11);
                })};
    }
    const double warm = random.uniform(0.5, 1.6), ground = random.uniform(0.03, 0.25);
    return {"tube", spectrumFrom([&](double nm) {
                return ground * line(nm, 560, 80) + 0.5 * line(nm, 436, 3) / warm +
                       0.3 * line(nm, 489, 5) / warm + line(nm, 544, 4) + 0.25 * line(nm, 586, 6) +
                       warm * line(nm, 612, 4);
            })};
}

inline Vector3 seen(const Body &body, const Spectrum &reflectance)
{
    const auto rgb = sim::response(body.camera, body.camera.lenses[0], body.lamp.spectrum, reflectance);
    const double full = sim::response(body.camera, body.camera.lenses[0], body.lamp.spectrum,
                                      spectrumFrom([](double) { return 1.0; }))[1];
    return {0.6 * rgb[0] / full, 0.6 * rgb[1] / full, 0.6 * rgb[2] / full};
}

inline Reading readingOf(const Body &body, Trouble fault, uint64_t seed)
{
    sim::Random random(seed * 31 + uint64_t(fault));
    const double angle = random.uniform(0, 6.2832), spotX = random.uniform(-0.8, 0.8),
                 spotY = random.uniform(-0.8, 0.8);
    const int covered = random.below(23), shine = random.below(22);
    const auto skin = *sim::reflectanceOf({62, 15, 17}, 97, 0.05);
    const auto white = seen(body, spectrumFrom([](double) { return 1.0; }));
    const double electrons = body.camera.fullWell * 100 / (fault == Trouble::HighIso ? 12800 : 200);
    const auto reflectances = sim::chartReflectances(chart());
    Reading reading;
    reading.found = true;
    reading.chart = chart().id;
    for (int i = 0; i < 24; ++i) {
        const double u = (i % 6) / 2.5 - 1, v = (i / 6) / 1.5 - 1;
        auto rgb = seen(body, reflectances[size_t(i)]);
        if (fault == Trouble::Covered && (i == covered || i == covered + 1))
            rgb = seen(body, skin);
        double gain = 1;
        if (fault == Trouble::Gradient || fault == Trouble::Both)
            gain = 1 + 0.125 * (u * std::cos(angle) + v * std::sin(angle));
        if (fault == Trouble::HotSpot)
            gain = 1 + 0.2 * std::exp(-0.5 * (std::pow(u - spotX, 2) + std::pow(v - spotY, 2)) / 0.36);
        const double veil = fault == Trouble::Flare || fault == Trouble::Both        ? 0.05
                            : fault == Trouble::Glare && i >= shine && i < shine + 3 ? 0.25
                                                                                     : 0.001;
        PatchReading patch;
        patch.id = chart().patches[size_t(i)].id;
        patch.count = 4000;
        double out[3];
        for (size_t c = 0; c < 3; ++c) {
            const double value = gain * rgb[c] + veil * white[c];
            const double sd =
                std::sqrt(std::max(0.0, value) * electrons + body.camera.readNoise * body.camera.readNoise) /
                electrons;
            out[c] = value + sd / std::sqrt(1000.0) * random.normal();
        }
        patch.mean = {out[0], out[1], out[2]};
        const double pixel = std::sqrt(std::max(0.0, gain * rgb[1] + veil) * electrons +
                                       body.camera.readNoise * body.camera.readNoise) /
                             electrons;
        patch.sd = {pixel, pixel, pixel};
        reading.patches.push_back(patch);
    }
    return reading;
}

} // namespace wavechroma::bench
