#pragma once
#include "app/model/delivery_editor.h"
#include "app/view/handover/plan_model.h"
#include "app/view/widgets/painted_list.h"

#include <QHash>
#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QCheckBox;
class QPushButton;
class QTableView;
class QTreeWidget;
class QTreeWidgetItem;

namespace wavechroma::app {

/// The place for what leaves: frames on the left, the forms of this delivery in the middle, on the right what
/// will be written, file by file, with doubts marked; that side is the dry run.
class Handover : public QWidget
{
    Q_OBJECT
public:
    Handover(JobDocument *job, TaskRunner *tasks, QWidget *parent = nullptr);

    [[nodiscard]] DeliveryEditor *editor() const { return m_editor; }
    [[nodiscard]] PlanModel *planModel() const { return m_model; }
    [[nodiscard]] QTreeWidget *frames() const { return m_frames; }
    [[nodiscard]] PaintedList *forms() const { return m_forms; }
    [[nodiscard]] QString summary() const;
    [[nodiscard]] QString clashWords() const;
    [[nodiscard]] QString leftOutWords() const;
    void addForm();
    void changeForm();
    void removeForm();
    void addDelivery();
    void chooseFolder();
    void replace(); ///< asks first, with the files' names

signals:
    void problem(const QString &message);

protected:
    void paintEvent(QPaintEvent *event) override;
    void changeEvent(QEvent *event) override;
    void showEvent(QShowEvent *event) override; ///< the plan follows the job from then on
    void hideEvent(QHideEvent *event) override;

private:
    void onBoard();
    void showAsked();
    void showFrames();
    void makeFrames(); ///< the tree anew
    void showTicks(const std::vector<RowId> &frames);
    void showPair(QTreeWidgetItem *pair) const; ///< what its frames come to
    void showPlan();
    void paintForm(QPainter &painter, const QRect &area, int row) const;
    void editForm(int row); ///< −1: a new one
    void changeItem(QTreeWidgetItem *item);
    [[nodiscard]] std::vector<RowId> framesOf(const QTreeWidgetItem *item) const;

    JobDocument *m_job;
    DeliveryEditor *m_editor;
    PlanModel *m_model;
    QTreeWidget *m_frames;
    QComboBox *m_deliveries;
    PaintedList *m_forms;
    QLineEdit *m_names;
    QLabel *m_example, *m_summary, *m_leftOut, *m_folder, *m_step;
    QTableView *m_table;
    QProgressBar *m_bar;
    QPushButton *m_replace, *m_write, *m_pause, *m_stop;
    QCheckBox *m_itself;
    int m_form = 0;
    bool m_isFilling = false;
    std::vector<std::pair<RowId, bool>> m_shownFrames; ///< as the tree has them
    QHash<qint64, QTreeWidgetItem *> m_items;          ///< by frame
};

} // namespace wavechroma::app
