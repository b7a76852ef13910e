#include "app/model/frame_pictures.h"

#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "app/model/upright.h"
#include "core/tasks/frame_files.h"
#include "core/tasks/read_task.h"

#include <algorithm>

namespace wavechroma::app {

namespace {

constexpr qsizetype kLargest = 2100; ///< pixels a side of what is coloured at once; more waits for its turn

bool isLarge(const Overview &level)
{
    return std::max(level.width, level.height) > kLargest;
}

struct ToOpen
{
    std::string path;
    std::vector<std::filesystem::path> flats;
    bool isFlat = false;
};

void take(OpenFrame &out, OpenedFrame opened)
{
    out.opened = std::make_shared<OpenedFrame>(std::move(opened));
    if (!out.pixels || out.frame != out.opened->frame)
        out.pixels = std::make_shared<TruePixelSource>(out.opened->frame);
    out.frame = out.opened->frame;
    out.exposure = out.opened->exposure;
    out.levels = QVector<QImage>(qsizetype(out.opened->levels.size()));
    out.block = out.opened->levels.empty() ? 1 : out.opened->levels.front().block;
}

bool isWhole(const OpenFrame &frame)
{
    return !frame.opened || frame.opened->levels.empty() || frame.opened->levels.front().width > 0;
}

/// `colours` with the frame in it.
std::shared_ptr<OpenFrame> openFor(const OpenFrame &colours, const ToOpen &what, const Progress &progress)
{
    auto out = std::make_shared<OpenFrame>(colours);
    auto opened = openToLook(what.path, what.flats, progress, colours.serves != nullptr);
    if (!opened) {
        out->fault = text(opened.error());
        return out;
    }
    take(*out, std::move(*opened));
    if (what.isFlat)
        out->flat = verdictOnFlat(*out->frame);
    return out;
}

/// The levels that are `large` or not, in the colour of the frame.
void colour(OpenFrame &frame, bool large)
{
    const auto color = colourOf(frame);
    for (qsizetype i = 0; i < frame.levels.size(); ++i)
        if (const auto &level = frame.opened->levels[size_t(i)]; level.width > 0 && isLarge(level) == large)
            frame.levels[i] = imageOf(lookOf(level, color));
}

/// The same frame through the colours of another.
std::shared_ptr<OpenFrame> through(const OpenFrame &frame, const OpenFrame &colours)
{
    auto out = std::make_shared<OpenFrame>(frame);
    out->calibration = colours.calibration;
    out->multipliers = colours.multipliers;
    out->serves = colours.serves;
    out->screen = colours.screen;
    return out;
}

} // namespace

QImage imageOf(const DisplayPicture &picture)
{
    QImage image(reinterpret_cast<const uchar *>(picture.rgb.data()), picture.width, picture.height,
                 4 * qsizetype(picture.width), QImage::Format_RGB32);
    return image.copy(); // outlives `picture`
}

DisplayColor colourOf(const OpenFrame &frame)
{
    if (frame.serves && frame.serves->isServed)
        return shownBy(*frame.frame, *frame.serves, frame.screen.get());
    return shownBy(*frame.frame, frame.calibration ? &*frame.calibration : nullptr, frame.multipliers,
                   frame.screen.get());
}

bool isColouredAlike(const OpenFrame &a, const OpenFrame &b)
{
    const auto levelOf = [](const OpenFrame &f) { return f.serves ? f.serves->level : 1; };
    return a.calibration == b.calibration && a.multipliers == b.multipliers && a.screen == b.screen &&
           levelOf(a) == levelOf(b);
}

FramePictures::FramePictures(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks)
{
    qRegisterMetaType<std::shared_ptr<const OpenFrame>>();
    connect(job, &JobDocument::opened, this, [this] {
        m_kept.clear();
        m_asked = m_ahead = 0;
    });
    connect(&ScreenProfile::current(), &ScreenProfile::changed, this, [this] {
        if (m_asked)
            ask(m_asked);
    });
}

OpenFrame FramePictures::coloursFor(RowId id) const
{
    OpenFrame out;
    out.id = id;
    out.screen = ScreenProfile::current().shared();
    const auto *row = m_job->state().frame(id);
    if (!row)
        return out;
    if (row->balance)
        out.multipliers = row->balance->leaned.value_or(row->balance->multipliers);
    if (row->part == FramePart::Product || row->part == FramePart::Check) {
        out.serves = m_job->job().serves(*row);
        if (out.serves->isServed)
            out.calibration = out.serves->calibration;
    } else if (const auto *calibration = m_job->job().calibrationFor(id);
               calibration && !calibration->calibration.fault()) {
        out.calibration = *calibration->calibration;
    }
    return out;
}

void FramePictures::keep(const Open &frame)
{
    std::erase_if(m_kept, [&](const auto &kept) { return kept->id == frame->id; });
    m_kept.push_back(frame);
    if (m_kept.size() > 3)
        m_kept.erase(m_kept.begin());
}

FramePictures::Open FramePictures::keptOf(RowId frame) const
{
    const auto at =
        std::find_if(m_kept.begin(), m_kept.end(), [&](const auto &kept) { return kept->id == frame; });
    return at == m_kept.end() ? nullptr : *at;
}

void FramePictures::ask(RowId frame)
{
    m_asked = frame;
    for (const auto &kept : m_kept)
        if (kept->id == frame && kept->fault.isEmpty()) {
            const auto colours = coloursFor(frame);
            const auto flats = [](const OpenFrame &f) {
                return f.serves ? f.serves->flats : std::vector<std::filesystem::path>();
            };
            if (flats(*kept) != flats(colours) || (kept->serves == nullptr) != (colours.serves == nullptr))
                break; // its light is evened otherwise now
            const bool isSame = isColouredAlike(*kept, colours);
            emit ready(kept);
            if (!isSame)
                look(kept, colours);
            return;
        }
    if (m_ahead != frame) // which is on its way
        open(frame, "frame");
}

void FramePictures::ahead(RowId frame)
{
    const bool isKept =
        std::any_of(m_kept.begin(), m_kept.end(), [&](const auto &k) { return k->id == frame; });
    if (isKept || m_ahead == frame)
        return;
    m_ahead = frame;
    open(frame, "frame ahead");
}

void FramePictures::preview(RowId frame, const Calibration &calibration)
{
    for (const auto &kept : m_kept)
        if (kept->id == frame && kept->fault.isEmpty()) {
            auto colours = coloursFor(frame);
            colours.calibration = calibration;
            return look(kept, colours);
        }
}

void FramePictures::askOther(const Open &frame, const Calibration &calibration)
{
    const auto *row = frame && frame->frame ? m_job->state().frame(frame->id) : nullptr;
    if (!row)
        return;
    auto colours = coloursFor(frame->id);
    colours.calibration = calibration;
    auto serves = pictureServes(m_job->job(), *row, calibration);
    serves.flats = frame->serves ? frame->serves->flats : serves.flats; // what it is evened by is decoded
    colours.serves = std::make_shared<PictureServes>(std::move(serves));
    const auto next = through(*frame, colours);
    const auto work = [next](const Progress &) -> Result<Open> {
        for (const bool large : {false, true})
            colour(*next, large);
        return Open(next);
    };
    m_tasks->run<Open>({"other look", {}, true}, work, this, [this](const Result<Open> &seen) {
        if (seen)
            emit otherReady(*seen);
    });
}

namespace {

/// A picture of the whole frame at the sizes of its levels; none where it has fewer pixels than those.
QVector<QImage> atSizesOf(const OpenFrame &frame, QImage picture)
{
    const auto &raw = *frame.frame;
    if ((picture.width() > picture.height()) != (raw.width > raw.height)) // upright, which the frame is not
        picture = picture.transformed(uprightTransform(raw.orientation, raw.width, raw.height).inverted());
    QVector<QImage> out(frame.levels.size());
    for (qsizetype i = 0; i < out.size(); ++i) {
        const int block = frame.block << i;
        const QSize size(raw.width / block, raw.height / block);
        if (!size.isEmpty() && (size.width() <= picture.width() || i + 1 == out.size()))
            out[i] = picture.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    }
    return out;
}

} // namespace

void FramePictures::askFilesOwn(const Open &frame)
{
    if (!frame || !frame->frame)
        return;
    const auto *row = m_job->state().frame(frame->id);
    const auto beside = !row || row->picture.empty()
                            ? std::filesystem::path()
                            : m_job->store()->folder() / std::filesystem::path(row->picture);
    const auto work = [frame, beside](const Progress &) -> Result<Open> {
        constexpr int kLongest = 8000;
        const auto own = filesOwnPicture(frame->frame->path, kLongest, frame->screen.get(), beside,
                                         frame->frame->orientation);
        if (!own)
            return own.error();
        auto out = std::make_shared<OpenFrame>(*frame);
        out->isFilesOwn = true;
        out->levels = atSizesOf(*frame, imageOf(*own));
        return Open(out);
    };
    m_tasks->run<Open>({"other look", {}, true}, work, this, [this](const Result<Open> &seen) {
        if (seen)
            emit otherReady(*seen);
        else
            emit otherMissing(text(seen.error()));
    });
}

void FramePictures::forget(RowId frame)
{
    std::erase_if(m_kept, [&](const auto &kept) { return kept->id == frame; });
}

void FramePictures::open(RowId id, const QString &queue)
{
    const auto *frame = m_job->state().frame(id);
    if (!frame || !m_job->store())
        return;
    const auto path = m_job->store()->fullPath(*frame).string();
    const auto colours = coloursFor(id);
    ToOpen what{path, {}, frame->part == FramePart::Flat};
    if (const auto *reading = m_job->state().readingOf(id))
        for (const auto &flat : reading->brief.flats)
            what.flats.push_back(m_job->store()->folder() / flat);
    else if (colours.serves)
        what.flats = colours.serves->flats;
    const auto work = [colours, what](const Progress &progress) -> Result<Open> {
        auto out = openFor(colours, what, progress);
        if (out->opened)
            colour(*out, false);
        return Open(out);
    };
    const bool isAhead = id == m_ahead;
    m_tasks->run<Open>({queue, isAhead ? QString() : tr("opening the frame"), true}, work, this,
                       [this, id](const Result<Open> &opened) {
                           if (m_ahead == id)
                               m_ahead = 0;
                           if (!opened)
                               return;
                           keep(*opened);
                           if ((*opened)->id == m_asked)
                               emit ready(*opened);
                           if (!isWhole(**opened))
                               openWhole(*opened);
                       });
}

void FramePictures::openWhole(const Open &frame)
{
    const auto work = [frame](const Progress &progress) -> Result<Open> {
        auto out = std::make_shared<OpenFrame>(*frame);
        auto whole = openedWhole(*frame->opened, progress, frame->serves != nullptr);
        if (!whole) { // it was seen, and cannot be trusted any more
            out->frame = nullptr;
            out->opened = nullptr;
            out->levels.clear();
            out->fault = text(whole.error());
            return Open(out);
        }
        take(*out, std::move(*whole));
        for (const bool large : {false, true})
            colour(*out, large);
        return Open(out);
    };
    TaskSpec spec{"whole frame"};
    spec.stillWanted = [this, frame] { // not opened anew meanwhile
        const auto kept = keptOf(frame->id);
        return kept && kept->opened == frame->opened;
    };
    m_tasks->run<Open>(spec, work, this, [this](const Result<Open> &whole) {
        if (!whole)
            return;
        keep(*whole);
        if ((*whole)->id != m_asked)
            return;
        emit ready(*whole);
        if (const auto colours = coloursFor(m_asked); (*whole)->opened && !isColouredAlike(**whole, colours))
            look(*whole, colours);
    });
}

void FramePictures::look(const Open &frame, const OpenFrame &colours)
{
    const int round = ++m_round;
    for (const bool large : {false, true}) {
        const auto next = through(*frame, colours);
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
            const auto kept = seen ? keptOf((*seen)->id) : nullptr;
            if (!kept || kept->opened != (*seen)->opened)
                return; // its larger sizes came meanwhile, and were looked at anew
            keep(*seen);
            if ((*seen)->id == m_asked)
                emit ready(*seen);
        });
    }
}

} // namespace wavechroma::app
