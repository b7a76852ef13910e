#pragma once
#include "app/model/job_document.h"
#include "core/capture/frame_levels.h"

#include <QFutureWatcher>
#include <QImage>
#include <QVector>

namespace wavechroma::app {

/// A frame opened for looking at and measuring, with its picture at halving sizes.
struct OpenFrame
{
    RowId id = 0;
    std::shared_ptr<const RawFrame> frame;
    QVector<QImage> levels; ///< sRGB; the first has `block` frame pixels a side, each next one twice that
    int block = 1;
    FrameLevels exposure;                   ///< of the file's own samples
    std::optional<Calibration> calibration; ///< that the picture is shown by; absent: the file's own colour
    QString flatWords;                      ///< of a flat frame: how even it is, or why it cannot serve
    QString fault;                          ///< why there is none
};

/// The current frame, decoded off the interface thread; the answer comes by signal. The last two are kept.
class FramePictures : public QObject
{
    Q_OBJECT
public:
    explicit FramePictures(JobDocument *job, QObject *parent = nullptr);
    ~FramePictures() override;
    void ask(RowId frame);
    void forget(RowId frame); ///< the next ask opens it anew

signals:
    void ready(std::shared_ptr<const wavechroma::app::OpenFrame> frame);

private:
    void start();

    JobDocument *m_job;
    QFutureWatcher<std::shared_ptr<const OpenFrame>> m_watcher;
    std::vector<std::shared_ptr<const OpenFrame>> m_kept;
    RowId m_asked = 0, m_running = 0;
};

} // namespace wavechroma::app

Q_DECLARE_METATYPE(std::shared_ptr<const wavechroma::app::OpenFrame>)
