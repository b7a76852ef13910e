#pragma once
#include "core/fit/calibration.h"

namespace wavechroma {

/// What else is needed to tell a calibration from its neighbours.
struct TellApart
{
    bool serial = false, iso = false;
};
/// "Tarn 2, 60 mm f/2.8, North table, 5 450 K, 2026-10-14, roots, greys, reds -1": camera, lens (without a
/// maker's name that repeats), setup, light, date, the parts (tone where it was fitted), the lean where there
/// is one, and the reading it was matched to; what is unknown is left out. Never empty.
[[nodiscard]] std::string composedName(const Calibration &calibration, const std::string &setup,
                                       const TellApart &also = {});

/// Returns the text in ASCII, for places that hold nothing else: letters without their marks, "ä" as "ae",
/// dashes and quotes in their plain forms, anything else as "?".
[[nodiscard]] std::string asciiOf(const std::string &text);

/// Returns the text as a file name: letters, digits, points, dashes and underscores; at most 120 bytes.
/// Never empty.
[[nodiscard]] std::string fileNameOf(const std::string &name);

/// "colour roots, tone as-shot from frames/HR_0414.dng (SHA-256 3fa0…), 24 patches, by Wavechroma 0.1.0":
/// where a calibration comes from, in one line.
[[nodiscard]] std::string provenanceOf(const Calibration &calibration);

} // namespace wavechroma
