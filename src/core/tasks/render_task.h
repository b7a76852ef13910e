#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/fit/calibration.h"
#include "core/formats/picture_file.h"
#include "core/raw/raw_frame.h"
#include "core/render/render.h"
#include "core/tasks/picture_source.h"
#include "core/values/form_colour.h"
#include "core/values/picture_crop.h"
#include "core/values/picture_settings.h"

#include <filesystem>
#include <map>

namespace wavechroma {

/// How finished pictures are made: the call of the contract's `render`.
struct RenderRequest
{
    std::filesystem::path calibration; ///< empty: what serves each frame in the job
    std::filesystem::path job;         ///< a folder; empty: by the calibration
    std::filesystem::path balance;     ///< takes the place of the multipliers; empty: none
    std::filesystem::path flat;        ///< empty: the station's in a job, else none
    PictureSettings settings;
    FormColour colour = {};               ///< another than the job's; needs a job
    std::optional<PictureCrop> crop = {}; ///< of every frame; absent: as the job has it
    std::map<std::string, PictureCrop> crops =
        {}; ///< by the frame's kept path, where `crop` is not given; in a job
    bool overwrite = false, anyCamera = false;
    std::string assume = "srgb";  ///< what pictures without a profile are taken for
    std::filesystem::path folder; ///< where they go; made
    std::string name = {};        ///< of one picture, without extension; empty: the input's own
    [[nodiscard]] PictureSource::Asked asked() const { return {calibration, job, balance, flat}; }
};

/// One picture to be made.
struct RenderJob
{
    std::filesystem::path image, file;
};
/// Output names: the inputs' own, or `name`, with the format's extension or, `keepExtension`, the input's,
/// numbered where two would be one. Unusable for a name of several inputs or one that leads elsewhere, for a
/// file that is there, unless `overwrite`, and where an output would take the place of any of the inputs.
[[nodiscard]] Result<std::vector<RenderJob>> renderJobs(const std::vector<std::filesystem::path> &images,
                                                        const RenderRequest &request,
                                                        bool keepExtension = false);

struct RenderedPicture
{
    std::filesystem::path file;
    PictureSize size;
    bool isServed = true; ///< false: nothing serves the frame, no file was made
    bool fitsItsForm =
        true; ///< false: what serves it cannot be fitted with the form's parts, no file was made
    std::vector<Doubt> doubts;
    std::vector<words::Phrase> remarks; ///< what the user should know: a flat that is missing, …
};
/// Opens, renders, writes: whole or not at all.
[[nodiscard]] Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &request,
                                                    const PictureSource &source,
                                                    const Progress &progress = {});
[[nodiscard]] Result<RenderedPicture> renderPicture(const RenderJob &job, const RenderRequest &request,
                                                    const PictureServes &serves,
                                                    const Progress &progress = {});

} // namespace wavechroma
