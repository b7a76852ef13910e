#pragma once
#include "app/model/frame_editor.h"

#include <QWidget>

namespace wavechroma::app {

/// The chart laid out flat: a ring chip a patch, in the chart's own rows and columns, with its error beneath.
class RingChart : public QWidget
{
    Q_OBJECT
public:
    explicit RingChart(QWidget *parent = nullptr);
    void show(const Facts &facts);
    void highlight(const QString &patch);
    [[nodiscard]] QString highlighted() const { return m_highlighted; }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

signals:
    void patchPointed(const QString &patch);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    [[nodiscard]] QRectF cell(int row, int column) const;
    Facts m_facts = std::make_shared<const BenchFacts>();
    QString m_highlighted;
};

} // namespace wavechroma::app
