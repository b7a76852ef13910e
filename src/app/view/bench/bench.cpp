#include "app/view/bench/bench.h"

#include "app/model/spoken.h"
#include "app/model/true_pixels.h"
#include "app/view/bench/balance/balance_stop.h"
#include "app/view/bench/fit/fit_stop.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/proof/proof_stop.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/bench/stop_column.h"
#include "core/words/frame_words.h"

#include <QHBoxLayout>
#include <QStackedLayout>

namespace wavechroma::app {

Bench::Bench(JobDocument *job, TaskRunner *tasks, QWidget *parent)
    : QWidget(parent), m_job(job), m_editor(new FrameEditor(job, tasks, this)),
      m_pixels(new TruePixels(tasks, this)), m_read(new ReadStop), m_balance(new BalanceStop),
      m_fit(new FitStop), m_proof(new ProofStop), m_product(new ProductBench(job, tasks, m_editor)),
      m_stack(new QStackedLayout(this)), m_line(new QHBoxLayout)
{
    auto *fourStops = new QWidget;
    fourStops->setLayout(m_line);
    m_stack->addWidget(fourStops);
    m_stack->addWidget(m_product);
    m_line->setContentsMargins(0, 0, 0, 0);
    m_line->setSpacing(0);
    Stop *const stops[] = {m_read, m_balance, m_fit, m_proof};
    for (int i = 0; i < 4; ++i) {
        auto *column = new StopColumn(i + 1, stops[i]);
        m_columns[size_t(i)] = column;
        m_line->addWidget(column);
        connect(column, &StopColumn::openAsked, this, [this, i] { openStop(i + 1); });
    }
    connect(m_editor, &FrameEditor::factsChanged, this, &Bench::showFacts);
    connect(m_editor, &FrameEditor::pictureChanged, this, &Bench::showPicture);
    connectView();
    connect(m_balance, &BalanceStop::greysAsked, m_editor, &FrameEditor::balanceFromGreys);
    connect(m_balance, &BalanceStop::lightAsked, m_editor, &FrameEditor::balanceFromLight);
    connect(m_balance, &BalanceStop::leanAsked, m_editor, &FrameEditor::leanTo);
    connect(m_fit, &FitStop::partsAsked, m_editor, &FrameEditor::chooseParts);
    connect(m_fit, &FitStop::leanAsked, m_editor, &FrameEditor::leanColour);
    openStop(4);
    showFacts();
    showPicture();
}

void Bench::connectView()
{
    auto *view = m_read->view();
    connect(view, &FrameView::placementMoved, m_editor, &FrameEditor::follow);
    connect(view, &FrameView::cornerDropped, m_editor, &FrameEditor::dropCorner);
    connect(view, &FrameView::patchClicked, m_editor, &FrameEditor::clickPatch);
    connect(view, &FrameView::cornersClicked, m_editor, &FrameEditor::placeByThree);
    connect(view, &FrameView::areaDrawn, m_editor, &FrameEditor::balanceFromArea);
    connect(view, &FrameView::pixelsSeen, m_pixels, &TruePixels::see);
    connect(m_pixels, &TruePixels::changed, view,
            [this, view] { view->setPixels(m_pixels->image(), m_pixels->area()); });
    for (FrameView *one : {view, static_cast<FrameView *>(m_product->view())})
        connect(one, &FrameView::rulerDrawn, this, [this](const PixelPoint &from, const PixelPoint &to) {
            m_ruler = {from, to};
            emit rulerLengthAsked();
        });
}

void Bench::openStop(int number)
{
    if (number < 1 || number > 4)
        return;
    m_open = number;
    Stop *const stops[] = {m_read, m_balance, m_fit, m_proof};
    for (int i = 0; i < 4; ++i) {
        m_columns[size_t(i)]->setOpen(i + 1 == number);
        m_line->setStretch(i, i + 1 == number ? 1 : 0);
    }
    if (isVisible() && isProduct())
        m_product->setFocus(Qt::ShortcutFocusReason);
    else if (isVisible())
        stops[number - 1]->setFocus(Qt::ShortcutFocusReason);
}

bool Bench::isProduct() const
{
    return m_product->editor()->isHere();
}

FrameView *Bench::view() const
{
    return isProduct() ? m_product->view() : m_read->view();
}

void Bench::showFacts()
{
    m_stack->setCurrentIndex(isProduct() ? 1 : 0);
    m_read->view()->setEditable(!m_job->isReadOnly());
    for (auto *column : m_columns)
        column->show(m_editor->facts());
}

void Bench::showPicture()
{
    auto *view = m_read->view();
    m_read->setFrame(m_editor->picture());
    m_pixels->setFrame(m_editor->picture());
    if (!m_job->currentFrame())
        view->setMessage(
            tr("No frame is on the bench. Choose a chart frame on the day sheet and press Enter."));
    else if (!m_editor->picture())
        view->setMessage(tr("Opening the frame."));
}

void Bench::measureRuler(double millimetres)
{
    if (const auto verdict = m_editor->measured(m_ruler[0], m_ruler[1], millimetres))
        this->view()->showRuler(text(words::scale(*verdict, spoken())));
}

} // namespace wavechroma::app
