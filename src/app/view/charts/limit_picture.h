#pragma once
#include <QIcon>
#include <string>

namespace wavechroma::app {

/// Returns a small picture of what a limit is about, by its key in the tolerance sheet, in ink of the palette
/// alone; an empty one for a key that has none.
[[nodiscard]] QIcon limitPicture(const std::string &key, const QPalette &palette);

} // namespace wavechroma::app
