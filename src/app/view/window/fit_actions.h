#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// What the fit is given, and matching cameras.
class FitActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit FitActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    void askForWeights();
    void askForFitLight();
    void keepReference();
    void chooseMatch();
    void matchTo(RowId other);
    void openProfilesOf(const Calibration &calibration);
};

} // namespace wavechroma::app
