#include "core/fit/fit_balance.h"
#include "core/tasks/chart_tasks.h"

#include <cmath>
#include <cstdlib>

namespace wavechroma {

Result<Balance> balanceWholeFrame(const RawFrame &frame)
{
    const double x = frame.width / 20.0, y = frame.height / 20.0;
    return balanceFrameArea(frame, {x, y, frame.width - 2 * x, frame.height - 2 * y});
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
    char *end = nullptr;
    Temperature out{std::strtod(text.c_str(), &end), 0};
    std::string rest = end;
    if (!rest.empty() && (rest[0] == 'K' || rest[0] == 'k'))
        rest.erase(0, 1);
    bool good = !text.empty() && out.cctKelvin >= 1000 && out.cctKelvin <= 100000;
    if (!rest.empty()) {
        good = good && rest[0] == ',' && rest.size() > 1;
        out.duv = good ? std::strtod(rest.c_str() + 1, &end) : 0;
        good = good && *end == 0 && std::abs(out.duv) <= 0.05;
    }
    if (!good)
        return unusable("\"" + text +
                        "\" is no light: give 1000K to 100000K, and a Duv of at most 0.05 if you like, as in "
                        "5000K,+0.002");
    return out;
}

Result<Balance> balanceForLight(const std::string &image, const Temperature &light,
                                const Calibration *calibration, const FileColor &file)
{
    const auto multipliers = multipliersFor(cameraLightsFor(calibration, file), light);
    if (!multipliers)
        return unusable(image + ": the file has no colour matrix, so a temperature says nothing of its "
                                "multipliers; give a calibration of this station");
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
