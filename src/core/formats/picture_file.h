#pragma once
#include "core/base/camera_facts.h"
#include "core/color/rgb_space.h"
#include "core/formats/whole_file.h"
#include "core/values/picture_settings.h"

#include <memory>

namespace wavechroma {

[[nodiscard]] const char *extensionOf(PictureFormat format); ///< ".tif" …

/// A finished picture's file, but for its pixels.
struct PictureFacts
{
    PictureFormat format = PictureFormat::Tiff16;
    int width = 0, height = 0;
    RgbSpace space;
    CameraFacts camera;       ///< go along as EXIF; orientation is 1
    double pixelsPerInch = 0; ///< 0: not said
    bool deflate = false;     ///< TIFF: packed without loss
    int quality = 95;         ///< JPEG, 1…100; colours in full resolution
};

/// A file whose rows come one after the other: TIFF 6.0, PNG (ISO 15948) or JPEG (T.81), the space's ICC
/// profile embedded, EXIF 2.31. It grows under a temporary name and is there whole or not at all.
class PictureFile
{
public:
    virtual ~PictureFile() = default;
    /// Unusable when it cannot be begun. `replace`: an existing file is taken the place of; else it is
    /// refused.
    [[nodiscard]] static Result<std::unique_ptr<PictureFile>> begin(const std::filesystem::path &file,
                                                                    const PictureFacts &facts, bool replace);
    /// The next rows: width × 3 codes of 16 bits each, which JPEG rounds to 8.
    [[nodiscard]] virtual Result<Done> add(const uint16_t *codes, int rows) = 0;
    /// Completes the file after all rows. Without it nothing is left behind.
    [[nodiscard]] virtual Result<Done> finish() = 0;
};

/// The ICC profile (version 4, display class, matrix and parametric curves) of an output space: the same
/// bytes each time it is made.
[[nodiscard]] Result<Bytes> iccProfileOf(const RgbSpace &space);

} // namespace wavechroma
