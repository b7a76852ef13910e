#include "core/formats/setting_json.h"

namespace wavechroma::json {

Json settingJson(const Setting &row, const std::string &text)
{
    switch (row.kind) {
    case Setting::Kind::Switch:
        return text == "on";
    case Setting::Kind::Whole:
        return std::stoi(text);
    case Setting::Kind::Number:
        return *numberFrom(text);
    case Setting::Kind::Amount:
        return text == kByChart ? Json(text) : Json(*numberFrom(text));
    case Setting::Kind::Choice:
    case Setting::Kind::Text:
        break;
    }
    return text;
}

std::string settingText(const Setting &row, const Fields &from)
{
    switch (row.kind) {
    case Setting::Kind::Switch:
        return from.flag(row.key) ? "on" : "";
    case Setting::Kind::Whole:
    case Setting::Kind::Number:
        return setting_detail::textOfNumber(from.number(row.key));
    case Setting::Kind::Amount:
        return from.raw(row.key).is_string() ? from.text(row.key)
                                             : setting_detail::textOfNumber(from.number(row.key));
    case Setting::Kind::Choice:
    case Setting::Kind::Text:
        break;
    }
    return from.text(row.key);
}

} // namespace wavechroma::json
