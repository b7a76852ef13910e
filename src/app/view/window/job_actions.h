#pragma once
#include "app/view/window/action_group.h"
#include "core/tasks/report_task.h"

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
    void askForReport();
    void writeReport(ReportRequest request);
    void chooseJob();
    void makeDemoJob();
};

} // namespace wavechroma::app
