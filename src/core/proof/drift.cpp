#include "core/proof/drift.h"

#include "core/balance/balance.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/temperature.h"
#include "core/fit/fit.h"
#include "core/fit/two_lights.h"
#include "core/proof/chart_change.h"
#include "core/proof/proof.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kWorthAWord[] = {0.06, 4, 0.0015, 5, 0.4, 0.5, 1}; ///< by cause, in its unit
constexpr double kOwnChange = 1; ///< ΔE2000 from which on a patch has changed by itself

/// Patches of both, the later ones as the calibration's settings would have shown them.
std::vector<ChangedPatch> sharedPatches(const Calibration &calibration, const Reading &reading,
                                        const ChartDefinition &chart, double settings)
{
    std::vector<ChangedPatch> out;
    const auto extent = chartExtent(chart);
    for (const auto &then : calibration.patches) {
        const auto *now = reading.patch(then.id);
        const auto *known = chart.patch(then.id);
        if (!now || !known || !isUsable(*now) || reading.isLeftOut(then.id))
            continue;
        ChangedPatch patch;
        patch.id = then.id;
        patch.before = vectorOf(then.rgb);
        patch.after = vectorOf(now->mean);
        for (auto &value : patch.after)
            value *= std::exp2(-settings);
        if (*std::min_element(patch.before.begin(), patch.before.end()) <= 0 ||
            *std::min_element(patch.after.begin(), patch.after.end()) <= 0)
            continue;
        const auto thenDoubt = vectorOf(then.sd), nowDoubt = vectorOf(doubtOfMean(*now));
        const auto nowMean = vectorOf(now->mean);
        for (size_t c = 0; c < 3; ++c)
            patch.doubt[c] = std::hypot(thenDoubt[c] / patch.before[c], nowDoubt[c] / nowMean[c]);
        const auto index = int(known - chart.patches.data());
        const auto centre = patchCentre(chart, index / chart.columns, index % chart.columns);
        patch.u = 2 * centre.x / extent.x - 1;
        patch.v = 2 * centre.y / extent.y - 1;
        patch.isNeutral = std::count(chart.neutral.begin(), chart.neutral.end(), then.id) > 0;
        out.push_back(patch);
    }
    return out;
}

/// What the gains of the three channels say of the light.
struct LightSteps
{
    double stops = 0;
    std::optional<LightShift> shift;
    Vector3 power{}, temperature{}, tint{}; ///< logarithms of gains; their sum is the whole
};

Vector3 logRatio(const Vector3 &to, const Vector3 &from)
{
    return {std::log(to[0] / from[0]), std::log(to[1] / from[1]), std::log(to[2] / from[2])};
}
bool isAbove0(const Vector3 &v)
{
    return std::all_of(v.begin(), v.end(), [](double x) { return x > 0; });
}

LightSteps lightSteps(const Calibration &calibration, const Vector3 &white, const Vector3 &gain)
{
    LightSteps out;
    const double mean = (gain[0] + gain[1] + gain[2]) / 3;
    out.power = {mean, mean, mean};
    out.stops = mean / std::log(2.0);
    const Vector3 now{white[0] * std::exp(gain[0]), white[1] * std::exp(gain[1]),
                      white[2] * std::exp(gain[2])};
    const auto back = inverse(calibration.colorMatrix);
    if (!back)
        return out;
    const auto before = *back * white, after = *back * now;
    if (!isAbove0(before) || !isAbove0(after))
        return out;
    const double level = std::log(after[1] / before[1]);
    const auto from = temperatureOf(chromaticityFromXyz(xyzOf(before))),
               to = temperatureOf(chromaticityFromXyz(xyzOf(after)));
    const auto seen = [&](const Temperature &t) {
        return calibration.colorMatrix * vectorOf(xyzFromChromaticity(chromaticityFromTemperature(t)));
    };
    const auto start = seen(from), warmer = seen({to.cctKelvin, from.duv});
    if (!isAbove0(start) || !isAbove0(warmer))
        return out;
    out.power = {level, level, level};
    out.stops = level / std::log(2.0);
    out.shift = LightShift{1e6 / to.cctKelvin - 1e6 / from.cctKelvin, to.duv - from.duv};
    out.temperature = logRatio(warmer, start);
    for (size_t c = 0; c < 3; ++c)
        out.tint[c] = gain[c] - out.power[c] - out.temperature[c];
    return out;
}

/// The change as the calibration shows it: what a cause explains of it, and by how much it moves patches.
class Seen
{
public:
    Seen(const Calibration &calibration, const std::vector<ChangedPatch> &patches)
        : m_models(modelsFor(calibration, std::nullopt)), m_patches(patches)
    {
        for (const auto &patch : patches) {
            m_before.push_back(colour(patch.before));
            m_whole += std::pow(de2000(colour(patch.after), m_before.back()), 2);
        }
    }

    /// Share of the squared change that goes away with `taken`: of each patch, logarithms of its after.
    template <class F> double explainedBy(F &&taken) const
    {
        double left = 0;
        for (size_t i = 0; i < m_patches.size(); ++i)
            left += std::pow(de2000(without(i, taken(i)), m_before[i]), 2);
        return m_whole > 0 ? std::clamp(1 - left / m_whole, 0.0, 1.0) : 0;
    }
    /// ΔE2000 by which it moves one patch.
    double moved(size_t i, const Vector3 &taken) const
    {
        return de2000(colour(m_patches[i].after), without(i, taken));
    }

private:
    Lab colour(const Vector3 &rgb) const
    {
        return labFromXyz(xyzFromCamera(m_models, CameraRgb{rgb[0], rgb[1], rgb[2]}));
    }
    Lab without(size_t i, const Vector3 &taken) const
    {
        Vector3 rgb = m_patches[i].after;
        for (size_t c = 0; c < 3; ++c)
            rgb[c] *= std::exp(-taken[c]);
        return colour(rgb);
    }

    ModelBlend m_models;
    const std::vector<ChangedPatch> &m_patches;
    std::vector<Lab> m_before;
    double m_whole = 0;
};

Vector3 less(const Vector3 &a, const Vector3 &b)
{
    return {a[0] - b[0], a[1] - b[1], a[2] - b[2]};
}

class Causes
{
public:
    Causes(const Seen &seen, const ChartChange &change, const std::vector<ChangedPatch> &patches)
        : m_seen(seen), m_change(change), m_patches(patches)
    {
    }

    std::vector<DriftReason> all(const LightSteps &light)
    {
        const auto gains = [&](const Vector3 &step) { return [step](size_t) { return step; }; };
        add(DriftCause::Power, light.stops, gains(light.power));
        if (light.shift) {
            add(DriftCause::Temperature, light.shift->mired, gains(light.temperature));
            add(DriftCause::Tint, light.shift->duv, gains(light.tint));
        }
        const auto slope = m_change.slope;
        add(DriftCause::OneSide, 100 * (std::exp(2 * (std::abs(slope[0]) + std::abs(slope[1]))) - 1),
            term(&ChangeTerms::slope));
        add(DriftCause::StrayLight, 100 * m_change.veil, term(&ChangeTerms::veil));
        addSpectrum();
        addChart();
        std::stable_sort(m_causes.begin(), m_causes.end(),
                         [](const auto &a, const auto &b) { return a.explains > b.explains; });
        return m_causes;
    }

private:
    std::function<Vector3(size_t)> term(bool ChangeTerms::*kind) const
    {
        auto rest = m_change.terms;
        rest.*kind = false;
        return [this, rest](size_t i) {
            return less(m_change.logChange(m_patches[i]),
                        m_change.logChange(m_patches[i], rest, m_change.gain));
        };
    }

    void add(DriftCause cause, double amount, const std::function<Vector3(size_t)> &taken,
             std::vector<std::string> patches = {})
    {
        if (std::abs(amount) < kWorthAWord[size_t(cause)])
            return;
        m_causes.push_back({cause, amount, m_seen.explainedBy(taken), std::move(patches), Side::None});
    }

    /// All that neither gains nor places nor dyes explain; of patches of their own way, what the mixing of
    /// channels does to them.
    void addSpectrum()
    {
        if (!m_change.terms.spectrum)
            return;
        auto rest = m_change.terms;
        rest.spectrum = false;
        const auto mixing = term(&ChangeTerms::spectrum);
        const auto taken = [&](size_t i) {
            if (std::count(m_change.odd.begin(), m_change.odd.end(), i))
                return mixing(i);
            return less(logRatio(m_patches[i].after, m_patches[i].before),
                        m_change.logChange(m_patches[i], rest, m_change.gain));
        };
        double sum = 0;
        for (size_t i = 0; i < m_patches.size(); ++i)
            sum += m_seen.moved(i, taken(i));
        add(DriftCause::Spectrum, sum / double(m_patches.size()), taken);
    }

    /// Dyes that thinned, and patches that went a way of their own.
    void addChart()
    {
        const auto faded = term(&ChangeTerms::fading);
        const auto own = [&](size_t i) {
            if (!std::count(m_change.odd.begin(), m_change.odd.end(), i))
                return faded(i);
            auto rest = m_change.terms;
            rest.fading = false;
            return less(logRatio(m_patches[i].after, m_patches[i].before),
                        m_change.logChange(m_patches[i], rest, m_change.gain));
        };
        std::vector<std::string> ids;
        double sum = 0;
        for (size_t i = 0; i < m_patches.size(); ++i) {
            const double moved = m_seen.moved(i, own(i));
            if (moved < kOwnChange)
                continue;
            ids.push_back(m_patches[i].id);
            sum += moved;
        }
        if (!ids.empty())
            add(DriftCause::Chart, sum / double(ids.size()), own, ids);
    }

    const Seen &m_seen;
    const ChartChange &m_change;
    const std::vector<ChangedPatch> &m_patches;
    std::vector<DriftReason> m_causes;
};

DriftAdvice adviceFor(const DriftCheck &check)
{
    if (check.causes.empty())
        return check.passes ? DriftAdvice::None : DriftAdvice::ShootAgain; // it was no better then
    switch (check.causes.front().cause) {
    case DriftCause::Power:
        return DriftAdvice::Exposure;
    case DriftCause::Temperature:
    case DriftCause::Tint:
    case DriftCause::Spectrum:
        return DriftAdvice::ShootAgain;
    case DriftCause::OneSide:
    case DriftCause::StrayLight:
        return DriftAdvice::Look;
    case DriftCause::Chart:
        return DriftAdvice::NewChart;
    }
    return DriftAdvice::Look;
}

Vector3 whiteOf(const Calibration &calibration)
{
    Vector3 out{};
    for (size_t c = 0; c < 3; ++c)
        out[c] = 1 / (calibration.multipliers[c] * calibration.exposureScale);
    return out;
}

/// The reading as the calibration's settings would have shown it.
Reading atSettings(Reading reading, double stops)
{
    const double gain = std::exp2(-stops);
    for (auto &patch : reading.patches) {
        patch.mean = {gain * patch.mean.r, gain * patch.mean.g, gain * patch.mean.b};
        patch.sd = {gain * patch.sd.r, gain * patch.sd.g, gain * patch.sd.b};
    }
    return reading;
}

/// The chart as the calibration's reading had it.
Reading asItWas(const Calibration &calibration, Reading reading)
{
    std::vector<PatchReading> patches;
    for (const auto &then : calibration.patches)
        if (const auto *now = reading.patch(then.id)) {
            patches.push_back(*now);
            patches.back().mean = then.rgb;
        }
    reading.patches = std::move(patches);
    return reading;
}

/// Where the light falls off to, in mm.
ChartPoint darkerWay(const ChartChange &change, const ChartDefinition &chart)
{
    const auto extent = chartExtent(chart);
    return {-change.slope[0] / extent.x, -change.slope[1] / extent.y};
}

struct BestSettings
{
    double stops = 0;
    std::vector<ChangedPatch> patches;
    ChartChange change;
    LightSteps light;
};

std::optional<BestSettings> bestSettings(const Calibration &calibration, const Reading &reading,
                                         const ChartDefinition &chart, const std::vector<double> &offered)
{
    std::optional<BestSettings> best;
    for (const double stops : offered) {
        auto patches = sharedPatches(calibration, reading, chart, stops);
        const auto change = chartChange(patches, whiteOf(calibration));
        if (!change)
            continue;
        const auto light = lightSteps(calibration, change->white, change->gain);
        if (!best || std::abs(light.stops) < std::abs(best->light.stops))
            best = BestSettings{stops, std::move(patches), *change, light};
    }
    return best;
}

} // namespace

Result<DriftCheck> driftOf(const Calibration &calibration, const Reading &reading,
                           const ChartDefinition &chart, const DriftOptions &options)
{
    if (reading.found && !calibration.chart.empty() && reading.chart != calibration.chart)
        return unusable("{file}: shows the chart {seen}; the calibration was made from {chart}",
                        {{"file", reading.image}, {"seen", reading.chart}, {"chart", calibration.chart}});
    const auto best = bestSettings(calibration, reading, chart, options.settingStops);
    if (reading.found && !best)
        return unusable("{file}: fewer than three patches can be used in it and in the calibration's chart",
                        {{"file", reading.image}});
    const auto proof = prove(calibration, best ? atSettings(reading, best->stops) : reading, chart);
    if (!proof)
        return proof.error();
    const auto then = prove(calibration, asItWas(calibration, reading), chart);
    DriftCheck out;
    out.image = reading.image;
    out.capturedAt = reading.camera.capturedAt;
    out.mean = proof->summary.mean;
    out.max = proof->summary.max;
    out.worst = proof->worst;
    out.was = then ? then->summary.mean : calibration.fit.mean;
    out.passes = passes(*proof, options.limits);
    out.levelStops = best->light.stops;
    out.light = best->light.shift;
    const Seen seen(calibration, best->patches);
    out.causes = Causes(seen, best->change, best->patches).all(best->light);
    for (auto &cause : out.causes)
        if (cause.cause == DriftCause::OneSide && options.side)
            cause.side = options.side(darkerWay(best->change, chart));
    out.advice = adviceFor(out);
    return out;
}

} // namespace wavechroma
