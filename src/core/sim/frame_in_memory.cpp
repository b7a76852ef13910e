#include "core/sim/frame_in_memory.h"

namespace wavechroma::sim {

RawFrame rawFrameOf(SimFrame &&frame)
{
    RawFrame raw;
    raw.path = "simulated";
    raw.camera = frame.camera;
    raw.fileColor.matrices = {{frame.colorMatrix, 21}};
    raw.fileColor.asShotNeutral = frame.asShotNeutral;
    raw.width = frame.width;
    raw.height = frame.height;
    raw.orientation = frame.orientation;
    auto samples = std::make_shared<std::vector<uint16_t>>(std::move(frame.samples));
    Mosaic mosaic;
    mosaic.samples = samples->data();
    mosaic.rowStride = frame.width;
    mosaic.channel.assign(frame.filter.begin(), frame.filter.end());
    mosaic.black.assign(4, float(frame.black));
    mosaic.white = float(frame.white);
    raw.mosaic = std::make_shared<Mosaic>(std::move(mosaic));
    raw.memory = samples;
    return raw;
}

} // namespace wavechroma::sim
