#pragma once
#include "core/tasks/job_task.h"

/// The two halves of taking a frame in, for this folder: what is seen of it alone, and what is made of that.
namespace wavechroma {

struct FirstLook
{
    TakenFrame taken;                    ///< its part guessed; without setup and pass
    std::optional<Reading> reading = {}; ///< where a chart was found
    std::optional<Reading> field = {};   ///< of an even field: it may be all that says what white is
};
struct HashedFrame
{
    RawFrame frame;
    std::string sha256; ///< of the whole file, hexadecimal
};
/// Opens and hashes a file at the same time: a reader decodes it meanwhile. What is wrong with the frame
/// comes before what is wrong with its hash.
[[nodiscard]] Result<HashedFrame> openHashed(const std::filesystem::path &file, const Progress &progress);
/// Looks for a chart in the frame with `flats` taken out (kept paths).
[[nodiscard]] Result<FirstLook> firstLook(const Surroundings &job, const std::filesystem::path &file,
                                          const HashedFrame &opened, const std::vector<std::string> &flats,
                                          const Progress &progress);
/// A chart frame's pass, and that of an even field that is as white as a lamp can be; other frames stay as
/// they are. `setup`: its title.
[[nodiscard]] TakenFrame fitted(FirstLook look, const std::string &setup, const Progress &progress);
[[nodiscard]] std::string setupTitle(const JobState &state, RowId setup);

} // namespace wavechroma
