#pragma once
#include "core/base/camera_facts.h"
#include "core/raw/gain_map.h"
#include "core/raw/linear_picture.h"
#include "core/raw/mosaic.h"

#include <functional>
#include <memory>
#include <string>

namespace wavechroma {

/// A frame file, opened. Exactly one of mosaic and picture is filled. Copies share the samples.
struct RawFrame
{
    std::string path;
    CameraFacts camera;
    FileColor fileColor;
    int width = 0, height = 0; ///< visible area, before the orientation flag
    int orientation = 1;       ///< EXIF 1…8
    bool rendered = false;     ///< TIFF, PNG or JPEG rather than raw
    /// Space assumed for a rendered picture that does not say its own.
    std::string assumedSpace = {};
    std::shared_ptr<const Mosaic> mosaic;
    std::shared_ptr<const LinearPicture> picture;
    std::shared_ptr<const GainMap> flat;     ///< of a flat frame, where one is given
    std::shared_ptr<const GainMap> fileGain; ///< of the file itself (DNG opcodes), where it has one
    /// What sampling multiplies by; null for nothing. Clipping is counted before. A flat is measured without
    /// the file's gains, and so takes their place.
    [[nodiscard]] const GainMap *evening() const { return flat ? flat.get() : fileGain.get(); }
    std::shared_ptr<const void> memory; ///< keeps samples in place that the mosaic does not hold itself
    /// Was the file written into, or cut short, since it was opened? Samples may be the file's own bytes.
    std::function<bool()> hasChanged = {};
};

} // namespace wavechroma
