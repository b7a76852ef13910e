#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// The result, its profiles, and the probes of a product frame.
class ProofActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit ProofActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    [[nodiscard]] std::vector<ActionRow> productRows();
    [[nodiscard]] std::vector<ActionRow> agreementRows();
    void showDrift();
    void showSideBySide();
    void openProfiles();
    void chooseTargets();
    void askForTarget();

    RowId m_lastSubject = 0; ///< that was last set beside another one
};

} // namespace wavechroma::app
