#pragma once
#include "core/base/camera_facts.h"
#include "core/chart/chart_geometry.h"
#include "core/values/check_id.h"

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// What the sensor saw of one patch.
struct PatchReading
{
    std::string id;
    CameraRgb mean;     ///< robust: hot pixels, dust and window outliers do not enter it
    CameraRgb sd;       ///< of single pixels, robust
    int count = 0;      ///< pixels used, all channels
    double clipped = 0; ///< share of the window's pixels at saturation, 0…1; one hot pixel does not count
    double low = 0;     ///< share of the window's pixels at or below black, 0…1
    bool operator==(const PatchReading &) const = default;
};

enum class Severity { Ok, Warn, Stop };

/// A side of the picture as people see it upright.
enum class Side { None, Left, Right, Top, Bottom, TopLeft, TopRight, BottomLeft, BottomRight };

/// The answer of one capture check. What it says in words is made of this by core/words.
struct Check
{
    CheckId id = CheckId::Found;
    Severity severity = Severity::Ok;
    double value = 0, limit = 0;
    std::string unit;
    std::vector<std::string> patches; ///< those it is about
    std::string finding = {};         ///< which of the check's few outcomes it is, see check_id.h
    std::optional<double> stops = {}; ///< to close down or open up by
    Side side = Side::None;           ///< the darker one
    std::string chart = {};           ///< name of the chart asked for
    std::string seenInstead = {};     ///< name of the one that is there in its place
    int count = 0;                    ///< of patches found
    bool operator==(const Check &) const = default;
};

enum class PlacedBy { Search, Hand };

/// One chart frame, read. When `found` is false, corners mean nothing and `patches` is empty.
struct Reading
{
    std::string image; ///< the path as given
    CameraFacts camera;
    FileColor fileColor;
    int width = 0, height = 0; ///< visible raw area
    int orientation = 1;       ///< EXIF orientation of the file; coordinates are before it
    std::string chart;         ///< catalogue id or the definition's own
    bool found = false;
    Corners corners{};
    double distortion = 0; ///< of the lens, see LensShape; 0 where the patches do not tell
    double confidence = 0; ///< 0…1
    PlacedBy placedBy = PlacedBy::Search;
    double windowShare = 0.5; ///< of a patch's width and height
    std::vector<std::string>
        leftOut;       ///< patches switched off by hand: still read, but no check, balance or fit uses them
    std::string sheet; ///< name of the tolerance sheet that its checks were held to
    std::vector<std::string> flats; ///< paths of the flat frames whose falloff was taken out; empty: none
    std::vector<PatchReading> patches;
    std::vector<Check> checks;
    std::optional<ChartDefinition>
        definition; ///< the chart itself, when it was a file rather than of the catalogue

    [[nodiscard]] const PatchReading *patch(const std::string &id) const
    {
        for (const auto &p : patches)
            if (p.id == id)
                return &p;
        return nullptr;
    }
    [[nodiscard]] Severity worst() const
    {
        Severity severity = Severity::Ok;
        for (const auto &c : checks)
            severity = std::max(severity, c.severity);
        return severity;
    }
    [[nodiscard]] bool isLeftOut(const std::string &id) const
    {
        return std::find(leftOut.begin(), leftOut.end(), id) != leftOut.end();
    }
    [[nodiscard]] LensShape lens() const { return LensShape::of(distortion, width, height); }
    bool operator==(const Reading &) const = default;
};

} // namespace wavechroma
