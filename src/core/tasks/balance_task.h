#pragma once
#include "core/balance/lights.h"
#include "core/balance/read_back.h"
#include "core/fit/calibration.h"
#include "core/raw/raw_frame.h"
#include "core/render/rendered_cost.h"

#include <filesystem>

namespace wavechroma {

[[nodiscard]] Result<Balance> loadBalance(const std::filesystem::path &file);
[[nodiscard]] Result<Done> saveBalance(const std::filesystem::path &file, const Balance &balance);
[[nodiscard]] std::string documentOf(const Balance &balance);

struct BalanceRequest
{
    std::vector<std::string> patches;          ///< empty: the default neutral
    std::optional<std::array<double, 4>> area; ///< x, y, width, height; needs a frame
};
[[nodiscard]] Result<Balance> balanceReading(const Reading &reading, const BalanceRequest &request);
[[nodiscard]] Result<Balance> balanceFrameArea(const RawFrame &frame, const std::array<double, 4> &area);
/// The whole frame, an even one (a diffuser before the lens, a board that fills it), but for a margin of a
/// twentieth.
[[nodiscard]] Result<Balance> balanceWholeFrame(const RawFrame &frame);

/// The best places for a neutral in a frame without a target, and what each would mean. See
/// measure/fairly_neutral.h; empty where no place is like that.
struct ProposedNeutral
{
    std::array<double, 4> area{}; ///< x, y, width, height in frame pixels
    words::Phrase said; ///< where it is, the light that it would mean, how much of the frame is like it
};
[[nodiscard]] std::vector<ProposedNeutral> proposedNeutrals(const RawFrame &frame);

/// How to set a camera to a balance: kelvin and Duv, and how far that is, in mired, from the white that it
/// took for this frame. Empty where the balance has no temperature.
[[nodiscard]] words::Phrase cameraSetting(const Balance &balance, const FileColor &file);

/// What a station knows of lights on its camera: a calibration's matrices where it has several lights; else
/// the raw file's own, made to fit the calibration's light exactly; else what there is. `calibration` may be
/// null.
[[nodiscard]] CameraLights cameraLightsFor(const Calibration *calibration, const FileColor &file);
/// "5000K", "5000K,+0.002": a temperature and its Duv.
[[nodiscard]] Result<Temperature> temperatureFrom(const std::string &text);
/// Multipliers for a light said in kelvin and Duv. Unusable when nothing is known of the camera's answer to
/// lights.
[[nodiscard]] Result<Balance> balanceForLight(const std::string &image, const Temperature &light,
                                              const Calibration *calibration, const FileColor &file);
/// Returns the balance with its temperature computed by the station's own calibration.
[[nodiscard]] Balance readThrough(Balance balance, const Calibration &calibration);
/// Leaned, by the calibration's matrix or the file's own.
[[nodiscard]] Balance withLean(Balance balance, const Lean &lean, const Calibration *calibration,
                               const FileColor &file);

} // namespace wavechroma
