#pragma once
#include "core/base/result.h"
#include "core/proof/probe.h"
#include "core/values/table_reading.h"

#include <utility>

namespace wavechroma {

/// The contract's `wavechroma.probes/1`; several are an array.
[[nodiscard]] std::string documentOf(const FrameProbes &probes);
[[nodiscard]] std::string documentOf(const std::vector<FrameProbes> &frames);

/// Frames with their places and targets, as documentOf() writes them; what was measured then is not read.
[[nodiscard]] Result<std::vector<FrameProbes>> probesFrom(const std::string &text, const std::string &name);

/// Targets from a `wavechroma.targets/1`, from CSV (a header with `name` and L, a, b; X, Y, Z of 0…100;
/// wavelengths; or `srgb` as #rrggbb; `tolerance` if any), or from CGATS.17 or CxF3. Unusable, naming line or
/// field, for what is no colour of a surface, a tolerance that is not above 0, and a name that is there
/// twice.
/// `how`: what a table was taken for.
[[nodiscard]] Result<std::vector<ProbeTarget>> targetsFrom(const std::string &text, const std::string &name,
                                                           TableReading *how = nullptr);
[[nodiscard]] std::string documentOf(const std::vector<ProbeTarget> &targets);
/// "#c08040": a colour in sRGB; nothing when it is none.
[[nodiscard]] std::optional<Lab> labFromSrgbHex(const std::string &text);
/// "#c08040", or "52.1 -3 14.5" (L*, a*, b*, parted by spaces or semicolons). Unusable when it is neither.
[[nodiscard]] Result<Lab> colourFromText(const std::string &text);

/// Places from CSV with the header `image,name,x,y,r`; the image may be missing: then they are for all.
[[nodiscard]] Result<std::vector<std::pair<std::string, ProbePlace>>> placesFrom(const std::string &text,
                                                                                 const std::string &name);
/// Unusable for a place without a name, and numbers that make no disc.
[[nodiscard]] Result<Done> check(const ProbePlace &place);

/// A table of probes for people: RFC 4180, a line a probe of each frame.
[[nodiscard]] std::string csvOf(const std::vector<FrameProbes> &frames);

} // namespace wavechroma
