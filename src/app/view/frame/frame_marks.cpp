#include "app/view/frame/frame_marks.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/tasks/look_task.h"

#include <QBitmap>
#include <QCoreApplication>
#include <QImage>
#include <QStringList>
#include <cmath>

namespace wavechroma::app {

namespace {

QString tr(const char *words)
{
    return QCoreApplication::translate("FrameMarks", words);
}

constexpr uint8_t kBits[] = {FrameLevels::RedClipped, FrameLevels::GreenClipped, FrameLevels::BlueClipped,
                             FrameLevels::Noisy};

/// Dark lines with light ones beside them show on any picture.
void fillTwice(QPainter &painter, const QRect &all, Qt::BrushStyle style)
{
    painter.setBrushOrigin(0, 0);
    painter.fillRect(all, QBrush(Qt::black, style));
    painter.setBrushOrigin(1, 1);
    painter.fillRect(all, QBrush(Qt::white, style));
}

} // namespace

Hatching hatchingOf(const FrameLevels &levels)
{
    Hatching out;
    out.block = levels.block;
    if (levels.cells.empty())
        return out;
    for (size_t kind = 0; kind < 4; ++kind) {
        QImage mask(levels.width, levels.height, QImage::Format_Mono);
        mask.setColorTable({qRgb(255, 255, 255), qRgb(0, 0, 0)});
        mask.fill(0);
        for (int y = 0; y < levels.height; ++y)
            for (int x = 0; x < levels.width; ++x)
                if (levels.cells[size_t(y) * size_t(levels.width) + size_t(x)] & kBits[kind])
                    mask.setPixel(x, y, 1);
        out.areas[kind] = QRegion(QBitmap::fromImage(mask));
    }
    return out;
}

void drawHatching(QPainter &painter, const Hatching &hatching, const QTransform &view)
{
    static constexpr Qt::BrushStyle kStyles[] = {Qt::FDiagPattern, Qt::HorPattern, Qt::BDiagPattern,
                                                 Qt::Dense6Pattern};
    const QTransform cells = QTransform::fromScale(hatching.block, hatching.block) * view;
    for (size_t kind = 0; kind < 4; ++kind) {
        if (hatching.areas[kind].isEmpty())
            continue;
        painter.save();
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.setClipRegion(cells.map(hatching.areas[kind]), Qt::IntersectClip);
        fillTwice(painter, painter.viewport(), kStyles[kind]);
        painter.restore();
    }
}

QString levelsWords(const FrameLevels &levels)
{
    QStringList clipped;
    const QString names[] = {tr("red /"), tr("green –"), tr("blue \\")};
    for (size_t c = 0; c < 3; ++c)
        if (levels.clipped[c] > 0.00005)
            clipped << QString("%1 %2").arg(names[c], percent(levels.clipped[c], 2));
    QString out;
    if (!levels.stopsDown)
        out = tr("Nothing is clipped.");
    else
        out = tr("Clipped: %1; %2 %3.")
                  .arg(clipped.join(", "), levels.atLeast ? tr("close down at least") : tr("close down"),
                       stops(*levels.stopsDown));
    if (!levels.stopsUp)
        out += tr(" Nothing is lost in noise.");
    else
        out += tr(" Dotted, in noise: %1; open up %2.").arg(percent(levels.noisy, 1), stops(*levels.stopsUp));
    return out;
}

QStringList valueWords(const FrameValue &value, const std::optional<Calibration> &calibration)
{
    const auto three = [](const std::array<double, 3> &v, int decimals) {
        return QString("%1  %2  %3").arg(fixed(v[0], decimals), fixed(v[1], decimals), fixed(v[2], decimals));
    };
    QStringList lines;
    lines << tr("raw  %1").arg(three(value.code, 0));
    lines << tr("of full  %1%2").arg(three(value.value, 3), value.clipped ? tr("  clipped") : QString());
    std::array<double, 3> stops{};
    for (size_t c = 0; c < 3; ++c)
        stops[c] = value.value[c] > 0 ? std::log2(value.value[c]) : -99;
    lines << tr("stops  %1").arg(three(stops, 1));
    if (calibration) {
        const Xyz xyz = xyzFromCamera(*calibration, {value.value[0], value.value[1], value.value[2]});
        const auto rgb = rgbFromXyzD50(srgb(), xyz);
        const auto lab = labFromXyz(xyz);
        std::array<double, 3> coded{};
        for (size_t c = 0; c < 3; ++c)
            coded[c] = 255 * std::clamp(encoded(Transfer::Srgb, c == 0   ? rgb.r
                                                                : c == 1 ? rgb.g
                                                                         : rgb.b),
                                        0.0, 1.0);
        lines << tr("sRGB  %1").arg(three(coded, 0));
        lines << tr("L*a*b*  %1").arg(three({lab.l, lab.a, lab.b}, 1));
    }
    return lines;
}

void drawStopHistogram(QPainter &painter, const QRect &where, const FrameLevels &levels)
{
    const int left = where.left() + 22, width = where.width() - 22, strip = (where.height() - 18) / 3;
    const QColor ink = painter.pen().color();
    constexpr int kBins = FrameLevels::kBins;
    for (size_t c = 0; c < 3; ++c) {
        const QRect area(left, where.top() + int(c) * strip, width, strip - 3);
        painter.setPen(ink);
        drawLine(painter, {where.left(), area.top(), 18, area.height()}, QString("RGB").mid(int(c), 1),
                 face(kBody, 600));
        const double most = *std::max_element(levels.histogram[c].begin(), levels.histogram[c].end());
        for (int b = 0; b < kBins && most > 0; ++b) {
            const double share =
                std::sqrt(levels.histogram[c][size_t(b)] / most); // the root lets small ends show
            const double x1 = area.right() + 1 - double(b) * area.width() / kBins,
                         x0 = area.right() + 1 - double(b + 1) * area.width() / kBins;
            painter.fillRect(
                QRectF(x0, area.bottom() + 1 - share * area.height(), x1 - x0 - 0.5, share * area.height()),
                ink);
        }
        painter.drawLine(area.left(), area.bottom() + 1, area.right(), area.bottom() + 1);
    }
    for (int stop = 0; stop <= 12; stop += 3) {
        const int x = left + width - stop * 3 * width / kBins;
        drawLine(painter, {x - 20, where.bottom() - 15, 40, 16},
                 stop ? QString("−%1").arg(stop) : QString("0"), face(12), Qt::AlignCenter);
    }
}

} // namespace wavechroma::app
