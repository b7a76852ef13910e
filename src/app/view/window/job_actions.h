#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// Jobs made and opened, and the deliveries of the one that is open.
class JobActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit JobActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    [[nodiscard]] std::vector<ActionRow> handoverRows();
    void newJob();
    void chooseJob();
    void makeDemoJob();
};

} // namespace wavechroma::app
