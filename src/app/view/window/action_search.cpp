#include "app/view/window/action_search.h"

#include <QRegularExpression>
#include <QStringList>
#include <algorithm>

namespace wavechroma::app {

namespace {

QStringList wordsOf(const QString &text)
{
    static const QRegularExpression between("[^\\w]+", QRegularExpression::UseUnicodePropertiesOption);
    return text.toCaseFolded().split(between, Qt::SkipEmptyParts);
}

bool holds(const QStringList &words, const QStringList &asked)
{
    return std::all_of(asked.begin(), asked.end(), [&](const QString &part) {
        return std::any_of(words.begin(), words.end(),
                           [&](const QString &word) { return word.startsWith(part); });
    });
}

/// 0: its name begins so; 1: by its name; 2: by what it is for; 3: not found.
int rankOf(const SearchedAction &action, const QStringList &asked)
{
    const auto name = wordsOf(action.name);
    if (holds(name, asked))
        return asked.isEmpty() || name.front().startsWith(asked.front()) ? 0 : 1;
    return holds(name + wordsOf(action.why), asked) ? 2 : 3;
}

} // namespace

std::vector<size_t> actionsFound(const QString &asked, const std::vector<SearchedAction> &actions)
{
    const auto words = wordsOf(asked);
    std::vector<size_t> out;
    for (const int rank : {0, 1, 2})
        for (size_t i = 0; i < actions.size(); ++i)
            if (rankOf(actions[i], words) == rank)
                out.push_back(i);
    return out;
}

} // namespace wavechroma::app
