#pragma once
#include "core/fit/color_model.h"

#include <optional>
#include <string>

namespace wavechroma {

/// Three characters of one result, each a mapping of CompressedLab laid over the exact colours. Neutrals and
/// L* are kept, nothing folds, and each can be taken back by choosing `exact`.
///
/// `calm-reds`, for skin: around hab 30° (width 35°, a raised cosine) chroma falls by up to 12 % and the hue
/// turns towards 55° by up to a tenth of the way. The share follows a smooth step from C' 4 to 12, so that
/// greys have none of it. `lively`, for show: chroma grows by 12 % where it is middling, C' 8…25, and by
/// nothing at C' 0 and from 45 on, so that strong colours are not driven out of the gamut.
[[nodiscard]] CompressedLab inCharacter(Character character, const CompressedLab &color);

/// "exact", "calm-reds", "lively".
[[nodiscard]] std::string nameOf(Character character);
[[nodiscard]] std::optional<Character> characterNamed(const std::string &name);

} // namespace wavechroma
