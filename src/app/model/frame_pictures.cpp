#include "app/model/frame_pictures.h"

#include "app/model/day_lanes.h"
#include "core/render/display_picture.h"
#include "core/tasks/chart_tasks.h"

#include <QColorSpace>
#include <QtConcurrent>

namespace wavechroma::app {

static std::shared_ptr<const OpenFrame> openFor(RowId id, const std::string &path,
                                                const std::vector<std::filesystem::path> &flats,
                                                const std::optional<Calibration> &calibration, bool isFlat)
{
    auto out = std::make_shared<OpenFrame>();
    out->id = id;
    const auto frame = openFrame(path);
    if (!frame) {
        out->fault = QString::fromStdString(frame.error().message);
        return out;
    }
    const auto even = flats.empty() ? frame : withFlats(*frame, flats);
    out->frame = std::make_shared<RawFrame>(even ? *even : *frame);
    const auto color = calibration ? displayColorOf(*calibration) : displayColorOf(*frame);
    const auto picture = displayPicture(*frame, color, smallestBlock(*frame));
    out->block = picture.block;
    out->exposure = frameLevels(*frame);
    out->calibration = calibration;
    if (isFlat)
        out->flatWords = QString::fromStdString(verdictOnFlat(*frame).words);
    QImage image(picture.rgb.data(), picture.width, picture.height, 3 * picture.width, QImage::Format_RGB888);
    image = image.convertToFormat(QImage::Format_RGB32);
    image.setColorSpace(QColorSpace::SRgb);
    out->levels << image;
    while (image.width() > 400) {
        image = image.scaled((image.width() + 1) / 2, (image.height() + 1) / 2, Qt::IgnoreAspectRatio,
                             Qt::SmoothTransformation);
        out->levels << image;
    }
    return out;
}

FramePictures::FramePictures(JobDocument *job, QObject *parent) : QObject(parent), m_job(job)
{
    qRegisterMetaType<std::shared_ptr<const OpenFrame>>();
    connect(job, &JobDocument::opened, this, [this] { m_kept.clear(); });
    connect(&m_watcher, &QFutureWatcherBase::finished, this, [this] {
        const auto frame = m_watcher.result();
        m_kept.push_back(frame);
        if (m_kept.size() > 2)
            m_kept.erase(m_kept.begin());
        m_running = 0;
        if (frame->id == m_asked)
            emit ready(frame);
        else
            start();
    });
}

FramePictures::~FramePictures()
{
    m_watcher.waitForFinished();
}

void FramePictures::ask(RowId frame)
{
    m_asked = frame;
    for (const auto &kept : m_kept)
        if (kept->id == frame && kept->fault.isEmpty()) {
            emit ready(kept);
            return;
        }
    if (!m_running)
        start();
}

void FramePictures::forget(RowId frame)
{
    std::erase_if(m_kept, [&](const auto &kept) { return kept->id == frame; });
}

void FramePictures::start()
{
    const auto *frame = m_job->state().frame(m_asked);
    if (!frame || !m_job->store())
        return;
    m_running = m_asked;
    std::optional<Calibration> calibration;
    if (const auto *known = calibrationFor(m_job->state(), m_asked))
        calibration = *known;
    const auto path = m_job->store()->fullPath(*frame).string();
    std::vector<std::filesystem::path> flats;
    if (const auto *reading = m_job->state().readingOf(m_asked))
        for (const auto &flat : reading->reading.flats)
            flats.push_back(m_job->store()->folder() / flat);
    m_watcher.setFuture(
        QtConcurrent::run([id = m_asked, path, flats, calibration, isFlat = frame->part == FramePart::Flat] {
            return openFor(id, path, flats, calibration, isFlat);
        }));
}

} // namespace wavechroma::app
