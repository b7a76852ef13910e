#pragma once
#include "app/model/task_runner.h"
#include "core/facts/comparable.h"

#include <QDialog>
#include <map>

class QComboBox;
class QLabel;
class QTableWidget;

namespace wavechroma::app {

class FigureView;

/// Any calibration of the job, or a profile or table from elsewhere, against any other, on the chart of one
/// frame: what matters in a sentence, the chart split, greys, hue sectors, and each patch.
class CompareDialog : public QDialog
{
    Q_OBJECT
public:
    CompareDialog(const Job &job, RowId chartFrame, TaskRunner *tasks, QWidget *parent);

    [[nodiscard]] QComboBox *sideA() const { return m_a; }
    [[nodiscard]] QComboBox *sideB() const { return m_b; }
    [[nodiscard]] QComboBox *measure() const { return m_measure; }
    [[nodiscard]] const std::optional<Comparison> &comparison() const { return m_comparison; }
    [[nodiscard]] QString answer() const;
    [[nodiscard]] QString more() const;       ///< skin, spaces, limits
    [[nodiscard]] QString aboutGroup() const; ///< of the patches selected in the table
    [[nodiscard]] QTableWidget *patches() const { return m_table; }
    [[nodiscard]] QString table(char between) const;
    void addFile(const QString &file); ///< as another choice, taken for B

private:
    void ask();
    /// The patches that are selected in the table.
    [[nodiscard]] std::vector<std::string> group() const;
    void askForGroup();
    void sayMore();
    void selectGroup();
    void take(const Comparison &comparison);
    void chooseFile();
    void saveTable();

    Job m_job;
    RowId m_frame;
    TaskRunner *m_tasks;
    std::vector<Comparable> m_all;
    std::vector<std::string> m_files;
    QComboBox *m_a, *m_b, *m_measure;
    QLabel *m_answer, *m_more, *m_group;
    FigureView *m_split, *m_greys, *m_sectors;
    QTableWidget *m_table;
    ChartDefinition m_chart;
    std::optional<Comparison> m_comparison;
};

} // namespace wavechroma::app
