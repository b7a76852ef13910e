#pragma once
#include "core/base/progress.h"
#include "core/formats/probe_document.h"
#include "core/raw/overview.h"
#include "core/tasks/picture_source.h"

namespace wavechroma {

struct ProbeRequest
{
    PictureSource::Asked asked;
    std::vector<std::pair<std::string, ProbePlace>> places; ///< with the image they are on; empty: on all.
                                                            ///< None: those that the job has
    std::vector<ProbeTarget> targets;                       ///< before those of the job
    bool atChartLevel = true; ///< what a frame was exposed differently from its serving chart is taken out
    std::string assume = "srgb";
    bool anyCamera = false;
};

[[nodiscard]] Result<std::vector<ProbeTarget>> loadTargets(const std::filesystem::path &file,
                                                           TableReading *how = nullptr);
[[nodiscard]] Result<std::vector<std::pair<std::string, ProbePlace>>>
loadPlaces(const std::filesystem::path &file);

/// The thing of that name measured with the simulated spectrophotometer, as it looks under D50. Unusable for
/// what the studio does not have.
[[nodiscard]] Result<Lab> measuredThing(const std::string &name, uint64_t seed);

/// Probes of an opened, evened frame by what serves it: means in linear light within robust limits (see
/// sampleDisc()), without rendering it. The window's probes and the command line's are this call.
/// `ordinary`: ΔE2000 within which a target without a tolerance of its own is met.
[[nodiscard]] FrameProbes probeFrame(const RawFrame &frame, const PictureServes &serves,
                                     const std::vector<ProbePlace> &places,
                                     const std::vector<ProbeTarget> &targets, double ordinary,
                                     bool atChartLevel);

/// Opens a frame file, evens its light and probes it. `remarks`: what the user should know.
[[nodiscard]] Result<FrameProbes> probeImage(const std::filesystem::path &image, const ProbeRequest &request,
                                             const PictureSource &source,
                                             std::vector<words::Phrase> &remarks);

/// Places and targets of frames, each in place of what it had of those names.
[[nodiscard]] JobChange probesInto(const JobState &state,
                                   const std::vector<std::pair<RowId, ProbePlace>> &places,
                                   const std::vector<ProbeTarget> &targets);
/// Saves the request's places on images as probes of the job.
[[nodiscard]] Result<Done> saveProbes(const ProbeRequest &request, const PictureSource &source,
                                      const std::vector<std::filesystem::path> &images);

/// A thing of one name on the frames of a job, in the order of their time: each as probeImage() reads it.
/// Frames whose files cannot be read are passed over. Empty when stopped.
struct ProbeAtTime
{
    RowId frame = 0;
    std::string capturedAt;
    Probe probe;
};
[[nodiscard]] std::vector<ProbeAtTime> overTheDay(const PictureSource &source, const std::string &name,
                                                  const Progress &progress = {});

/// Cells of block × block frame pixels whose expected error, and that of most around them, is above a limit.
/// Of a level that was opened as it leaves (see look_task.h). Empty when stopped, or where nothing serves
/// the frame.
struct DoubtedColours
{
    int width = 0, height = 0, block = 1;
    std::vector<uint8_t> isOver; ///< one a cell
    double share = 0;            ///< of the cells
};
[[nodiscard]] DoubtedColours doubtedColours(const RawFrame &frame, const Overview &level,
                                            const PictureServes &serves, double limit,
                                            const Progress &progress = {});

/// Cells whose colour, as it leaves (at the frame's own level), an output space does not hold: a channel
/// below black, or above white while another is not. For each of rgbSpaces(). Empty when stopped, or where
/// nothing serves the frame.
struct OutsideColours
{
    int width = 0, height = 0, block = 1;
    std::array<std::vector<uint8_t>, 4> isOutside; ///< one a cell
    std::array<double, 4> share{};                 ///< of the cells
    bool operator==(const OutsideColours &) const = default;
};
[[nodiscard]] OutsideColours outsideColours(const RawFrame &frame, const Overview &level,
                                            const PictureServes &serves, const Progress &progress = {});

/// Places of another frame where the picture has them now, see followed(); those that are not recognised
/// stay.
[[nodiscard]] std::vector<ProbePlace> followedPlaces(const std::filesystem::path &from, const RawFrame &to,
                                                     const std::vector<ProbePlace> &places);

/// The job's targets, and the places on one of its frames.
[[nodiscard]] std::vector<ProbeTarget> targetsOf(const JobState &state);
[[nodiscard]] std::vector<ProbePlace> placesOn(const JobState &state, RowId frame);

} // namespace wavechroma
