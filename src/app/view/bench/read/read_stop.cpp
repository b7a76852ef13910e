#include "app/view/bench/read/read_stop.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/words/answer_words.h"
#include "core/words/check_words.h"
#include "core/words/frame_words.h"

#include <QVBoxLayout>

namespace wavechroma::app {

ReadStop::ReadStop(QWidget *parent) : Stop(parent), m_view(new FrameView), m_checks(new CheckList)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(12);
    layout->addWidget(m_view, 1);
    layout->addWidget(m_checks);
    setFocusProxy(m_view);
}

QString ReadStop::figure(const BenchFacts &facts) const
{
    if (!facts.frame)
        return tr("no frame");
    if (!facts.reading || !facts.reading->found)
        return tr("no chart");
    int usable = 0;
    for (const auto &patch : facts.reading->patches)
        usable += isUsable(patch);
    return tr("%1 of %2").arg(usable).arg(facts.chart.patches.size());
}

QString ReadStop::sentence(const BenchFacts &facts) const
{
    if (!facts.reading)
        return facts.frame ? tr("This picture shows no chart.")
                           : tr("Choose a chart frame on the day sheet.");
    const auto &r = *facts.reading;
    for (const auto severity : {Severity::Stop, Severity::Warn})
        for (const auto &check : r.checks)
            if (check.severity == severity)
                return text(words::message(check, spoken()));
    QString level;
    for (const auto &check : r.checks)
        if (check.id == CheckId::Exposure)
            level = text(words::message(check, spoken()));
    return (r.placedBy == PlacedBy::Hand ? tr("Placed by hand. ") : tr("Found automatically. ")) +
           tr("Nothing is clipped. ") + level;
}

int ReadStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    const auto *proof = facts.proof();
    if (!facts.reading || !facts.reading->found || !proof)
        return 0;
    const int height = where.width() * 2 / 3;
    drawMiniChart(painter, QRectF(where.left(), where.top(), where.width(), height), *proof,
                  shownGrid(facts.chart));
    return height;
}

void ReadStop::show(const Facts &facts)
{
    m_facts = facts;
    m_view->setPlacement(facts->reading, facts->chart);
    m_checks->show(facts);
}

void ReadStop::setFrame(const std::shared_ptr<const OpenFrame> &frame)
{
    m_view->setFrame(frame);
    const auto flat = frame && frame->flat ? text(words::flat(*frame->flat, spoken())) : QString();
    m_checks->showLevels(frame ? frame->exposure : FrameLevels(), flat);
}

void CheckList::showLevels(const FrameLevels &levels, const QString &flatWords)
{
    m_levels = levels;
    m_flatWords = flatWords;
    update();
}

CheckList::CheckList(QWidget *parent)
    : QWidget(parent),
      m_list(new PaintedList(
          tr("Checks"),
          [this](QPainter &painter, const QRect &area, int row) { paintCheck(painter, area, row); }, this))
{
    setFixedHeight(132);
    m_list->setObjectName("checks");
    m_list->setRowHeight([this](int width, int row) { return heightOf(width, row); });
    m_list->setFocusPolicy(Qt::NoFocus); // the keys of the stop are the frame's
}

void CheckList::show(const Facts &facts)
{
    m_facts = facts;
    listChecks();
    update();
}

void CheckList::listChecks()
{
    m_rows.clear();
    QStringList fine, sentences;
    for (const auto severity : {Severity::Stop, Severity::Warn, Severity::Ok})
        for (size_t i = 0; m_facts->reading && i < m_facts->reading->checks.size(); ++i)
            if (const auto &check = m_facts->reading->checks[i]; check.severity == severity) {
                const auto said = text(words::message(check, spoken()));
                if (severity == Severity::Ok)
                    fine << said;
                else
                    m_rows.push_back({severity, said});
            }
    if (!fine.isEmpty())
        m_rows.push_back({Severity::Ok, fine.join(' ')});
    for (const auto &row : m_rows)
        sentences << row.words;
    m_list->show(sentences, -1);
    m_list->setVisible(!m_rows.empty());
}

/// Between the facts of the frame and the measures.
QRect CheckList::listArea() const
{
    const int first = 170, gap = 20, rest = (width() - first - 2 * gap - 12) / 2;
    return {first + gap, 0, rest, height()};
}

void CheckList::resizeEvent(QResizeEvent *)
{
    m_list->setGeometry(listArea());
    m_list->doItemsLayout();
}

QFont CheckList::fontOf(const Row &row) const
{
    return face(kBody, row.severity == Severity::Ok ? 400 : 600);
}

int CheckList::heightOf(int width, int row) const
{
    const auto &one = m_rows[size_t(row)];
    const bool isTag = one.severity != Severity::Ok;
    return QFontMetrics(fontOf(one))
               .boundingRect(QRect(0, 0, width - (isTag ? 16 : 0), 10000), Qt::TextWordWrap, one.words)
               .height() +
           (isTag ? 13 : 2);
}

void CheckList::paintFrame(QPainter &painter, QRect area) const
{
    const auto &f = *m_facts->frame;
    const auto line = [&](const QString &words, const QFont &font) {
        drawLine(painter, {area.left(), area.top(), area.width(), 20}, words, font);
        area.setTop(area.top() + 21);
    };
    line(text(f.path).section('/', -1), face(kBody, 600));
    line(text(f.camera.model), face(kBody));
    line(text(f.camera.lens), face(kBody));
    line(tr("%1, f/%2, ISO %3")
             .arg(exposure(f.camera.exposureSeconds))
             .arg(f.camera.fNumber)
             .arg(f.camera.iso),
         face(kBody));
    line(text(f.camera.capturedAt).replace('T', ' '), face(kBody));
    if (m_facts->reading && !m_facts->reading->flats.empty()) {
        const auto &flats = m_facts->reading->flats;
        line(flats.size() == 1 ? tr("light evened by %1").arg(text(flats.front()).section('/', -1))
                               : tr("light evened by %1 flats").arg(flats.size()),
             face(kBody));
    }
}

void CheckList::paintCheck(QPainter &painter, const QRect &area, int row) const
{
    const auto &one = m_rows[size_t(row)];
    if (one.severity == Severity::Ok) {
        painter.setPen(palette().color(QPalette::WindowText));
        drawWords(painter, area, one.words, fontOf(one));
        return;
    }
    const bool stop = one.severity == Severity::Stop;
    const QRect tag = area.adjusted(0, 0, 0, -5);
    painter.fillRect(tag, palette().brush(stop ? QPalette::Highlight : QPalette::Base));
    painter.setPen(palette().color(stop ? QPalette::HighlightedText : QPalette::Text));
    drawWords(painter, tag.adjusted(8, 4, -8, 0), one.words, fontOf(one));
}

void CheckList::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    if (!m_facts->frame)
        return;
    const QRect list = listArea();
    const int gap = 20;
    paintFrame(painter, {0, 0, list.left() - gap, height()});
    if (!m_facts->reading) {
        const auto served = text(words::serving(m_facts->serving, spoken()));
        const QString said = !m_facts->fault.empty()  ? text(m_facts->fault)
                             : !m_flatWords.isEmpty() ? m_flatWords
                             : served.isEmpty() ? tr("No chart was found in this frame. Press Ctrl+F to "
                                                     "search again, or Ctrl+H to place one by hand.")
                                                : served;
        drawWords(painter, list, said, face(kBody));
    }
    paintMeasures(painter, list.translated(list.width() + gap, 0));
}

void CheckList::paintMeasures(QPainter &painter, QRect area) const
{
    painter.setPen(palette().color(QPalette::WindowText));
    if (m_facts->reading && m_facts->reading->found) {
        QString words = tr("Measured area: %1 of each patch")
                            .arg(percent(m_facts->reading->windowShare).replace(' ', QChar::Nbsp));
        if (const auto &off = m_facts->reading->leftOut; !off.empty())
            words +=
                tr(", %1 off")
                    .arg(QString::fromStdString(off.size() == 1 ? off.front() : std::to_string(off.size())));
        drawLine(painter, {area.left(), area.top(), area.width(), 20}, words, face(kBody));
        if (m_facts->scale)
            drawLine(painter, {area.left(), area.top() + 20, area.width(), 20},
                     text(words::scale(*m_facts->scale, spoken())),
                     face(kBody, m_facts->scale->good ? 400 : 600));
        area.setTop(area.top() + 42);
    }
    if (m_levels.width > 0)
        drawStopHistogram(painter, area, m_levels);
}

} // namespace wavechroma::app
