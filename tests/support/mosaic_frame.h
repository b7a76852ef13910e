#pragma once
#include "core/raw/raw_frame.h"
#include "core/sim/random.h"

#include <cmath>
#include <functional>

namespace wavechroma::testing {

/// Balanced RGB at a pixel, whose centre is told as the caller counts.
using Light = std::function<Vector3(double x, double y)>;

/// How a frame behind a Bayer filter is made of it.
struct MosaicMake
{
    Vector3 gains{1.9, 1, 1.6}; ///< balanced light over them is what samples hold
    int redX = 0, redY = 0;
    std::vector<float> blacks = std::vector<float>(4, 400);
    float white = 15400;
    double electrons = 0; ///< at saturation, of photon noise; 0: none
};

[[nodiscard]] inline RawFrame mosaicFrame(int width, int height, const Light &light,
                                          const MosaicMake &make = {})
{
    sim::Random random(3);
    const auto samples = std::make_shared<std::vector<uint16_t>>();
    const auto mosaic = std::make_shared<Mosaic>();
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 2; ++x)
            mosaic->channel.push_back(uint8_t((x == make.redX && y == make.redY)   ? 0
                                              : (x != make.redX && y != make.redY) ? 2
                                                                                   : 1));
    mosaic->black = make.blacks;
    mosaic->white = make.white;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const size_t cell = mosaic->cell(x, y), c = mosaic->channel[cell];
            double value = light(x, y)[c] / make.gains[c];
            if (make.electrons > 0)
                value += std::sqrt(value / make.electrons) * random.normal();
            const double black = double(mosaic->black[cell]);
            samples->push_back(uint16_t(
                std::clamp(std::lround(black + value * (double(make.white) - black)), 0L, long(make.white))));
        }
    mosaic->samples = samples->data();
    mosaic->rowStride = width;
    RawFrame frame;
    frame.width = width;
    frame.height = height;
    frame.mosaic = mosaic;
    frame.memory = samples;
    return frame;
}

} // namespace wavechroma::testing
