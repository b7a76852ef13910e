#pragma once
#include "core/chart/chart_definition.h"
#include "core/color/colors.h"
#include "core/values/proof.h"

#include <QColor>
#include <QPainter>
#include <QRectF>

namespace wavechroma::app {

/// D50 Lab → codes of the monitor in use, sRGB without one; colours outside its gamut are clipped.
[[nodiscard]] QColor screenColor(const Lab &color);

/// What should be as the ring, what came out as the core; seamless means right. A hairline keeps greys apart
/// from the board.
void drawRingChip(QPainter &painter, const QRectF &where, const PatchProof &patch);

/// The whole chart small, as the camera saw it through the calibration.
void drawMiniChart(QPainter &painter, const QRectF &where, const Proof &proof, const ShownGrid &grid);

} // namespace wavechroma::app
