#include "app/model/frame_pictures.h"

#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "core/tasks/read_task.h"

namespace wavechroma::app {

namespace {

constexpr qsizetype kLargest = 2000; ///< pixels a side of what is coloured at once; more waits for its turn

bool isLarge(const Overview &level)
{
    return std::max(level.width, level.height) > kLargest;
}

std::shared_ptr<OpenFrame> openFor(RowId id, const std::string &path,
                                   const std::vector<std::filesystem::path> &flats, bool isFlat,
                                   const Progress &progress)
{
    auto out = std::make_shared<OpenFrame>();
    out->id = id;
    auto opened = openToLook(path, flats, progress);
    if (!opened) {
        out->fault = text(opened.error());
        return out;
    }
    out->opened = std::make_shared<OpenedFrame>(std::move(*opened));
    out->frame = out->opened->frame;
    out->exposure = out->opened->exposure;
    out->levels.resize(qsizetype(out->opened->levels.size()));
    out->block = out->opened->levels.empty() ? 1 : out->opened->levels.front().block;
    if (isFlat)
        out->flat = verdictOnFlat(*out->frame);
    return out;
}

/// The levels that are `large` or not, in the colour of the frame.
void colour(OpenFrame &frame, bool large)
{
    const auto color = shownBy(*frame.frame, frame.calibration ? &*frame.calibration : nullptr,
                               frame.multipliers, frame.screen.get());
    for (qsizetype i = 0; i < frame.levels.size(); ++i)
        if (const auto &level = frame.opened->levels[size_t(i)]; isLarge(level) == large)
            frame.levels[i] = imageOf(lookOf(level, color));
}

} // namespace

QImage imageOf(const DisplayPicture &picture)
{
    QImage image(reinterpret_cast<const uchar *>(picture.rgb.data()), picture.width, picture.height,
                 4 * qsizetype(picture.width), QImage::Format_RGB32);
    return image.copy(); // outlives `picture`
}

FramePictures::FramePictures(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks)
{
    qRegisterMetaType<std::shared_ptr<const OpenFrame>>();
    connect(job, &JobDocument::opened, this, [this] {
        m_kept.clear();
        m_asked = 0;
    });
    connect(&ScreenProfile::current(), &ScreenProfile::changed, this, [this] {
        if (m_asked)
            ask(m_asked);
    });
}

std::optional<Calibration> FramePictures::calibrationFor(RowId frame) const
{
    const auto *row = m_job->stations().calibrationFor(m_job->state(), frame);
    return row ? std::optional(*row->calibration) : std::nullopt;
}

std::optional<Vector3> FramePictures::multipliersFor(RowId frame) const
{
    const auto *row = m_job->state().frame(frame);
    if (!row || !row->balance)
        return std::nullopt;
    return row->balance->leaned.value_or(row->balance->multipliers);
}

void FramePictures::keep(const Open &frame)
{
    std::erase_if(m_kept, [&](const auto &kept) { return kept->id == frame->id; });
    m_kept.push_back(frame);
    if (m_kept.size() > 2)
        m_kept.erase(m_kept.begin());
}

void FramePictures::ask(RowId frame)
{
    m_asked = frame;
    for (const auto &kept : m_kept)
        if (kept->id == frame && kept->fault.isEmpty()) {
            const auto calibration = calibrationFor(frame);
            const auto multipliers = multipliersFor(frame);
            const bool isSame = kept->calibration == calibration && kept->multipliers == multipliers &&
                                kept->screen == ScreenProfile::current().shared();
            emit ready(kept);
            if (!isSame)
                look(kept, calibration, multipliers);
            return;
        }
    open(frame);
}

void FramePictures::preview(RowId frame, const Calibration &calibration)
{
    for (const auto &kept : m_kept)
        if (kept->id == frame && kept->fault.isEmpty())
            return look(kept, calibration, multipliersFor(frame));
}

void FramePictures::forget(RowId frame)
{
    std::erase_if(m_kept, [&](const auto &kept) { return kept->id == frame; });
}

void FramePictures::open(RowId id)
{
    const auto *frame = m_job->state().frame(id);
    if (!frame || !m_job->store())
        return;
    const auto path = m_job->store()->fullPath(*frame).string();
    std::vector<std::filesystem::path> flats;
    if (const auto *reading = m_job->state().readingOf(id))
        for (const auto &flat : reading->brief.flats)
            flats.push_back(m_job->store()->folder() / flat);
    const auto work = [id, path, flats, isFlat = frame->part == FramePart::Flat,
                       calibration = calibrationFor(id), screen = ScreenProfile::current().shared(),
                       multipliers = multipliersFor(id)](const Progress &progress) -> Result<Open> {
        auto out = openFor(id, path, flats, isFlat, progress);
        out->calibration = calibration;
        out->multipliers = multipliers;
        out->screen = screen;
        if (out->opened)
            for (const bool large : {false, true})
                colour(*out, large);
        return Open(out);
    };
    m_tasks->run<Open>({"frame", tr("opening the frame"), true}, work, this,
                       [this](const Result<Open> &opened) {
                           if (!opened)
                               return;
                           keep(*opened);
                           if ((*opened)->id == m_asked)
                               emit ready(*opened);
                       });
}

void FramePictures::look(const Open &frame, const std::optional<Calibration> &calibration,
                         const std::optional<Vector3> &multipliers)
{
    const int round = ++m_round;
    for (const bool large : {false, true}) {
        auto next = std::make_shared<OpenFrame>(*frame);
        next->calibration = calibration;
        next->multipliers = multipliers;
        next->screen = ScreenProfile::current().shared();
        const auto work = [next, large](const Progress &) -> Result<Open> {
            colour(*next, false);
            if (large)
                colour(*next, true);
            return Open(next);
        };
        // a newer colour overtakes both; only the smaller sizes are waited for by the eye
        TaskSpec spec{large ? "look at 100 %" : "look", {}, true};
        spec.stillWanted = [this, round] { return round == m_round; };
        m_tasks->run<Open>(spec, work, this, [this](const Result<Open> &seen) {
            if (!seen)
                return;
            keep(*seen);
            if ((*seen)->id == m_asked)
                emit ready(*seen);
        });
    }
}

} // namespace wavechroma::app
