#pragma once
#include "core/formats/json_fields.h"
#include "core/values/setting_row.h"

#include <algorithm>

/// Settings as members of a JSON object, by their rows; not for other folders.
namespace wavechroma::json {

/// A value as its JSON: a switch is a boolean, a number a number, everything else its text.
[[nodiscard]] Json settingJson(const Setting &row, const std::string &text);
/// The text of a member, as SettingRow::put takes it; fails where its type is another one.
[[nodiscard]] std::string settingText(const Setting &row, const Fields &from);
/// Adds what differs from `S{}` and has a meaning beside the others, and all choices without a default that
/// goes without saying: `always` names their keys.
template <class S>
void addSettings(Json &to, const std::vector<SettingRow<S>> &rows, const S &settings,
                 const std::vector<std::string_view> &always = {})
{
    for (const auto &row : rows) {
        if (row.applies && !row.applies(settings))
            continue;
        const auto text = row.text(row, settings);
        const bool isAlways = std::find(always.begin(), always.end(), row.key) != always.end();
        if (isAlways || text != row.text(row, S{}))
            to[row.key] = settingJson(row, text);
    }
}
/// Reads one where it is there. Fails, naming the member, for what is no value of it.
template <class S> void readSetting(const SettingRow<S> &row, S &to, const Fields &from)
{
    if (from.has(row.key) && !row.put(row, to, settingText(row, from)))
        from.fail(row.key, words::Phrase{"{where}: \"{key}\" is not {known}", {{"known", valuesOf(row)}}});
}
/// Reads all that are there.
template <class S> [[nodiscard]] S settingsFrom(const std::vector<SettingRow<S>> &rows, const Fields &from)
{
    S out;
    for (const auto &row : rows)
        readSetting(row, out, from);
    return out;
}

} // namespace wavechroma::json
