#pragma once
#include "app/model/call_out_words.h"

#include <QWidget>

namespace wavechroma::app {

/// A card over the whole window, readable at five metres: one sentence, the reason below. Space takes it
/// away, Enter uses the frame all the same.
class CallOut : public QWidget
{
    Q_OBJECT
public:
    explicit CallOut(QWidget *parent);
    void show(const CallOutWords &words, const std::optional<Proof> &proof, const ChartDefinition &chart);
    [[nodiscard]] const CallOutWords &words() const { return m_words; }

signals:
    void dismissed();
    void useAsked();

protected:
    void paintEvent(QPaintEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    CallOutWords m_words;
    std::optional<Proof> m_proof;
    ChartDefinition m_chart;
};

} // namespace wavechroma::app
