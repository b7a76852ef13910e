#pragma once
#include "core/base/number_text.h"

#include <charconv>
#include <cmath>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

/// A setting that people choose as one row of a table. JSON documents, the command line, the dialogs and the
/// sentences are made from the row, so that a new setting is one member and one row.
namespace wavechroma {

/// A number, or what the job's charts show in its place.
struct ChartAmount
{
    enum class By { Nothing, Number, Chart };
    By by = By::Nothing;
    double number = 0;
    bool operator==(const ChartAmount &) const = default;
};

struct SettingChoice
{
    const char *id;   ///< in documents and on the command line
    const char *said; ///< to people
};

struct Setting
{
    enum class Kind { Switch, Choice, Whole, Number, Amount, Text };
    const char *key;  ///< of JSON documents
    const char *flag; ///< of the command line; null: it has no option of its own
    const char *label, *help;
    /// Template for summaries: "{n} px long side", "{choice}"; null: it is left out there.
    const char *brief;
    std::vector<SettingChoice> choices = {}; ///< in the order of the enumeration
    double least = 0, most = 0;              ///< of numbers
    const char *unset = nullptr;             ///< what people read where a number or a text is not given
    /// Of a text that is the path of a file: its extension, "json"; null: it is no path.
    const char *extension = nullptr;
    Kind kind = Kind::Switch; ///< set by settingOf()
};

/// A setting as one member of `S`. Values are texts here, as the command line takes them.
template <class S> struct SettingRow : Setting
{
    /// Empty where an optional number is not given, a switch is off, or an amount is nothing.
    std::string (*text)(const Setting &, const S &);
    /// False, with nothing changed, where it is no value of this setting.
    bool (*put)(const Setting &, S &, std::string_view);
    /// Null: always. Whether it has a meaning beside the others.
    bool (*applies)(const S &) = nullptr;
};

/// The word of an amount that the charts show.
inline constexpr std::string_view kByChart = "chart";

namespace setting_detail {

/// Returns the shortest text that reads back as the same number.
inline std::string textOfNumber(double value)
{
    char text[400]; // of any number without an exponent
    const auto [end, fault] = std::to_chars(text, text + sizeof text, value, std::chars_format::fixed);
    return {text, end};
}

template <class T> constexpr Setting::Kind kindOf()
{
    using Kind = Setting::Kind;
    if constexpr (std::is_same_v<T, bool>)
        return Kind::Switch;
    else if constexpr (std::is_enum_v<T>)
        return Kind::Choice;
    else if constexpr (std::is_same_v<T, int> || std::is_same_v<T, std::optional<int>>)
        return Kind::Whole;
    else if constexpr (std::is_same_v<T, std::optional<double>>)
        return Kind::Number;
    else if constexpr (std::is_same_v<T, ChartAmount>)
        return Kind::Amount;
    else
        return Kind::Text;
}

template <class T> std::string textOf([[maybe_unused]] const Setting &row, const T &value)
{
    if constexpr (std::is_same_v<T, bool>)
        return value ? "on" : "";
    else if constexpr (std::is_enum_v<T>)
        return row.choices[size_t(value)].id;
    else if constexpr (std::is_same_v<T, int>)
        return std::to_string(value);
    else if constexpr (std::is_same_v<T, std::optional<int>>)
        return value ? std::to_string(*value) : "";
    else if constexpr (std::is_same_v<T, std::optional<double>>)
        return value ? textOfNumber(*value) : "";
    else if constexpr (std::is_same_v<T, ChartAmount>)
        return value.by == ChartAmount::By::Nothing ? ""
               : value.by == ChartAmount::By::Chart ? std::string(kByChart)
                                                    : textOfNumber(value.number);
    else
        return value;
}

template <class T> bool put([[maybe_unused]] const Setting &row, T &to, std::string_view text)
{
    if constexpr (std::is_same_v<T, bool>) {
        to = text == "on";
        return text == "on" || text.empty();
    } else if constexpr (std::is_enum_v<T>) {
        for (size_t i = 0; i < row.choices.size(); ++i)
            if (text == row.choices[i].id) {
                to = T(i);
                return true;
            }
        return false;
    } else if constexpr (std::is_same_v<T, std::string>) {
        to = text;
        return true;
    } else if constexpr (std::is_same_v<T, ChartAmount>) {
        if (text.empty() || text == kByChart) {
            to = {text.empty() ? ChartAmount::By::Nothing : ChartAmount::By::Chart, 0};
            return true;
        }
        const auto number = numberFrom(text);
        const bool isIn = number && *number >= row.least && *number <= row.most;
        if (isIn)
            to = {ChartAmount::By::Number, *number};
        return isIn;
    } else {
        if (text.empty() && !std::is_same_v<T, int>) {
            to = T{};
            return true;
        }
        const auto number = numberFrom(text);
        const bool isIn = number && *number >= row.least && *number <= row.most &&
                          (row.kind != Setting::Kind::Whole || *number == std::floor(*number));
        if (!isIn)
            return false;
        if constexpr (std::is_same_v<T, std::optional<double>>)
            to = *number;
        else
            to = int(*number);
        return true;
    }
}

template <class T> struct MemberOf;
template <class S, class T> struct MemberOf<T S::*>
{
    using Struct = S;
    using Type = T;
};

} // namespace setting_detail

/// What a setting can be, for messages: "srgb, display-p3, oprgb or romm"; "0.2 to 2.5, or chart".
[[nodiscard]] inline std::string valuesOf(const Setting &row)
{
    std::string out;
    if (row.kind == Setting::Kind::Choice) {
        for (size_t i = 0; i < row.choices.size(); ++i)
            out += (i == 0                        ? ""
                    : i + 1 == row.choices.size() ? " or "
                                                  : ", ") +
                   std::string(row.choices[i].id);
        return out;
    }
    if (row.kind == Setting::Kind::Switch || row.kind == Setting::Kind::Text)
        return row.kind == Setting::Kind::Switch ? "on or off" : "a text";
    out = setting_detail::textOfNumber(row.least) + " to " + setting_detail::textOfNumber(row.most);
    return row.kind == Setting::Kind::Amount ? out + ", or " + std::string(kByChart) : out;
}

/// The row of a member: settingOf<&PictureSettings::longSide>({…}).
template <auto Member>
[[nodiscard]] SettingRow<typename setting_detail::MemberOf<decltype(Member)>::Struct>
settingOf(Setting setting,
          bool (*applies)(const typename setting_detail::MemberOf<decltype(Member)>::Struct &) = nullptr)
{
    using Struct = typename setting_detail::MemberOf<decltype(Member)>::Struct;
    setting.kind = setting_detail::kindOf<typename setting_detail::MemberOf<decltype(Member)>::Type>();
    return {std::move(setting),
            [](const Setting &row, const Struct &from) { return setting_detail::textOf(row, from.*Member); },
            [](const Setting &row, Struct &to, std::string_view text) {
                return setting_detail::put(row, to.*Member, text);
            },
            applies};
}

} // namespace wavechroma
