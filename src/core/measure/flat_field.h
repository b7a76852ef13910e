#pragma once
#include "core/base/phrase.h"
#include "core/base/result.h"
#include "core/raw/gain_map.h"
#include "core/raw/raw_frame.h"

#include <optional>
#include <span>

namespace wavechroma {

/// How even an even field came out.
struct FlatQuality
{
    double falloff = 0; ///< 1 − darkest / brightest of the smooth field, green
    double texture = 0; ///< relative scatter of what the smooth field does not explain, the 98th percentile
                        ///< in normal deviations, so that a few specks do not count
    double clipped = 0; ///< share of the frame at saturation
    double level = 0;   ///< brightest spot of the smooth field, strongest channel, 0…1
};
struct FlatField
{
    GainMap map;
    FlatQuality quality;
};

/// Makes a flat field from a frame of an even white or grey board that fills the field. Block means of each
/// channel are fitted by a polynomial of degree 6 in x and y (28 terms, Legendre products), reweighted by
/// Tukey's biweight so that dust, specks and a stray corner do not print through; the gain is the field's
/// largest value over the field. Unusable, with the reason, when more than 0.1 % of it is clipped, when it
/// is too dark (under 3 % of saturation), textured (over 3 %), or falls off by more than four fifths.
[[nodiscard]] Result<FlatField> flatFieldFrom(const RawFrame &frame);

/// One map from several flats of one size, at least one: the mean of their fields, so that the noise and the
/// dust of each count less.
[[nodiscard]] GainMap mergedGain(std::span<const GainMap> maps);

/// How even a frame is, whatever came out; nothing when it cannot be judged at all.
[[nodiscard]] std::optional<FlatQuality> evenFieldQuality(const RawFrame &frame);

/// Is this frame an even field at all? For guessing what a frame is for: texture under 2 % and nothing
/// clipped.
[[nodiscard]] bool looksFlat(const RawFrame &frame);

/// Why a flat cannot serve a frame: another camera, lens or size is refused; another aperture is a warning.
struct FlatMismatch
{
    std::optional<Error> refusal;
    words::Phrase warning; ///< empty when there is none
};
[[nodiscard]] FlatMismatch mismatchOf(const RawFrame &flat, const RawFrame &frame);

} // namespace wavechroma
