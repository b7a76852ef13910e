#pragma once
#include "app/view/window/action_group.h"

#include <functional>

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
    struct Source
    {
        QString name;
        bool isNow = false;
        std::function<void()> choose;
    };
    [[nodiscard]] std::vector<Source> sources();
    void chooseServing();
    void bringCalibration();
};

} // namespace wavechroma::app
