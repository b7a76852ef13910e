#include "app/view/day/strike_view.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/words/answer_words.h"
#include "core/words/strike_words.h"

#include <QKeyEvent>
#include <algorithm>

namespace wavechroma::app {

StrikeView::StrikeView(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Before you strike the set"));
    parent->installEventFilter(this);
    hide();
}

void StrikeView::show(const StrikeCard &card)
{
    m_card = card;
    QStringList said{text(words::strikeAnswer(card, spoken()))};
    for (const auto &item : card.items)
        said << text(words::strikeTitle(item, spoken()) + ": " + words::strikeDetail(item, spoken()));
    setAccessibleDescription(said.join(" "));
    setGeometry(parentWidget()->rect());
    QWidget::show();
    raise();
    setFocus();
    update();
}

bool StrikeView::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == parentWidget() && event->type() == QEvent::Resize)
        setGeometry(parentWidget()->rect());
    return QWidget::eventFilter(watched, event);
}

void StrikeView::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), palette().brush(QPalette::Base));
    painter.setPen(palette().color(QPalette::Text));
    const int margin = width() / 20;
    QRect area = rect().adjusted(margin, height() / 14, -margin, -height() / 10);
    area.setTop(area.top() + drawWords(painter, area, tr("Before you strike the set"), face(44, 700)) + 6);
    const auto times = QString::fromStdString(words::clock(m_card.from) + " – " + words::clock(m_card.to));
    const auto where = m_card.from.empty() ? text(m_card.title) : text(m_card.title) + ", " + times;
    area.setTop(
        area.top() +
        drawWords(painter, area, where + ".  " + text(words::strikeAnswer(m_card, spoken())), face(21)) + 22);
    const int count = std::max(1, int(m_card.items.size()));
    const int row = std::min(66, area.height() / count), left = area.width() * 3 / 10;
    const int titleSize = row >= 56 ? 25 : row >= 40 ? 20 : kAnswer, size = row >= 56 ? 19 : kBody;
    for (int i = 0; i < int(m_card.items.size()); ++i) {
        const auto &item = m_card.items[size_t(i)];
        const QRect band(area.left() - 20, area.top() + i * row, area.width() + 40, row - 6);
        if (item.isMissing)
            painter.fillRect(band, palette().brush(QPalette::Highlight));
        painter.setPen(palette().color(item.isMissing ? QPalette::HighlightedText : QPalette::Text));
        drawLine(painter, QRect(area.left(), band.top(), left - 12, band.height()),
                 text(words::strikeTitle(item, spoken())), face(titleSize, 600));
        const QRect room(area.left() + left, band.top() + 2, area.width() - left, band.height() - 4);
        const auto detail = text(words::strikeDetail(item, spoken()));
        // two lines of a smaller face where one is too short
        int fits = size;
        const auto height = [&](int of) {
            return QFontMetrics(face(of)).boundingRect(room, Qt::TextWordWrap, detail).height();
        };
        while (fits > kBody && height(fits) > room.height())
            --fits;
        painter.setFont(face(fits));
        painter.drawText(room, Qt::AlignVCenter | Qt::TextWordWrap, detail);
    }
    painter.setPen(palette().color(QPalette::Text));
    painter.setFont(face(kAnswer));
    const QRect foot(margin, height() - height() / 10, width() - 2 * margin, height() / 16);
    painter.drawText(foot, Qt::AlignLeft | Qt::AlignVCenter, tr("Space: back"));
    painter.drawText(foot, Qt::AlignRight | Qt::AlignVCenter, tr("Left, Right: other setups"));
}

void StrikeView::keyPressEvent(QKeyEvent *event)
{
    switch (event->key()) {
    case Qt::Key_Space:
    case Qt::Key_Escape:
    case Qt::Key_Return:
        hide();
        emit dismissed();
        return;
    case Qt::Key_Left:
        emit stepAsked(-1);
        return;
    case Qt::Key_Right:
        emit stepAsked(1);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void StrikeView::mousePressEvent(QMouseEvent *)
{
    hide();
    emit dismissed();
}

} // namespace wavechroma::app
