#include "app/model/thumbnails.h"

#include "app/model/screen_profile.h"
#include "app/model/upright.h"
#include "core/tasks/look_task.h"

#include <QDir>
#include <QFileInfo>

namespace wavechroma::app {

static constexpr int kLongSide = 192;

QImage uprightPicture(const std::string &path, int longSide, std::optional<int> orientation)
{
    int own = 1;
    const auto picture = smallPicture(path, longSide, &own);
    if (!picture)
        return {};
    const QImage image(reinterpret_cast<const uchar *>(picture->rgb.data()), picture->width, picture->height,
                       4 * qsizetype(picture->width), QImage::Format_RGB32);
    const auto turn = uprightTransform(orientation.value_or(own), picture->width, picture->height);
    return image.copy().transformed(turn); // the copy outlives `picture`
}

static QImage make(const std::string &path, const QString &file, bool mayWrite, int orientation)
{
    if (QFileInfo::exists(file)) // of a job that may come from anywhere: the frames' own readers read it
        if (const auto kept = uprightPicture(file.toStdString(), kLongSide, 1); !kept.isNull())
            return kept;
    const auto image = uprightPicture(path, kLongSide, orientation);
    if (image.isNull())
        return {};
    const QDir thumbs = QFileInfo(file).dir();
    const bool isJobThere =
        QFileInfo(QFileInfo(thumbs.path()).dir(), "job.sqlite").exists(); // it may have been moved
    if (mayWrite && isJobThere && QDir().mkpath(thumbs.path()))
        image.save(file);
    return image;
}

/// The kept pictures are sRGB.
static QImage shownOn(const Screen *screen, QImage image)
{
    if (!screen)
        return image;
    image = image.convertToFormat(QImage::Format_RGB32);
    for (int y = 0; y < image.height(); ++y) {
        auto *line = reinterpret_cast<QRgb *>(image.scanLine(y));
        for (int x = 0; x < image.width(); ++x)
            line[x] = screen->shown(line[x]);
    }
    return image;
}

Thumbnails::Thumbnails(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks)
{
    connect(job, &JobDocument::opened, this, [this] { m_pictures.clear(); });
    connect(&ScreenProfile::current(), &ScreenProfile::changed, this, [this] {
        m_pictures.clear();
        emit arrived();
    });
}

QImage Thumbnails::of(const JobFrame &frame)
{
    const auto key = QString::fromStdString(frame.sha256);
    const auto at = m_pictures.constFind(key);
    if (at != m_pictures.constEnd())
        return *at;
    if (!m_job->store())
        return {};
    m_pictures.insert(key, {}); // asked for once
    const auto file =
        QString::fromStdString((m_job->store()->folder() / "thumbs" / (frame.sha256 + ".png")).string());
    const auto path = m_job->store()->fullPath(frame).string();
    const auto work = [path, file, mayWrite = !m_job->isReadOnly(), turn = frame.orientation,
                       screen =
                           ScreenProfile::current().shared()](const Progress &progress) -> Result<QImage> {
        return progress.stopped() ? QImage() : shownOn(screen.get(), make(path, file, mayWrite, turn));
    };
    m_tasks->run<QImage>({"thumbnails"}, work, this, [this, key](const Result<QImage> &made) {
        if (made)
            m_pictures.insert(key, *made);
        emit arrived();
    });
    return {};
}

} // namespace wavechroma::app
