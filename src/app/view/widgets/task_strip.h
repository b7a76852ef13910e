#pragma once
#include <QWidget>

class QLabel;
class QProgressBar;
class QPushButton;

namespace wavechroma::app {

/// The bottom of the window: long work with what is being done, how much is left, and a way to stop it; and
/// messages on a black tag until they are taken away.
class TaskStrip : public QWidget
{
    Q_OBJECT
public:
    explicit TaskStrip(QWidget *parent = nullptr);
    void showProgress(double fraction, const QString &step, bool canStop);
    void showBusy(const QString &step); ///< without a known end; empty takes it away
    void endProgress();
    void showMessage(const QString &message);
    void clearMessage();
    [[nodiscard]] QString message() const;
    [[nodiscard]] bool isWorking() const;

signals:
    void stopAsked();

private:
    void adapt();
    QWidget *m_work, *m_words;
    QLabel *m_step, *m_message;
    QProgressBar *m_bar;
    QPushButton *m_stop;
};

} // namespace wavechroma::app
