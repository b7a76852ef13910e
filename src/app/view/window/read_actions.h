#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// Placing and reading a chart, charts and tolerances.
class ReadActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit ReadActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    void chooseChart();
    void chooseLimits();
    void editCharts();
    void drawChart();
    void switchPatchesOff();
    void askRulerLength();
};

} // namespace wavechroma::app
