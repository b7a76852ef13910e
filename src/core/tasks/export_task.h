#pragma once
#include "core/base/result.h"
#include "core/fit/calibration.h"
#include "core/values/profile_settings.h"

#include <filesystem>
#include <optional>

namespace wavechroma {

struct ExportRequest
{
    std::optional<std::filesystem::path> dcp, icc, cube, pictureCube, clf, csv, cgats, sectors;
    ProfileSettings settings;
    /// A raw file that is to be a DNG with the profile and the calibration's white balance (or this neutral)
    /// in it, and the DNG's path. A DNG keeps all that it has; of another format samples, levels, filter and
    /// facts go along.
    std::optional<std::pair<std::filesystem::path, std::filesystem::path>> dng = {};
    std::optional<Vector3> neutral = {};
    /// Which of a calibration of several lights goes into ICC profile and .cube, which hold one: its name, or
    /// a part of it that no other has. Empty: there is one.
    std::string light = {};
    bool force = false; ///< a DNG of a frame of another camera or lens, too
};

struct ExportedFile
{
    std::filesystem::path path;
    std::string what; ///< "DNG camera profile"
    size_t bytes = 0;
    std::string remark = {}; ///< what a table's error is, where it has one
};

/// The files that it will write, as far as they are known before: a linear .cube has a table of its own
/// before it.
[[nodiscard]] std::vector<std::filesystem::path> filesOf(const ExportRequest &request);

/// Does a .cube of it come as two tables? Linear camera RGB goes through a 1D table first.
[[nodiscard]] bool hasTableBefore(const Calibration &calibration, const ProfileSettings &settings);

/// "north.cube" for "north-before.cube", the 1D table that linear input goes through first, and back.
[[nodiscard]] std::filesystem::path tableBefore(const std::filesystem::path &cube);
[[nodiscard]] std::filesystem::path cubeOfTableBefore(const std::filesystem::path &before);

/// The calibration's name, its own or a composed one that tells what else is asked; see formats/names.h.
[[nodiscard]] std::string nameForFiles(const Calibration &calibration, bool withSerial, bool withIso);
/// A name as a file name, see formats/names.h.
[[nodiscard]] std::string fileNameOf(const std::string &name);

/// Makes all files asked for in memory, reads profiles and tables back and compares what they do with the
/// calibration, then writes all or none.
[[nodiscard]] Result<std::vector<ExportedFile>> exportCalibration(const Calibration &calibration,
                                                                  const ExportRequest &request);

} // namespace wavechroma
