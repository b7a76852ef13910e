#pragma once
#include "bench/fuzz/memory_file.h"
#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"

#include <cmath>

/// Light and facts of an opened frame are numbers, wherever they are looked at; large frames only the facts.
inline void mustBeSound(const wavechroma::RawFrame &frame, int block)
{
    const auto isNumber = [](double v) { mustHold(std::isfinite(v)); };
    if (double(frame.width) * frame.height < 4e6)
        for (const float light : wavechroma::overviewOf(frame, block).rgb)
            isNumber(double(light));
    for (const double fact : {frame.camera.iso, frame.camera.exposureSeconds, frame.camera.fNumber})
        isNumber(fact);
    for (const auto &matrix : frame.fileColor.matrices)
        for (const auto &row : matrix.cameraFromXyz.rows)
            for (const double v : row)
                isNumber(v);
}
