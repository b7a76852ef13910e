#include "core/tasks/colour_sides.h"

#include "core/fit/two_lights.h"
#include "core/formats/reader_colour.h"
#include "core/proof/proof.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

namespace wavechroma {

namespace fs = std::filesystem;

/// Is it a reading of the frame that the calibration was made from, wherever that lies? By the file's name,
/// and by the patches, since cameras begin to count again; light that was taken out of them moves them
/// little.
static bool isMadeFrom(const Calibration &calibration, const Reading &reading)
{
    constexpr double kAlike = 0.1; // in logarithms
    const auto name = fs::path(reading.image).filename();
    const bool isNamed =
        std::any_of(calibration.madeFrom.begin(), calibration.madeFrom.end(),
                    [&](const SourceFrame &source) { return fs::path(source.image).filename() == name; });
    double off = 0, count = 0;
    for (const auto &patch : calibration.patches)
        if (const auto *seen = reading.patch(patch.id); seen && seen->mean.g > 0 && patch.rgb.g > 0) {
            off += std::abs(std::log(seen->mean.g / patch.rgb.g));
            ++count;
        }
    return isNamed && calibration.chart == reading.chart && count > 0 && off / count < kAlike;
}

static ColourSide sideOf(const Calibration &calibration, const std::optional<Vector3> &neutral)
{
    ColourSide out;
    out.side = {{}, "calibration", calibration.name};
    out.colour = [models = modelsFor(calibration, neutral)](const CameraRgb &rgb) {
        return xyzFromCamera(models, rgb);
    };
    return out;
}

ColourSide sideOf(const Calibration &calibration)
{
    return sideOf(calibration, std::nullopt);
}

ColourSide sideOf(const Calibration &calibration, const Reading &reading, const ChartDefinition &chart)
{
    auto out = sideOf(calibration, neutralIn(reading, chart));
    if (calibration.madeFrom.size() == 1 && isMadeFrom(calibration, reading))
        for (const auto &patch : calibration.patches)
            if (patch.unseen)
                out.unseen[patch.id] = *patch.unseen;
    return out;
}

ColourSide plainSide(const CameraView &camera)
{
    ColourSide out;
    out.side = {kPlainSide, kPlainSide, kPlainSide};
    out.colour = plainColour(camera);
    return out;
}

CameraView viewOf(const Calibration &calibration)
{
    return {calibration.fileColor, calibration.multipliers, calibration.exposureScale};
}

} // namespace wavechroma
