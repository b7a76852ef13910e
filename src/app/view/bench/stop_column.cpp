#include "app/view/bench/stop_column.h"

#include "app/view/widgets/look.h"
#include "app/view/widgets/stop.h"

#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace wavechroma::app {

static constexpr int kSlim = 152, kHeader = 62;

StopColumn::StopColumn(int number, Stop *stop, QWidget *parent)
    : QWidget(parent), m_number(number), m_stop(stop)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, kHeader, 4, 8);
    layout->addWidget(stop);
    setOpen(false);
}

void StopColumn::setOpen(bool open)
{
    m_isOpen = open;
    m_stop->setVisible(open);
    setMinimumWidth(open ? 400 : kSlim);
    setMaximumWidth(open ? QWIDGETSIZE_MAX : kSlim);
    setCursor(open ? Qt::ArrowCursor : Qt::PointingHandCursor);
    setToolTip(open ? QString() : tr("Open this stop (%1)").arg(m_number));
    update();
}

void StopColumn::show(const Facts &facts)
{
    m_facts = facts;
    m_stop->show(facts);
    setAccessibleName(QString("%1 %2").arg(m_number).arg(m_stop->title()));
    setAccessibleDescription(m_stop->figure(*facts) + ". " + m_stop->sentence(*facts));
    update();
}

void StopColumn::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    const QString head = QString("%1 %2").arg(m_number).arg(m_stop->title()),
                  figure = m_stop->figure(*m_facts);
    if (m_isOpen) {
        const int end = drawLine(painter, {16, 14, 160, 26}, head, face(18, 700));
        const int after = drawLine(painter, {end + 14, 14, 320, 26}, figure, face(kAnswer));
        drawLine(painter, {after + 18, 15, width() - after - 34, 26}, m_stop->sentence(*m_facts),
                 face(kBody));
    } else {
        const QRect area(14, 14, kSlim - 28, height() - 20);
        drawLine(painter, {area.left(), area.top(), area.width(), 24}, head, face(kHead, 600));
        drawLine(painter, {area.left(), area.top() + 24, area.width(), 24}, figure, face(kBody));
        const int used = m_stop->paintMiniature(painter, area.adjusted(0, 60, 0, 0), *m_facts);
        painter.setPen(palette().color(QPalette::WindowText));
        drawWords(painter, area.adjusted(0, 60 + used + (used ? 12 : 0), 0, 0), m_stop->sentence(*m_facts),
                  face(kBody));
    }
    if (m_number > 1) {
        painter.setPen(QPen(palette().color(QPalette::WindowText), 2));
        painter.drawLine(0, 0, 0, height());
    }
}

void StopColumn::mousePressEvent(QMouseEvent *)
{
    if (!m_isOpen)
        emit openAsked();
}

} // namespace wavechroma::app
