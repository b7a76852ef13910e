#include "app/view/bench/product/trend_strip.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/base/iso_time.h"
#include "core/color/de2000.h"

#include <QPainter>
#include <algorithm>

namespace wavechroma::app {

TrendStrip::TrendStrip(QWidget *parent) : QWidget(parent)
{
    setFixedHeight(104);
    setAccessibleName(tr("Over the day"));
}

void TrendStrip::show(const ProductFacts &facts)
{
    m_errors.clear();
    m_limit = facts.limit;
    const Lab *first = nullptr;
    bool hasTarget = false;
    for (const auto &one : facts.trend) {
        if (!one.probe.lab)
            continue;
        first = first ? first : &*one.probe.lab;
        hasTarget = one.probe.target.has_value();
        if (hasTarget)
            m_limit = one.probe.target->tolerance.value_or(facts.limit);
        const double error = hasTarget ? one.probe.de00 : de2000(*one.probe.lab, *first);
        m_errors.push_back(
            {secondsOf(one.capturedAt).value_or(0), error, facts.frame && one.frame == facts.frame->id});
        m_to = text(one.capturedAt).mid(11, 5);
        if (m_errors.size() == 1)
            m_from = m_to;
    }
    m_words.clear();
    if (m_errors.size() > 1) {
        const auto [least, most] = std::minmax_element(
            m_errors.begin(), m_errors.end(), [](const Dot &a, const Dot &b) { return a.error < b.error; });
        m_words = (hasTarget ? tr("%1 over the day: ΔE %2 to %3 on %4 frames")
                             : tr("%1 compared with its first frame: ΔE %2 to %3 on %4"))
                      .arg(text(facts.trendOf), fixed(least->error, 1), fixed(most->error, 1))
                      .arg(m_errors.size());
    }
    setAccessibleDescription(m_words);
    setVisible(m_errors.size() > 1);
    update();
}

void TrendStrip::paintEvent(QPaintEvent *)
{
    if (m_errors.size() < 2)
        return;
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, {0, 0, width(), 20}, m_words, face(13));
    const QRectF area(8, 26, width() - 16, height() - 46);
    double most = 1.25 * m_limit;
    for (const auto &dot : m_errors)
        most = std::max(most, dot.error);
    const double from = m_errors.front().seconds, span = std::max(1.0, m_errors.back().seconds - from);
    const auto at = [&](const Dot &dot) {
        return QPointF(area.left() + area.width() * (dot.seconds - from) / span,
                       area.bottom() - area.height() * dot.error / most);
    };
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    const double limit = area.bottom() - area.height() * m_limit / most;
    painter.setPen(QPen(palette().color(QPalette::WindowText), 1, Qt::DashLine));
    painter.drawLine(QPointF(area.left(), limit), QPointF(area.right(), limit));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(palette().color(QPalette::WindowText), 1.5));
    for (size_t i = 1; i < m_errors.size(); ++i)
        painter.drawLine(at(m_errors[i - 1]), at(m_errors[i]));
    for (const auto &dot : m_errors) {
        painter.setBrush(palette().brush(dot.isHere ? QPalette::Base : QPalette::WindowText));
        painter.drawEllipse(at(dot), dot.isHere ? 5 : 3.5, dot.isHere ? 5 : 3.5);
    }
    const QRect below(0, height() - 19, width(), 18);
    drawLine(painter, below, m_from, face(13));
    drawLine(painter, below, m_to, face(13), Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace wavechroma::app
