#include "app/view/handover/plan_model.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/words/answer_words.h"

#include <QApplication>
#include <QPalette>
#include <algorithm>

namespace wavechroma::app {

void PlanModel::show(const std::shared_ptr<const DeliveryPlan> &plan)
{
    if (plan == m_plan)
        return;
    beginResetModel();
    m_plan = plan;
    endResetModel();
}

const std::vector<DeliveryItem> &PlanModel::items() const
{
    static const std::vector<DeliveryItem> none;
    return m_plan ? m_plan->items : none;
}

int PlanModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(items().size());
}

int PlanModel::columnCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : 3;
}

QVariant PlanModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal)
        return {};
    return QStringList{tr("File"), tr("Form"), tr("Calibrated from")}.value(section);
}

QVariant PlanModel::data(const QModelIndex &index, int role) const
{
    const auto &item = items()[size_t(index.row())];
    const bool isDoubted = !item.doubts.empty() || item.isInTheWay || item.sharesName;
    QStringList doubts;
    for (const auto &doubt : item.doubts)
        doubts << text(words::doubt(doubt, spoken()));
    if (item.isInTheWay)
        doubts << tr("A file of that name exists and was not written by this delivery, or was changed since. "
                     "It is kept.");
    if (item.isStale())
        doubts << tr("It was written, and what it is made by has changed since. Write makes it anew.");
    if (item.sharesName)
        doubts << tr("Two files would have this name, so one is numbered.");
    if (role == Qt::ToolTipRole)
        return QStringList{text(item.shownPath()), text(item.planned.calibration), doubts.join('\n')}.join(
            '\n');
    if (role == Qt::BackgroundRole && index.column() == 2 && isDoubted)
        return QApplication::palette().brush(QPalette::Highlight);
    if (role == Qt::ForegroundRole && index.column() == 2 && isDoubted)
        return QApplication::palette().brush(QPalette::HighlightedText);
    if (role == Qt::FontRole)
        return face(kBody, index.column() == 0 ? 600 : 400);
    if (role != Qt::DisplayRole)
        return {};
    if (index.column() == 0)
        return text(item.shownPath());
    if (index.column() == 1)
        return text(item.planned.form) + (item.isDone      ? tr(", there")
                                          : item.isStale() ? tr(", stale")
                                                           : QString());
    const auto at = text(item.chartAt).mid(11, 5);
    const bool isByGrey = std::any_of(item.doubts.begin(), item.doubts.end(),
                                      [](const Doubt &doubt) { return doubt.code == "no-chart"; });
    const auto chart = item.isByBrought       ? text(item.planned.calibration)
                       : item.chartAt.empty() ? QString()
                       : isByGrey             ? tr("grey %1").arg(at)
                                              : tr("chart %1").arg(at);
    QStringList brief;
    for (const auto &doubt : item.doubts)
        brief << text(words::doubtInBrief(doubt, spoken()));
    if (item.isInTheWay)
        brief << tr("another file exists");
    if (item.sharesName)
        brief << tr("name twice");
    return brief.isEmpty() ? chart : QStringList{chart, brief.join(", ")}.join(chart.isEmpty() ? "" : ": ");
}

} // namespace wavechroma::app
