#include "core/render/true_pixels.h"

#include "core/base/progress.h"
#include "core/raw/overview.h"
#include "core/render/frame_pixels.h"

#include <algorithm>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr int kPartWidth = 256, kPartHeight = 128;

Vector3 gainsOf(const RawFrame &frame)
{
    const auto n = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    const double most = std::max({n[0], n[1], n[2]});
    return {most / n[0], most / n[1], most / n[2]};
}

Overview pixelsOf(const RawFrame &frame, const PixelArea &area, const Progress &progress)
{
    Overview out{area.width, area.height, 1, {}, {}};
    out.rgb.resize(size_t(area.width) * size_t(area.height) * 3);
    out.clipped.resize(size_t(area.width) * size_t(area.height));
    const auto gains = gainsOf(frame);
    tbb::enumerable_thread_specific<FramePixels> benches([&] { return FramePixels(frame, gains); });
    const int columns = (area.width + kPartWidth - 1) / kPartWidth,
              rows = (area.height + kPartHeight - 1) / kPartHeight;
    tbb::parallel_for(0, columns * rows, [&](int i) {
        if (progress.stopped())
            return;
        const int x = i % columns * kPartWidth, y = i / columns * kPartHeight;
        const PixelArea part{area.x + x, area.y + y, std::min(kPartWidth, area.width - x),
                             std::min(kPartHeight, area.height - y)};
        benches.local().read(part, [&](int py, const float *red, const float *green, const float *blue) {
            float *to = out.rgb.data() + (size_t(y + py) * size_t(area.width) + size_t(x)) * 3;
            for (int px = 0; px < part.width; ++px, to += 3) {
                to[0] = red[px] / float(gains[0]);
                to[1] = green[px] / float(gains[1]);
                to[2] = blue[px] / float(gains[2]);
            }
        });
    });
    return progress.stopped() ? Overview{} : out;
}

} // namespace

TruePixelSource::TruePixelSource(std::shared_ptr<const RawFrame> frame)
    : m_frame(std::move(frame)), m_isOther(m_frame->mosaic && !hasBayerMosaic(*m_frame))
{
}

Result<RawFrame> TruePixelSource::whole()
{
    if (!m_isOther)
        return *m_frame;
    const std::lock_guard lock(m_making);
    if (!m_whole)
        m_whole = withoutOtherMosaic(*m_frame);
    m_isMade = true;
    return *m_whole;
}

Result<Overview> TruePixelSource::read(const PixelArea &area, bool isEven, const Progress &progress)
{
    auto frame = whole();
    if (!frame)
        return frame.error();
    if (!isEven)
        frame->flat.reset();
    return pixelsOf(*frame, area, progress);
}

} // namespace wavechroma
