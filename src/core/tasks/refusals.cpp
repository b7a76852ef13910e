#include "core/tasks/refusals.h"

#include "core/base/said.h"
#include "core/color/lab.h"
#include "core/color/temperature.h"
#include "core/fit/fit.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/measure/sample.h"
#include "core/proof/proof.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/camera_match.h"
#include "core/words/check_words.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace wavechroma {

namespace {

constexpr double kMostApart = 40; // mired, of what cameras took for white
constexpr double kMostMired = 60, kMostOffNeutral = 0.08, kMostChroma = 15, kMostScatter = 0.25;
constexpr double kMostDuv = 0.03, kWarm = 2200, kCool = 12000, kMostLightTaken = 0.25;
/// Mean ΔE2000 of a matrix from which another arrangement is looked for, and that no camera and light come
/// to.
constexpr double kDoubtful = 8, kOtherChart = 14;

/// How a chart's references could lie otherwise: the patch that stands at a place.
struct Arrangement
{
    const char *words;
    std::function<std::pair<int, int>(int row, int column, int rows, int columns)> from;
};

const std::vector<Arrangement> &arrangements()
{
    static const std::vector<Arrangement> all{
        {words::said("the rows are off by one: row A of the chart has the colours of row B"),
         [](int r, int c, int rows, int) { return std::pair((r + 1) % rows, c); }},
        {words::said("the rows are off by one: row B of the chart has the colours of row A"),
         [](int r, int c, int rows, int) { return std::pair((r + rows - 1) % rows, c); }},
        {words::said("the columns are off by one: column 1 of the chart has the colours of column 2"),
         [](int r, int c, int, int columns) { return std::pair(r, (c + 1) % columns); }},
        {words::said("the columns are off by one: column 2 of the chart has the colours of column 1"),
         [](int r, int c, int, int columns) { return std::pair(r, (c + columns - 1) % columns); }},
        {words::said("the chart is turned by half a turn"),
         [](int r, int c, int rows, int columns) { return std::pair(rows - 1 - r, columns - 1 - c); }},
        {words::said("left and right are exchanged"),
         [](int r, int c, int, int columns) { return std::pair(r, columns - 1 - c); }},
        {words::said("top and bottom are exchanged"),
         [](int r, int c, int rows, int) { return std::pair(rows - 1 - r, c); }}};
    return all;
}

/// Mean ΔE2000 of a matrix that takes the reading to these references; nothing where it cannot be fitted.
std::optional<double> misfitOf(const Reading &reading, const ChartDefinition &chart)
{
    FitOptions options;
    options.crossValidate = false;
    options.settle = false;
    options.appearance = Appearance::UnderD50;
    if (reading.fileColor.xyzD50FromRendered) // a rendered picture has curves of its own
        options.parts.tone = "channels";
    const auto fit = fitCalibration(reading, chart, options);
    return fit ? std::optional(fit->fit.mean) : std::nullopt;
}

ChartDefinition arranged(const ChartDefinition &chart, const Arrangement &how)
{
    auto out = chart;
    for (int r = 0; r < chart.rows; ++r)
        for (int c = 0; c < chart.columns; ++c) {
            const auto [row, column] = how.from(r, c, chart.rows, chart.columns);
            const auto &from = chart.patches[size_t(row * chart.columns + column)];
            auto &to = out.patches[size_t(r * chart.columns + c)];
            to.reference = from.reference;
            to.reflectance = from.reflectance;
        }
    return out;
}

} // namespace

Refusal refusedReferences(const Reading &reading, const ChartDefinition &chart)
{
    const auto misfit = misfitOf(reading, chart);
    if (!misfit || *misfit < kDoubtful)
        return std::nullopt;
    const words::Places places{{"file", reading.image}, {"chart", chart.name}, {"mean", *misfit}};
    if (chart.places.empty() && int(chart.patches.size()) == chart.rows * chart.columns)
        for (const auto &how : arrangements())
            if (const auto other = misfitOf(reading, arranged(chart, how)); other && *other < *misfit / 2) {
                auto all = places;
                all.push_back({"how", words::Phrase{how.words}});
                return words::Phrase{"{file}: its colours do not match the references of the {chart} (ΔE "
                                     "{mean:1} on average): {how}.",
                                     all};
            }
    if (*misfit < kOtherChart)
        return std::nullopt;
    return words::Phrase{
        "{file}: its colours are not those of the {chart} (ΔE {mean:1} on average after the best "
        "matrix); are the references another chart's?",
        places};
}

Refusal refusedLight(const Reading &reading, const NamedLight &told)
{
    const auto seen = balanceReading(reading, {});
    const auto said = temperatureOf(told.xy);
    if (!seen || !seen->temperature ||
        std::abs(1e6 / seen->temperature->cctKelvin - 1e6 / said.cctKelvin) < kMostMired)
        return std::nullopt;
    return words::Phrase{
        "{file}: cannot be under {light}: its neutral shows about {seen:K}.",
        {{"file", reading.image}, {"light", told.name}, {"seen", seen->temperature->cctKelvin}}};
}

Refusal refusedFit(const Reading &reading, const ChartDefinition &chart,
                   const std::optional<NamedLight> &told)
{
    if (!reading.found)
        return std::nullopt; // which no force makes a fit of
    for (const auto &check : reading.checks)
        if (check.severity == Severity::Stop)
            return words::Phrase{
                "{file}: the check “{check}” fails: {message}",
                {{"file", reading.image}, {"check", nameOf(check.id)}, {"message", words::message(check)}}};
    if (chart.colorsKnown)
        if (auto other = refusedReferences(reading, chart))
            return other;
    return told ? refusedLight(reading, *told) : std::nullopt;
}

/// What the camera took for white, in mired by the file's own matrix.
static std::optional<double> asShotMired(const FileColor &color)
{
    const auto light = color.asShotNeutral ? lightFromNeutral(color, *color.asShotNeutral) : std::nullopt;
    const double kelvin = light ? temperatureOf(*light).cctKelvin : 0;
    return kelvin > 0 ? std::optional(1e6 / kelvin) : std::nullopt;
}

Refusal refusedStation(const Calibration &calibration, const CameraFacts &frame, const std::string &file)
{
    const auto &c = calibration.camera;
    if (c.make != frame.make || c.model != frame.model)
        return words::Phrase{
            "{file}: is of another camera ({frame}) than the calibration ({camera}).",
            {{"file", file}, {"frame", frame.make + " " + frame.model}, {"camera", c.make + " " + c.model}}};
    if (c.isRendered != frame.isRendered)
        return words::Phrase{
            frame.isRendered
                ? "{file}: is a finished picture, and the calibration is of raw frames. Its colours are not "
                  "the sensor's any more."
                : "{file}: is a raw frame, and the calibration is of finished pictures.",
            {{"file", file}}};
    if (tellingFocalLength(c) != tellingFocalLength(frame) && c.focalMm > 0 && frame.focalMm > 0)
        return words::Phrase{"{file}: is of another lens ({frame:1} mm) than the calibration ({lens:1} mm).",
                             {{"file", file}, {"frame", frame.focalMm}, {"lens", c.focalMm}}};
    if (c.lens != frame.lens)
        return words::Phrase{"{file}: is of another lens ({frame}) than the calibration ({lens}).",
                             {{"file", file}, {"frame", frame.lens}, {"lens", c.lens}}};
    return std::nullopt;
}

Refusal doubtedLight(const Calibration &calibration, const FileColor &frame, const std::string &file)
{
    const auto own = asShotMired(frame), its = asShotMired(calibration.fileColor);
    if (!own || !its || !calibration.lights.empty() || std::abs(*own - *its) <= kMostApart)
        return std::nullopt;
    return words::Phrase{
        "{file}: its camera took {own:K} for white, and {its:K} at the calibration's chart. Is it "
        "the same light?",
        {{"file", file}, {"own", 1e6 / *own}, {"its", 1e6 / *its}}};
}

Refusal doubtedReading(const Calibration &calibration, const Reading &reading, const ChartDefinition &chart)
{
    if (!calibration.flats.empty() && reading.flats.empty())
        return words::Phrase{"{file}: its light is not evened, but the calibration's was (by {flat}).",
                             {{"file", reading.image}, {"flat", calibration.flats.front()}}};
    const auto neutral = neutralIn(reading, chart);
    if (!neutral || !calibration.lights.empty())
        return std::nullopt;
    const double red = (*neutral)[0] / (*neutral)[1] * calibration.multipliers[0],
                 blue = (*neutral)[2] / (*neutral)[1] * calibration.multipliers[2];
    if (std::abs(red - 1) < kMostOffNeutral && std::abs(blue - 1) < kMostOffNeutral)
        return std::nullopt;
    return words::Phrase{"{file}: is under another light than the calibration: its neutral is off by {red:%} "
                         "in red and {blue:%} in blue against green.",
                         {{"file", reading.image}, {"red", red}, {"blue", blue}}};
}

Refusal doubtedPreset(const Balance &preset, const FileColor &frame, const std::string &file)
{
    const auto facts = preset.preset.value_or(PresetFacts{});
    auto there = frame; // by one matrix
    there.asShotNeutral = facts.asShotNeutral;
    const auto own = asShotMired(frame), its = asShotMired(there);
    if (!own || !its || std::abs(*own - *its) <= kMostApart)
        return std::nullopt;
    return words::Phrase{
        "{file}: its camera took {own:K} for white, and {its:K} where the preset {name} was made. Is it "
        "the same light?",
        {{"file", file}, {"own", 1e6 / *own}, {"its", 1e6 / *its}, {"name", facts.name}}};
}

Refusal refusedPreset(const Balance &preset, const Reading &reading, const ChartDefinition &chart)
{
    const auto neutral = neutralIn(reading, chart);
    if (!neutral)
        return std::nullopt;
    const double red = (*neutral)[0] / (*neutral)[1] * preset.multipliers[0],
                 blue = (*neutral)[2] / (*neutral)[1] * preset.multipliers[2];
    if (std::abs(red - 1) < kMostOffNeutral && std::abs(blue - 1) < kMostOffNeutral)
        return std::nullopt;
    const auto facts = preset.preset.value_or(PresetFacts{});
    return words::Phrase{"{file}: is under another light than the preset {name} of {date}: its neutral is "
                         "off by {red:%} in red and {blue:%} in blue against green.",
                         {{"file", reading.image},
                          {"name", facts.name},
                          {"date", facts.camera.capturedAt.substr(0, 10)},
                          {"red", red},
                          {"blue", blue}}};
}

Refusal refusedNeutral(const Reading &reading, const ChartDefinition &chart,
                       const std::vector<std::string> &patches)
{
    for (const auto &id : patches)
        if (const auto *patch = chart.patch(id); patch && chart.colorsKnown) {
            const auto lab = labFromXyz(patch->reference);
            if (const double chroma = std::hypot(lab.a, lab.b); chroma > kMostChroma)
                return words::Phrase{
                    "{file}: {patch} is not neutral: its reference has a chroma of {chroma}.",
                    {{"file", reading.image}, {"patch", id}, {"chroma", chroma}}};
        }
    return std::nullopt;
}

Refusal refusedWhite(const Balance &balance, const FileColor &file)
{
    if (file.matrices.empty())
        return std::nullopt;
    if (!balance.temperature)
        return words::Phrase{"{file}: what was taken for white has the colour of no light.",
                             {{"file", balance.source.image}}};
    const auto [kelvin, duv] = *balance.temperature;
    const auto shot = asShotMired(file);
    const double apart = shot ? std::abs(1e6 / kelvin - *shot) : 0, off = std::abs(duv);
    const bool isExtreme = kelvin < kWarm || kelvin > kCool;
    if (off <= kMostDuv && !(isExtreme && apart > 100) && !(off > 0.008 && apart > 60))
        return std::nullopt;
    return words::Phrase{
        "{file}: what was taken for white would be light of {kelvin:K}, Duv {duv:+3}, which lamps "
        "hardly give{shot}. Is it a coloured thing?",
        {{"file", balance.source.image},
         {"kelvin", kelvin},
         {"duv", duv},
         {"shot",
          shot ? words::Phrase{words::said("; the camera took {white:K} for white"), {{"white", 1e6 / *shot}}}
               : words::Phrase{}}}};
}

Refusal refusedReference(const std::filesystem::path &reference)
{
    const auto text = isCameraReference(reference) ? readText(reference) : Result<std::string>(unusable(""));
    const auto reading = text ? readingFrom(*text, reference.string()) : Result<Reading>(unusable(""));
    if (!reading || !reading->found)
        return std::nullopt;
    for (const auto &check : reading->checks)
        if (check.severity == Severity::Stop)
            return words::Phrase{"{file}: cannot be a reference: its check “{check}” fails: {message}",
                                 {{"file", reference.string()},
                                  {"check", nameOf(check.id)},
                                  {"message", words::message(check)}}};
    return std::nullopt;
}

Refusal refusedLightTaken(const Calibration &calibration, const Reading &reading)
{
    const double taken = lightRangeOf(calibration.takenOut);
    const auto even = std::find_if(reading.checks.begin(), reading.checks.end(),
                                   [](const Check &check) { return check.id == CheckId::Evenness; });
    if (taken < kMostLightTaken || even == reading.checks.end() || taken < 2 * even->value)
        return std::nullopt;
    return words::Phrase{
        "{file}: the references fit only under light that varies by {taken:%} over the chart, but it "
        "varies by {seen:%}. Do they lie as the patches do?",
        {{"file", reading.image}, {"taken", taken}, {"seen", even->value}}};
}

Refusal refusedArea(const RawFrame &frame, const std::array<double, 4> &area)
{
    double least = 1e9, most = 0;
    for (int i = 0; i < 9; ++i) {
        const double w = area[2] / 3, h = area[3] / 3, x = area[0] + w * (i % 3),
                     y = area[1] + h * double(i / 3);
        const auto part =
            sampleWindow(frame, {PixelPoint{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, 20000);
        if (part.count == 0)
            continue;
        least = std::min(least, part.mean.g);
        most = std::max(most, part.mean.g);
    }
    if (!(most > (1 + kMostScatter) * least)) {
        const auto balance = balanceFrameArea(frame, area);
        return balance ? refusedWhite(*balance, frame.fileColor) : std::nullopt;
    }
    return words::Phrase{
        "{file}: the area is not plain: parts of it are {ratio:1} times as bright as others.",
        {{"file", frame.path}, {"ratio", most / std::max(1e-6, least)}}};
}

} // namespace wavechroma
