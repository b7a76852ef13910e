#pragma once
#include "app/model/job_document.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QTableWidget;

namespace wavechroma::app {

class ReferencePreview;

/// The job's charts: reference values of several batches and dates side by side, one of each chart in use;
/// layouts of its own. Every change is a step of undo in the job.
class ChartsDialog : public QDialog
{
    Q_OBJECT
public:
    explicit ChartsDialog(JobDocument *job, QWidget *parent = nullptr);

    /// Adds a set of references or a layout, and puts it in use.
    void add(const std::string &label, const ChartDefinition &chart);
    void importFile(
        const QString &file); ///< references for the chart chosen; a fault is shown with line and field, and
                              ///< what a table was taken for with its first colours beside the usual ones
    void measure();
    void removeChosen();
    [[nodiscard]] QString fault() const { return m_fault; } ///< the last one shown

private:
    void refresh();
    void setInUse(RowId id, bool on);
    void saveChosen();
    void report(const Error &error);
    [[nodiscard]] const JobChart *chosen() const;
    [[nodiscard]] ChartDefinition target() const;

    JobDocument *m_job;
    QTableWidget *m_table;
    QComboBox *m_chart, *m_light;
    QString m_fault;
    QLabel *m_words;
    ReferencePreview *m_preview; ///< of the table imported last
};

} // namespace wavechroma::app
