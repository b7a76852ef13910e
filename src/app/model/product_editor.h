#pragma once
#include "app/model/frame_editor.h"
#include "core/facts/other_versions.h"
#include "core/tasks/probe_task.h"

namespace wavechroma::app {

/// What the bench shows of a product frame: what serves it, its level, its probes. Shared between the views;
/// a new one is made for each change.
struct ProductFacts
{
    std::optional<JobFrame> frame; ///< absent: no product frame is on the bench
    PictureServes serves;
    Serving serving;
    std::string chartAt; ///< when the serving chart was shot; empty: none
    double unseen = 0;   ///< ΔE2000 of its calibration on patches left out
    Answer::State answer = Answer::State::None;
    std::vector<RowId> charts;        ///< that could serve it
    FrameProbes probes;               ///< as last read; those that wait to be confirmed are not in it
    std::vector<ProbePlace> proposed; ///< to be confirmed by eye
    std::vector<ProbeTarget> targets;
    double limit = 0;               ///< ΔE2000 of a probe whose target has no tolerance of its own
    std::vector<RowId> run;         ///< frames in a row, this one among them
    int place = 0;                  ///< in the run, from 0
    double clipped = 0;             ///< share of the frame's pixels
    std::string trendOf;            ///< the probe that the trend is of; empty: none
    std::vector<ProbeAtTime> trend; ///< over the frames of the day
    std::optional<OutsideColours> outside = {}; ///< of the output spaces; absent: not asked for
    int outsideOf = -1;                         ///< the space that is shown, of rgbSpaces(); −1: none
    DoubtedColours doubted; ///< where the chart does not vouch for colours; empty: not asked for
};

[[nodiscard]] QString nameOf(const OtherVersion &version); ///< "white balance alone"

/// Another version of the frame on the bench, to flick to.
struct NamedVersion
{
    QString name;                           ///< "white balance alone"
    std::optional<Calibration> calibration; ///< none: the file's own picture
};

/// What can be done with a product frame on the bench, without any widgets; each is one undoable step.
class ProductEditor : public QObject
{
    Q_OBJECT
public:
    ProductEditor(JobDocument *job, TaskRunner *tasks, FrameEditor *frames, QObject *parent = nullptr);

    [[nodiscard]] const std::shared_ptr<const ProductFacts> &facts() const { return m_facts; }
    [[nodiscard]] bool isHere() const { return m_facts->frame.has_value(); }
    [[nodiscard]] bool canEdit() const { return isHere() && !m_job->isReadOnly(); }

    void levelBy(int thirds);                          ///< of a stop; at most four stops either way
    void serveBy(RowId chart);                         ///< 0: by the rule
    void crop(const std::optional<PictureCrop> &crop); ///< nothing: all of the frame
    void cropTo(const PixelPoint &from, const PixelPoint &to);
    void turnToLine(const PixelPoint &from, const PixelPoint &to); ///< a line that is to lie level
    void squareBy(const std::vector<PixelPoint> &corners);         ///< three of a flat thing
    /// The crop goes to the frames after this one that have the same size and stand in the same setup, up to
    /// one with a crop of its own.
    void carryCrop();
    [[nodiscard]] std::vector<RowId> framesToCarryCropTo() const;
    /// By a calibration brought along: one of the job's by its row, or a new one.
    void serveByCalibration(RowId calibration);
    void serveByCalibration(const Calibration &calibration);

    // probes, by name
    [[nodiscard]] std::string freeName() const;       ///< "probe 1"
    void lay(const ProbePlace &place, bool finished); ///< a new one, or one of that name moved
    void rename(const std::string &name, const std::string &to);
    void remove(const std::string &name);
    void confirm(); ///< those that are proposed, where they lie now
    void dropProposed();
    void setTarget(const std::string &name, const std::optional<ProbeTarget> &target);
    void loadTargets(const QString &file);
    void takeAsTarget(const std::string &name); ///< what it reads here is what the others are to be

    /// Level, balance and what serves it go to the frames of the run that follow, its probes as proposals.
    void carryOn();
    [[nodiscard]] std::vector<RowId> framesToCarryTo() const;
    /// Level and balance go to all product frames of the station; it says when another chart serves some of
    /// them.
    void carryToStation();
    [[nodiscard]] RowId neighbour(int by) const; ///< in the run; 0: none

    [[nodiscard]] std::vector<NamedVersion> others() const;
    /// What a probe's thing reads on all frames of the job that have it, off the interface thread.
    void askTrend(const std::string &name); ///< empty: none
    void setDoubted(bool shown);
    void setOutside(int space); ///< of rgbSpaces(); −1: none
    [[nodiscard]] int outsideOf() const { return m_outsideOf; }
    [[nodiscard]] bool isDoubtedShown() const { return m_showsDoubted; }

signals:
    void factsChanged();
    void problem(const QString &message);

private:
    void refresh();
    void setFacts(ProductFacts facts);
    void readProbes();
    void readDoubted();
    void readOutside();
    void followProposed();
    void carry(const std::vector<RowId> &frames, const QString &undoText, bool withProbes);
    void push(const QString &undoText, const JobChange &change, int mergeKey = 0);
    [[nodiscard]] const JobProbe *probe(const std::string &name) const;
    /// Returns a sentence for each other chart that serves some of `frames`: how many, when it was shot, and
    /// how its light differs.
    [[nodiscard]] QStringList otherLights(const std::vector<RowId> &frames) const;

    JobDocument *m_job;
    TaskRunner *m_tasks;
    FrameEditor *m_frames;
    std::shared_ptr<const ProductFacts> m_facts = std::make_shared<const ProductFacts>();
    RowId m_followed = 0; ///< the frame whose proposals were matched to its picture
    int m_dragKey = 0;
    bool m_showsDoubted = false;
    int m_outsideOf = -1;
};

} // namespace wavechroma::app
