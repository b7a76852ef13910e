#pragma once
#include "core/chart/chart_definition.h"
#include "core/values/proof.h"
#include "core/words/answer_words.h"

#include <QWidget>

namespace wavechroma::app {

/// A card over the whole window, readable at five metres: one sentence, the reason below. Space takes it
/// away, Enter uses the frame all the same.
class CallOut : public QWidget
{
    Q_OBJECT
public:
    explicit CallOut(QWidget *parent);
    /// `facts`: time, exposure, setup, camera.
    void show(const words::CallOut &said, const QString &facts, const std::optional<Proof> &proof,
              const ChartDefinition &chart);
    [[nodiscard]] const words::CallOut &said() const { return m_said; }

signals:
    void dismissed();
    void useAsked();

protected:
    void paintEvent(QPaintEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    words::CallOut m_said;
    QString m_facts;
    std::optional<Proof> m_proof;
    ChartDefinition m_chart;
};

} // namespace wavechroma::app
