#include "app/view/widgets/task_strip.h"

#include "app/view/widgets/look.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace wavechroma::app {

TaskStrip::TaskStrip(QWidget *parent)
    : QWidget(parent), m_work(new QWidget), m_words(new QWidget), m_step(new QLabel), m_message(new QLabel),
      m_bar(new QProgressBar), m_stop(new QPushButton(tr("Stop")))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto *words = new QHBoxLayout(m_words);
    words->setContentsMargins(20, 10, 14, 10);
    m_words->setAutoFillBackground(true);
    m_words->setBackgroundRole(QPalette::Highlight);
    m_message->setForegroundRole(QPalette::HighlightedText);
    m_message->setFont(face(15, 600));
    m_message->setWordWrap(true);
    m_message->setTextFormat(Qt::PlainText);
    m_message->setObjectName("message");
    auto *away = new QPushButton(tr("Close (Esc)"));
    words->addWidget(m_message, 1);
    words->addWidget(away);
    connect(away, &QPushButton::clicked, this, &TaskStrip::clearMessage);
    auto *work = new QHBoxLayout(m_work);
    work->setContentsMargins(20, 8, 14, 8);
    work->setSpacing(16);
    m_bar->setTextVisible(false);
    m_bar->setFixedSize(260, 10);
    work->addWidget(m_bar);
    work->addWidget(m_step, 1);
    work->addWidget(m_stop);
    connect(m_stop, &QPushButton::clicked, this, &TaskStrip::stopAsked);
    layout->addWidget(m_words);
    layout->addWidget(m_work);
    m_words->hide();
    m_work->hide();
    adapt();
}

void TaskStrip::adapt()
{
    setVisible(!m_words->isHidden() || !m_work->isHidden());
}

void TaskStrip::showProgress(double fraction, const QString &step, bool canStop)
{
    m_bar->setRange(0, 1000);
    m_bar->setValue(int(fraction * 1000));
    m_step->setText(tr("%1, %2 % done").arg(step).arg(int(fraction * 100)));
    m_stop->setVisible(canStop);
    m_work->show();
    adapt();
}

void TaskStrip::showBusy(const QString &step)
{
    if (step.isEmpty()) {
        endProgress();
        return;
    }
    m_bar->setRange(0, 0);
    m_step->setText(step);
    m_stop->hide();
    m_work->show();
    adapt();
}

void TaskStrip::endProgress()
{
    m_work->hide();
    adapt();
}

void TaskStrip::showMessage(const QString &message)
{
    m_message->setText(message);
    m_words->show();
    adapt();
}

void TaskStrip::clearMessage()
{
    m_words->hide();
    adapt();
}

QString TaskStrip::message() const
{
    return m_words->isHidden() ? QString() : m_message->text();
}

bool TaskStrip::isWorking() const
{
    return !m_work->isHidden();
}

} // namespace wavechroma::app
