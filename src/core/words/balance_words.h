#pragma once
#include "core/base/language.h"
#include "core/values/read_back.h"

namespace wavechroma::words {

/// "0.4 % red, within its noise"; "1.8 % blue: another light there"; "clipped: …".
[[nodiscard]] std::string neutral(const NeutralState &state, const Language &language = plain());
/// What the other face of a grey cube would do to the picture.
[[nodiscard]] std::string otherFace(const OtherFace &face, const Language &language = plain());
/// Why a preset is refused for a frame, or what to mind; empty when nothing speaks against it.
[[nodiscard]] std::string preset(const PresetVerdict &verdict, const Language &language = plain());

} // namespace wavechroma::words
