#pragma once
#include "core/color/colors.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A disc on a frame, in pixel coordinates (visible raw area, before orientation).
struct ProbePlace
{
    std::string name;
    double x = 0, y = 0, radius = 0;
    bool operator==(const ProbePlace &) const = default;
};

/// What the thing of that name is to come out as.
struct ProbeTarget
{
    std::string name;
    Lab lab;                              ///< D50
    std::optional<double> tolerance = {}; ///< ΔE2000; absent: the sheet's limit of one patch
    bool operator==(const ProbeTarget &) const = default;
};

struct Probe
{
    ProbePlace place;
    int count = 0;      ///< samples used
    double clipped = 0; ///< share of samples at saturation, 0…1
    /// Absent where nothing can be said; `why` is "outside", "clipped" or "unserved" then.
    std::optional<Lab> lab = {};
    std::string why = {};
    Lab sd;                              ///< scatter of single samples, in L*, a*, b*
    std::optional<double> foretold = {}; ///< ΔE2000, see ForetoldError
    std::optional<ProbeTarget> target = {};
    double de00 = 0, dL = 0, dC = 0, dH = 0; ///< result − target, CIE 1976; with a target and a colour
    std::optional<bool> within = {};         ///< the tolerance; with a target and a colour
    bool operator==(const Probe &) const = default;
};

/// All probes of one frame.
struct FrameProbes
{
    std::string image, calibration; ///< the calibration's name; empty: nothing serves the frame
    std::vector<Probe> probes;
    [[nodiscard]] bool allRead() const;
    bool operator==(const FrameProbes &) const = default;
};

} // namespace wavechroma
