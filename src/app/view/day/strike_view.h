#pragma once
#include "core/values/strike.h"

#include <QWidget>

namespace wavechroma::app {

/// One card for a setup over the whole window, readable across the room: what is there and what is missing
/// while the lights are up. White all through means that the lamps can go off. The arrows go from setup to
/// setup, Space takes it away.
class StrikeView : public QWidget
{
    Q_OBJECT
public:
    explicit StrikeView(QWidget *parent);
    void show(const StrikeCard &card);
    [[nodiscard]] const StrikeCard &card() const { return m_card; }

signals:
    void dismissed();
    void stepAsked(int by); ///< another setup

protected:
    void paintEvent(QPaintEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    StrikeCard m_card;
};

} // namespace wavechroma::app
