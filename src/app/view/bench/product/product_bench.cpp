#include "app/view/bench/product/product_bench.h"

#include "app/model/spoken.h"
#include "app/model/true_pixels.h"
#include "app/view/bench/product/product_panel.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/widgets/look.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace wavechroma::app {

ProductBench::ProductBench(JobDocument *job, TaskRunner *tasks, FrameEditor *frames, QWidget *parent)
    : QWidget(parent), m_job(job), m_frames(frames), m_editor(new ProductEditor(job, tasks, frames, this)),
      m_pixels(new TruePixels(tasks, this)), m_otherPixels(new TruePixels(tasks, this)),
      m_view(new ProductView), m_panel(new ProductPanel), m_head(new QLabel), m_hint(new QLabel)
{
    auto *line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(0);
    auto *left = new QVBoxLayout;
    left->setContentsMargins(16, 12, 12, 8);
    m_head->setFont(face(kAnswer));
    m_head->setTextFormat(Qt::RichText);
    m_hint->setFont(face(13));
    m_hint->setWordWrap(true);
    left->addWidget(m_head);
    left->addWidget(m_view, 1);
    left->addWidget(m_hint);
    line->addLayout(left, 1);
    line->addWidget(m_panel);
    setFocusProxy(m_view);
    connect(m_editor, &ProductEditor::factsChanged, this, &ProductBench::showFacts);
    connect(frames, &FrameEditor::pictureChanged, this, &ProductBench::showPicture);
    connect(frames->pictures(), &FramePictures::otherReady, this, [this](const auto &other) {
        m_otherFrame = other;
        m_view->setOther(other, otherName());
        m_otherPixels->setFrame(other->isFilesOwn ? nullptr : other);
        m_view->update(); // which says what of it is in sight
    });
    connect(frames->pictures(), &FramePictures::otherMissing, this, [this](const QString &why) {
        m_otherFrame.reset();
        m_otherPixels->setFrame(nullptr);
        m_view->setOther(nullptr, {});
        m_otherMissing = why;
        showFacts();
    });
    connect(m_view, &FrameView::pixelsSeen, m_pixels, &TruePixels::see);
    connect(m_view, &FrameView::pixelsSeen, m_otherPixels, &TruePixels::see);
    connect(m_pixels, &TruePixels::changed, m_view,
            [this] { m_view->setPixels(m_pixels->image(), m_pixels->area()); });
    connect(m_otherPixels, &TruePixels::changed, m_view,
            [this] { m_view->setOtherPixels(m_otherPixels->image(), m_otherPixels->area()); });
    connect(m_view, &FrameView::areaDrawn, frames, &FrameEditor::balanceFromArea);
    connect(m_view, &FrameView::cropDrawn, m_editor, &ProductEditor::cropTo);
    connect(m_view, &FrameView::lineDrawn, m_editor, &ProductEditor::turnToLine);
    connect(m_view, &FrameView::squareClicked, m_editor, &ProductEditor::squareBy);
    connect(m_view, &ProductView::probePicked, m_panel, &ProductPanel::pick);
    connect(m_view, &ProductView::probePicked, m_editor,
            [this](const QString &name) { m_editor->askTrend(name.toStdString()); });
    connect(m_panel, &ProductPanel::probePicked, m_view, &ProductView::pick);
    connect(m_view, &ProductView::probeLaid, m_editor, &ProductEditor::lay);
    connect(m_view, &ProductView::newProbeAsked, this, &ProductBench::layProbe);
    connect(m_view, &ProductView::targetAsked, this, &ProductBench::targetAsked);
    connect(m_view, &ProductView::flickAsked, this, &ProductBench::flick);
    connect(m_view, &ProductView::stepAsked, this, &ProductBench::step);
    showFacts();
    showPicture();
}

QString ProductBench::otherName() const
{
    const auto others = m_editor->others();
    return others.empty() ? QString() : others[size_t(m_other) % others.size()].name;
}

void ProductBench::askOther()
{
    const auto others = m_editor->others();
    const auto &open = m_frames->picture();
    if (others.empty() || !open || !open->opened || !m_editor->isHere())
        return m_view->setOther(nullptr, {});
    const auto &other = others[size_t(m_other) % others.size()];
    m_otherMissing.clear();
    if (other.calibration)
        m_frames->pictures()->askOther(open, *other.calibration);
    else
        m_frames->pictures()->askFilesOwn(open);
}

void ProductBench::nextOther()
{
    ++m_other;
    askOther();
    showFacts();
}

void ProductBench::flick(bool on)
{
    m_view->setFlicked(on && m_otherFrame != nullptr);
}

void ProductBench::step(int by)
{
    if (const auto next = m_editor->neighbour(by))
        emit frameAsked(next);
}

void ProductBench::layProbe(const PixelPoint &at)
{
    const auto &facts = *m_editor->facts();
    if (!facts.frame)
        return;
    const auto name = m_editor->freeName();
    m_editor->lay({name, at.x, at.y, std::min(facts.frame->width, facts.frame->height) * 0.025}, true);
    m_view->pick(text(name));
}

void ProductBench::layInMiddle()
{
    layProbe(m_view->frameFromView({m_view->width() / 2.0, m_view->height() / 2.0}));
}

void ProductBench::showFacts()
{
    const auto &facts = m_editor->facts();
    m_view->show(facts);
    m_panel->show(facts, m_frames->facts());
    if (!facts->frame)
        return;
    const auto &frame = *facts->frame;
    const QString name = text(frame.path).section('/', -1).section('.', 0, 0).toHtmlEscaped();
    const QString in = facts->run.size() > 1
                           ? tr(", %1 of %2 in its run").arg(facts->place + 1).arg(facts->run.size())
                           : QString();
    m_head->setText(tr("<b>%1</b>&nbsp;&nbsp; product, %2, as delivered%3")
                        .arg(name, text(frame.camera.capturedAt).mid(11, 5), in));
    const auto other = otherName();
    m_hint->setText((other.isEmpty()            ? QString()
                     : m_otherMissing.isEmpty() ? tr("Hold B: %1 (V: another).   ").arg(other)
                                                : tr("%1 (V: another version).   ").arg(m_otherMissing)) +
                    tr("Shift+B: split view, drag the edge.   D: hatch colours with a high expected error.   "
                       "Page Up, Page Down: previous and next frame."));
}

void ProductBench::showPicture()
{
    const auto &open = m_frames->picture();
    const bool isOther = !open || !m_otherFrame || open->frame != m_otherFrame->frame;
    m_view->setFrame(open);
    m_pixels->setFrame(open);
    if (isOther) {
        m_otherFrame.reset();
        m_otherPixels->setFrame(nullptr);
        m_view->setOther(nullptr, {});
    }
    if (!open)
        m_view->setMessage(tr("Opening the frame."));
    if (!m_editor->isHere() || !open || !open->opened)
        return;
    askOther(); // of another balance or level, too
    if (const auto next = m_editor->neighbour(1))
        m_frames->pictures()->ahead(next);
}

} // namespace wavechroma::app
