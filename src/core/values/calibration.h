#pragma once
#include "core/base/camera_facts.h"
#include "core/color/illuminant.h"
#include "core/values/color_model.h"
#include "core/values/fitted_patch.h"
#include "core/values/parts.h"

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

/// What was taken out of the reading before the fit, see settle.h.
struct TakenOut
{
    double flare = 0;                 ///< veil, share of a perfect diffuser
    std::array<double, 5> gain{};     ///< log gain over the chart: u, v, u², uv, v²
    std::vector<std::string> patches; ///< spoilt ones
    bool operator==(const TakenOut &) const = default;
};

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

/// A thing of known colour that counts as a patch: a brand's swatch, a yarn that was measured.
struct KnownThing
{
    std::string name, image; ///< the patch's id; the frame it was seen on
    CameraRgb rgb, sd;       ///< at the level of the chart; sd of single samples
    int count = 0;           ///< samples
    Lab lab;                 ///< what it is, D50
    double weight = 1;       ///< by its scatter, above 0
    bool operator==(const KnownThing &) const = default;
};

/// What one did for a calibration.
struct ThingJudged
{
    std::string name;
    double unseen = 0; ///< its ΔE2000 by a fit without it
    /// How much less the others' mean unseen ΔE2000 is because of it; absent where there are no others.
    std::optional<double> bought = {};
    bool operator==(const ThingJudged &) const = default;
};

/// All that a calibration was asked for, kept in it so that it can be made again from its readings.
struct FitAsk
{
    Parts parts; ///< "auto" where the evidence is to choose
    ColourLean lean;
    std::optional<NamedLight> light = {};      ///< told; absent: estimated from the neutral
    std::optional<Appearance> appearance = {}; ///< absent: under the light where spectra and light are known
    std::string weights = {};                  ///< see weightsFrom(); empty: even
    std::vector<std::string> without = {};     ///< patches left out of the fit
    std::string reference = {};                ///< file of reference values; empty: the chart's own
    std::vector<SourceFrame> with = {};        ///< other readings of the chart merged into this one
    std::vector<KnownThing> things = {};       ///< that count as patches
    std::string name = {};                     ///< empty: composed
    std::string setup = {};                    ///< for the composed name
    bool operator==(const FitAsk &) const = default;
};

/// What a warning of a calibration is about, and where.
struct FitWarning
{
    std::string code; ///< "reference-holds-highlights", "reference-spreads-shadows"
    std::vector<std::string> patches;
    double value = 0; ///< how many times as far the shadows are spread
    bool operator==(const FitWarning &) const = default;
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
    Parts parts; ///< that it is made of; never "auto"
    FitAsk asked;
    CameraFacts camera;
    FileColor fileColor;
    std::string chart;
    Matrix3 colorMatrix; ///< XYZ of a colour under the light → camera RGB, as DNG's ColorMatrix1
    CalibrationLight light;
    Appearance appearance = Appearance::UnderD50;
    ModelFigures figures;
    ErrorSummary fit, crossValidated; ///< of the patches used; each left out in turn
    std::vector<FittedPatch> patches; ///< those used, as they were read
    std::vector<ThingJudged> things;  ///< of `asked.things`, in their order
    TakenOut takenOut;
    std::vector<LightModel>
        lights; ///< two or three when made for several lights, the first as above; else none
    std::vector<FitWarning> warnings;
    std::vector<std::string> flats; ///< that its readings were evened by; none: not evened
    std::vector<SourceFrame> madeFrom;
    std::string madeWith; ///< program and version
    bool operator==(const Calibration &) const = default;
};

} // namespace wavechroma
