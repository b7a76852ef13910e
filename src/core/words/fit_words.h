#pragma once
#include "core/base/language.h"
#include "core/values/calibration.h"
#include "core/values/recommendation.h"

namespace wavechroma::words {

/// "roots", "matrix, tone by the greys": what a calibration is made of, as a name in a sentence.
[[nodiscard]] std::string parts(const Parts &parts, const Language &language = plain());
/// What a part of colour or tone adds: "3 × 3 and square roots", "one curve through the greys".
[[nodiscard]] std::string adds(const std::string &part, const Language &language = plain());
/// "tone as shot", "tone by the greys", "tone by channel".
[[nodiscard]] std::string tone(const std::string &part, const Language &language = plain());
/// One sentence: which calibration to use, and what decided it.
[[nodiscard]] std::string recommendation(const Recommendation &choice, const Language &language = plain());
/// "Taken out of the reading: a veil of 4.9 %, light that varies by 24 %. Left out: C4." Empty when nothing
/// was. `lightRange`: by how much the light that was taken out varies over the chart, 0…1.
[[nodiscard]] std::string takenOut(const TakenOut &takenOut, double lightRange,
                                   const Language &language = plain());
[[nodiscard]] std::string warning(const FitWarning &warning, const Language &language = plain());
/// "exact", "2 steps calmer", "1 step livelier": one amount of a lean of colour.
[[nodiscard]] std::string reds(int steps, const Language &language = plain());
[[nodiscard]] std::string chroma(int steps, const Language &language = plain());
[[nodiscard]] std::string contrast(int steps, const Language &language = plain());
/// "rowan: ΔE 1.2 by a fit without it. The other things are 0.3 nearer because of it."
[[nodiscard]] std::string thing(const ThingJudged &judged, const Language &language = plain());

} // namespace wavechroma::words
