#pragma once
#include "core/base/progress.h"
#include "core/fit/hue_sectors.h"
#include "core/tasks/delivery_profiles.h"
#include "core/values/form_colour.h"

#include <map>
#include <memory>
#include <tuple>

namespace wavechroma {

/// Calibrations of a job as forms of a delivery want them: with other parts, or another lean. Each is fitted
/// once, from its chart's reading as the job keeps it.
class FormCalibrations
{
public:
    explicit FormCalibrations(const PictureSource &source) : m_source(source) {}

    /// `own` for a form that asks for nothing else; else what the reading of `chart` gives (0: there is
    /// none). A lean alone is laid over `own` where there is no reading. Unusable where the parts cannot be
    /// had.
    [[nodiscard]] Result<Calibration> of(const FormColour &form, const Calibration &own, RowId chart);
    /// calibrationOf(), as the form wants it.
    [[nodiscard]] Result<Calibration> of(const FormColour &form, const ProfileSource &profile);
    /// What serves the frame, in the form's colour and balance. Null where its parts cannot be had.
    [[nodiscard]] std::shared_ptr<const PictureServes> serves(const FormColour &form, const JobFrame &frame,
                                                              const PictureServes &serves);
    /// Unusable, by name, for a preset or a table of sectors that cannot be read.
    [[nodiscard]] Result<Done> filesAreReadable(const FormColour &form);
    /// The form's own balance; nothing where it has none. Unusable for a preset that cannot be read.
    [[nodiscard]] Result<std::optional<Balance>> balanceOf(const FormColour &form);
    /// Is the form's preset of another camera than the frame? Its multipliers say nothing there.
    [[nodiscard]] bool isPresetOfAnother(const FormColour &form, const CameraFacts &frame);

private:
    Result<Calibration> fitted(RowId chart, const Parts &parts, const ColourLean &lean,
                               const std::vector<HueSector> &sectors) const;
    /// Of the form's table; none where it has none.
    Result<std::vector<HueSector>> sectorsOf(const FormColour &form);

    const PictureSource &m_source;
    std::map<std::tuple<RowId, Parts, int, int, int, std::string>, Result<Calibration>> m_fitted;
    std::map<std::string, Result<Balance>> m_balances; ///< by their files
    std::map<std::string, Result<std::vector<HueSector>>> m_sectors;
};

} // namespace wavechroma
