#pragma once
#include "app/view/window/action_group.h"

#include <filesystem>

namespace wavechroma::app {

class SectorDialog;

/// What the fit is given, and matching cameras.
class FitActions : public ActionGroup
{
    Q_OBJECT
public:
    explicit FitActions(Desk *desk);
    [[nodiscard]] MenuRows rows();

private:
    void openSectors();
    void readSectors(SectorDialog *dialog);
    void askForWeights();
    void askForFitLight();
    void keepReference();
    struct Look
    {
        QString name;
        RowId frame = 0;               ///< 0: a picture
        std::filesystem::path picture; ///< where it is one
    };
    [[nodiscard]] std::vector<Look> looks() const;
    void chooseMatch();
    void matchTo(const Look &look);
    void serveLook(RowId chart, const Calibration &matched);
    void openProfilesOf(const Calibration &calibration);
};

} // namespace wavechroma::app
