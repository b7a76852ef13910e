#pragma once
#include "core/raw/decoders.h"
#include "core/raw/own_dng.h"

#include <functional>

namespace wavechroma::raw {

using SamplesOrFault = Result<std::shared_ptr<const OwnSamples>>;

[[nodiscard]] bool hasDngVersion(std::span<const uint8_t> file);

/// Fills size, orientation, samples with their levels, gains and colour of a DNG frame from its tags.
/// `byLibrary` gives samples that only the raw library unpacks. Unusable as dngLayoutOf() and gainOf() say,
/// and for samples that neither unpacks or that are cut short.
[[nodiscard]] Result<Done> fillFromDng(RawFrame &frame, const std::shared_ptr<const MappedFile> &file,
                                       const std::function<SamplesOrFault()> &byLibrary);

} // namespace wavechroma::raw
