#pragma once
#include "core/values/reading.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

/// Does a calibration still hold: made by proof/drift.h.
namespace wavechroma {

enum class DriftCause {
    Power,       ///< the level alone, stops
    Temperature, ///< along the Planckian locus, mired; positive is warmer
    Tint,        ///< across it, Duv; positive is greener
    OneSide,     ///< the evenness of the light changed, per cent from one side or corner of the chart to the
                 ///< opposite one
    StrayLight,  ///< a veil, per cent of a perfect diffuser; negative where there is less than before
    Spectrum,    ///< what no gain of the three channels explains: another kind of lamp, mean ΔE2000
    Chart        ///< patches faded or soiled while the greys kept, mean ΔE2000 of those patches
};
struct DriftCauseRow
{
    DriftCause cause;
    const char *id, *unit;
};
inline constexpr std::array<DriftCauseRow, 7> kDriftCauses{{
    {DriftCause::Power, "power", "stops"},
    {DriftCause::Temperature, "temperature", "mired"},
    {DriftCause::Tint, "tint", "Duv"},
    {DriftCause::OneSide, "one-side", "%"},
    {DriftCause::StrayLight, "stray-light", "%"},
    {DriftCause::Spectrum, "spectrum", "dE2000"},
    {DriftCause::Chart, "chart", "dE2000"},
}};

enum class DriftAdvice { None, Exposure, ShootAgain, Look, NewChart };
inline constexpr std::array<const char *, 5> kDriftAdvice{"none", "exposure", "shoot-again", "look",
                                                          "new-chart"};

/// A cause with its evidence.
struct DriftReason
{
    DriftCause cause = DriftCause::Power;
    double amount = 0;                ///< in the cause's unit
    double explains = 0;              ///< 0…1: the share of the squared change that it takes away
    std::vector<std::string> patches; ///< of `Chart`: which
    Side side = Side::None;           ///< of `OneSide`: the one that became darker, the picture upright
    bool operator==(const DriftReason &) const = default;
};

struct LightShift
{
    double mired = 0, duv = 0;
    bool operator==(const LightShift &) const = default;
};

/// One later reading of the chart.
struct DriftCheck
{
    std::string image, capturedAt;
    double mean = 0, max = 0; ///< ΔE2000 to the references, as prove() has it
    std::string worst;        ///< a patch's id
    double was = 0;           ///< the mean over the same patches when the calibration was made
    bool passes = false;
    double levelStops = 0;           ///< brighter (positive) or darker, its settings taken into account
    std::optional<LightShift> light; ///< nothing where the calibration does not tell what its white is
    std::vector<DriftReason> causes; ///< the one that explains most first; none: no change worth a word
    DriftAdvice advice = DriftAdvice::None;
    bool operator==(const DriftCheck &) const = default;
};

struct Drift
{
    std::string calibration;
    std::vector<DriftCheck> checks;
    bool operator==(const Drift &) const = default;
};

} // namespace wavechroma
