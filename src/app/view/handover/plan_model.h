#pragma once
#include "core/tasks/deliver_task.h"

#include <QAbstractTableModel>

namespace wavechroma::app {

/// What a delivery will write, a row a file: its name, its form, and what serves it, with the doubts.
class PlanModel : public QAbstractTableModel
{
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void show(const std::shared_ptr<const DeliveryPlan> &plan);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    [[nodiscard]] const std::vector<DeliveryItem> &items() const;
    std::shared_ptr<const DeliveryPlan> m_plan;
};

} // namespace wavechroma::app
