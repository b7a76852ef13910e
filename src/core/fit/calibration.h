#pragma once
#include "core/base/camera_facts.h"
#include "core/fit/color_model.h"

#include "core/color/spectrum.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// CIEDE2000 over a set of patches. `p95` interpolates linearly between order statistics.
struct ErrorSummary
{
    double mean = 0, median = 0, p95 = 0, max = 0;
    bool operator==(const ErrorSummary &) const = default;
};
/// All zero for no values.
[[nodiscard]] ErrorSummary summaryOf(std::vector<double> values);

/// The light a calibration holds for.
struct CalibrationLight
{
    std::string name; ///< "D50", "5 120 K", a spectrum's file name, or "unknown"
    Chromaticity xy;
    double cctKelvin = 0, duv = 0;
    int exifCode = 255;                    ///< EXIF LightSource of the standard light close by, else 255
    std::optional<Spectrum> spectrum = {}; ///< where told; relative
    bool estimated = false; ///< from the neutral through the raw file's own matrix, rather than told
    bool operator==(const CalibrationLight &) const = default;
};

struct SourceFrame
{
    std::string image, sha256;
    bool operator==(const SourceFrame &) const = default;
};

/// A patch that took part in a fit: what the camera saw and what it should be.
struct FittedPatch
{
    std::string id;
    CameraRgb rgb;
    Xyz reference;     ///< D50
    double weight = 1; ///< in the fit; above 0
    CameraRgb sd = {}; ///< of the mean itself: what the reading's noise leaves of doubt in `rgb`
    bool operator==(const FittedPatch &) const = default;
};

/// What was taken out of the reading before the fit, see settle.h.
struct TakenOut
{
    double flare = 0;                 ///< veil, share of a perfect diffuser
    std::array<double, 5> gain{};     ///< log gain over the chart: u, v, u², uv, v²
    std::vector<std::string> patches; ///< spoilt ones
    bool operator==(const TakenOut &) const = default;
};

/// "Taken out of the reading: a veil of 4.9 %, light that varies by 24 %; left out: C4." Empty when nothing
/// was.
[[nodiscard]] std::string wordsFor(const TakenOut &takenOut);

/// Figures of a model beside its errors, see model_figures.h.
struct ModelFigures
{
    double mostStretch = 1, leastStretch = 1; ///< of colour differences, against the fitted matrix
    double sensitivity = 0; ///< mean ΔE2000 by which the reading's noise moves the patches through the fit
    double noiseGain = 0, condition = 0; ///< of the matrix
    /// 100 − 5.5 mean ΔE*ab over the chromatic patches: the form of ISO 17321-1's sensitivity metamerism
    /// index, on this chart. Where its spectra and the light's are known.
    std::optional<double> metamerismIndex;
    bool operator==(const ModelFigures &) const = default;
};

/// What the references mean where a chart has spectra and the light's spectrum is known.
enum class Appearance {
    UnderD50,  ///< as the patches would look under D50
    UnderLight ///< as they looked under this light, its white taken to D50 by Bradford
};

/// A calibration of several lights holds one of these for each.
struct LightModel : ColorModel
{
    CalibrationLight light;
    Matrix3 colorMatrix;
    Vector3 neutral{1, 1, 1}; ///< camera RGB of the reading's own neutral, green 1
    ErrorSummary fit, crossValidated;
    bool operator==(const LightModel &) const = default;
};

/// How one station's camera RGB becomes colour, and how well.
struct Calibration : ColorModel
{
    std::string name;
    std::string model; ///< one of knownModels()
    CameraFacts camera;
    FileColor fileColor;
    std::string chart;
    Matrix3 colorMatrix; ///< XYZ of a colour under the light → camera RGB, as DNG's ColorMatrix1
    CalibrationLight light;
    Appearance appearance = Appearance::UnderD50;
    ModelFigures figures;
    ErrorSummary fit, crossValidated; ///< of the patches used; each left out in turn
    std::vector<FittedPatch> patches; ///< those used, as they were read
    TakenOut takenOut;
    std::vector<LightModel>
        lights; ///< two or three when made for several lights, the first as above; else none
    std::vector<std::string> warnings; ///< sentences for the photographer
    std::vector<SourceFrame> madeFrom;
    std::string madeWith; ///< program and version
    bool operator==(const Calibration &) const = default;
};

} // namespace wavechroma
