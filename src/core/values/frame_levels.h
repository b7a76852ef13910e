#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <vector>

namespace wavechroma {

/// The frame as it is: where the mosaic's samples are clipped or sunk in noise, and how they are spread below
/// saturation. All of it is counted on the file's own samples, before any flat.
struct FrameLevels
{
    enum : uint8_t { RedClipped = 1, GreenClipped = 2, BlueClipped = 4, Noisy = 8 };
    int width = 0, height = 0, block = 1; ///< cells; a cell stands for block × block frame pixels
    std::vector<uint8_t> cells; ///< of the bits above; clipped: 2 % of a channel's samples at saturation

    std::array<double, 3> clipped{}; ///< share of all samples of a channel at saturation
    double noisy = 0;                ///< share of cells whose green noise is more than half its mean
    /// How far to close down until 95 % of the clipped cells hold: from the channels that are not clipped
    /// there, taken for a grey under the frame's light. `atLeast`: in most of those cells nothing is left to
    /// tell by. Nothing when nothing is clipped.
    std::optional<double> stopsDown;
    bool atLeast = false;
    /// How far to open up until 95 % of the noisy cells are out of the noise, where the noise is the sensor's
    /// own (it is less where it is the light's). Nothing when nothing is noisy.
    std::optional<double> stopsUp;

    static constexpr int kBins =
        42; ///< thirds of a stop: bin 0 ends at saturation, the last one holds all deeper ones
    std::array<std::array<double, kBins>, 3> histogram{}; ///< share of a channel's samples
};

/// What lies at a point: means over a small square.
struct FrameValue
{
    std::array<double, 3> value{}; ///< camera RGB, 0 black … 1 saturation
    std::array<double, 3> code{};  ///< as the file stores it; for rendered pictures the linear value again
    bool clipped = false;          ///< a sample is at saturation
};

} // namespace wavechroma
