#pragma once
#include "core/raw/raw_frame.h"
#include "core/values/reading.h"

#include <optional>

namespace wavechroma {

struct SampleOptions
{
    double windowShare = 0.5;   ///< of a patch's width and height, 0.1…0.9; keeps the window off the edges
    int mostPerChannel = 20000; ///< larger windows are thinned evenly to about this many samples of a channel
};

/// Reads one window of the frame: for each channel the median and the median absolute deviation, then mean
/// and standard deviation of what lies within 3.5 robust deviations of the median (Huber 1981, 5.1: a
/// hard-redescending location). Samples come from the mosaic as stored; a window without samples of some
/// channel has count 0.
[[nodiscard]] PatchReading sampleWindow(const RawFrame &frame, const Quad &window,
                                        int mostPerChannel = 20000);

/// Samples a disc. Returns nothing if any of it lies outside the frame, or a channel has no sample in it.
[[nodiscard]] std::optional<PatchReading> sampleDisc(const RawFrame &frame, const PixelPoint &centre,
                                                     double radius, int mostPerChannel = 20000);

/// All patches of a placed chart, in the chart's order. Windows outside the frame have count 0.
[[nodiscard]] std::vector<PatchReading> samplePatches(const RawFrame &frame, const ChartDefinition &chart,
                                                      const Homography &homography,
                                                      const SampleOptions &options = {});

} // namespace wavechroma
