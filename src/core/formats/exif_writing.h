#pragma once
#include "core/base/camera_facts.h"
#include "core/formats/whole_file.h"

namespace wavechroma {

/// What goes into a finished picture's EXIF.
struct ExifFacts
{
    CameraFacts camera;
    double pixelsPerInch = 0;
    int width = 0, height = 0;
    bool isSrgb = false;
};
/// Returns the TIFF structure that JPEG and PNG hold, made by Exiv2 (without "Exif\0\0" before it);
/// orientation 1.
[[nodiscard]] Bytes exifOf(const ExifFacts &facts);
/// "2026-10-04T09:22:10" → "2026:10:04 09:22:10"; empty for anything else.
[[nodiscard]] std::string exifTime(const std::string &iso);

} // namespace wavechroma
