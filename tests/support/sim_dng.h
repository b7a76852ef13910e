#pragma once
#include "core/formats/dng_frame.h"
#include "core/sim/expose.h"

namespace wavechroma::testing {

/// What was exposed as a frame to be written; it holds no samples of its own.
[[nodiscard]] inline DngFrame dngOf(const sim::SimFrame &f)
{
    DngFrame out;
    out.width = f.width;
    out.height = f.height;
    out.samples = f.samples;
    out.filter.assign(f.filter.begin(), f.filter.end());
    out.black = f.black;
    out.white = f.white;
    out.camera = f.camera;
    out.colorMatrix = f.colorMatrix;
    out.asShotNeutral = f.asShotNeutral;
    out.orientation = f.orientation;
    return out;
}

} // namespace wavechroma::testing
