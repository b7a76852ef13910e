#pragma once
#include "app/model/folder_watch.h"
#include "app/model/intake.h"
#include "app/view/widgets/look.h"
#include "app/view/window/action_row.h"

#include <QMainWindow>

class QInputDialog;
class QStackedWidget;

namespace wavechroma::app {

class Bench;
class CallOut;
class DaySheet;
class FrameEditor;
class Handover;
class StartPage;
class StudioPanel;
class TaskStrip;
class Thumbnails;
class TopBar;

/// Assembles the places and the actions; holds no state of the job.
class MainWindow : public QMainWindow
{
    Q_OBJECT
public:
    explicit MainWindow(QWidget *parent = nullptr);
    ~MainWindow() override;

    bool openJob(const QString &folder); ///< false, with a message shown, when it cannot be opened
    void bringIn(const QStringList &paths);
    void showDaySheet();
    void showBench(qint64 frame);
    void showHandover();
    void showMessage(const QString &message);
    void showCallOut(qint64 frame);

    [[nodiscard]] JobDocument *job() { return &m_job; }
    [[nodiscard]] TaskRunner *tasks() { return &m_tasks; }
    [[nodiscard]] Bench *bench() const { return m_bench; }
    [[nodiscard]] FrameEditor *editor() const;
    [[nodiscard]] DaySheet *daySheet() const { return m_daySheet; }
    [[nodiscard]] Handover *handoverPlace() const { return m_handover; }
    [[nodiscard]] TaskStrip *strip() const { return m_strip; }
    [[nodiscard]] CallOut *callOut() const { return m_callOut; }
    [[nodiscard]] FolderWatch *watch() { return &m_watch; }
    [[nodiscard]] StudioPanel *studio() const { return m_studio; }
    void findFramesIn(const QString &folder); ///< those that are not where they were
    [[nodiscard]] Intake *intake() { return &m_intake; }
    [[nodiscard]] QAction *action(const QString &name) const; ///< by its id

protected:
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void closeEvent(QCloseEvent *event) override;

private:
    // actions.cpp: rows into menus, and when each can be done
    void makeActions();
    void addRow(const ActionRow &row, QMenu *menu);
    void adaptActions();
    void adaptActionsSoon(); ///< once, however many facts change until then
    void showMenuOf(ActionRow::Place place, const QPoint &where);
    // actions_*.cpp: the rows, by subject
    [[nodiscard]] MenuRows jobRows();
    [[nodiscard]] MenuRows framesRows();
    [[nodiscard]] MenuRows readRows();
    [[nodiscard]] MenuRows balanceRows();
    [[nodiscard]] MenuRows fitRows();
    [[nodiscard]] MenuRows proofRows();
    [[nodiscard]] std::vector<ActionRow> handoverRows(); ///< in Job
    [[nodiscard]] MenuRows viewRows();
    [[nodiscard]] MenuRows helpRows();
    [[nodiscard]] std::vector<ActionRow> levelRows();   ///< of a product frame, in Balance
    [[nodiscard]] std::vector<ActionRow> productRows(); ///< … and in Proof
    // why something cannot be done now
    [[nodiscard]] QString whenProduct() const;         ///< a product frame lies on the bench
    [[nodiscard]] QString whenProductEditable() const; ///< … in a job that can be written
    [[nodiscard]] QString whenProbe() const;           ///< … and a probe is chosen
    [[nodiscard]] QString whenHandover() const;        ///< that place is shown
    [[nodiscard]] QString whenOpen() const;
    [[nodiscard]] QString whenWritable() const;
    [[nodiscard]] QString whenFrame() const;    ///< one is chosen, in a job that can be written
    [[nodiscard]] QString whenOnBench() const;  ///< a frame lies on it
    [[nodiscard]] QString whenEditable() const; ///< the same, in a job that can be written
    [[nodiscard]] QString whenRead() const;     ///< and a chart was read of it
    [[nodiscard]] QString whenBalanced() const;
    [[nodiscard]] QString whenFitted() const;
    // dialogs_job.cpp
    void newJob();
    void chooseJob();
    void makeDemoJob();
    void chooseFrames();
    void offerWaiting();
    void chooseWatched();
    void watchFolder(const QString &folder);
    void shootingStarts();
    // dialogs_frames.cpp
    void renameSetup(qint64 setup);
    void changeLight();
    void moveToSetup();
    void removeSetup();
    void setPart(FramePart part);
    void useAllTheSame();
    void toggleSetAside();
    void removeFrame();
    // dialogs_read.cpp
    void chooseChart();
    void chooseLimits();
    void editCharts();
    void drawChart();
    void switchPatchesOff();
    void askRulerLength();
    // dialogs_balance.cpp
    void askForLight();
    void keepPreset();
    void choosePreset();
    // dialogs_fit.cpp
    void askForWeights();
    void askForFitLight();
    void keepReference();
    void chooseMatch();
    void matchTo(RowId other);
    void openProfiles();
    void openProfilesOf(const Calibration &calibration);
    // dialogs_product.cpp
    void chooseServing();
    void chooseTargets();
    void askForTarget();
    // dialogs_help.cpp
    void chooseMonitorProfile();
    void findAction();
    void showKeys();
    void showGuide();
    void showAbout();

    QInputDialog *question(const QString &title, const QString &words);
    void findFramesAgain();
    [[nodiscard]] bool anyGone() const; ///< frames whose files are not where the job has them
    void askAllTheSame(const QString &message, const std::function<void()> &allTheSame);
    [[nodiscard]] QString handover() const; ///< the job's folder for what leaves it, made
    void connectAll();
    void adapt();
    void arrived();
    [[nodiscard]] RowId subject() const; ///< the frame that actions are about
    [[nodiscard]] bool isOnBench() const;
    [[nodiscard]] bool isAtHandover() const;
    void changeFrame(RowId frame, const QString &text, const std::function<void(JobFrame &)> &edit);

    JobDocument m_job;
    TaskRunner m_tasks;
    Intake m_intake;
    FolderWatch m_watch;
    Thumbnails *m_thumbnails;
    TopBar *m_bar;
    QStackedWidget *m_stack;
    StartPage *m_start = nullptr;
    DaySheet *m_daySheet;
    Bench *m_bench;
    Handover *m_handover;
    TaskStrip *m_strip;
    StudioPanel *m_studio;
    CallOut *m_callOut = nullptr;
    struct Made
    {
        ActionRow row;
        QAction *action;
    };
    std::vector<Made> m_actions;
    Surround m_surround = Surround::Board;
    bool m_adaptsSoon = false;
    std::vector<qint64> m_arrived; ///< chart frames of the intake that is running
};

} // namespace wavechroma::app
