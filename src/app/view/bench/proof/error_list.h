#pragma once
#include "app/model/frame_editor.h"

#include <QWidget>

namespace wavechroma::app {

/// Errors as lengths on one scale, the tolerance as a band behind them, worst first, with their direction in
/// words.
class ErrorList : public QWidget
{
    Q_OBJECT
public:
    explicit ErrorList(QWidget *parent = nullptr);
    void show(const Facts &facts);
    void highlight(const QString &patch);
    [[nodiscard]] QString patchAtRow(int row) const; ///< in the order shown
    QSize sizeHint() const override;

signals:
    void patchPointed(const QString &patch);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;

private:
    [[nodiscard]] int columns() const;
    [[nodiscard]] int rowsPerColumn() const;
    Facts m_facts = std::make_shared<const BenchFacts>();
    std::vector<PatchProof> m_sorted;
    QString m_highlighted;
};

} // namespace wavechroma::app
