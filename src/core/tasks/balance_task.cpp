#include "core/tasks/balance_task.h"

#include "core/base/number_text.h"
#include "core/base/said.h"
#include "core/fit/part_balance.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/measure/fairly_neutral.h"
#include "core/measure/sample.h"
#include "core/tasks/reference_task.h"

#include <cmath>
#include <cstdlib>

namespace wavechroma {

Result<Balance> loadBalance(const std::filesystem::path &file)
{
    const auto text = readText(file);
    return text ? balanceFrom(*text, file.string()) : Result<Balance>(text.error());
}

Result<Done> saveBalance(const std::filesystem::path &file, const Balance &balance)
{
    return writeWhole({{file, bytesOf(documentOf(balance))}});
}

Result<Balance> balanceReading(const Reading &reading, const BalanceRequest &request)
{
    if (!reading.found)
        return unusable("{file}: no chart was found. Give --area for a neutral elsewhere in the frame",
                        {{"file", reading.image}});
    if (!request.patches.empty())
        return balanceFromPatches(reading, request.patches);
    const auto chart = chartOf(reading);
    if (!chart)
        return chart.error();
    const auto neutral = defaultNeutral(reading, *chart);
    return balanceFromPatches(reading, neutral ? std::vector{*neutral} : std::vector<std::string>{});
}

Result<Balance> balanceFrameArea(const RawFrame &frame, const std::array<double, 4> &area)
{
    const auto [x, y, w, h] = area;
    if (!(w > 0 && h > 0) || !(x >= 0 && y >= 0 && x + w <= frame.width && y + h <= frame.height))
        return unusable(
            "{file}: the area must lie inside the frame, which is {width} by {height} pixels",
            {{"file", frame.path}, {"width", double(frame.width)}, {"height", double(frame.height)}});
    const Quad window{PixelPoint{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
    return balanceFromArea(frame.path, frame.fileColor, area, sampleWindow(frame, window, 200000));
}

Result<Balance> balanceWholeFrame(const RawFrame &frame)
{
    const double x = frame.width / 20.0, y = frame.height / 20.0;
    return balanceFrameArea(frame, {x, y, frame.width - 2 * x, frame.height - 2 * y});
}

std::vector<ProposedNeutral> proposedNeutrals(const RawFrame &frame)
{
    std::vector<ProposedNeutral> out;
    for (const auto &one : measure::fairlyNeutral(frame)) {
        words::Phrase said{
            words::said("{x:0},{y:0},{w:0},{h:0}: fairly neutral, with {share:%0} of the plain places"), {}};
        if (one.light)
            said.text =
                words::said("{x:0},{y:0},{w:0},{h:0}: fairly neutral for {kelvin:K}, Duv {duv:+3}, with "
                            "{share:%0} of the plain places");
        if (one.light && one.mired)
            said.text = words::said(
                "{x:0},{y:0},{w:0},{h:0}: fairly neutral for {kelvin:K}, Duv {duv:+3}, {mired:+0} "
                "mired from the camera's white, with {share:%0} of the plain places");
        said.places = {{"x", one.area[0]},
                       {"y", one.area[1]},
                       {"w", one.area[2]},
                       {"h", one.area[3]},
                       {"kelvin", one.light ? one.light->cctKelvin : 0},
                       {"duv", one.light ? one.light->duv : 0},
                       {"mired", one.mired.value_or(0)},
                       {"share", one.share}};
        out.push_back({one.area, std::move(said)});
    }
    return out;
}

words::Phrase cameraSetting(const Balance &balance, const FileColor &file)
{
    if (!balance.temperature || balance.temperature->cctKelvin <= 0)
        return {};
    const auto own = file.asShotNeutral ? lightFromNeutral(file, *file.asShotNeutral) : std::nullopt;
    const double kelvin = balance.temperature->cctKelvin, taken = own ? temperatureOf(*own).cctKelvin : 0;
    const words::Places places{{"kelvin", kelvin},
                               {"duv", balance.temperature->duv},
                               {"own", taken},
                               {"mired", taken > 0 ? 1e6 / kelvin - 1e6 / taken : 0}};
    return taken > 0
               ? words::Phrase{words::said("set in the camera: {kelvin:K}, Duv {duv:+3}; that is {mired:+0} "
                                           "mired from the {own:K} that it took for white"),
                               places}
               : words::Phrase{words::said("set in the camera: {kelvin:K}, Duv {duv:+3}"), places};
}

CameraLights cameraLightsFor(const Calibration *calibration, const FileColor &file)
{
    CameraLights out;
    if (calibration && !calibration->lights.empty()) {
        for (const auto &light : calibration->lights)
            out.matrices.push_back({light.colorMatrix, light.light.cctKelvin});
        return out;
    }
    out = cameraLightsOf(file);
    if (!calibration || calibration->light.name == "unknown")
        return out;
    const auto &m = calibration->multipliers;
    if (out.matrices.empty())
        out.matrices.push_back({calibration->colorMatrix, calibration->light.cctKelvin});
    out.anchor = {calibration->light.xy, Vector3{1 / m[0], 1, 1 / m[2]}};
    return out;
}

Result<Temperature> temperatureFrom(const std::string &text)
{
    std::string_view rest = text;
    Temperature out{takeNumber(rest).value_or(0), 0};
    if (rest.starts_with('K') || rest.starts_with('k'))
        rest.remove_prefix(1);
    bool good = out.cctKelvin >= 1000 && out.cctKelvin <= 100000;
    if (!rest.empty()) {
        const auto duv = rest[0] == ',' ? numberFrom(rest.substr(1)) : std::nullopt;
        good = good && duv && std::abs(*duv) <= 0.05;
        out.duv = duv.value_or(0);
    }
    if (!good)
        return unusable("\"{text}\" is not a light. Give 1000K to 100000K, and optionally a Duv of at most "
                        "0.05, as in 5000K,+0.002",
                        {{"text", text}});
    return out;
}

Result<Balance> balanceForLight(const std::string &image, const Temperature &light,
                                const Calibration *calibration, const FileColor &file)
{
    const auto multipliers = multipliersFor(cameraLightsFor(calibration, file), light);
    if (!multipliers)
        return unusable("{file}: the file has no colour matrix, so multipliers cannot be computed from a "
                        "temperature. Give a calibration of this station",
                        {{"file", image}});
    Balance out;
    out.multipliers = *multipliers;
    out.neutral = {1 / (*multipliers)[0], 1, 1 / (*multipliers)[2]};
    out.temperature = light;
    out.source.image = image;
    return out;
}

Balance readThrough(Balance balance, const Calibration &calibration)
{
    if (const auto light =
            temperatureFor(cameraLightsFor(&calibration, calibration.fileColor), balance.multipliers))
        balance.temperature = light;
    return balance;
}

Balance withLean(Balance balance, const Lean &lean, const Calibration *calibration, const FileColor &file)
{
    balance.lean = lean;
    balance.leaned.reset();
    if (lean == Lean{})
        return balance;
    const Vector3 neutral{1 / balance.multipliers[0], 1, 1 / balance.multipliers[2]};
    balance.leaned =
        leaned(balance.multipliers, lean, calibration ? calibration->matrix : fileMatrix(file, neutral));
    return balance;
}

} // namespace wavechroma
