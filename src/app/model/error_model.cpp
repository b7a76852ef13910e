#include "app/model/error_model.h"

#include "app/model/spoken.h"
#include "core/words/proof_words.h"

#include <algorithm>

namespace wavechroma::app {

void ErrorModel::show(const Proof *proof, double limit)
{
    beginResetModel();
    m_limit = limit;
    m_sorted = proof ? proof->patches : std::vector<PatchProof>();
    std::stable_sort(m_sorted.begin(), m_sorted.end(),
                     [](const auto &a, const auto &b) { return a.de00 > b.de00; });
    endResetModel();
}

int ErrorModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(m_sorted.size());
}

QVariant ErrorModel::data(const QModelIndex &index, int role) const
{
    if (!index.isValid() || (role != Qt::DisplayRole && role != Qt::AccessibleTextRole))
        return {};
    const auto &one = patch(index.row());
    return tr("%1: ΔE %2, %3").arg(text(one.id), fixed(one.de00, 1), text(words::direction(one, spoken())));
}

int ErrorModel::rowOf(const QString &patch) const
{
    const auto at = std::find_if(m_sorted.begin(), m_sorted.end(),
                                 [&](const auto &one) { return text(one.id) == patch; });
    return at == m_sorted.end() ? -1 : int(at - m_sorted.begin());
}

} // namespace wavechroma::app
