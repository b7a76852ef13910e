#pragma once
#include <QString>
#include <vector>

namespace wavechroma::app {

/// What an action is found by.
struct SearchedAction
{
    QString name, why;
};

/// Returns which actions hold every word of `asked`, as the beginning of a word of their name or of what they
/// are for: places in `actions`, those whose names begin so first, then by name, then the others, in their
/// order. All of them if nothing is asked. Capitals make no difference.
[[nodiscard]] std::vector<size_t> actionsFound(const QString &asked,
                                               const std::vector<SearchedAction> &actions);

} // namespace wavechroma::app
