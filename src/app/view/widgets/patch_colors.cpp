#include "app/view/widgets/patch_colors.h"

#include "app/model/screen_profile.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::app {

QColor screenColor(const Lab &color)
{
    if (const auto *screen = ScreenProfile::current().screen()) {
        const auto xyz = xyzFromLab(color);
        float codes[3];
        screen->codesOf(&xyz, codes, 1);
        return QColor::fromRgbF(codes[0], codes[1], codes[2]);
    }
    const auto rgb = rgbFromXyzD50(srgb(), xyzFromLab(color));
    const auto code = [](double linear) {
        return int(std::lround(255 * encoded(Transfer::Srgb, std::clamp(linear, 0.0, 1.0))));
    };
    return {code(rgb.r), code(rgb.g), code(rgb.b)};
}

void drawRingChip(QPainter &painter, const QRectF &where, const PatchProof &patch)
{
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(QColor(0, 0, 0, 150), 1));
    painter.setBrush(screenColor(patch.reference));
    painter.drawEllipse(where);
    painter.setPen(Qt::NoPen);
    painter.setBrush(screenColor(patch.lab));
    const double inset = where.width() * 0.22;
    painter.drawEllipse(where.adjusted(inset, inset, -inset, -inset));
}

void drawMiniChart(QPainter &painter, const QRectF &where, const Proof &proof, const ShownGrid &grid)
{
    const auto [rows, columns] = grid;
    painter.fillRect(where, QColor(0x10, 0x10, 0x10));
    const double w = where.width() / columns, h = where.height() / rows;
    for (size_t i = 0; i < proof.patches.size() && int(i) < rows * columns; ++i) {
        const QRectF cell(where.left() + w * double(int(i) % columns),
                          where.top() + h * double(int(i) / columns), w, h);
        painter.fillRect(cell.adjusted(0.8, 0.8, -0.8, -0.8), screenColor(proof.patches[i].lab));
    }
}

} // namespace wavechroma::app
