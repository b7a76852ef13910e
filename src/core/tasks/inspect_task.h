#pragma once
#include "core/base/result.h"

#include "core/formats/inspect.h" // inspectFile(): any file's content as JSON text
#include <filesystem>

namespace wavechroma {

/// A document as a file: whole, or not at all.
[[nodiscard]] Result<Done> saveDocument(const std::filesystem::path &file, const std::string &document);

} // namespace wavechroma
