#include "core/proof/comparison.h"

#include "core/base/statistics.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/fit/calibration.h"
#include "core/fit/fit.h"
#include "core/fit/part_balance.h"
#include "core/proof/proof.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

namespace {

constexpr double kMostClippedShare = 0.02;
constexpr double kGamutSlack = 0.0005; ///< of a code's range

Xyz times(double gain, const Xyz &xyz)
{
    return {gain * xyz.x, gain * xyz.y, gain * xyz.z};
}

bool isOutside(const RgbSpace &space, const Lab &lab)
{
    const auto rgb = rgbFromXyzD50(space, xyzFromLab(lab));
    const auto beyond = [](double v) { return v < -kGamutSlack || v > 1 + kGamutSlack; };
    return beyond(rgb.r) || beyond(rgb.g) || beyond(rgb.b);
}

/// A patch of the reading with what it should be.
struct SeenPatch
{
    std::string id;
    CameraRgb rgb, noise; ///< noise: standard deviation of the mean
    std::optional<Xyz> reference;
};

std::vector<SeenPatch> seenPatches(const Reading &reading, const ChartDefinition &chart)
{
    std::vector<SeenPatch> out;
    for (const auto &p : reading.patches) {
        if (p.count == 0 || p.clipped > kMostClippedShare || reading.isLeftOut(p.id))
            continue;
        const double root =
            std::sqrt(std::max(1.0, p.count / 3.0)); // a third of the pixels is of each channel
        SeenPatch seen{p.id, p.mean, {p.sd.r / root, p.sd.g / root, p.sd.b / root}, {}};
        if (const auto *known = chart.patch(p.id); known && known->isKnown && chart.colorsKnown)
            seen.reference = known->reference;
        out.push_back(seen);
    }
    return out;
}

/// Camera RGB of colours, as the file's own matrix has them, where no channel is clipped.
std::vector<CameraRgb> latticeOf(const CameraView &camera, const std::vector<Lab> &places)
{
    std::vector<CameraRgb> out;
    const auto &m = camera.multipliers;
    const auto back = inverse(fileMatrix(camera.fileColor, {1 / m[0], 1 / m[1], 1 / m[2]}));
    for (const auto &lab : places) {
        const auto rgb = back ? *back * vectorOf(xyzFromLab(lab)) : Vector3{};
        const auto isWithin = [](double v) { return v > 0 && v <= 1; };
        if (std::all_of(rgb.begin(), rgb.end(), isWithin))
            out.push_back({rgb[0] / (m[0] * camera.scale), rgb[1] / (m[1] * camera.scale),
                           rgb[2] / (m[2] * camera.scale)});
    }
    return out;
}

std::vector<Lab> surfaces()
{
    std::vector<Lab> out;
    for (double l = 20; l <= 90; l += 10)
        for (double chroma = 0; chroma <= 50; chroma += 10)
            for (double hue = 0; hue < (chroma > 0 ? 360 : 1); hue += 15)
                out.push_back(labFromLch({l, chroma, hue}));
    const auto wide = rgbSpace(RgbSpaceId::OpRgb); // which holds what surfaces are like, and little else
    std::erase_if(out, [&](const Lab &lab) { return isOutside(wide, lab); });
    return out;
}

std::vector<Lab> greyScale()
{
    std::vector<Lab> out;
    for (double l = 5; l <= 95; l += 5)
        out.push_back({l, 0, 0});
    return out;
}

/// One side at its gain. Noise moves a patch along the tangent of its colour: it is small, and drawn
/// thousands of times.
class SideAtLevel
{
public:
    SideAtLevel(const ColourSide &side, double gain, const std::vector<SeenPatch> &patches)
        : m_side(side), m_gain(gain)
    {
        for (const auto &patch : patches)
            m_tangents.emplace(patch.id, tangentAt(patch));
    }
    [[nodiscard]] Lab lab(const CameraRgb &rgb) const
    {
        return labFromXyz(times(m_gain, m_side.colour(rgb)));
    }
    [[nodiscard]] bool mayHaveSeenAll() const { return m_side.mayHaveSeenAll; }
    /// Of a patch as it is seen, moved by what noise did to it.
    [[nodiscard]] Lab seen(const SeenPatch &patch, const CameraRgb &rgb) const
    {
        const auto &t = m_tangents.at(patch.id);
        const double moved[] = {rgb.r - patch.rgb.r, rgb.g - patch.rgb.g, rgb.b - patch.rgb.b};
        Lab out = t.at;
        for (size_t c = 0; c < 3; ++c) {
            out.l += moved[c] * t.perChannel[c].l;
            out.a += moved[c] * t.perChannel[c].a;
            out.b += moved[c] * t.perChannel[c].b;
        }
        return out;
    }
    /// As its fit without it has it, moved likewise; else as it is seen.
    [[nodiscard]] Lab unseen(const SeenPatch &patch, const CameraRgb &rgb) const
    {
        const auto now = seen(patch, rgb);
        const auto known = m_side.unseen.find(patch.id);
        if (known == m_side.unseen.end())
            return now;
        const auto left = labFromXyz(known->second), before = m_tangents.at(patch.id).at;
        return {left.l + now.l - before.l, left.a + now.a - before.a, left.b + now.b - before.b};
    }
    [[nodiscard]] bool isUnseen(const std::vector<SeenPatch> &patches) const
    {
        return std::all_of(patches.begin(), patches.end(),
                           [&](const SeenPatch &p) { return m_side.unseen.contains(p.id); });
    }

private:
    struct Tangent
    {
        Lab at;
        std::array<Lab, 3> perChannel; ///< change of Lab per unit of camera RGB
    };
    /// By differences over the noise itself.
    [[nodiscard]] Tangent tangentAt(const SeenPatch &patch) const
    {
        Tangent out{lab(patch.rgb), {}};
        double CameraRgb::*const channels[] = {&CameraRgb::r, &CameraRgb::g, &CameraRgb::b};
        for (size_t c = 0; c < 3; ++c) {
            const double step = patch.noise.*channels[c];
            if (step <= 0)
                continue;
            auto low = patch.rgb, high = patch.rgb;
            low.*channels[c] -= step;
            high.*channels[c] += step;
            const auto from = lab(low), to = lab(high);
            out.perChannel[c] = {(to.l - from.l) / (2 * step), (to.a - from.a) / (2 * step),
                                 (to.b - from.b) / (2 * step)};
        }
        return out;
    }

    const ColourSide &m_side;
    double m_gain;
    std::map<std::string, Tangent> m_tangents;
};

/// What brings a side's lightness to that of `wanted`, over colours that are not too dark to tell.
double gainTo(const ColourSide &side, const std::vector<std::pair<CameraRgb, double>> &wanted)
{
    std::vector<double> logs;
    for (const auto &[rgb, y] : wanted)
        if (const double own = side.colour(rgb).y; own > 0.02 && y > 0.02)
            logs.push_back(std::log(y / own));
    return logs.empty() ? 1 : std::exp(medianOf(logs));
}

double gainOf(const ColourSide &side, const ColourSide &other, const std::vector<SeenPatch> &patches,
              const std::vector<CameraRgb> &lattice)
{
    if (!side.isUpToAGain)
        return 1;
    std::vector<std::pair<CameraRgb, double>> wanted;
    for (const auto &p : patches)
        if (p.reference)
            wanted.emplace_back(p.rgb, p.reference->y);
    if (wanted.empty() && !other.isUpToAGain)
        for (const auto &rgb : lattice)
            wanted.emplace_back(rgb, other.colour(rgb).y);
    return gainTo(side, wanted);
}

CameraRgb redrawn(const SeenPatch &p, Draws &draws)
{
    const double r = draws.normal(), g = draws.normal(), b = draws.normal();
    return {p.rgb.r + r * p.noise.r, p.rgb.g + g * p.noise.g, p.rgb.b + b * p.noise.b};
}

/// Errors patch by patch; the neutrals count as one, by their mean, as in cross-validation: they err
/// together.
class ErrorsOverPatches
{
public:
    ErrorsOverPatches(const SideAtLevel &a, const SideAtLevel &b, std::vector<SeenPatch> patches,
                      DifferenceMeasure measure, const ChartDefinition &chart)
        : m_a(a), m_b(b), m_patches(std::move(patches)), m_measure(measure)
    {
        for (const auto &p : m_patches)
            m_isNeutral.push_back(std::find(chart.neutral.begin(), chart.neutral.end(), p.id) !=
                                  chart.neutral.end());
    }

    ErrorsCompared compared() const
    {
        ErrorsCompared out;
        out.a = ofOne(m_a);
        out.b = ofOne(m_b);
        out.isAsSeen = m_a.mayHaveSeenAll() || m_b.mayHaveSeenAll();
        const auto less = [&](const SeenPatch &p, const CameraRgb &rgb) {
            return out.isAsSeen ? asSeen(m_b, p, rgb) - asSeen(m_a, p, rgb)
                                : error(m_b, p, rgb) - error(m_a, p, rgb);
        };
        const auto differences = valuesOf(less, nullptr);
        for (const double one : differences)
            out.difference += one / double(differences.size());
        // both see the same noise
        out.interval = meanInterval(differences, [&](Draws &draws) { return valuesOf(less, &draws); });
        using enum ErrorsCompared::Better;
        const bool isOne = differences.size() < 2; // says nothing of chance
        out.better = isOne || out.interval.holds(0) ? Neither : out.difference < 0 ? B : A;
        return out;
    }

    SideErrors ofOne(const SideAtLevel &side) const
    {
        const auto value = [&](const SeenPatch &p, const CameraRgb &rgb) { return error(side, p, rgb); };
        const auto errors = valuesOf(value, nullptr);
        const auto summary = summaryOf(errors);
        SideErrors out{summary.mean, summary.p95, 0, {}, side.isUnseen(m_patches)};
        for (const auto &p : m_patches)
            out.max = std::max(out.max, error(side, p, p.rgb));
        out.interval = meanInterval(errors, [&](Draws &draws) { return valuesOf(value, &draws); });
        return out;
    }

private:
    double error(const SideAtLevel &side, const SeenPatch &p, const CameraRgb &rgb) const
    {
        return wavechroma::difference(m_measure, side.unseen(p, rgb), labFromXyz(*p.reference));
    }

    double asSeen(const SideAtLevel &side, const SeenPatch &p, const CameraRgb &rgb) const
    {
        return wavechroma::difference(m_measure, side.seen(p, rgb), labFromXyz(*p.reference));
    }

    /// `draws`: measured again, with noise of its own.
    template <class Value> std::vector<double> valuesOf(const Value &value, Draws *draws) const
    {
        std::vector<double> out;
        double neutrals = 0;
        int count = 0;
        for (size_t i = 0; i < m_patches.size(); ++i) {
            const auto &p = m_patches[i];
            const double one = value(p, draws ? redrawn(p, *draws) : p.rgb);
            if (!m_isNeutral[i]) {
                out.push_back(one);
            } else {
                neutrals += one;
                ++count;
            }
        }
        if (count > 0)
            out.push_back(neutrals / count);
        return out;
    }

    const SideAtLevel &m_a, &m_b;
    std::vector<SeenPatch> m_patches;
    std::vector<bool> m_isNeutral;
    DifferenceMeasure m_measure;
};

/// A mean of shifts, hue weighted by chroma since without chroma it says nothing.
class Shifts
{
public:
    void add(const Lch &a, const Lch &b)
    {
        ++m_sum.count;
        m_sum.dL += b.l - a.l;
        m_sum.dC += b.c - a.c;
        m_sum.dh += a.c * std::remainder(b.h - a.h, 360);
        m_chroma += a.c;
    }
    [[nodiscard]] MeanShift mean() const
    {
        auto out = m_sum;
        if (out.count > 0) {
            out.dL /= out.count;
            out.dC /= out.count;
            out.dh = m_chroma > 0 ? out.dh / m_chroma : 0;
        }
        return out;
    }

private:
    MeanShift m_sum;
    double m_chroma = 0;
};

/// The patches of a group, and their errors where all are known.
GroupCompared groupOf(const std::vector<SeenPatch> &patches, const SideAtLevel &a, const SideAtLevel &b,
                      const ComparedBy &by)
{
    GroupCompared out;
    Shifts shifts;
    std::vector<SeenPatch> known;
    for (const auto &p : patches) {
        if (std::find(by.group.begin(), by.group.end(), p.id) == by.group.end())
            continue;
        out.patches.push_back(p.id);
        shifts.add(lchFromLab(a.lab(p.rgb)), lchFromLab(b.lab(p.rgb)));
        if (p.reference)
            known.push_back(p);
    }
    out.shift = shifts.mean();
    if (!known.empty() && known.size() == out.patches.size())
        out.errors = ErrorsOverPatches(a, b, known, by.measure, *by.chart).compared();
    return out;
}

/// Where skin of all shades lies, about (Xiao et al. 2017, "Characterising the variations in ethnic skin
/// colours").
bool isSkin(const Lch &c)
{
    return c.l >= 30 && c.l <= 75 && c.c >= 10 && c.c <= 32 && c.h >= 35 && c.h <= 78;
}

void addLattice(Comparison &to, const std::vector<std::pair<Lab, Lab>> &lattice)
{
    std::array<Shifts, 8> sectors;
    Shifts skin;
    std::vector<double> differences;
    for (const auto &[a, b] : lattice) {
        const auto from = lchFromLab(a), at = lchFromLab(b);
        constexpr double kSomeChroma = 8;
        if (from.c >= kSomeChroma)
            sectors[size_t(from.h / 45) % 8].add(from, at);
        if (isSkin(from))
            skin.add(from, at);
        differences.push_back(difference(to.measure, b, a));
        if (differences.back() > to.latticeMax) {
            to.latticeMax = differences.back();
            to.mostAt = a;
        }
    }
    const auto summary = summaryOf(differences);
    to.latticeCount = int(lattice.size());
    to.latticeMean = summary.mean;
    to.latticeP95 = summary.p95;
    for (size_t i = 0; i < sectors.size(); ++i)
        to.sectors[i] = sectors[i].mean();
    to.skin = skin.mean();
}

void addOutside(Comparison &to, const std::vector<std::pair<Lab, Lab>> &lattice)
{
    for (const auto &space : rgbSpaces()) {
        OutsideSpace out{std::string(space.id), {}, 0};
        for (const auto &p : to.patches)
            if (isOutside(space, p.a) || isOutside(space, p.b))
                out.patches.push_back(p.id);
        const auto over = std::count_if(lattice.begin(), lattice.end(), [&](const auto &both) {
            return isOutside(space, both.first) || isOutside(space, both.second);
        });
        out.latticeShare = lattice.empty() ? 0 : double(over) / double(lattice.size());
        to.outside.push_back(out);
    }
}

} // namespace

CameraView viewOf(const Reading &reading, const ChartDefinition &chart)
{
    CameraView out;
    out.fileColor = reading.fileColor;
    std::vector<FittedPatch> neutrals;
    for (const auto &id : chart.neutral)
        if (const auto *seen = reading.patch(id);
            seen && seen->count > 0 && seen->clipped < kMostClipped && chart.patch(id)->isKnown)
            neutrals.push_back({id, seen->mean, chart.patch(id)->reference});
    if (const auto balance = chart.colorsKnown ? fitBalance(neutrals, reading.fileColor) : std::nullopt) {
        out.multipliers = balance->multipliers;
        out.scale = balance->exposureScale;
    } else if (const auto neutral = neutralIn(reading, chart)) {
        out.multipliers = {(*neutral)[1] / (*neutral)[0], 1, (*neutral)[1] / (*neutral)[2]};
    }
    return out;
}

Comparison compared(const ColourSide &a, const ColourSide &b, const CameraView &camera, const ComparedBy &by)
{
    const auto patches =
        by.reading && by.chart ? seenPatches(*by.reading, *by.chart) : std::vector<SeenPatch>();
    const auto lattice = latticeOf(camera, surfaces());
    const SideAtLevel sideA(a, gainOf(a, b, patches, lattice), patches),
        sideB(b, gainOf(b, a, patches, lattice), patches);
    Comparison out;
    out.a = a.side;
    out.b = b.side;
    out.measure = by.measure;
    std::vector<SeenPatch> known;
    for (const auto &p : patches) {
        ComparedPatch one{p.id, sideA.lab(p.rgb), sideB.lab(p.rgb), 0, {}, {}};
        one.between = difference(by.measure, one.b, one.a);
        if (p.reference) {
            const auto reference = labFromXyz(*p.reference);
            one.errorA = difference(by.measure, sideA.unseen(p, p.rgb), reference);
            one.errorB = difference(by.measure, sideB.unseen(p, p.rgb), reference);
            known.push_back(p);
        }
        out.patches.push_back(one);
    }
    if (!known.empty())
        out.errors = ErrorsOverPatches(sideA, sideB, known, by.measure, *by.chart).compared();
    if (!by.group.empty() && !patches.empty())
        out.group = groupOf(patches, sideA, sideB, by);
    std::vector<std::pair<Lab, Lab>> both;
    for (const auto &rgb : lattice)
        both.emplace_back(sideA.lab(rgb), sideB.lab(rgb));
    addLattice(out, both);
    for (const auto &rgb : latticeOf(camera, greyScale())) {
        const auto from = sideA.lab(rgb), at = sideB.lab(rgb);
        out.greys.push_back({from.l, at.l - from.l, at.a - from.a, at.b - from.b});
    }
    addOutside(out, both);
    return out;
}

std::optional<SideErrors> errorsOn(const ColourSide &side, const Reading &reading,
                                   const ChartDefinition &chart, DifferenceMeasure measure)
{
    auto patches = seenPatches(reading, chart);
    std::erase_if(patches, [](const SeenPatch &p) { return !p.reference; });
    if (patches.empty())
        return std::nullopt;
    const SideAtLevel atLevel(side, gainOf(side, side, patches, {}), patches);
    return ErrorsOverPatches(atLevel, atLevel, patches, measure, chart).ofOne(atLevel);
}

} // namespace wavechroma
