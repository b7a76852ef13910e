#pragma once
#include "core/base/language.h"
#include "core/values/station.h"

/// What stations answer, and why a calibration may not hold.
namespace wavechroma::words {

/// "Good, ΔE 0.9", "The light moved", "Shoot again", "No question yet".
[[nodiscard]] std::string headline(const Answer &answer, const Language &language = plain());
/// "unseen; worst C6 2.5, best of 3"; "2 frames wait for a chart".
[[nodiscard]] std::string reason(const Answer &answer, const Language &language = plain());
[[nodiscard]] std::string doubt(const Doubt &doubt, const Language &language = plain());
/// "the light moved": the same in a few words, for lists.
[[nodiscard]] std::string doubtInBrief(const Doubt &doubt, const Language &language = plain());
/// The doubts of what serves a frame, or why nothing does; empty when nothing speaks against it.
/// "By the set: +4 mired, −0.05 stops since its chart." Empty where the pictures do not tell.
[[nodiscard]] std::string drift(const Serving &serving, const Language &language = plain());
[[nodiscard]] std::string serving(const Serving &serving, const Language &language = plain());
/// Where what serves a frame comes from, in a sentence.
[[nodiscard]] std::string servedFrom(Serving::From from, const Language &language = plain());
/// Why a frame does not leave, by the code of a delivery.
[[nodiscard]] std::string leftOut(const std::string &code, const Language &language = plain());
/// "Strobe", "LED" …; "Unknown".
[[nodiscard]] std::string lampKind(LampKind kind, const Language &language = plain());
/// "09:22" of an ISO time.
[[nodiscard]] std::string clock(const std::string &isoTime);

/// The answer for across the room: one sentence, and the reason below it.
struct CallOut
{
    std::string headline, reason;
    bool good = false;
};
[[nodiscard]] CallOut callOut(const Answer &answer, const std::vector<Check> &checks,
                              const Language &language = plain());

} // namespace wavechroma::words
