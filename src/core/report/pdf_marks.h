#pragma once
#include "core/base/result.h"
#include "core/formats/whole_file.h"

#include <string>
#include <vector>

namespace wavechroma {

/// Says of a tagged PDF that it is tagged (ISO 32000-1, 14.7 and 14.8: MarkInfo), in which language, and what
/// its figures show, in the order of reading: cairo writes the tags and none of these. A figure beyond the
/// last of `figures` stays without a text. The same PDF gives the same bytes. Internal on a fault of the
/// library.
[[nodiscard]] Result<Bytes> markedAsTagged(const Bytes &pdf, const std::vector<std::string> &figures);

} // namespace wavechroma
