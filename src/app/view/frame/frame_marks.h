#pragma once
#include "core/values/calibration.h"
#include "core/values/frame_levels.h"

#include <QPainter>
#include <QRegion>
#include <array>
#include <optional>

namespace wavechroma::app {

/// Areas of a frame that are clipped, by channel, or sunk in noise, ready for drawing. In cells of the levels
/// they come from.
struct Hatching
{
    std::array<QRegion, 4> areas; ///< red, green, blue, noise
    int block = 1;
};
[[nodiscard]] Hatching hatchingOf(const FrameLevels &levels);
/// Lines of another direction for each channel, dots for noise; `view` maps frame pixels to the screen.
void drawHatching(QPainter &painter, const Hatching &hatching, const QTransform &view);

/// "Clipped: red 1.2 %, close down 2/3 stop. …": what the hatching shows, and how far it would have to move.
[[nodiscard]] QString levelsWords(const FrameLevels &levels);

/// Raw and coded values at a point, as lines of text.
[[nodiscard]] QStringList valueWords(const FrameValue &value, const std::optional<Calibration> &calibration);

/// A small histogram of the mosaic in stops below saturation, a strip a channel.
void drawStopHistogram(QPainter &painter, const QRect &where, const FrameLevels &levels);

} // namespace wavechroma::app
