#pragma once
#include "core/base/camera_facts.h"
#include "core/color/colors.h"

#include <array>
#include <string>
#include <vector>

namespace wavechroma {

/// CIEDE2000 over a set of patches. `p95` interpolates linearly between order statistics.
struct ErrorSummary {
    double mean = 0, median = 0, p95 = 0, max = 0;
    bool operator==(const ErrorSummary &) const = default;
};
/// All zero for no values.
[[nodiscard]] ErrorSummary summaryOf(std::vector<double> values);

/// The light a calibration holds for.
struct CalibrationLight {
    std::string name;     ///< "D50", "5 120 K", a spectrum's file name, or "unknown"
    Chromaticity xy;
    double cctKelvin = 0, duv = 0;
    int exifCode = 255;   ///< EXIF LightSource of the standard light close by, else 255
    bool estimated = false; ///< from the neutral through the raw file's own matrix, rather than told
    bool operator==(const CalibrationLight &) const = default;
};

struct SourceFrame {
    std::string image, sha256;
    bool operator==(const SourceFrame &) const = default;
};

/// A patch that took part in a fit: what the camera saw and what it should be.
struct FittedPatch {
    std::string id;
    CameraRgb rgb;
    Xyz reference; ///< D50
    bool operator==(const FittedPatch &) const = default;
};

/// What was taken out of the reading before the fit, see settle.h.
struct TakenOut {
    double flare = 0;                  ///< veil, share of a perfect diffuser
    std::array<double, 5> gain{};      ///< log gain over the chart: u, v, u², uv, v²
    std::vector<std::string> patches;  ///< spoilt ones
    bool operator==(const TakenOut &) const = default;
};

/// "Taken out of the reading: a veil of 4.9 %, light that varies by 24 %; left out: C4." Empty when nothing was.
[[nodiscard]] std::string wordsFor(const TakenOut &takenOut);

/// How one station's camera RGB becomes colour:
///   XYZ(D50) = matrix · (exposureScale · multipliers ∘ camera RGB).
/// Matrix rows are X, Y, Z; (1, 1, 1) maps to the D50 white.
struct Calibration {
    std::string name;
    std::string model; ///< "balance" or "matrix"
    CameraFacts camera;
    FileColor fileColor;
    std::string chart;
    Vector3 multipliers{1, 1, 1}; ///< green's is 1
    double exposureScale = 1;
    Matrix3 matrix;
    Matrix3 colorMatrix; ///< XYZ of a colour under the light → camera RGB, as DNG's ColorMatrix1
    CalibrationLight light;
    ErrorSummary fit, crossValidated; ///< of the patches used; each left out in turn
    std::vector<FittedPatch> patches; ///< those used, as they were read
    TakenOut takenOut;
    std::vector<SourceFrame> madeFrom;
    std::string madeWith; ///< program and version
    bool operator==(const Calibration &) const = default;
};

[[nodiscard]] BalancedRgb balancedFrom(const Calibration &calibration, const CameraRgb &rgb);
[[nodiscard]] Xyz xyzFromCamera(const Calibration &calibration, const CameraRgb &rgb);

} // namespace wavechroma
