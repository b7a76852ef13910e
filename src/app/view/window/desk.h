#pragma once
#include "app/model/folder_watch.h"
#include "app/model/intake.h"

#include <QWidget>

class QStackedWidget;

namespace wavechroma::app {

class AgreementPlace;
class Bench;
class CallOut;
class DaySheet;
class FrameEditor;
class Handover;
class StrikeView;
class StudioPanel;
class TaskStrip;
class Thumbnails;
class TopBar;

/// The middle of the window: the open job, the work in hand, the places, and which of them is shown.
class Desk : public QWidget
{
    Q_OBJECT
public:
    Desk();
    ~Desk() override;

    bool openJob(const QString &folder); ///< false, with a message shown, when it cannot be opened
    void bringIn(const QStringList &paths);
    void stop();                   ///< all work
    void showStart(QWidget *page); ///< what is shown while no job is open
    void showDaySheet();
    void showBench(qint64 frame);
    void showAgreement();
    void showHandover();
    void showStrike(qint64 setup); ///< what it lacks while its lights are up
    /// Shows what the newest setup lacks, once, where frames came in since the job was opened; true: it did,
    /// and whoever wants to leave should wait.
    bool holdsBack();
    void showCallOut(qint64 frame);
    void showMessage(const QString &message);
    void clearMessage(); ///< or, where there is none, back to the day sheet
    void adapt();        ///< the bar, and whoever listens

    [[nodiscard]] RowId subject() const; ///< the frame that actions are about
    [[nodiscard]] bool isOnBench() const;
    [[nodiscard]] bool isAtHandover() const;
    [[nodiscard]] bool isAtAgreement() const;

    [[nodiscard]] JobDocument *job() { return &m_job; }
    [[nodiscard]] const JobDocument *job() const { return &m_job; }
    [[nodiscard]] TaskRunner *tasks() { return &m_tasks; }
    [[nodiscard]] Intake *intake() { return &m_intake; }
    [[nodiscard]] const Intake *intake() const { return &m_intake; }
    [[nodiscard]] FolderWatch *watch() { return &m_watch; }
    [[nodiscard]] const FolderWatch *watch() const { return &m_watch; }
    [[nodiscard]] TopBar *bar() const { return m_bar; }
    [[nodiscard]] DaySheet *daySheet() const { return m_daySheet; }
    [[nodiscard]] Bench *bench() const { return m_bench; }
    [[nodiscard]] FrameEditor *editor() const;
    [[nodiscard]] AgreementPlace *agreementPlace() const { return m_agreement; }
    [[nodiscard]] StrikeView *strikeView() const { return m_strike; }
    [[nodiscard]] Handover *handoverPlace() const { return m_handover; }
    [[nodiscard]] StudioPanel *studio() const { return m_studio; }
    [[nodiscard]] TaskStrip *strip() const { return m_strip; }
    [[nodiscard]] CallOut *callOut() const { return m_callOut; }

signals:
    void changed();        ///< what can be done may be something else
    void factsChanged();   ///< the same, for facts of which many change at once
    void writableOpened(); ///< a job that can be written
    void settled();        ///< all frames that came in are read

private:
    void layOut();
    void connectJob();
    void connectWork();
    void connectPlaces();
    void arrived();
    void offerStrike(const JobChange &change);
    void stepStrike(int by);
    void askAllTheSame(const QString &message, const std::function<void()> &allTheSame);

    JobDocument m_job;
    TaskRunner m_tasks;
    Intake m_intake;
    FolderWatch m_watch;
    Thumbnails *m_thumbnails;
    TopBar *m_bar;
    QStackedWidget *m_stack;
    DaySheet *m_daySheet;
    Bench *m_bench;
    AgreementPlace *m_agreement;
    Handover *m_handover;
    TaskStrip *m_strip;
    StudioPanel *m_studio;
    CallOut *m_callOut;
    StrikeView *m_strike;
    bool m_cameIn = false;         ///< frames, since the job was opened or the card was last offered
    QString m_shownQueue;          ///< whose progress the strip shows
    std::vector<qint64> m_arrived; ///< chart frames of the intake that is running
};

} // namespace wavechroma::app
