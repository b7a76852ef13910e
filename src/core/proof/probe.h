#pragma once
#include "core/color/colors.h"
#include "core/fit/two_lights.h"
#include "core/proof/foretold.h"
#include "core/values/probe.h"

#include <optional>
#include <string>
#include <vector>

/// Colours measured at named places of a frame.
namespace wavechroma {

/// Samples of a place as a calibration makes colour of them. `models` times `level`; `probe` holds place,
/// count and clipped share. `mean` and `sd` are camera RGB. `ordinary`: the tolerance where the target has
/// none of its own.
void colourOf(Probe &probe, const CameraRgb &mean, const CameraRgb &sd, const ModelBlend &models,
              double level);
void compareWith(Probe &probe, const ProbeTarget &target, double ordinary);

/// The target of that name, in any case of letters; null: none.
[[nodiscard]] const ProbeTarget *targetNamed(const std::vector<ProbeTarget> &targets,
                                             const std::string &name);

} // namespace wavechroma
