#pragma once
#include "core/formats/dng_frame.h"

#include <array>
#include <filesystem>

namespace wavechroma::testing {

/// A frame behind a filter of 6 × 6: two plain colours that meet at column kEdge.
struct SixBySix
{
    static constexpr int kWide = 600, kHigh = 540, kEdge = 301; // the raw library wants 512 at least
    static constexpr int kLeft[] = {2500, 9000, 2000}, kRight[] = {5400, 3600, 4200};

    [[nodiscard]] static bool write(const std::filesystem::path &file)
    {
        DngFrame dng;
        dng.filter = {1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1,
                      1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1};
        std::vector<uint16_t> samples;
        for (int y = 0; y < kHigh; ++y)
            for (int x = 0; x < kWide; ++x)
                samples.push_back(
                    uint16_t((x < kEdge ? kLeft : kRight)[dng.filter[size_t(y % 6 * 6 + x % 6)]]));
        dng.width = kWide;
        dng.height = kHigh;
        dng.samples = samples;
        dng.white = 15000;
        dng.camera.make = "Skerrow";
        dng.camera.model = "Tarn 2";
        dng.camera.uniqueModel = "Skerrow Tarn 2";
        dng.colorMatrix = Matrix3{{{{0.9, -0.2, -0.1}, {-0.4, 1.2, 0.2}, {-0.1, 0.2, 0.7}}}};
        dng.asShotNeutral = {0.6, 1, 0.55};
        return bool(writeWhole({{file, dngFileOf(dng, DngPacking::None)}}));
    }
};

} // namespace wavechroma::testing
