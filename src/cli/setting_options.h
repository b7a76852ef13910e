#pragma once
#include "cli/command.h"
#include "core/values/setting_row.h"

#include <deque>

namespace wavechroma::cli {

/// The options of a table of settings: an option or a flag for each of its rows that has one.
template <class S> class SettingOptions
{
public:
    explicit SettingOptions(const std::vector<SettingRow<S>> &rows) : m_rows(rows) {}

    /// Declares them. This has to live until the call is read.
    void addTo(CommandLine &app)
    {
        for (const auto &row : m_rows) {
            if (!row.flag)
                continue;
            auto &given = m_given.emplace_back(Value{&row, {}, false});
            if (row.kind == Setting::Kind::Switch)
                app.flag(row.flag, given.isOn, row.help);
            else
                app.option(row.flag, given.text, helpOf(row).c_str());
        }
    }

    /// The settings of the call; unusable, with the option and its values, for one that is none of them.
    [[nodiscard]] Result<S> settings() const
    {
        S out;
        for (const auto &given : m_given) {
            const auto &row = *given.row;
            const auto text = given.isOn ? std::string("on") : given.text;
            if (!text.empty() && !row.put(row, out, text))
                return unusable("{option}: \"{text}\" is not {known}",
                                {{"option", row.flag}, {"text", text}, {"known", valuesOf(row)}});
        }
        return out;
    }

private:
    struct Value
    {
        const SettingRow<S> *row;
        std::string text;
        bool isOn;
    };
    static std::string helpOf(const SettingRow<S> &row)
    {
        const auto byDefault = row.text(row, S{});
        const auto values = row.kind == Setting::Kind::Text ? std::string() : valuesOf(row);
        const auto after = byDefault.empty() ? std::string() : byDefault + " by default";
        const auto both = values + (values.empty() || after.empty() ? "" : "; ") + after;
        return row.help + (both.empty() ? std::string() : " (" + both + ")");
    }

    const std::vector<SettingRow<S>> &m_rows;
    std::deque<Value> m_given; ///< stays where it is: options write into it
};

} // namespace wavechroma::cli
