#pragma once
#include "app/model/job_document.h"
#include "app/model/task_runner.h"

#include <QHash>
#include <QImage>
#include <optional>

namespace wavechroma::app {

/// Small upright pictures of frames for the day sheet, made off the interface thread and kept as PNG in the
/// job's `thumbs` folder, by the frame's hash. They can be deleted at any time.
/// A small picture of a frame or of a picture file, upright by `orientation` or by the file's own flag; null
/// where it cannot be read. Takes a while: not for the interface thread.
[[nodiscard]] QImage uprightPicture(const std::string &path, int longSide,
                                    std::optional<int> orientation = {});

class Thumbnails : public QObject
{
    Q_OBJECT
public:
    Thumbnails(JobDocument *job, TaskRunner *tasks, QObject *parent = nullptr);
    /// The picture, or a null one while it is being made or cannot be.
    [[nodiscard]] QImage of(const JobFrame &frame);

signals:
    void arrived();

private:
    JobDocument *m_job;
    TaskRunner *m_tasks;
    QHash<QString, QImage>
        m_pictures; ///< by hash; null ones stand for frames that cannot be shown, or not yet
};

} // namespace wavechroma::app
