#pragma once
#include "app/view/widgets/look.h"
#include "app/view/window/action_group.h"
#include "app/view/window/action_table.h"

namespace wavechroma::app {

/// Places, the view of a frame, monitors, and help.
class ViewActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit ViewActions(Desk *desk);
    [[nodiscard]] MenuRows rows();
    [[nodiscard]] MenuRows helpRows(const ActionTable *table); ///< whose actions the finder and the keys show

private:
    void openBench();
    void chooseMonitorProfile();
    void findAction(const ActionTable *table);
    void showKeys(const ActionTable *table);
    void showGuide();
    void showAbout();

    Surround m_surround = Surround::Board;
};

} // namespace wavechroma::app
