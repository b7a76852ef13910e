#pragma once
#include "core/base/language.h"
#include "core/values/flat_verdict.h"
#include "core/values/light_change.h"
#include "core/values/rendered_cost.h"
#include "core/values/scale.h"

/// What there is to say of frames and of what lies between them.
namespace wavechroma::words {

/// "0.3 stops darker, 4 % warmer"; empty when it is not worth a word.
[[nodiscard]] std::string lightChange(const LightChange &change, const Language &language = plain());
/// Which of a bracket's frames to use, and why, in one sentence.
[[nodiscard]] std::string bracket(const BracketChoice &choice, const Language &language = plain());
/// "601 ppi, 23.66 pixels a mm; 0.2 % over the 600 intended".
[[nodiscard]] std::string scale(const ScaleVerdict &verdict, const Language &language = plain());
[[nodiscard]] std::string flat(const FlatVerdict &verdict, const Language &language = plain());
[[nodiscard]] std::string renderedCost(const RenderedCost &cost, const Language &language = plain());

} // namespace wavechroma::words
