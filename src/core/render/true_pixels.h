#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/raw/overview.h"
#include "core/raw/raw_frame.h"

#include <atomic>
#include <memory>
#include <mutex>
#include <optional>

namespace wavechroma {

/// A frame's pixels one by one, for looking at them. An RGB picture has them, a Bayer mosaic is demosaiced
/// where it is looked at; a frame behind any other filter is demosaiced whole by the raw library (see
/// withoutOtherMosaic()), when first asked for, and that is kept. Several threads may ask.
class TruePixelSource
{
public:
    explicit TruePixelSource(std::shared_ptr<const RawFrame> frame);

    /// Returns whether nothing has to be made first that takes seconds.
    [[nodiscard]] bool isAtHand() const { return !m_isOther || m_isMade; }
    /// Camera RGB at every pixel of a part of the frame, by the same demosaic as finished pictures: an
    /// overview of block 1, to be seen by lookOf(). Balanced meanwhile by the file's own neutral, so that
    /// another colour needs it not again. `isEven`: the frame's flat is taken out. Empty when stopped.
    [[nodiscard]] Result<Overview> read(const PixelArea &area, bool isEven, const Progress &progress = {});

private:
    [[nodiscard]] Result<RawFrame> whole();

    std::shared_ptr<const RawFrame> m_frame;
    bool m_isOther; ///< filter than Bayer's
    std::atomic<bool> m_isMade = false;
    std::mutex m_making;
    std::optional<Result<RawFrame>> m_whole; ///< of another filter
};

} // namespace wavechroma
