#pragma once
#include "core/facts/bench_facts.h"

#include <QAbstractListModel>

namespace wavechroma::app {

/// The patches of a proof, worst first, one a row. Each row reads as a sentence (display and accessible
/// text).
class ErrorModel : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void show(const Proof *proof, double limit); ///< null: nothing
    [[nodiscard]] int rowCount(const QModelIndex &parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex &index, int role) const override;

    [[nodiscard]] const PatchProof &patch(int row) const { return m_sorted[size_t(row)]; }
    [[nodiscard]] int rowOf(const QString &patch) const; ///< −1: not there
    [[nodiscard]] double limit() const { return m_limit; }
    [[nodiscard]] double largest() const { return m_sorted.empty() ? 0 : m_sorted.front().de00; }

private:
    std::vector<PatchProof> m_sorted;
    double m_limit = 0;
};

} // namespace wavechroma::app
