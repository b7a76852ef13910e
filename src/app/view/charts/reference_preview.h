#pragma once
#include "core/chart/chart_definition.h"

#include <QWidget>

namespace wavechroma::app {

/// The first colours of a table that was imported, each above the chart's usual one, so that a table read
/// wrongly is seen at once. Hidden until there is one.
class ReferencePreview : public QWidget
{
public:
    explicit ReferencePreview(QWidget *parent = nullptr);
    void show(const ChartDefinition &read, const ChartDefinition &usual);
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    struct Pair
    {
        QString id;
        QColor read, usual; ///< the usual one is invalid where nobody knows it
    };
    std::vector<Pair> m_pairs;
};

} // namespace wavechroma::app
