#pragma once
#include "core/chart/chart_definition.h"

#include <QDialog>

class QListWidget;
class QSpinBox;

namespace wavechroma::app {

/// Which chart is in the frame: one of those the job knows, or a plain grid by rows and columns.
class ChartChoice : public QDialog
{
    Q_OBJECT
public:
    ChartChoice(const std::vector<ChartDefinition> &charts, const std::string &current,
                QWidget *parent = nullptr);
    [[nodiscard]] ChartDefinition chart() const;
    [[nodiscard]] bool byHand() const { return m_byHand; } ///< lay it down rather than look for it

private:
    std::vector<ChartDefinition> m_charts;
    QListWidget *m_list;
    QSpinBox *m_rows, *m_columns;
    bool m_byHand = false;
};

} // namespace wavechroma::app
