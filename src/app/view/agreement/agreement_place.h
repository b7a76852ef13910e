#pragma once
#include "app/model/job_document.h"
#include "app/model/task_runner.h"
#include "app/view/widgets/painted_list.h"
#include "core/tasks/agree_task.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace wavechroma::app {

/// The place that asks: does the same thing get the same colour everywhere? Stations as columns, objects and
/// patches as rows, the furthest apart first, spread as length; below, drawing them together.
class AgreementPlace : public QWidget
{
    Q_OBJECT
public:
    AgreementPlace(JobDocument *job, TaskRunner *tasks, QWidget *parent = nullptr);

    [[nodiscard]] const std::optional<Agreed> &agreed() const { return m_agreed; }
    [[nodiscard]] QString answer() const; ///< the sentence above
    [[nodiscard]] QString drawnWords() const;
    [[nodiscard]] PaintedList *rows() const { return m_rows; }
    [[nodiscard]] bool canApply() const { return m_agreed && !m_agreed->drawn.empty(); }
    [[nodiscard]] QComboBox *leader() const { return m_leader; }
    void drawTogether();
    void apply();      ///< as one step of the job
    void copy() const; ///< the table as text, for the clipboard
    void saveTable();  ///< as CSV; asks where
    [[nodiscard]] QString table(char between) const;

signals:
    void problem(const QString &message);
    void answered(); ///< what can be done may be something else

protected:
    void paintEvent(QPaintEvent *event) override;
    void showEvent(QShowEvent *event) override;

private:
    struct Row
    {
        const AgreedThing *thing;
        bool isObject;
    };
    void ask(bool drawTogether);
    void take(const Agreed &agreed);
    void paintRow(QPainter &painter, const QRect &area, int row) const;
    [[nodiscard]] std::vector<Row> sorted() const;
    [[nodiscard]] QRect columnOf(const QRect &area, int station) const;

    JobDocument *m_job;
    TaskRunner *m_tasks;
    QLabel *m_head, *m_answer, *m_drawn;
    PaintedList *m_rows;
    QSpinBox *m_give;
    QComboBox *m_leader; ///< the first entry: none
    QPushButton *m_draw, *m_apply;
    std::optional<Agreed> m_agreed;
    std::vector<Row> m_sorted;
    double m_limit = 0;          ///< of the mean, by the sheet in force
    uint64_t m_revision = ~0ULL; ///< of the job that was asked about
};

} // namespace wavechroma::app
