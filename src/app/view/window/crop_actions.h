#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// What of a product frame is delivered. Never along with colour: a crop is carried by an action of its own.
class CropActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit CropActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    void askForRatio();
    void askForNumbers();
};

} // namespace wavechroma::app
