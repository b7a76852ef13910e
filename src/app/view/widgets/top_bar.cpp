#include "app/view/widgets/top_bar.h"

#include "app/view/widgets/look.h"

#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QStyle>
#include <QToolButton>

namespace wavechroma::app {

TopBar::TopBar(QWidget *parent)
    : QWidget(parent), m_title(new QLabel), m_status(new QLabel), m_places(new QHBoxLayout)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(20, 7, 20, 9);
    layout->setSpacing(24);
    m_title->setFont(face(15, 700));
    m_title->setTextFormat(Qt::PlainText);
    m_status->setTextFormat(Qt::PlainText);
    layout->addWidget(m_title);
    m_places->setSpacing(4);
    layout->addLayout(m_places);
    layout->addStretch(1);
    layout->addWidget(m_status);
    setFixedHeight(46);
}

void TopBar::setTitle(const QString &title)
{
    m_title->setText(title);
}

void TopBar::setStatus(const QString &status)
{
    m_status->setText(status);
}

void TopBar::addPlace(QAction *action)
{
    auto *button = new QToolButton;
    button->setDefaultAction(action);
    button->setToolButtonStyle(Qt::ToolButtonTextOnly);
    button->setFont(face(kBody));
    button->setFocusPolicy(Qt::NoFocus); // the keys are in the menu
    button->setObjectName("place");      // look.cpp has its rules
    m_places->addWidget(button);
}

void TopBar::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(0, height() - 2, width(), 2, palette().color(QPalette::WindowText));
}

} // namespace wavechroma::app
