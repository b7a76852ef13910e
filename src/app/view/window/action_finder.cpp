#include "app/view/window/action_finder.h"

#include "app/view/widgets/look.h"
#include "app/view/widgets/painted_list.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace wavechroma::app {

static QString nameOf(const QAction *action)
{
    return QString(action->text()).remove('&').remove("…");
}

ActionFinder::ActionFinder(std::vector<Offer> offers, QWidget *parent)
    : QDialog(parent), m_offers(std::move(offers)), m_line(new QLineEdit)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Find an Action"));
    resize(620, 460);
    auto *layout = new QVBoxLayout(this);
    m_line->setPlaceholderText(tr("Type a part of its name, like \"flat\" or \"warmer\""));
    m_line->setAccessibleName(tr("Name of the action"));
    layout->addWidget(m_line);
    m_list = new PaintedList(
        tr("Actions found"), [this](QPainter &p, const QRect &area, int row) { paintRow(p, area, row); },
        this);
    m_list->setCell({580, 46});
    m_list->setFocusPolicy(Qt::NoFocus); // the line has the keys
    layout->addWidget(m_list, 1);
    m_line->installEventFilter(this);
    connect(m_line, &QLineEdit::textChanged, this, &ActionFinder::search);
    connect(m_line, &QLineEdit::returnPressed, this, &ActionFinder::run);
    connect(m_list, &PaintedList::picked, this, [this](int row) {
        mark(row);
        run();
    });
    search();
    m_line->setFocus();
}

QStringList ActionFinder::found() const
{
    QStringList out;
    for (const auto at : m_found)
        out << nameOf(m_offers[at].action);
    return out;
}

void ActionFinder::search()
{
    std::vector<SearchedAction> all;
    for (const auto &offer : m_offers)
        all.push_back({nameOf(offer.action), offer.why});
    m_found = actionsFound(m_line->text(), all);
    mark(0);
}

void ActionFinder::mark(int row)
{
    m_marked = std::clamp(row, 0, std::max(0, int(m_found.size()) - 1));
    QStringList said;
    for (const auto at : m_found) {
        const auto &offer = m_offers[at];
        const auto key = offer.action->shortcut().toString(QKeySequence::NativeText);
        QStringList parts{nameOf(offer.action)};
        if (!key.isEmpty())
            parts << key;
        parts << (offer.notNow.isEmpty() ? offer.why : tr("not now: %1").arg(offer.notNow));
        said << parts.join(", ");
    }
    m_list->show(said, m_found.empty() ? -1 : m_marked);
}

void ActionFinder::run()
{
    if (m_found.empty() || !m_offers[m_found[size_t(m_marked)]].notNow.isEmpty())
        return;
    auto *action = m_offers[m_found[size_t(m_marked)]].action;
    connect(this, &QObject::destroyed, action, &QAction::trigger); // once the window has the keys again
    accept();
}

bool ActionFinder::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_line && event->type() == QEvent::KeyPress) {
        constexpr int kPage = 8;
        const int key = static_cast<QKeyEvent *>(event)->key();
        const int by = key == Qt::Key_Down       ? 1
                       : key == Qt::Key_Up       ? -1
                       : key == Qt::Key_PageDown ? kPage
                       : key == Qt::Key_PageUp   ? -kPage
                                                 : 0;
        if (by != 0) {
            mark(m_marked + by);
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

void ActionFinder::paintRow(QPainter &painter, const QRect &area, int row) const
{
    if (row >= int(m_found.size()))
        return;
    const auto &offer = m_offers[m_found[size_t(row)]];
    const bool isMarked = row == m_marked;
    if (isMarked)
        painter.fillRect(area, palette().highlight());
    painter.setPen(palette().color(isMarked ? QPalette::HighlightedText : QPalette::WindowText));
    const QRect inside = area.adjusted(10, 3, -10, -3);
    const auto key = offer.action->shortcut().toString(QKeySequence::NativeText);
    drawLine(painter, QRect(inside.left(), inside.top(), inside.width() - 130, 20), nameOf(offer.action),
             face(15, offer.notNow.isEmpty() ? 600 : 400));
    painter.setFont(face(kBody));
    painter.drawText(QRect(inside.right() - 130, inside.top(), 130, 20), Qt::AlignRight | Qt::AlignVCenter,
                     key);
    drawLine(painter, QRect(inside.left(), inside.top() + 20, inside.width(), 20),
             offer.notNow.isEmpty() ? offer.why : tr("Not now: %1").arg(offer.notNow), face(kBody));
}

} // namespace wavechroma::app
