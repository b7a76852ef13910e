#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// Balances, presets, and the chart and level of a product frame.
class BalanceActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit BalanceActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    [[nodiscard]] std::vector<ActionRow> levelRows();
    void askForLight();
    void keepPreset();
    void choosePreset();
    void chooseServing();
};

} // namespace wavechroma::app
