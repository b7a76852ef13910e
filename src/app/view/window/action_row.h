#pragma once
#include <QString>
#include <functional>
#include <vector>

namespace wavechroma::app {

/// An action of the window: a row of a table, made by the file of its subject.
struct ActionRow
{
    const char *id;
    QString text;
    const char *key; ///< shortcut in portable text, for what hands do all day; empty: it is found by its name
    QString why;     ///< what it is for
    /// Why it cannot be done now, as a sentence; empty when it can. Nothing: it always can.
    std::function<QString()> when;
    std::function<void()> run;
    enum Place {
        InMenu,
        NewGroup, ///< in the menu, after a rule
        OfFrame,  ///< in the context menu of a frame on the day sheet
        OfBench,  ///< in the context menu of the frame on the bench
    } place = InMenu;
    bool checkable = false;
};

/// A menu of the window, in the order of the work.
struct MenuRows
{
    QString title;
    std::vector<ActionRow> rows;
};

} // namespace wavechroma::app
