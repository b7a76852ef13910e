#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/formats/cube_lut.h"

#include <filesystem>

namespace wavechroma {

/// A .cube file, of whoever wrote it. Unusable for one of ours that is for camera RGB: no picture has that.
[[nodiscard]] Result<CubeLut> loadPictureCube(const std::filesystem::path &file);

/// A rendered picture through a table, as a general reader applies it to the picture's codes; see
/// formats/same_file.h for what is kept of the file. Unusable for what is no such picture, and where the file
/// would take the place of the picture itself.
struct ThroughTable
{
    std::filesystem::path image, file;
    bool replace = false; ///< an existing file
    std::string assume = "srgb";
};
/// Returns what the user should know: that the table makes codes of another space than the picture's profile
/// says.
[[nodiscard]] Result<std::vector<words::Phrase>> throughTable(const CubeLut &table, const ThroughTable &asked,
                                                              const Progress &progress = {});

/// The files named, and for folders named the files right in them, by name. A folder that cannot be read is
/// Unusable.
struct NamedFile
{
    std::filesystem::path path;
    bool isOfFolder = false; ///< one that is no picture is passed over then
};
[[nodiscard]] Result<std::vector<NamedFile>> filesNamed(const std::vector<std::filesystem::path> &paths);

} // namespace wavechroma
