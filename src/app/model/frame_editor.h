#pragma once
#include "app/model/frame_pictures.h"
#include "core/facts/bench_facts.h"
#include "core/tasks/refusals.h"

#include <array>

namespace wavechroma::app {

using Facts = std::shared_ptr<const BenchFacts>;

/// What can be done with the frame on the bench, without any widgets: where its chart lies, its balance, its
/// fit. Each is one undoable step of the job; what takes time is worked out by the task runner, and the last
/// answer is followed by a better one. Views listen to the facts and the picture.
class FrameEditor : public QObject
{
    Q_OBJECT
public:
    FrameEditor(JobDocument *job, TaskRunner *tasks, QObject *parent = nullptr);

    [[nodiscard]] const Facts &facts() const { return m_facts; }
    [[nodiscard]] const std::shared_ptr<const OpenFrame> &picture() const
    {
        return m_open;
    } ///< null: not open
    [[nodiscard]] FramePictures *pictures() const { return m_pictures; }
    [[nodiscard]] bool isBusy() const;
    /// Undo: what is still being worked out is dropped, as if it had not been asked for; else the last step
    /// of the job is taken back.
    void takeBack();
    [[nodiscard]] bool canTakeBack() const;
    void finishWork(); ///< waits for what is being worked out and takes it, before the job goes

    // frame_editor_placement.cpp: where the chart lies, which chart it is, which patches count
    void readAgain();   ///< searches anew, without the hand's placement
    void placeByHand(); ///< over the middle of the frame, to drag from there
    /// The chart that the frame is taken to show: found anew or, with `byHand`, laid in the middle.
    void useChart(const ChartDefinition &chart, bool byHand);
    void setSnapping(bool on) { m_snaps = on; }
    void follow(const Corners &corners, double windowShare, bool finished); ///< a hand that drags the chart
    void dropCorner(const Corners &corners, double windowShare);
    void clickPatch(const QString &id); ///< off, or on again
    void switchOff(const std::vector<std::string> &patches);
    void placeByThree(const std::vector<PixelPoint> &three);
    /// The placement goes to the chart frames that follow this one without another between, each found again.
    void carryPlacement();
    [[nodiscard]] std::vector<RowId> framesToCarryTo() const;
    /// The verdict on a ruler of that length, which is kept as the scale of the frame's station; nothing,
    /// with a problem told, for one that is none.
    [[nodiscard]] std::optional<ScaleVerdict> measured(const PixelPoint &from, const PixelPoint &to,
                                                       double millimetres);

    // frame_editor_balance.cpp
    void balanceFromGreys(const std::vector<std::string> &patches);
    void balanceFromLight(const Temperature &light);
    void balanceFromArea(const PixelPoint &from, const PixelPoint &to);
    void proposeNeutral(); ///< the most likely one of a frame without a target; says which
    void balanceFromWholeFrame();
    void leanTo(const Lean &lean);
    void leanBy(double warmer, double rosier);
    void dropBalance(); ///< back to the chart's own neutral
    [[nodiscard]] bool keepPreset(const QString &file, const QString &name);
    void usePreset(const QString &file, const std::vector<RowId> &frames);

    /// A frame becomes a grey: what it shows says what white is. A problem says so where it shows nothing of
    /// the kind, and the frame stays what it was.
    void readWhite(RowId frame);

    // frame_editor_fit.cpp
    void chooseParts(const Parts &parts); ///< for the whole job; "auto" leaves them to each reading
    void leanColour(const ColourLean &lean);
    void fitUnderLight(const QString &light); ///< see lightNamed(); empty: estimated from the neutral
    void useAppearance(Appearance appearance);
    void useWeights(const QString &weights); ///< see weightsFrom()
    [[nodiscard]] QString weights() const;   ///< of the calibrations on the bench; "even" when there are none
    /// Chart frames shot in one go with this one (a bracket, repeats) while the light held, that have no
    /// fault but their exposure.
    [[nodiscard]] std::vector<RowId> framesToMerge() const;
    void mergeReadings(); ///< those, into this frame's calibration; merged already: back to this frame alone
    [[nodiscard]] bool isMerged() const;
    /// Probes with targets on the frames that this chart serves count as patches; they do already: no more.
    void fitKnownThings();
    [[nodiscard]] bool hasKnownThings() const;

signals:
    /// What was asked for cannot be right, or not as it was meant; `allTheSame` does it for whoever knows
    /// better.
    void doubted(const QString &message, const std::function<void()> &allTheSame);
    void factsChanged();
    void pictureChanged(); ///< another frame, another colour, or none
    void problem(const QString &message);

private:
    void keepRuler(double pixelsPerMm);
    struct Redone
    {
        RowId frame = 0;
        StationPass pass;
        std::optional<FramePart> part = {}; ///< that the frame is to have; nothing: a grey stays one
    };
    using Redoing = std::vector<Redone>;
    using Work = std::function<Result<Redoing>(const Progress &)>;
    /// Does it at once where nothing speaks against it, else asks.
    void unlessDoubted(const Refusal &doubt, std::function<void()> doIt);
    void refresh();
    void setFacts(BenchFacts facts);
    /// Work whose result is the change of readings and calibrations. `busy`: shown while it runs; empty:
    /// without a word. The newest wish waits; one before it is overtaken.
    void redo(const QString &undoText, const QString &busy, Work work);
    void takeRedone(const Redoing &all, const QString &undoText);
    void fitAnew(const Reading &reading, const QString &undoText);
    void fitAnewWith(const FitRequest &request, const QString &undoText);
    void finishPlacement(const Result<Reading> &moved, const QString &undoText);
    void takeBalance(const Result<Balance> &balance, const QString &undoText);
    [[nodiscard]] Result<Balance> leanedLikeNow(const Result<Balance> &balance) const;
    [[nodiscard]] FileColor fileColor() const;
    [[nodiscard]] std::shared_ptr<const RawFrame> raw() const; ///< of the open frame; null: none
    [[nodiscard]] bool canEdit() const; ///< a chart reading on an open frame of a job that can be written
    [[nodiscard]] std::vector<std::string> keptFlats() const;
    [[nodiscard]] FitRequest request() const;

    JobDocument *m_job;
    TaskRunner *m_tasks;
    FramePictures *m_pictures;
    Facts m_facts = std::make_shared<const BenchFacts>();
    std::shared_ptr<const OpenFrame> m_open;
    bool m_snaps = true;
};

} // namespace wavechroma::app
