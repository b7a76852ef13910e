#pragma once
#include <QWidget>

class QAction;
class QLabel;
class QHBoxLayout;

namespace wavechroma::app {

/// The job's name, the places, and what is going on.
class TopBar : public QWidget
{
    Q_OBJECT
public:
    explicit TopBar(QWidget *parent = nullptr);
    void setTitle(const QString &title);
    void setStatus(const QString &status);
    void addPlace(QAction *action); ///< checkable; shown as a word, the chosen one on black

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    QLabel *m_title, *m_status;
    QHBoxLayout *m_places;
};

} // namespace wavechroma::app
