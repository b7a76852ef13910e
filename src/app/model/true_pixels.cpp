#include "app/model/true_pixels.h"
#include "core/tasks/frame_files.h"

namespace wavechroma::app {

namespace {

struct Made
{
    std::shared_ptr<const Overview> pixels;
    QImage image;
};

QImage seen(const Overview &pixels, const OpenFrame &frame)
{
    return imageOf(lookOf(pixels, colourOf(frame)));
}

} // namespace

TruePixels::TruePixels(TaskRunner *tasks, QObject *parent) : QObject(parent), m_tasks(tasks) {}

void TruePixels::setFrame(std::shared_ptr<const OpenFrame> frame)
{
    const bool isSame = frame && m_frame && frame->frame == m_frame->frame;
    const bool isSeenSame = isSame && isColouredAlike(*frame, *m_frame);
    m_frame = std::move(frame);
    if (isSeenSame)
        return;
    ++m_round;
    m_asked = {};
    if (isSame && m_pixels)
        return colour();
    m_area = {};
    m_pixels.reset();
    m_image = {};
    emit changed();
}

void TruePixels::see(const QRect &area)
{
    if (!m_frame || !m_frame->pixels)
        return;
    const QRect whole(0, 0, m_frame->frame->width, m_frame->frame->height);
    const QRect needed = area & whole;
    if (needed.isEmpty() || m_area.contains(needed) || m_asked.contains(needed))
        return;
    const int margin = std::max(needed.width(), needed.height()) / 8 + 16;
    make(needed.adjusted(-margin, -margin, margin, margin) & whole);
}

void TruePixels::make(const QRect &area)
{
    m_asked = area;
    const auto work = [frame = m_frame, area](const Progress &progress) -> Result<Made> {
        // As the smaller sizes are: the file's own light, but for a frame as it leaves.
        auto read = frame->pixels->read({area.x(), area.y(), area.width(), area.height()},
                                        frame->serves != nullptr, progress);
        if (!read)
            return read.error();
        if (read->rgb.empty())
            return unusable("stopped");
        const auto pixels = std::make_shared<Overview>(std::move(*read));
        return Made{pixels, seen(*pixels, *frame)};
    };
    TaskSpec spec{"pixels", m_frame->pixels->isAtHand() ? QString() : tr("working out all pixels"), true};
    spec.stillWanted = [this, round = m_round, area] { return round == m_round && area == m_asked; };
    m_tasks->run<Made>(spec, work, this, [this, area](const Result<Made> &made) {
        if (!made)
            return;
        m_pixels = made->pixels;
        m_image = made->image;
        m_area = area;
        emit changed();
    });
}

void TruePixels::colour()
{
    const auto work = [frame = m_frame, pixels = m_pixels](const Progress &) -> Result<QImage> {
        return seen(*pixels, *frame);
    };
    TaskSpec spec{"pixels", {}, true};
    spec.stillWanted = [this, round = m_round] { return round == m_round; };
    m_tasks->run<QImage>(spec, work, this, [this](const Result<QImage> &image) {
        if (!image)
            return;
        m_image = *image;
        emit changed();
    });
}

} // namespace wavechroma::app
