#pragma once
#include "app/view/bench_facts.h"

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
    void show(const BenchFacts &facts);

signals:
    void openAsked();

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    int m_number;
    Stop *m_stop;
    bool m_isOpen = false;
    BenchFacts m_facts;
};

} // namespace wavechroma::app
