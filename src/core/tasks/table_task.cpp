#include "core/tasks/table_task.h"

#include "core/base/said.h"
#include "core/color/rgb_space.h"
#include "core/formats/same_file.h"
#include "core/raw/picture_codes.h"

#include <algorithm>
#include <cmath>
#include <system_error>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// Rows side by side; stopped, some are left as they are.
std::vector<uint16_t> codesThrough(const CubeLut &table, const PictureCodes &picture,
                                   const Progress &progress)
{
    const auto &from = picture.picture->codes;
    const size_t row = size_t(picture.width) * 3;
    std::vector<uint16_t> out(from.size());
    const double most = picture.maxCode;
    tbb::parallel_for(0, picture.height, [&](int y) {
        if (progress.stopped())
            return;
        for (size_t i = size_t(y) * row; i < size_t(y + 1) * row; i += 3) {
            const auto rgb = applied(table, {from[i] / most, from[i + 1] / most, from[i + 2] / most});
            for (size_t c = 0; c < 3; ++c)
                out[i + c] = uint16_t(std::lround(std::clamp(rgb[c], 0.0, 1.0) * most));
        }
    });
    return out;
}

/// Nearly the space of the picture's own primaries and curve?
bool isOfSpace(const FileColor &color, const RgbSpace &space)
{
    if (!color.xyzD50FromRendered) // a profile with tables
        return false;
    const auto wanted = xyzD50FromRgbMatrix(space);
    for (int i = 0; i < 9; ++i)
        if (std::abs((*color.xyzD50FromRendered)(i / 3, i % 3) - wanted(i / 3, i % 3)) > 0.01)
            return false;
    return true;
}

} // namespace

Result<CubeLut> loadPictureCube(const fs::path &file)
{
    const auto text = readText(file);
    if (!text)
        return text.error();
    auto cube = cubeFrom(*text, file.string());
    if (cube && cube->madeFor == TableInput::CameraRgb)
        return unusable("{file}: is for camera RGB, which no picture has. Export the calibration's table for "
                        "pictures (--picture-cube)",
                        {{"file", file.string()}});
    return cube;
}

Result<std::vector<words::Phrase>> throughTable(const CubeLut &table, const ThroughTable &asked,
                                                const Progress &progress)
{
    const auto name = asked.image.string();
    std::error_code code;
    if (fs::equivalent(asked.image, asked.file, code))
        return unusable("{file}: would be replaced while it is read. Give another folder",
                        {{"file", asked.file.string()}});
    const auto picture = pictureCodes(asked.image, asked.assume);
    if (!picture)
        return picture.error();
    std::vector<words::Phrase> remarks;
    if (!picture->assumedSpace.empty())
        remarks.push_back({words::said("{file}: has no profile and is read as {space}"),
                           {{"file", name}, {"space", picture->assumedSpace}}});
    if (const auto space = rgbSpaceFromId(table.outputSpace); space && !isOfSpace(picture->color, *space))
        remarks.push_back(
            {words::said(
                 "{file}: the table makes codes of {space}, but the picture's profile is another and is "
                 "kept. Export the table with the picture's own space (--space)"),
             {{"file", name}, {"space", std::string(space->title)}}});
    progress.at(0, "applying the table");
    const auto codes = codesThrough(table, *picture, progress);
    if (progress.stopped())
        return unusable("{file}: stopped", {{"file", name}});
    fs::create_directories(asked.file.parent_path(), code);
    const auto written = writeAgain(asked.image, *picture, codes, asked.file, asked.replace);
    return written ? Result<std::vector<words::Phrase>>(remarks) : written.error();
}

Result<std::vector<NamedFile>> filesNamed(const std::vector<fs::path> &paths)
{
    std::vector<NamedFile> out;
    for (const auto &path : paths) {
        std::error_code code;
        if (!fs::is_directory(path, code)) {
            out.push_back({path});
            continue;
        }
        std::vector<fs::path> children;
        for (auto at = fs::directory_iterator(path, code); !code && at != fs::directory_iterator();
             at.increment(code))
            if (at->is_regular_file() && !at->path().filename().string().starts_with('.'))
                children.push_back(at->path());
        if (code)
            return unusable("{file}: cannot be read: {why}",
                            {{"file", path.string()}, {"why", code.message()}});
        std::sort(children.begin(), children.end());
        for (const auto &child : children)
            out.push_back({child, true});
    }
    return out;
}

} // namespace wavechroma
