#pragma once
#include "core/fit/calibration.h"
#include "core/formats/camera_profile.h"
#include "core/formats/whole_file.h"
#include "core/raw/raw_frame.h"

/// What was made for other programs, read back from its bytes and compared with what it was made from. An
/// error is a fault of ours: such a file is not written.
namespace wavechroma {

/// A copy of a DNG with a profile in it: tag by tag, in either byte order. The profile's tags and the neutral
/// are those asked for, all tags that are not of colour are the original's, the original's bytes behind the
/// header are where they were, and the metadata library sees the same ColorMatrix1 and AsShotNeutral.
[[nodiscard]] Result<Done> checkCopy(const Bytes &copy, const Bytes &original, const CameraProfile &profile,
                                     const Vector3 &asShotNeutral, const std::string &name);
/// A DNG of a frame of another format, opened as any frame is: size, samples, filter and levels are the
/// frame's.
[[nodiscard]] Result<Done> checkSamples(const Bytes &dng, const RawFrame &frame, const std::string &name);
/// Tables as text, every number of them, to the digits that are written.
[[nodiscard]] Result<Done> checkCsv(const std::string &text, const Calibration &calibration,
                                    const std::string &name);
[[nodiscard]] Result<Done> checkSectors(const std::string &text, const Calibration &calibration,
                                        const std::string &name);
[[nodiscard]] Result<Done> checkCgats(const std::string &text, const Calibration &calibration,
                                      const std::string &name);

/// Do two profiles say the same, but for the rounding of their tags?
[[nodiscard]] bool saysTheSame(const CameraProfile &a, const CameraProfile &b);

} // namespace wavechroma
