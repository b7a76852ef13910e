#pragma once
#include "core/fit/calibration.h"
#include "core/formats/agreement.h"
#include "core/formats/cube_lut.h"
#include "core/formats/json_fields.h"
#include "core/formats/whole_file.h"

namespace wavechroma {

struct IccOptions
{
    CameraCoding coding = CameraCoding::Linear;                      ///< Linear or Srgb
    int version = 4;                                                 ///< 2 or 4
    enum class Kind { ByModel, Matrix, Table } kind = Kind::ByModel; ///< a matrix holds linear models only
    std::string copyright = {};
};

/// An ICC input profile (ICC.1:2010, or ICC.1:2001-04 for version 2), made by lcms2: camera RGB × multipliers
/// × exposure scale, clipped to 0…1, in the coding said → D50 PCS, relative colorimetric; of a calibration of
/// rendered pictures their own codes as they are, with multipliers and scale inside. The description says it.
/// Linear models become matrix and curves, whose entries the format rounds to 1/65536; all others A2B0, a
/// table of 16 bits behind curves that space it evenly in lightness, of 33 to 61 points a side as its error
/// asks for. Unusable where a matrix is asked for and the model is more, and for pictures whose codes are not
/// known.
[[nodiscard]] Result<Bytes> iccProfileOf(const Calibration &calibration, const IccOptions &options = {});

/// ΔE2000 between a profile, applied by lcms2, and the calibration it was made from: over the calibration's
/// patches and a lattice of surface colours, those that the profile's 0…1 input can hold.
[[nodiscard]] Result<Agreement> iccAgreement(const Bytes &file, const Calibration &calibration,
                                             CameraCoding coding);

/// What is in any ICC profile: version, class, spaces, texts, white, colorants, curves.
[[nodiscard]] Result<json::Json> iccContent(const Bytes &file, const std::string &name);

} // namespace wavechroma
