#pragma once
#include "app/model/frame_editor.h"

#include <QWidget>

namespace wavechroma::app {

/// One stop of the bench: what it shows in one line, at rest in its slim column, and open.
class Stop : public QWidget
{
    Q_OBJECT
public:
    using QWidget::QWidget;
    [[nodiscard]] virtual QString title() const = 0;                         ///< "Read"
    [[nodiscard]] virtual QString figure(const BenchFacts &facts) const = 0; ///< "24 of 24"; the one figure
    [[nodiscard]] virtual QString sentence(const BenchFacts &facts) const = 0;
    /// Draws the miniature into the slim column; says the height it used.
    virtual int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const = 0;
    virtual void show(const Facts &facts) = 0; ///< in the open stop

protected:
    Facts m_facts = std::make_shared<const BenchFacts>();
};

} // namespace wavechroma::app
