#pragma once
#include "core/base/progress.h"
#include "core/job/job.h"
#include "core/render/display_picture.h"

#include <optional>

namespace wavechroma {

/// A way to show a product frame other than by the calibration that serves it.
struct OtherVersion
{
    enum class Kind {
        BalanceAlone, ///< colours by the file's own matrix
        OtherChart,   ///< `what`: when that chart was shot
        OtherColour,  ///< `what`: the part of colour
        OtherBody,    ///< colours of another camera in the same light, on this frame's balance; `what`: its
                      ///< model
        OtherSetup,   ///< colours of the same pair under another setup, on this frame's balance; `what`: its
                      ///< title
        FilesOwn      ///< the picture that the file holds
    } kind = Kind::FilesOwn;
    std::string what = {};
    std::optional<Calibration> calibration = {}; ///< absent for FilesOwn
};

/// Returns all of them for a product frame, those nearest to its own version last but for FilesOwn. Versions
/// by a calibration that cannot be read are left out. Empty if nothing serves the frame.
[[nodiscard]] std::vector<OtherVersion> otherVersions(const Job &job, RowId frame);

/// A frame as a small picture for a screen, at most about `longSide` pixels, before the orientation flag: by
/// what serves it; by the file's own matrix and as-shot neutral; or by another version.
enum class ShownWay { Served, OwnMatrix, Version };
[[nodiscard]] Result<DisplayPicture> pictureBy(const Job &job, const JobFrame &row, ShownWay way,
                                               const OtherVersion &version, int longSide,
                                               const Screen *screen, const Progress &progress = {});

} // namespace wavechroma
