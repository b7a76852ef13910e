#pragma once
#include "core/fit/calibration.h"
#include "core/formats/json_fields.h"

/// The parts of a calibration that are colour: what a light's model and a whole calibration share.
namespace wavechroma::json {

void addModel(Json &to, const ColorModel &model);
void readModel(ColorModel &model, const Fields &from);
[[nodiscard]] Json jsonOf(const ColourLean &lean);
[[nodiscard]] ColourLean leanFrom(const Fields &fields);
[[nodiscard]] Json jsonOf(const CalibrationLight &light);
[[nodiscard]] Json jsonOf(const Spectrum &spectrum);
[[nodiscard]] Spectrum spectrumFrom(const Fields &fields);
[[nodiscard]] CalibrationLight lightFrom(const Fields &fields);

} // namespace wavechroma::json
