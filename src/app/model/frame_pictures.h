#pragma once
#include "app/model/job_document.h"
#include "app/model/task_runner.h"
#include "core/tasks/look_task.h"
#include "core/values/flat_verdict.h"

#include <QImage>
#include <QVector>

namespace wavechroma::app {

/// A frame opened for looking at and measuring, with its picture at halving sizes.
struct OpenFrame
{
    RowId id = 0;
    std::shared_ptr<const RawFrame> frame;
    std::shared_ptr<const OpenedFrame> opened; ///< what it is looked at through; shared by all its colours
    std::shared_ptr<TruePixelSource> pixels;   ///< for 100 %; shared likewise
    QVector<QImage> levels; ///< the first has `block` frame pixels a side, each next one twice that.
                            ///< Null ones are still being made
    int block = 1;
    FrameLevels exposure;                   ///< of the file's own samples; empty while it is worked out
    std::optional<Calibration> calibration; ///< that the picture is shown by; absent: the file's own colour
    std::shared_ptr<const Screen> screen;   ///< that it is made for; null: sRGB
    std::optional<Vector3> multipliers;     ///< of the balance chosen for the frame
    /// What serves a product frame, so that it is shown as it will be delivered. Null: as its chart has it.
    std::shared_ptr<const PictureServes> serves;
    std::optional<FlatVerdict> flat; ///< of a flat frame
    bool isFilesOwn = false;         ///< its picture is the file's own, of the frame's size or smaller
    QString fault;                   ///< why there is none
};

[[nodiscard]] QImage imageOf(const DisplayPicture &picture); ///< with its own memory
[[nodiscard]] DisplayColor colourOf(const OpenFrame &frame);
/// Is it shown through the same colour, whatever is decoded?
[[nodiscard]] bool isColouredAlike(const OpenFrame &a, const OpenFrame &b);

/// The current frame, decoded and coloured off the interface thread; the answer comes by signal. The last few
/// are kept, and one that is asked for ahead. A changed calibration or balance colours what was decoded anew:
/// small sizes first, which are what a fitted view shows, then the largest.
class FramePictures : public QObject
{
    Q_OBJECT
public:
    FramePictures(JobDocument *job, TaskRunner *tasks, QObject *parent = nullptr);
    void ask(RowId frame);
    void forget(RowId frame); ///< the next ask opens it anew
    /// The picture of the open frame by another model than the job's, until the next ask.
    void preview(RowId frame, const Calibration &calibration);
    /// Opens a frame that will be asked for next, so that it is there then.
    void ahead(RowId frame);
    /// The open frame by another calibration, kept beside it: otherReady() tells.
    void askOther(const std::shared_ptr<const OpenFrame> &frame, const Calibration &calibration);
    /// The picture that its file holds of itself, likewise; or otherMissing().
    void askFilesOwn(const std::shared_ptr<const OpenFrame> &frame);

signals:
    void ready(std::shared_ptr<const wavechroma::app::OpenFrame> frame);
    void otherReady(std::shared_ptr<const wavechroma::app::OpenFrame> frame);
    void otherMissing(const QString &why);

private:
    using Open = std::shared_ptr<const OpenFrame>;
    void open(RowId frame, const QString &queue);
    /// `colours` holds what it is shown through.
    void look(const Open &frame, const OpenFrame &colours);
    void openWhole(const Open &frame); ///< which so far has the sizes that it is first seen at
    void keep(const Open &frame);
    [[nodiscard]] Open keptOf(RowId frame) const; ///< null: it is not kept
    /// What a frame is shown through, as an open frame that holds nothing else.
    [[nodiscard]] OpenFrame coloursFor(RowId frame) const;

    JobDocument *m_job;
    TaskRunner *m_tasks;
    std::vector<Open> m_kept;
    RowId m_asked = 0, m_ahead = 0;
    int m_round = 0; ///< of colours asked for; an older one is dropped
};

} // namespace wavechroma::app

Q_DECLARE_METATYPE(std::shared_ptr<const wavechroma::app::OpenFrame>)
