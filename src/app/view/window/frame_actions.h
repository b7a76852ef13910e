#pragma once
#include "app/view/window/action_group.h"

namespace wavechroma::app {

/// Frames that are added, their setups, and what they are for.
class FrameActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit FrameActions(Desk *desk);
    [[nodiscard]] MenuRows rows();
    void findFramesIn(const QString &folder); ///< those that are not where they were

private:
    void chooseFrames();
    void offerWaiting();
    void chooseWatched();
    void watchFolder(const QString &folder); ///< empty: none
    void shootingStarts();
    void renameSetup(qint64 setup);
    void changeLight();
    void findFramesAgain();
    void moveToSetup();
    void removeSetup();
    void changeFrame(RowId frame, const QString &text, const std::function<void(JobFrame &)> &edit);
    void setPart(FramePart part);
    void useAllTheSame();
    void toggleSetAside();
    void removeFrame();
};

} // namespace wavechroma::app
