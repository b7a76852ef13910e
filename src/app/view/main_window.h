#pragma once
#include "app/model/folder_watch.h"
#include "app/model/intake.h"
#include "app/view/look.h"

#include <QMainWindow>

class QStackedWidget;

namespace wavechroma::app {

class Bench;
class CallOut;
class DaySheet;
struct ExportSubject;
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
    void showMessage(const QString &message);
    void showCallOut(qint64 frame);

    [[nodiscard]] JobDocument *job() { return &m_job; }
    [[nodiscard]] Bench *bench() const { return m_bench; }
    [[nodiscard]] DaySheet *daySheet() const { return m_daySheet; }
    [[nodiscard]] TaskStrip *strip() const { return m_strip; }
    [[nodiscard]] CallOut *callOut() const { return m_callOut; }
    [[nodiscard]] FolderWatch *watch() { return &m_watch; }
    [[nodiscard]] StudioPanel *studio() const { return m_studio; }
    [[nodiscard]] Intake *intake() { return &m_intake; }
    [[nodiscard]] QAction *action(const QString &name) const; ///< by object name

protected:
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void closeEvent(QCloseEvent *event) override;

private:
    // main_window_actions.cpp
    void makeActions();
    void makeJobActions();
    void makeEditActions();
    void makePlaceActions();
    void makeChartActions();
    void makeBalanceActions(); // main_window_balance.cpp
    void makeMatchActions();
    void askForLight();
    void askForWeights();
    void askForFitLight();
    void keepPreset();
    void choosePreset();
    void keepReference();
    void chooseMatch();
    void matchTo(RowId other);
    void makeViewActions();
    QAction *add(const QString &menu, const QString &name, const QString &text, const QKeySequence &key,
                 const QString &why, const std::function<void()> &run);
    void adaptActions();
    // main_window_jobs.cpp
    void newJob();
    void chooseJob();
    void makeDemoJob();
    void chooseFrames();
    void exportCalibration();
    void exportThis(const ExportSubject &subject);
    void renameSetup(qint64 setup);
    void changeLight();
    void moveToSetup();
    void removeSetup();
    void setPart(FramePart part);
    void chooseWatched();
    void watchFolder(const QString &folder);
    void shootingStarts();
    void useAllTheSame();
    void toggleSetAside();
    void removeFrame();
    void showKeys();
    // main_window_charts.cpp
    void chooseChart();
    void chooseLimits();
    void editCharts();
    void drawChart();
    void switchPatchesOff();
    void askRulerLength();

    void adapt();
    void arrived();
    [[nodiscard]] RowId subject() const; ///< the frame that actions are about

    JobDocument m_job;
    Intake m_intake;
    FolderWatch m_watch;
    Thumbnails *m_thumbnails;
    TopBar *m_bar;
    QStackedWidget *m_stack;
    StartPage *m_start = nullptr;
    DaySheet *m_daySheet;
    Bench *m_bench;
    TaskStrip *m_strip;
    StudioPanel *m_studio;
    CallOut *m_callOut = nullptr;
    QHash<QString, QMenu *> m_menus;
    Surround m_surround = Surround::Board;
    std::vector<qint64> m_arrived; ///< chart frames of the intake that is running
    QFutureWatcher<Result<Done>> m_demo;
    std::atomic<bool> m_demoStopped = false;
    QString m_demoFolder;
};

} // namespace wavechroma::app
