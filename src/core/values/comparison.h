#pragma once
#include "core/base/mean_interval.h"
#include "core/color/difference.h"
#include "core/values/proof.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// One of the two that are compared.
struct ComparedSide
{
    std::string file;
    std::string
        kind; ///< "calibration", "dcp", "icc", "cube", or "plain": white balance and the file's own matrix
    std::string name;
    bool operator==(const ComparedSide &) const = default;
};

struct ComparedPatch
{
    std::string id;
    Lab a, b;
    double between = 0;                   ///< the measured difference of the two, A's colour as the reference
    std::optional<double> errorA, errorB; ///< where its reference is known
    bool operator==(const ComparedPatch &) const = default;
};

/// Errors of one side over the patches whose references are known; the neutrals count as one, by their mean.
struct SideErrors
{
    double mean = 0, p95 = 0, max = 0;
    Interval interval;     ///< of the mean
    bool isUnseen = false; ///< on patches that its fit left out in turn
    bool operator==(const SideErrors &) const = default;
};
struct ErrorsCompared
{
    SideErrors a, b;
    double difference = 0; ///< mean error of B less A's
    Interval interval;     ///< of that difference, patch by patch
    /// The side of the smaller errors, where the interval does not hold 0.
    enum class Better { Neither, A, B } better = Better::Neither;
    bool isAsSeen =
        false; ///< the difference is of patches that a fit may have seen, whatever `a` and `b` are of
    bool operator==(const ErrorsCompared &) const = default;
};

/// What B does to colours of a kind over what A does: means, CIE 1976.
struct MeanShift
{
    int count = 0;
    double dL = 0, dC = 0, dh = 0; ///< dh in degrees of hab
    bool operator==(const MeanShift &) const = default;
};
/// A grey of the tone scale: A's lightness, and B's lightness and cast over A's.
struct GreyShift
{
    double l = 0, dL = 0, da = 0, db = 0;
    bool operator==(const GreyShift &) const = default;
};

/// Patches that somebody asked about together: a brand's colours, the leathers of a season.
struct GroupCompared
{
    std::vector<std::string> patches; ///< ids, in the chart's order
    MeanShift shift;
    std::optional<ErrorsCompared> errors; ///< where all their references are known
    bool operator==(const GroupCompared &) const = default;
};

/// What a sheet asks of errors in the measure.
struct ComparedLimits
{
    std::string sheet; ///< title
    ErrorLimits limits;
    bool operator==(const ComparedLimits &) const = default;
};

/// Colours outside an output space, by either of the two.
struct OutsideSpace
{
    std::string space;                ///< its id
    std::vector<std::string> patches; ///< ids
    double latticeShare = 0;
    bool operator==(const OutsideSpace &) const = default;
};

/// Do two calibrations do the same, and is one better? Differences are B less A.
struct Comparison
{
    ComparedSide a, b;
    DifferenceMeasure measure = DifferenceMeasure::De2000;
    std::vector<ComparedPatch> patches; ///< in the chart's order; none without a reading
    std::optional<ErrorsCompared> errors;
    /// Over a lattice of surface colours; `mostAt`: A's colour where the two differ most.
    int latticeCount = 0;
    double latticeMean = 0, latticeP95 = 0, latticeMax = 0;
    Lab mostAt;
    std::array<MeanShift, 8> sectors; ///< of A's hue, 45° each from 0
    MeanShift skin;
    std::optional<GroupCompared> group;   ///< where one was asked about
    std::optional<ComparedLimits> limits; ///< where a sheet was given
    std::vector<GreyShift> greys;         ///< dark to light
    std::vector<OutsideSpace> outside;
    /// Does a side hold `limits`, which have to be there?
    [[nodiscard]] bool holds(const SideErrors &side) const
    {
        return HeldErrors{measure, limits->limits, side.mean, side.max, {}}.hold();
    }
    bool operator==(const Comparison &) const = default;
};

} // namespace wavechroma
