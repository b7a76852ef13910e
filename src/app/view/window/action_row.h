#pragma once
#include "app/view/window/availability.h"

#include <functional>
#include <vector>

namespace wavechroma::app {

/// An action of the window: a row of a table, made by the group of its subject.
struct ActionRow
{
    const char *id;
    QString text;
    const char *key; ///< shortcut in portable text, for what hands do all day; empty: it is found by its name
    QString why;     ///< what it is for
    /// Why it cannot be done now, as a sentence; empty when it can. Nothing: it always can.
    std::function<QString(const Availability &)> when;
    std::function<void()> run;
    enum Place {
        InMenu,
        NewGroup, ///< in the menu, after a rule
        OfFrame,  ///< in the context menu of a frame on the day sheet
        OfBench,  ///< in the context menu of the frame on the bench
    } place = InMenu;
    bool checkable = false;
    std::function<QString(const Availability &)> textNow = {}; ///< nothing: always `text`
    std::function<bool(const Availability &)> isOn = {};       ///< nothing: it keeps its own tick
};

/// It can be done while this reason is empty.
[[nodiscard]] inline std::function<QString(const Availability &)> needs(QString Availability::*reason)
{
    return [reason](const Availability &now) { return now.*reason; };
}
[[nodiscard]] inline ActionRow named(ActionRow row, std::function<QString(const Availability &)> textNow)
{
    row.textNow = std::move(textNow);
    return row;
}
[[nodiscard]] inline ActionRow ticked(ActionRow row, std::function<bool(const Availability &)> isOn)
{
    row.checkable = true;
    row.isOn = std::move(isOn);
    return row;
}

/// A menu of the window, in the order of the work.
struct MenuRows
{
    QString title;
    std::vector<ActionRow> rows;
};

} // namespace wavechroma::app
