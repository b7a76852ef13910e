#pragma once
#include "core/fit/calibration.h"
#include "core/chart/reading.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

using RowId = int64_t;

enum class FramePart { Chart, Flat, Grey, Product, Check };
[[nodiscard]] const char *nameOf(FramePart part); ///< "chart" …
[[nodiscard]] std::optional<FramePart> partFrom(const std::string &name);

/// One lighting setup of the day.
struct JobSetup {
    RowId id = 0;
    std::string title, notes;
    bool operator==(const JobSetup &) const = default;
};

/// A frame file that belongs to the job.
struct JobFrame {
    RowId id = 0, setup = 0;
    std::string path;   ///< relative to the job's folder where the file lies in it, else absolute
    std::string sha256; ///< of the file when it was taken in
    FramePart part = FramePart::Product;
    CameraFacts camera;
    int width = 0, height = 0, orientation = 1;
    bool setAside = false; ///< spoilt, or taken out by hand: stays on the sheet, struck through
    bool operator==(const JobFrame &) const = default;
};

/// What was read of a chart frame; one a frame.
struct JobReading {
    RowId id = 0, frame = 0;
    Reading reading;
    bool operator==(const JobReading &) const = default;
};

/// A calibration made from a frame's reading; one a frame and model.
struct JobCalibration {
    RowId id = 0, frame = 0;
    Calibration calibration;
    bool operator==(const JobCalibration &) const = default;
};

struct JobTitle {
    RowId id = 1;
    std::string text;
    std::string chosenModel = "matrix"; ///< the model the job's answers are given by
    bool operator==(const JobTitle &) const = default;
};

struct JobState {
    JobTitle title;
    std::vector<JobSetup> setups;
    std::vector<JobFrame> frames;
    std::vector<JobReading> readings;
    std::vector<JobCalibration> calibrations;

    [[nodiscard]] const JobFrame *frame(RowId id) const;
    [[nodiscard]] const JobReading *readingOf(RowId frame) const;
    [[nodiscard]] const JobCalibration *calibrationOf(RowId frame, const std::string &model) const;
    bool operator==(const JobState &) const = default;
};

/// One row before and after; an absent side means that the row did not exist there.
template <class Row> struct RowChange {
    std::optional<Row> before, after;
};

/// Everything that one action of the user changes. Applied in one transaction; its reverse undoes it.
struct JobChange {
    std::vector<RowChange<JobTitle>> titles;
    std::vector<RowChange<JobSetup>> setups;
    std::vector<RowChange<JobFrame>> frames;
    std::vector<RowChange<JobReading>> readings;
    std::vector<RowChange<JobCalibration>> calibrations;
    [[nodiscard]] bool isEmpty() const;
};
[[nodiscard]] JobChange reversed(const JobChange &change);
/// Two changes made one: `newer` follows `older`. Rows that both touch keep the older `before`.
[[nodiscard]] JobChange merged(JobChange older, const JobChange &newer);
/// In memory. Rows keep their order of id.
void apply(JobState &state, const JobChange &change);
/// One more than the largest id of any row.
[[nodiscard]] RowId nextId(const JobState &state);

} // namespace wavechroma
