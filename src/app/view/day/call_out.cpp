#include "app/view/day/call_out.h"

#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"

#include <QKeyEvent>

namespace wavechroma::app {

CallOut::CallOut(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Call-out"));
    parent->installEventFilter(this);
    hide();
}

void CallOut::show(const words::CallOut &said, const QString &facts, const std::optional<Proof> &proof,
                   const ChartDefinition &chart)
{
    m_said = said;
    m_facts = facts;
    m_proof = proof;
    m_chart = chart;
    setAccessibleDescription(QString::fromStdString(said.headline + " " + said.reason));
    setGeometry(parentWidget()->rect());
    QWidget::show();
    raise();
    setFocus();
    update();
}

bool CallOut::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == parentWidget() && event->type() == QEvent::Resize)
        setGeometry(parentWidget()->rect());
    return QWidget::eventFilter(watched, event);
}

/// The largest size at which the words fit the room.
static QFont fitted(const QString &said, const QSize &room, int most, int least, int weight)
{
    for (int size = most; size > least; size -= 4) {
        const QFont font = face(size, weight);
        const QFontMetrics metrics(font);
        const auto box = metrics.boundingRect(QRect({0, 0}, room), Qt::TextWordWrap, said);
        bool wordFits = true;
        for (const auto &word : said.split(' '))
            wordFits = wordFits && metrics.horizontalAdvance(word) <= room.width();
        if (wordFits && box.height() <= room.height())
            return font;
    }
    return face(least, weight);
}

void CallOut::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const auto back = m_said.good ? QPalette::Base : QPalette::Highlight,
               ink = m_said.good ? QPalette::Text : QPalette::HighlightedText;
    painter.fillRect(rect(), palette().brush(back));
    painter.setPen(palette().color(ink));
    const int margin = width() / 16;
    QRect area = rect().adjusted(margin, height() / 11, -margin, -height() / 4);
    const QString headline = QString::fromStdString(m_said.headline),
                  reason = QString::fromStdString(m_said.reason);
    area.setTop(area.top() +
                drawWords(painter, area, headline,
                          fitted(headline, {area.width(), area.height() * 2 / 3}, height() / 5, 40, 700)) +
                24);
    drawWords(painter, area, reason, fitted(reason, area.size(), 34, 17, 400));
    const QRect foot(margin, height() - height() / 11 - 112, width() - 2 * margin, 112);
    int left = foot.left();
    if (m_proof) {
        drawMiniChart(painter, QRectF(foot.left(), foot.top(), 168, 112), *m_proof, shownGrid(m_chart));
        left += 196;
    }
    painter.setPen(palette().color(ink));
    painter.setFont(face(19));
    painter.drawText(QRect(left, foot.top(), foot.width() - (left - foot.left()) - 330, foot.height()),
                     Qt::AlignLeft | Qt::AlignBottom | Qt::TextWordWrap, m_facts);
    painter.drawText(foot, Qt::AlignRight | Qt::AlignBottom,
                     m_said.good ? tr("Space: back to the day\nEnter: see the proof")
                                 : tr("Space: back to the day\nEnter: use it anyway"));
}

void CallOut::keyPressEvent(QKeyEvent *event)
{
    switch (event->key()) {
    case Qt::Key_Space:
    case Qt::Key_Escape:
        hide();
        emit dismissed();
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        hide();
        emit useAsked();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void CallOut::mousePressEvent(QMouseEvent *)
{
    hide();
    emit dismissed();
}

} // namespace wavechroma::app
