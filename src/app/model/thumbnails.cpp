#include "app/model/thumbnails.h"

#include "core/render/display_picture.h"

#include <QDir>
#include <QFileInfo>
#include <QTransform>
#include <QtConcurrent>

namespace wavechroma::app {

static constexpr int kLongSide = 192;

/// EXIF orientation → the turn that makes the picture upright.
static QTransform uprightTurn(int orientation)
{
    QTransform t;
    switch (orientation) {
    case 3:
        return t.rotate(180);
    case 6:
        return t.rotate(90);
    case 8:
        return t.rotate(270);
    default:
        return t;
    }
}

static QImage make(const std::string &path, const QString &file, bool mayWrite, int orientation)
{
    if (QImage kept(file); !kept.isNull())
        return kept;
    const auto frame = openFrame(path);
    if (!frame)
        return {};
    const auto picture = displayPicture(*frame, displayColorOf(*frame),
                                        std::max(1, std::max(frame->width, frame->height) / kLongSide));
    QImage image(picture.rgb.data(), picture.width, picture.height, 3 * picture.width, QImage::Format_RGB888);
    image = image.copy().transformed(uprightTurn(orientation)); // the copy outlives `picture`
    if (mayWrite && QDir().mkpath(QFileInfo(file).path()))
        image.save(file);
    return image;
}

Thumbnails::Thumbnails(JobDocument *job, QObject *parent) : QObject(parent), m_job(job)
{
    connect(job, &JobDocument::opened, this, [this] {
        m_waiting.clear();
        m_pictures.clear();
    });
    connect(&m_watcher, &QFutureWatcherBase::finished, this, [this] {
        m_pictures.insert(m_running, m_watcher.result());
        m_running.clear();
        emit arrived();
        next();
    });
}

Thumbnails::~Thumbnails()
{
    m_watcher.waitForFinished();
}

QImage Thumbnails::of(const JobFrame &frame)
{
    const auto key = QString::fromStdString(frame.sha256);
    const auto at = m_pictures.constFind(key);
    if (at != m_pictures.constEnd())
        return *at;
    if (key != m_running && std::none_of(m_waiting.begin(), m_waiting.end(),
                                         [&](const auto &f) { return f.sha256 == frame.sha256; }))
        m_waiting.push_back(frame);
    next();
    return {};
}

void Thumbnails::next()
{
    if (!m_running.isEmpty() || m_waiting.empty() || !m_job->store())
        return;
    const JobFrame frame = m_waiting.front();
    m_waiting.erase(m_waiting.begin());
    m_running = QString::fromStdString(frame.sha256);
    const auto file =
        QString::fromStdString((m_job->store()->folder() / "thumbs" / (frame.sha256 + ".png")).string());
    const auto path = m_job->store()->fullPath(frame).string();
    m_watcher.setFuture(
        QtConcurrent::run([path, file, mayWrite = !m_job->isReadOnly(), turn = frame.orientation] {
            return make(path, file, mayWrite, turn);
        }));
}

} // namespace wavechroma::app
