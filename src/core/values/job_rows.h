#pragma once
#include "core/base/lazy.h"
#include "core/chart/chart_definition.h"
#include "core/values/balance.h"
#include "core/values/calibration.h"
#include "core/values/lamp_kind.h"
#include "core/values/picture_crop.h"
#include "core/values/probe.h"
#include "core/values/reading.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

/// The rows of a job, one struct a kind.
namespace wavechroma {

using RowId = int64_t;

/// Grey: a card, cube, disc or board that says what white is.
enum class FramePart { Chart, Flat, Grey, Product, Check };

/// One lighting setup of the day.
struct JobSetup
{
    RowId id = 0;
    std::string title, notes;
    std::string lamps = {}, modifiers = {}, power = {}, backdrop = {}; ///< each as people write it
    std::string picture = {};              ///< of the set: a file's path, kept as a frame's is; empty: none
    LampKind lampKind = LampKind::Unknown; ///< chosen by the user
    bool operator==(const JobSetup &) const = default;
};

/// A frame file that belongs to the job.
struct JobFrame
{
    RowId id = 0, setup = 0;
    std::string path;   ///< relative to the job's folder where the file lies in it, else absolute
    std::string sha256; ///< of the file when it was taken in
    FramePart part = FramePart::Product;
    CameraFacts camera;
    int width = 0, height = 0, orientation = 1;
    bool setAside = false; ///< spoilt, or taken out by hand: stays on the sheet, struck through
    std::optional<Balance> balance =
        {};                ///< chosen by hand for this frame; absent: the chart's default neutral
    int levelThirds = 0;   ///< of a stop, laid on top of how it was exposed
    RowId servedBy = 0;    ///< the chart frame chosen by hand to speak for it; 0: by the rule
    RowId calibration = 0; ///< one brought along, chosen by hand in place of its chart's own; 0: none
    /// The picture that the camera made of the same release, kept as a path; empty: none is known.
    std::string picture = {};
    std::string look = {};                ///< of the set in it, see setLookOf(); empty: not known
    std::optional<PictureCrop> crop = {}; ///< of its finished pictures
    double rulerPixelsPerMm = 0;          ///< by a ruler that was laid over it; 0: none
    bool operator==(const JobFrame &) const = default;
};

/// What was read of a chart frame; one a frame. The brief is kept beside the document, so that the day is
/// laid out without parsing any: chart and where it lies, flats, checks that are not `ok`, the exposure, and
/// each patch's mean.
struct JobReading
{
    RowId id = 0, frame = 0;
    Reading brief;
    Lazy<Reading> reading = {};
    bool operator==(const JobReading &) const = default;
};

/// What the day sheet and the ladder of lights show of a calibration.
struct CalibrationBrief
{
    Parts parts;
    bool recommended = false;    ///< of those of its frame
    bool isSound = false;        ///< its reading supports it, see mayBeRecommended()
    double unseen = 0;           ///< mean ΔE2000 of patches left out
    double mean = 0, worst = 0;  ///< ΔE2000 of its own reading's patches
    std::string worstPatch = {}; ///< empty: it could not be proved
    std::string light = {};      ///< name
    double cctKelvin = 0, duv = 0;
    // of one brought along:
    std::string name = {};      ///< as the calibration's
    std::string matchedTo = {}; ///< the other camera or picture that it makes this one look like; empty: none
    int lights = 0;             ///< that were joined; 0: one
    std::string shotAt = {};    ///< when its chart was, as in CameraFacts
    double iso = 0;
    RowId chart = 0; ///< the job's frame that it was made from; 0: none of them
    /// Made from what says white and nothing of colours (saysWhiteAlone()): nothing can be left out of it.
    [[nodiscard]] bool isWhiteAlone() const { return unseen == 0 && parts.colour == "balance"; }
    bool operator==(const CalibrationBrief &) const = default;
};

/// A calibration made from a frame's reading, one a frame and crossing of parts; or, without a frame, one
/// brought along: fitted to another look, joined of several lights, made with other parts, or of elsewhere.
struct JobCalibration
{
    RowId id = 0, frame = 0;
    CalibrationBrief brief;
    Lazy<Calibration> calibration = {};
    bool operator==(const JobCalibration &) const = default;
};

/// A chart that the job knows more of than the catalogue does: a layout of its own, or one set of reference
/// values of a chart (a batch, a date, an age). Several of one chart lie side by side; one of them is in use.
struct JobChart
{
    RowId id = 0;
    std::string label;
    bool inUse = true;
    ChartDefinition definition;
    bool operator==(const JobChart &) const = default;
};

/// A place on a product whose colour is measured. Places of one name, on whatever frames, are one thing.
struct JobProbe
{
    RowId id = 0, frame = 0;
    ProbePlace place;
    /// Laid there by the program, on a frame that looks alike, and not looked at yet.
    bool isProposed = false;
    bool operator==(const JobProbe &) const = default;
};

/// What the thing of that name is to come out as.
struct JobTarget
{
    RowId id = 0;
    ProbeTarget target;
    bool operator==(const JobTarget &) const = default;
};

/// A delivery as it is planned: a `wavechroma.delivery/1` without receipts.
struct JobDelivery
{
    RowId id = 0;
    std::string title;
    std::string plan; ///< the document
    bool operator==(const JobDelivery &) const = default;
};

struct JobTitle
{
    RowId id = 1;
    std::string text;
    Parts parts = {}; ///< that the job's answers are given by; "auto": each reading's recommended ones
    std::string tolerance = {}; ///< the tolerance sheet in force, as its document; empty: the ordinary one
    double intendedPpi = 0;     ///< what the pictures are to be scanned at; 0: no such aim
    bool operator==(const JobTitle &) const = default;
};

/// One row before and after; an absent side means that the row did not exist there.
template <class Row> struct RowChange
{
    std::optional<Row> before, after;
};

} // namespace wavechroma
