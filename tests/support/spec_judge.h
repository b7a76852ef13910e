#pragma once
#include "core/raw/open_frame.h"
#include "support/random_dng.h"
#include "support/spec_dng.h"

#include <filesystem>
#include <fstream>

namespace wavechroma::testing {

/// What is wrong with how the program reads that file; empty when it is what the slow reader reads, or is
/// refused where it must be. Levels that are stored anew are right to 1/63487 and cut at −0.03; gains lie on
/// a grid in single precision.
inline std::string judged(const RandomDng &dng, const std::filesystem::path &file)
{
    std::ofstream(file, std::ios::binary)
        .write(reinterpret_cast<const char *>(dng.bytes.data()), std::streamsize(dng.bytes.size()));
    const auto frame = openFrame(file);
    if (dng.refused)
        return frame ? "read, where it must be refused" : "";
    if (!frame)
        return "refused: " + frame.error().message;
    const auto truth = SpecDng(dng.bytes).read();
    if (frame->width != truth.width || frame->height != truth.height)
        return "another size";
    const bool isMosaic = frame->mosaic != nullptr;
    if (isMosaic != (truth.channels == 1))
        return "a mosaic for a picture";
    double worst = 0, worstGain = 0;
    for (size_t i = 0; i < truth.light.size(); ++i) {
        const size_t pixel = i / size_t(truth.channels);
        const int x = int(pixel) % truth.width, y = int(pixel) / truth.width;
        const auto colour = size_t(truth.colour[i]);
        if (isMosaic && frame->mosaic->channel[frame->mosaic->cell(x, y)] != colour)
            return "another filter";
        const double light =
            isMosaic ? double(frame->mosaic->value(x, y)) : double(frame->picture->value(pixel, colour));
        const double wanted = std::clamp(truth.light[i], -0.032, 1.0);
        if (light < 1 || wanted < 1) // beyond saturation, any value counts as clipped
            worst = std::max(worst, std::abs(std::clamp(light, -0.032, 1.0) - wanted));
        const double gain = frame->evening() ? double(frame->evening()->at(colour, x + 0.5, y + 0.5)) : 1;
        worstGain = std::max(worstGain, std::abs(gain / truth.gain[i] - 1));
    }
    if (worst > 1.2 / 63487)
        return "light is off by " + std::to_string(worst);
    return worstGain > 0.004 ? "a gain is off by " + std::to_string(worstGain) : "";
}

} // namespace wavechroma::testing
