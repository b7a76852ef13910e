#pragma once
#include "app/model/job_document.h"

#include <QFutureWatcher>
#include <QHash>
#include <QImage>

namespace wavechroma::app {

/// Small upright pictures of frames for the day sheet, made off the interface thread and kept as PNG in the
/// job's `thumbs` folder, by the frame's hash. They can be deleted at any time.
class Thumbnails : public QObject
{
    Q_OBJECT
public:
    explicit Thumbnails(JobDocument *job, QObject *parent = nullptr);
    ~Thumbnails() override;
    /// The picture, or a null one while it is being made or cannot be.
    [[nodiscard]] QImage of(const JobFrame &frame);

signals:
    void arrived();

private:
    void next();

    JobDocument *m_job;
    QHash<QString, QImage> m_pictures; ///< by hash; null ones stand for frames that cannot be shown
    QFutureWatcher<QImage> m_watcher;
    QString m_running;
    std::vector<JobFrame> m_waiting;
};

} // namespace wavechroma::app
