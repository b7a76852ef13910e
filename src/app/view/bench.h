#pragma once
#include "app/model/frame_pictures.h"
#include "app/view/bench_facts.h"

#include <QWidget>
#include <array>
#include <functional>

class QHBoxLayout;

namespace wavechroma::app {

class BalanceStop;
class FitStop;
class ProofStop;
class ReadStop;
class Stop;
class StopColumn;

/// One station as a line of four stops: one open, the others slim columns that show their result at rest.
class Bench : public QWidget
{
    Q_OBJECT
public:
    explicit Bench(JobDocument *job, QWidget *parent = nullptr);

    void openStop(int number); ///< 1 to 4
    [[nodiscard]] int openedStop() const { return m_open; }
    [[nodiscard]] const BenchFacts &facts() const { return m_facts; }
    [[nodiscard]] ReadStop *readStop() const { return m_read; }
    [[nodiscard]] BalanceStop *balanceStop() const { return m_balance; }
    [[nodiscard]] FitStop *fitStop() const { return m_fit; }
    [[nodiscard]] ProofStop *proofStop() const { return m_proof; }
    /// Searches the current frame again, without the hand's placement, off the interface thread.
    void readAgain();
    /// Lays the chart over the middle of the frame, for the hand to drag from there.
    void placeByHand();
    /// The chart that the frame is taken to show: found anew or, with `byHand`, laid in the middle.
    void useChart(const ChartDefinition &chart, bool byHand);
    void setSnapping(bool on) { m_snaps = on; }
    /// The placement goes to the chart frames that follow this one without another between, each found again
    /// there.
    void carryPlacement();
    [[nodiscard]] std::vector<RowId> framesToCarryTo() const;
    void switchOff(const std::vector<std::string> &patches);
    // bench_balance.cpp: the balance of the frame on the bench, each as one undoable step
    void balanceFromGreys(const std::vector<std::string> &patches);
    void balanceFromLight(const Temperature &light);
    void balanceFromArea(const PixelPoint &from, const PixelPoint &to);
    void balanceFromWholeFrame();
    void leanTo(const Lean &lean);
    void leanBy(double warmer, double rosier);
    void dropBalance(); ///< back to the chart's own neutral
    [[nodiscard]] bool keepPreset(const QString &file, const QString &name);
    void usePreset(const QString &file, const std::vector<RowId> &frames);
    void useCharacter(Character character);
    void fitUnderLight(const QString &light); ///< see lightNamed(); empty: estimated from the neutral
    void useAppearance(Appearance appearance);
    void useWeights(const QString &weights); ///< see weightsFrom()
    [[nodiscard]] QString weights() const;   ///< of the calibrations on the bench; "even" when there are none
    /// Chart frames shot in one go with this one (a bracket, repeats) while the light held, that have no
    /// fault but their exposure.
    [[nodiscard]] std::vector<RowId> framesToMerge() const;
    void mergeReadings(); ///< those, into this frame's calibration; merged already: back to this frame alone
    void measureRuler(double millimetres); ///< of the ruler that was drawn last
    [[nodiscard]] bool isBusy() const;
    void finishWork(); ///< waits for what is being worked out and takes it, before the job goes

signals:
    void busyChanged(const QString &what); ///< empty when done
    void problem(const QString &message);
    void rulerLengthAsked();

private:
    struct Redone
    {
        RowId frame = 0;
        StationPass pass;
    };
    using Redoing = Result<std::vector<Redone>>;
    void connectView();
    void takeBalance(const Result<Balance> &balance, const QString &undoText);
    void redo(const QString &undoText, const QString &busy, std::function<Redoing()> work);
    void redone();
    void takeRedone(const std::vector<Redone> &all);
    void fitAnew(const Reading &reading, const QString &undoText);
    void fitAnewWith(const FitRequest &request, const QString &undoText);
    void dropCorner(const Corners &corners, double windowShare);
    void clickPatch(const QString &id);
    void placeByThree(const std::vector<PixelPoint> &three);
    void finishPlacement(const Result<Reading> &moved, const QString &undoText);
    [[nodiscard]] std::vector<std::string> keptFlats() const;
    void refresh();
    void showFacts();
    void followPlacement(const Corners &corners, double windowShare, bool finished);
    void chooseModel(const QString &model);
    [[nodiscard]] FitRequest requestFor(const JobFrame &frame) const;

    JobDocument *m_job;
    FramePictures *m_pictures;
    ReadStop *m_read;
    BalanceStop *m_balance;
    FitStop *m_fit;
    ProofStop *m_proof;
    std::array<StopColumn *, 4> m_columns{};
    QHBoxLayout *m_line;
    QFutureWatcher<Redoing> m_again;
    QString m_againText;
    bool m_owed = false;             ///< work whose result has not been taken
    std::function<void()> m_waiting; ///< what was asked for while other work ran
    bool m_snaps = true;
    std::array<PixelPoint, 2> m_ruler{};
    BenchFacts m_facts;
    int m_open = 1;
};

} // namespace wavechroma::app
