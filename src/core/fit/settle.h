#pragma once
#include "core/fit/capture_model.h"

namespace wavechroma {

/// What the light and the lens added to a reading, taken out as far as the reading supports it.
struct Settled
{
    std::vector<FittedPatch>
        patches; ///< in the order given: without the veil, evened; as read where nothing is to be said
    std::vector<std::string>
        spoilt;       ///< patches that fit in no way (fingers, glare): better left out of a fit
    double flare = 0; ///< veil taken off, share of a perfect diffuser
    std::array<double, 5>
        gain{}; ///< log gain over the chart: u, v, u², uv, v² (u, v −1…1), its mean over the patches taken
                ///< off: nothing tells which spot of an uneven light is the true one
    double scatter = 0; ///< robust standard deviation of the relative residuals that remain

    [[nodiscard]] bool isChanged() const
    {
        return flare != 0 || gain != std::array<double, 5>{} || !spoilt.empty();
    }
};

struct SettleOptions
{
    bool evenLight = true; ///< false where a flat has evened the reading already
    bool flare = true;
    bool spoilt = true;
};

/// Seen camera RGB = exp(gain(u, v)) · B · XYZ + flare · B · W, fitted by Gauss–Newton with Tukey's biweight
/// like fitCaptureModel(), with weak priors on gain (0.25) and flare (0.05). The light's field and the veil
/// are each kept only when Schwarz's criterion (Schwarz 1978, two independent numbers a patch) prefers the
/// model with them. A patch is spoilt when it is off by more than five robust deviations and by more than
/// three tenths. Fewer than 16 patches are given back as they are.
[[nodiscard]] Settled settle(const std::vector<PlacedPatch> &patches, const SettleOptions &options = {});

} // namespace wavechroma
