#include "app/view/balance_stop.h"

#include "app/view/look.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::app {

namespace {

QString text(const std::string &s)
{
    return QString::fromStdString(s);
}

/// Largest departure of a balanced neutral's channels from their mean, over the usable neutrals, as a share.
double largestCast(const BenchFacts &facts)
{
    double worst = 0;
    const auto &m = facts.balance->multipliers;
    for (const auto &id : facts.chart.neutral) {
        const auto *p = facts.reading->patch(id);
        if (!p || !isUsable(*p))
            continue;
        const double r = p->mean.r * m[0], g = p->mean.g, b = p->mean.b * m[2], mean = (r + g + b) / 3;
        worst = std::max({worst, std::abs(r / mean - 1), std::abs(g / mean - 1), std::abs(b / mean - 1)});
    }
    return worst;
}

} // namespace

BalanceStop::BalanceStop(QWidget *parent) : Stop(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Balance"));
}

QString BalanceStop::figure(const BenchFacts &facts) const
{
    if (!facts.balance)
        return tr("none");
    if (!facts.balance->temperature)
        return text(fixedText(facts.balance->multipliers[0], 2)) + " 1 " + text(fixedText(facts.balance->multipliers[2], 2));
    return text(kelvinText(facts.balance->temperature->cctKelvin)) + " " + text(signedText(facts.balance->temperature->duv, 3));
}

QString BalanceStop::sentence(const BenchFacts &facts) const
{
    if (!facts.balance)
        return facts.reading && facts.reading->found ? tr("No neutral of the chart can be used.") : QString();
    return tr("From %1. The other greys stay within %2.").arg(text(facts.balance->source.patches.front()), text(percentText(largestCast(facts), 1)).replace(' ', QChar::Nbsp));
}

int BalanceStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    if (!facts.reading || !facts.reading->found)
        return 0;
    int y = where.top();
    double most = 0.01;
    for (const auto &id : facts.chart.neutral)
        if (const auto *p = facts.reading->patch(id))
            most = std::max(most, p->mean.g);
    for (const auto &id : facts.chart.neutral) {
        const auto *p = facts.reading->patch(id);
        if (!p)
            continue;
        painter.setPen(palette().color(QPalette::WindowText));
        drawLine(painter, {where.left(), y, 28, 20}, text(id), face(kBody));
        painter.fillRect(QRectF(where.left() + 30, y + 5, (where.width() - 30) * p->mean.g / most, 10), palette().color(QPalette::WindowText));
        y += 23;
    }
    return y - where.top();
}

void BalanceStop::show(const BenchFacts &facts)
{
    m_facts = facts;
    setAccessibleDescription(figure(facts) + ". " + sentence(facts));
    update();
}

void BalanceStop::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const QColor ink = palette().color(QPalette::WindowText);
    painter.setPen(ink);
    if (!m_facts.balance || !m_facts.reading) {
        drawWords(painter, rect().adjusted(0, 10, -20, 0), m_facts.reading && m_facts.reading->found ? tr("No neutral of the chart can be used: each is burnt out or too dark.") : tr("There is no chart reading to balance from."), face(kAnswer));
        return;
    }
    const auto &m = m_facts.balance->multipliers;
    int y = 0;
    const int label = 48, barWidth = std::min(300, (width() - label - 260) / 2), second = label + barWidth + 150;
    drawLine(painter, {label, y, barWidth + 120, 24}, tr("As the sensor saw it"), face(kBody, 600));
    drawLine(painter, {second, y, barWidth + 120, 24}, tr("Balanced"), face(kBody, 600));
    y += 30;
    double most = 0.01;
    for (const auto &id : m_facts.chart.neutral)
        if (const auto *p = m_facts.reading->patch(id))
            most = std::max({most, p->mean.r * m[0], p->mean.g, p->mean.b * m[2]});
    for (const auto &id : m_facts.chart.neutral) {
        const auto *p = m_facts.reading->patch(id);
        if (!p)
            continue;
        const bool source = m_facts.balance->source.patches.front() == id;
        drawLine(painter, {0, y + 8, label, 24}, text(id), face(kAnswer, source ? 700 : 400));
        const double seen[] = {p->mean.r, p->mean.g, p->mean.b};
        const char *names[] = {"R", "G", "B"};
        for (int c = 0; c < 3; ++c) {
            const int top = y + 17 * c;
            const double balanced = seen[c] * m[size_t(c)];
            painter.fillRect(QRectF(label, top + 3, std::max(1.0, barWidth * seen[c] / most), 9), ink);
            painter.fillRect(QRectF(second, top + 3, std::max(1.0, barWidth * balanced / most), 9), ink);
            drawLine(painter, {label + barWidth + 8, top - 2, 120, 19}, QString("%1 %2").arg(names[c], text(percentText(seen[c], 1))), face(kBody));
            drawLine(painter, {second + barWidth + 8, top - 2, 120, 19}, QString("%1 %2").arg(names[c], text(percentText(balanced, 1))), face(kBody));
        }
        if (!isUsable(*p))
            drawLine(painter, {second + barWidth + 100, y + 8, 160, 22}, p->clipped >= kMostClipped ? tr("burnt out, not used") : tr("too dark, not used"), face(kBody, 600));
        y += 64;
        painter.setPen(palette().color(QPalette::Mid));
        painter.drawLine(0, y - 6, width() - 24, y - 6);
        painter.setPen(ink);
    }
    y += 8;
    const QRect tag(0, y, std::min(width() - 24, 560), 92);
    painter.fillRect(tag, palette().base());
    painter.setPen(palette().color(QPalette::Text));
    drawLine(painter, tag.adjusted(16, 10, -16, -58), tr("Multipliers  R %1   G 1   B %2").arg(text(fixedText(m[0], 4)), text(fixedText(m[2], 4))), face(kAnswer, 600));
    const auto &t = m_facts.balance->temperature;
    drawLine(painter, tag.adjusted(16, 36, -16, -32), t ? tr("%1, Duv %2, by the raw file's own matrix").arg(text(kelvinText(t->cctKelvin)), text(signedText(t->duv, 4))) : tr("The file has no colour matrix, so no temperature is known."), face(kBody));
    drawLine(painter, tag.adjusted(16, 60, -16, -8), sentence(m_facts), face(kBody));
}

} // namespace wavechroma::app
