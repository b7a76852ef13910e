#pragma once
#include "core/fit/calibration.h"
#include "core/formats/json_fields.h"
#include "core/formats/whole_file.h"

namespace wavechroma {

enum class IccEncoding { Linear, Srgb };
/// "linear" or "srgb".
[[nodiscard]] Result<IccEncoding> iccEncodingFrom(const std::string &name);

/// An ICC v4 input profile (ICC.1:2010), matrix and curves, made by lcms2: camera RGB × multipliers × exposure scale,
/// clipped to 0…1, in the encoding said → D50 PCS, relative colorimetric. The description says both. Matrix entries are
/// rounded to 1/65536 by the format.
[[nodiscard]] Result<Bytes> iccProfileOf(const Calibration &calibration, IccEncoding encoding, const std::string &copyright);

/// What is in any ICC profile: version, class, spaces, texts, white, colorants, curves.
[[nodiscard]] Result<json::Json> iccContent(const Bytes &file, const std::string &name);

} // namespace wavechroma
