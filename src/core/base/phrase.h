#pragma once
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace wavechroma::words {

struct Place;
using Places = std::vector<Place>;
/// A template with what goes into its places, not filled yet: what a value carries that is to be told.
struct Phrase
{
    Phrase();
    Phrase(std::string sentence);
    Phrase(std::string sentence, Places with);

    std::string text;
    Places places;

    [[nodiscard]] bool empty() const { return text.empty(); }
};
using Value = std::variant<double, std::string, Phrase>;
struct Place
{
    std::string name;
    Value value;
};
inline Phrase::Phrase() = default;
inline Phrase::Phrase(std::string sentence) : text(std::move(sentence)) {}
inline Phrase::Phrase(std::string sentence, Places with) : text(std::move(sentence)), places(std::move(with))
{
}

} // namespace wavechroma::words
