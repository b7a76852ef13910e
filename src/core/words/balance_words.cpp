#include "core/words/balance_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

#include <cmath>

namespace wavechroma::words {

std::string neutral(const NeutralState &state, const Language &language)
{
    using Why = NeutralState::Why;
    if (state.why == Why::Clipped)
        return filled("clipped, so its colour is unknown", {}, language);
    if (state.why == Why::Dark)
        return filled("too dark, so its colour is unknown", {}, language);
    if (state.why == Why::Neutral)
        return filled("neutral", {}, language);
    constexpr const char *kCasts[3][2] = {{words::said("{size:%1} cyan"), words::said("{size:%1} red")},
                                          {words::said("{size:%1} magenta"), words::said("{size:%1} green")},
                                          {words::said("{size:%1} yellow"), words::said("{size:%1} blue")}};
    const auto cast =
        filled(kCasts[state.channel][state.departure > 0], {{"size", std::abs(state.departure)}}, language);
    const char *reason = state.why == Why::Noise       ? words::said("{cast}, within its noise")
                         : state.why == Why::OtherFace ? words::said("{cast}: another light there")
                         : state.why == Why::OwnTint   ? words::said("{cast}: its own tint")
                                                       : "{cast}";
    return filled(reason, {{"cast", cast}}, language);
}

std::string otherFace(const OtherFace &face, const Language &language)
{
    const auto level = std::abs(face.stops) < 0.1
                           ? filled("as bright", {}, language)
                           : filled(face.stops > 0 ? "{size:stops} darker" : "{size:stops} brighter",
                                    {{"size", face.stops}}, language);
    const auto colour =
        std::abs(face.warmth) < 0.01
            ? filled("make no difference to the colour", {}, language)
            : filled(face.warmth > 0
                         ? "make everything on the key side warmer ({size:%} between red and blue)"
                         : "make everything on the key side cooler ({size:%} between red and blue)",
                     {{"size", std::abs(std::exp2(face.warmth) - 1)}}, language);
    return filled("{chosen} is the grey of the key side. The other face, {other}, is {level}; balancing by "
                  "it would {colour}.",
                  {{"chosen", face.chosen}, {"other", face.other}, {"level", level}, {"colour", colour}},
                  language);
}

std::string preset(const PresetVerdict &verdict, const Language &language)
{
    const auto name = verdict.name.empty() ? filled("This preset", {}, language)
                                           : filled("\"{name}\"", {{"name", verdict.name}}, language);
    const auto made = verdict.made.empty() ? filled("(unknown)", {}, language) : verdict.made;
    const Places places{{"name", name}, {"made", made}, {"frame", verdict.frame}};
    switch (verdict.kind) {
    case PresetVerdict::Kind::OtherModel:
        return filled(
            "{name} was made with a {made}, but this frame is from a {frame}, whose channels differ.", places,
            language);
    case PresetVerdict::Kind::OtherLens:
        return filled("{name} was made with the lens {made}; lenses differ in colour.", places, language);
    case PresetVerdict::Kind::OtherBody:
        return filled("{name} was made with another body of this model.", places, language);
    case PresetVerdict::Kind::Holds:
        break;
    }
    return {};
}

} // namespace wavechroma::words
