#pragma once
#include "app/model/frame_editor.h"

#include <QWidget>

namespace wavechroma::app {

class Stop;

/// A stop with its head; slim or open.
class StopColumn : public QWidget
{
    Q_OBJECT
public:
    StopColumn(int number, Stop *stop, QWidget *parent = nullptr);
    void setOpen(bool open);
    void show(const Facts &facts);

signals:
    void openAsked();

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    int m_number;
    Stop *m_stop;
    bool m_isOpen = false;
    Facts m_facts = std::make_shared<const BenchFacts>();
};

} // namespace wavechroma::app
