// What became of a chart since its calibration was made: 200 simulated changes of one cause each, a second
// one on top of each, and 200 shots of nothing changed, by cameras and lamps that nobody drew by hand; is the
// first cause right, and how much? wavechroma-bench-drift [changes] [first seed] [say: each one that is
// wrong]
#include "bench/guard.h"
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/temperature.h"
#include "core/fit/fit.h"
#include "core/proof/drift.h"
#include "core/sim/scene.h"

#include <algorithm>
#include <cstdlib>
#include <fmt/format.h>
#include <map>

using namespace wavechroma;
using namespace wavechroma::bench;

namespace {

/// A set: what the chart is made of, its light, and what happened to either.
struct Set
{
    sim::Camera camera;
    Spectrum light;
    std::vector<Spectrum> patches;
    double stops = 0, slopeU = 0, slopeV = 0, veil = 0;
};

/// A patch's middle on the chart, −1…1 between its edges.
double place(int i, bool isU)
{
    const auto extent = chartExtent(chart());
    const auto centre = patchCentre(chart(), i / 6, i % 6);
    return isU ? 2 * centre.x / extent.x - 1 : 2 * centre.y / extent.y - 1;
}

/// Camera RGB without noise, at an exposure that puts `first`'s white at 0.6.
std::vector<Vector3> seenBy(const Set &set, const Set &first)
{
    const auto &lens = set.camera.lenses[0];
    const auto white = sim::flatReflectance(1);
    const double full = sim::response(first.camera, lens, first.light, white)[1];
    const auto light = sim::response(set.camera, lens, set.light, white);
    std::vector<Vector3> out;
    for (int i = 0; i < int(set.patches.size()); ++i) {
        auto rgb = sim::response(set.camera, lens, set.light, set.patches[size_t(i)]);
        const double gain =
            std::exp2(set.stops) * std::exp(set.slopeU * place(i, true) + set.slopeV * place(i, false));
        for (size_t c = 0; c < 3; ++c)
            rgb[c] = 0.6 * (gain * rgb[c] + std::exp2(set.stops) * set.veil * light[c]) / full;
        out.push_back(rgb);
    }
    return out;
}

/// The reading of a shot: noise, and the little that a chart laid down anew differs by.
Reading shot(const Set &set, const Set &first, sim::Random &random, const std::string &name)
{
    Reading reading;
    reading.found = true;
    reading.image = name;
    reading.chart = chart().id;
    const double electrons = set.camera.fullWell * 100 / 200;
    const auto rgb = seenBy(set, first);
    const double tilt = 0.004 * random.normal(), tilted = 0.004 * random.normal(),
                 level = 0.004 * random.normal();
    for (int i = 0; i < 24; ++i) {
        PatchReading patch;
        patch.id = chart().patches[size_t(i)].id;
        patch.count = 4000;
        double out[3], sd[3];
        const double grain = 0.0015 * random.normal(),
                     again = std::exp(level + tilt * place(i, true) + tilted * place(i, false) + grain);
        for (size_t c = 0; c < 3; ++c) {
            const double value = again * rgb[size_t(i)][c];
            sd[c] =
                std::sqrt(std::max(0.0, value) * electrons + std::pow(set.camera.readNoise, 2)) / electrons;
            out[c] = value + sd[c] / std::sqrt(1000.0) * random.normal();
        }
        patch.mean = {out[0], out[1], out[2]};
        patch.sd = {sd[0], sd[1], sd[2]};
        patch.clipped = std::max({out[0], out[1], out[2]}) >= 1 ? 1 : 0;
        reading.patches.push_back(patch);
    }
    return reading;
}

Temperature whiteOf(const Spectrum &light)
{
    return temperatureOf(chromaticityFromXyz(xyzFromLight(light)));
}

Spectrum times(const Spectrum &a, const std::function<double(double)> &factor)
{
    return spectrumFrom([&](double nm) { return a.at(nm) * factor(nm); });
}

/// A wire or phosphor that became colder or warmer: as Planck's law shifts.
Spectrum warmed(const Spectrum &light, double mired)
{
    const double kelvin = 5000, other = 1e6 / (1e6 / kelvin + mired);
    const auto before = planckian(kelvin), after = planckian(other);
    return times(light,
                 [&](double nm) { return after.at(nm) / before.at(nm) * before.at(560) / after.at(560); });
}

/// Another lamp behind a filter that leaves the camera's white where it was: exp(a + b x + c x²) by Newton's
/// method.
std::optional<Spectrum> sameWhite(const sim::Camera &camera, const Spectrum &wanted, const Spectrum &lamp)
{
    const auto seen = [&](const Spectrum &light) {
        const auto rgb = sim::response(camera, camera.lenses[0], light, sim::flatReflectance(1));
        return Chromaticity{std::log(rgb[0] / rgb[1]), std::log(rgb[2] / rgb[1])};
    };
    const auto level = [&](const Spectrum &light) {
        return sim::response(camera, camera.lenses[0], light, sim::flatReflectance(1))[1];
    };
    const auto aim = seen(wanted);
    double b = 0, c = 0;
    const auto made = [&](double p, double q) {
        return times(lamp, [&](double nm) {
            const double x = (nm - 550) / 100;
            return std::exp(std::clamp(p * x + q * x * x, -6., 6.));
        });
    };
    for (int i = 0; i < 40; ++i) {
        const auto at = seen(made(b, c));
        if (std::hypot(at.x - aim.x, at.y - aim.y) < 1e-5) {
            const double gain = level(wanted) / level(made(b, c));
            return times(made(b, c), [gain](double) { return gain; });
        }
        const auto p = seen(made(b + 1e-4, c)), q = seen(made(b, c + 1e-4));
        const double xx = (p.x - at.x) / 1e-4, xy = (q.x - at.x) / 1e-4, yx = (p.y - at.y) / 1e-4,
                     yy = (q.y - at.y) / 1e-4, det = xx * yy - xy * yx;
        if (std::abs(det) < 1e-9)
            return {};
        const double dx = aim.x - at.x, dy = aim.y - at.y;
        b += std::clamp((dx * yy - dy * xy) / det, -0.4, 0.4);
        c += std::clamp((dy * xx - dx * yx) / det, -0.4, 0.4);
    }
    return {};
}

/// Dyes that thinned, each at its own rate, magenta most; the paper yellows.
void fade(std::vector<Spectrum> &patches, sim::Random &random)
{
    const double magenta = random.uniform(0.05, 0.2), cyan = magenta * random.uniform(0.1, 0.6),
                 yellow = magenta * random.uniform(0.2, 0.8), paper = random.uniform(0, 0.06);
    for (size_t i = 0; i < patches.size(); ++i) {
        const bool isNeutral = i >= 18;
        const double most = *std::max_element(patches[i].values.begin(), patches[i].values.end());
        patches[i] = spectrumFrom([&](double nm) {
            const double r = patches[i].at(nm);
            const double rate = nm > 590 ? cyan : nm > 495 ? magenta : yellow;
            if (!isNeutral)
                return r * std::pow(most / std::max(r, 1e-3), rate);
            return i == 18 && nm < 500 ? r * (1 - paper) : r;
        });
    }
}

void soil(std::vector<Spectrum> &patches, sim::Random &random)
{
    const int count = 1 + random.below(4);
    for (int k = 0; k < count; ++k) {
        auto &patch = patches[size_t(random.below(18))];
        const double share = random.uniform(0.1, 0.35), to = random.uniform(0.08, 0.5);
        patch = spectrumFrom([&](double nm) { return (1 - share) * patch.at(nm) + share * to; });
    }
}

struct Truth
{
    DriftCause cause;
    double amount = 0;
};

double either(sim::Random &random, double from, double to)
{
    return (random.below(2) ? 1 : -1) * std::exp(random.uniform(std::log(from), std::log(to)));
}

/// One change, and how much it is; nothing where the chance's draw cannot be made.
std::optional<Truth> changed(Set &set, int kind, sim::Random &random)
{
    const auto cause = DriftCause(kind);
    const auto before = whiteOf(set.light);
    switch (cause) {
    case DriftCause::Power:
        set.stops = either(random, 0.1, 1);
        if (set.stops > 0.6)
            set.stops = -set.stops; // the white would clip
        return Truth{cause, set.stops};
    case DriftCause::Temperature:
        set.light = warmed(set.light, either(random, 8, 50));
        return Truth{cause, 1e6 / whiteOf(set.light).cctKelvin - 1e6 / before.cctKelvin};
    case DriftCause::Tint: {
        const double share = either(random, 0.04, 0.2);
        set.light = times(
            set.light, [&](double nm) { return 1 + share * std::exp(-0.5 * std::pow((nm - 545) / 45, 2)); });
        return Truth{cause, whiteOf(set.light).duv - before.duv};
    }
    case DriftCause::OneSide: {
        const double amount = std::log(1 + std::abs(either(random, 0.08, 0.4))) / 2,
                     angle = random.uniform(0, 6.2832);
        const double share =
            std::abs(std::cos(angle)) / (std::abs(std::cos(angle)) + std::abs(std::sin(angle)));
        set.slopeU = std::copysign(amount * share, std::cos(angle));
        set.slopeV = std::copysign(amount * (1 - share), std::sin(angle));
        return Truth{cause, 100 * (std::exp(2 * amount) - 1)};
    }
    case DriftCause::StrayLight:
        set.veil = std::abs(either(random, 0.006, 0.06));
        return Truth{cause, 100 * set.veil};
    case DriftCause::Spectrum: {
        const auto other = sameWhite(set.camera, set.light, anyLamp(random.next() % 1000000).spectrum);
        if (!other)
            return {};
        set.light = *other;
        return Truth{cause, 0};
    }
    case DriftCause::Chart:
        if (random.below(3))
            fade(set.patches, random);
        else
            soil(set.patches, random);
        return Truth{cause, 0};
    }
    return {};
}

/// By the calibration, without noise: mean ΔE over all patches, or over those that changed by 1 or more.
double differenceBetween(const Calibration &calibration, const Set &before, const Set &after,
                         bool changedOnly)
{
    const auto a = seenBy(before, before), b = seenBy(after, before);
    // A lamp's level is no part of its kind.
    double level = 0;
    for (size_t i = 18; i < 24; ++i)
        level += std::log(b[i][1] / a[i][1]) / 6;
    double sum = 0;
    int count = 0;
    for (size_t i = 0; i < a.size(); ++i) {
        const double gain = changedOnly ? 1 : std::exp(-level);
        const auto lab = [&](const Vector3 &v, double g) {
            return labFromXyz(xyzFromCamera(calibration, CameraRgb{g * v[0], g * v[1], g * v[2]}));
        };
        const double d = de2000(lab(b[i], gain), lab(a[i], 1));
        if (changedOnly && d < 1)
            continue;
        sum += d;
        ++count;
    }
    return count ? sum / count : 0;
}

struct Score
{
    int all = 0, first = 0, amount = 0, second = 0;
};

} // namespace

int main(int argc, char **argv)
{
    const int count = argc > 1 ? std::atoi(argv[1]) : 200;
    const auto first = uint64_t(argc > 2 ? std::atoll(argv[2]) : 400000);
    const bool isSaid = argc > 3;
    std::map<DriftCause, Score> scores;
    int alarms = 0, pairs = 0, bothNamed = 0, oneNamed = 0;
    FitOptions options;
    options.crossValidate = false;
    for (int i = 0; i < count; ++i) {
        sim::Random random(first + uint64_t(i) * 104729);
        Set set;
        set.camera =
            random.below(4) ? randomCamera(random.next() % 1000000) : anySensor(random.next() % 1000000);
        set.light = random.below(2) ? anyLamp(random.next() % 1000000).spectrum
                                    : sim::lamps()[size_t(random.below(5))].spectrum;
        set.patches = sim::chartReflectances(chart(), 24 + random.next() % 1000);
        auto reading = shot(set, set, random, "then");
        reading.fileColor.matrices = {{sim::publishedColorMatrix(set.camera), 21}};
        const auto calibration = fitCalibration(reading, chart(), options);
        if (!calibration)
            continue;
        const auto same = driftOf(*calibration, shot(set, set, random, "same"), chart());
        if (same && !same->causes.empty()) {
            ++alarms;
            if (isSaid)
                fmt::print("{} alarm: {} {:.3f}\n", i, kDriftCauses[size_t(same->causes[0].cause)].id,
                           same->causes[0].amount);
        }
        auto later = set;
        auto truth = changed(later, i % 7, random);
        if (!truth)
            continue;
        if (truth->cause == DriftCause::Spectrum || truth->cause == DriftCause::Chart)
            truth->amount = differenceBetween(*calibration, set, later, truth->cause == DriftCause::Chart);
        if (std::abs(truth->amount) < (truth->cause == DriftCause::Tint       ? 0.002
                                       : truth->cause == DriftCause::Spectrum ? 0.8
                                                                              : 0))
            continue;
        if (truth->cause == DriftCause::Chart && truth->amount == 0)
            continue;
        const auto drift = driftOf(*calibration, shot(later, set, random, "later"), chart());
        auto &score = scores[truth->cause];
        ++score.all;
        const bool isFirst = drift && !drift->causes.empty() && drift->causes[0].cause == truth->cause;
        score.first += isFirst;
        const DriftReason *found = nullptr;
        if (drift)
            for (const auto &cause : drift->causes)
                if (cause.cause == truth->cause)
                    found = &cause;
        const bool isNear =
            found && std::abs(found->amount - truth->amount) <= 0.25 * std::abs(truth->amount);
        score.amount += isFirst && isNear;
        score.second += drift && drift->causes.size() > 1;
        if (isSaid && (!isFirst || !isNear)) {
            fmt::print("{} {} {:.4f}:", i, kDriftCauses[size_t(truth->cause)].id, truth->amount);
            if (drift)
                for (const auto &cause : drift->causes)
                    fmt::print(" {} {:.4f} ({:.2f})", kDriftCauses[size_t(cause.cause)].id, cause.amount,
                               cause.explains);
            fmt::print("\n");
        }
        // another one on top of it
        const int second = (i % 7 + 1 + i / 7 % 6) % 7;
        if (changed(later, second, random)) {
            const auto both = driftOf(*calibration, shot(later, set, random, "both"), chart());
            const auto isNamed = [&](DriftCause cause) {
                return both && std::any_of(both->causes.begin(), both->causes.end(),
                                           [&](const DriftReason &one) { return one.cause == cause; });
            };
            ++pairs;
            bothNamed += isNamed(truth->cause) && isNamed(DriftCause(second));
            oneNamed += isNamed(truth->cause) || isNamed(DriftCause(second));
        }
    }
    fmt::print("two at once: both named in {:.3f} of {}, one of them at least in {:.3f}\n",
               double(bothNamed) / pairs, pairs, double(oneNamed) / pairs);
    Score sum;
    for (const auto &[cause, score] : scores) {
        fmt::print(
            "{:12} {:3}: first cause right {:3}, amount within 25 % {:3}, more than one cause named {}\n",
            kDriftCauses[size_t(cause)].id, score.all, score.first, score.amount, score.second);
        sum.all += score.all;
        sum.first += score.first;
        sum.amount += score.amount;
    }
    fmt::print("first cause right {:.3f}, with its amount {:.3f}; false alarms {:.3f} of {}\n",
               double(sum.first) / sum.all, double(sum.amount) / sum.all, double(alarms) / count, count);
    Guard guard("drift");
    guard.figure("first cause right", double(sum.first) / sum.all);
    guard.figure("false alarms", double(alarms) / count);
    return guard.status();
}
