#include "app/view/bench/fit/fit_stop.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/words/fit_words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

namespace wavechroma::app {

namespace {

constexpr int kToneWidth = 118, kCellHeight = 108, kScaleStep = 34, kScaleLeft = 118;

/// The largest error that bars are drawn to.
double largestError(const BenchFacts &facts)
{
    double most = 0.5;
    for (const auto &c : facts.calibrations)
        most = std::max(most, c.crossValidated.mean);
    return most;
}

bool isRecommended(const BenchFacts &facts, const Calibration &c)
{
    return !facts.calibrations.empty() && facts.recommended.parts == c.parts;
}

size_t placeOf(const ColourPart *part)
{
    return size_t(part - colourParts().data());
}

int ColourLean::*stepsOf(FitStop::Amount amount)
{
    return amount == FitStop::Reds     ? &ColourLean::reds
           : amount == FitStop::Chroma ? &ColourLean::chroma
                                       : &ColourLean::contrast;
}

} // namespace

FitStop::FitStop(QWidget *parent) : Stop(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Fit"));
}

QString FitStop::figure(const BenchFacts &facts) const
{
    const auto *chosen = facts.chosen();
    if (chosen && facts.isWhiteAlone())
        return tr("no chart");
    return chosen ? tr("ΔE %1 unseen").arg(fixed(chosen->crossValidated.mean, 1)) : tr("none");
}

QString FitStop::sentence(const BenchFacts &facts) const
{
    const auto *chosen = facts.chosen();
    if (!chosen)
        return facts.reading && facts.reading->found ? tr("Too few patches can be used.") : QString();
    if (facts.isWhiteAlone())
        return tr("The file's own matrix gives the colours.");
    const auto made = text(words::parts(chosen->parts, spoken()));
    const bool isCommon = facts.followsReading && facts.common == chosen->parts;
    if (!isRecommended(facts, *chosen))
        return (isCommon ? tr("%1, which serves all charts of the job best. For this chart alone: %2.")
                         : tr("%1, chosen for the whole job. %2 is recommended here."))
            .arg(made, text(words::parts(facts.recommended.parts, spoken())));
    if (facts.followsReading && facts.common && !isCommon)
        return tr("%1, as recommended here. The other charts: %2.")
            .arg(made, text(words::parts(*facts.common, spoken())));
    return facts.followsReading ? tr("%1, as recommended.").arg(made)
                                : tr("%1, chosen for the whole job and recommended here.").arg(made);
}

/// The same plane, small: a row a tone, a column a part of colour, errors as heights.
int FitStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    if (facts.calibrations.empty())
        return 0;
    constexpr int kHeight = 62;
    const double most = largestError(facts);
    const int columns = int(colourParts().size()), wide = where.width() / columns;
    int y = where.top();
    for (const auto &tone : toneParts()) {
        bool any = false;
        for (const auto &c : facts.calibrations) {
            if (c.parts.tone != tone.name)
                continue;
            any = true;
            const QRect cell(where.left() + int(placeOf(colourPart(c.parts.colour))) * wide, y, wide - 3,
                             kHeight - 6);
            const bool tag = isRecommended(facts, c), chosen = c.parts == facts.parts;
            if (tag)
                painter.fillRect(cell, palette().base());
            const auto ink = palette().color(tag ? QPalette::Text : QPalette::WindowText);
            painter.setPen(ink);
            drawLine(painter, {cell.left(), cell.top() + 2, cell.width(), 18},
                     fixed(c.crossValidated.mean, 1), face(13, chosen ? 700 : 400), Qt::AlignCenter);
            const double height = 30 * c.crossValidated.mean / most;
            painter.fillRect(QRectF(cell.left() + 6, cell.bottom() - 3 - height, cell.width() - 12, height),
                             ink);
            if (chosen && !tag) {
                painter.setPen(QPen(ink, 2));
                painter.drawRect(cell.adjusted(1, 1, -1, -1));
            }
        }
        y += any ? kHeight : 0;
    }
    return y - where.top();
}

void FitStop::show(const Facts &facts)
{
    m_facts = facts;
    QString plane;
    for (const auto &c : facts->calibrations)
        plane += tr("%1: %2. ").arg(text(words::parts(c.parts, spoken())), fixed(c.crossValidated.mean, 2));
    setAccessibleDescription(figure(*facts) + ". " + sentence(*facts) + " " +
                             text(words::recommendation(facts->recommended, spoken())) + " " + plane);
    update();
}

std::vector<std::string> FitStop::tones() const
{
    std::vector<std::string> out;
    for (const auto &tone : toneParts())
        for (const auto &c : m_facts->calibrations)
            if (c.parts.tone == tone.name) {
                out.push_back(tone.name);
                break;
            }
    return out;
}

int FitStop::planeTop() const
{
    return 136;
}

int FitStop::leanTop() const
{
    return planeTop() + int(tones().size()) * (kCellHeight + 10) + 8;
}

QRect FitStop::cellRect(const Parts &parts) const
{
    const auto rows = tones();
    const auto row = std::find(rows.begin(), rows.end(), parts.tone);
    const auto *colour = colourPart(parts.colour);
    if (!colour || row == rows.end() || !m_facts->of(parts))
        return {};
    const int wide = (width() - kToneWidth - 20) / int(colourParts().size());
    return {kToneWidth + int(placeOf(colour)) * wide,
            planeTop() + int(row - rows.begin()) * (kCellHeight + 10), std::min(wide - 10, 190), kCellHeight};
}

QRect FitStop::autoRect() const
{
    return m_facts->followsReading ? QRect() : QRect(0, 52, 340, 24);
}

QRect FitStop::stepRect(Amount amount, int step) const
{
    const int middle = kScaleLeft + kMostLean * kScaleStep + 10;
    return {middle + step * kScaleStep - kScaleStep / 2, leanTop() + 54 + 36 * amount, kScaleStep, 28};
}

void FitStop::paintAxis(QPainter &painter) const
{
    painter.setPen(palette().color(QPalette::WindowText));
    const int y = planeTop() - 44;
    const int end =
        drawLine(painter, {kToneWidth + 10, y - 10, 200, 20}, tr("how freely colours may change"), face(13));
    const int right = width() - 30;
    painter.drawLine(end + 12, y, right, y);
    QPolygon tip;
    tip << QPoint(right + 8, y) << QPoint(right, y - 4) << QPoint(right, y + 4);
    painter.setBrush(painter.pen().color());
    painter.drawPolygon(tip);
    const auto rows = tones();
    for (const auto &part : colourParts())
        for (const auto &tone : rows)
            if (const auto cell = cellRect({part.name, tone}); !cell.isEmpty()) {
                drawLine(painter, {cell.left() + 10, planeTop() - 28, cell.width(), 22},
                         text(words::parts({part.name, plainParts().tone}, spoken())), face(15, 600));
                break;
            }
    for (size_t i = 0; i < rows.size(); ++i)
        drawWords(painter, {0, planeTop() + int(i) * (kCellHeight + 10) + 12, kToneWidth - 14, 50},
                  text(words::tone(rows[i], spoken())), face(kBody));
}

void FitStop::paintCell(QPainter &painter, const Calibration &c) const
{
    const QRect cell = cellRect(c.parts);
    const bool tag = isRecommended(*m_facts, c), chosen = c.parts == m_facts->parts;
    if (tag)
        painter.fillRect(cell, palette().base());
    const auto ink = palette().color(tag ? QPalette::Text : QPalette::WindowText);
    painter.setPen(ink);
    const int left = cell.left() + 10, wide = cell.width() - 20;
    drawLine(painter, {left, cell.top() + 6, wide, 30}, fixed(c.crossValidated.mean, 2),
             face(22, tag || chosen ? 600 : 400));
    painter.fillRect(QRectF(left, cell.top() + 42, wide * c.crossValidated.mean / largestError(*m_facts), 10),
                     ink);
    QString below = text(words::adds(c.parts.colour, spoken()));
    if (tag)
        below = chosen ? tr("recommended") : tr("recommended, not chosen");
    else if (chosen)
        below = tr("chosen for the job");
    drawWords(painter, {left, cell.top() + 58, wide, 42}, below, face(13, tag || chosen ? 600 : 400));
    if (chosen && (!tag || hasFocus())) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(ink, 2));
        painter.drawRect(cell.adjusted(1, 1, -1, -1));
    }
}

void FitStop::paintScale(QPainter &painter, Amount amount) const
{
    const int value = m_facts->chosen()->lean.*stepsOf(amount);
    const int y = stepRect(amount, 0).center().y();
    painter.setPen(palette().color(QPalette::WindowText));
    const QString names[] = {tr("reds"), tr("chroma"), tr("contrast")};
    drawLine(painter, {0, y - 12, kScaleLeft - 10, 24}, names[amount], face(kBody));
    painter.drawLine(stepRect(amount, -kMostLean).center().x(), y, stepRect(amount, kMostLean).center().x(),
                     y);
    for (int step = -kMostLean; step <= kMostLean; ++step) {
        const int x = stepRect(amount, step).center().x(), reach = step == 0 ? 9 : 6;
        painter.drawLine(x, y - reach, x, y + reach);
    }
    const QRect knob(stepRect(amount, value).center().x() - 8, y - 9, 17, 18);
    painter.setBrush(palette().base());
    painter.drawRect(knob);
    if (amount == Reds) { // what the two ends do stands once, above both
        drawLine(painter, {stepRect(Reds, -kMostLean).left() + 10, y - 34, 120, 20}, tr("calmer"), face(13));
        const QRect end(stepRect(Reds, kMostLean).right() - 130, y - 34, 120, 20);
        drawLine(painter, end, tr("livelier"), face(13), Qt::AlignRight | Qt::AlignVCenter);
    }
    const auto said = amount == Reds     ? words::reds(value, spoken())
                      : amount == Chroma ? words::chroma(value, spoken())
                                         : words::contrast(value, spoken());
    drawLine(painter, {stepRect(amount, kMostLean).right() + 14, y - 12, 220, 24}, text(said), face(kBody));
}

void FitStop::paintMeasured(QPainter &painter) const
{
    const auto &c = *m_facts->chosen();
    QString first = tr("Based on %1 patches of %2")
                        .arg(c.patches.size())
                        .arg(text(m_facts->frame->path).section('/', -1));
    if (c.madeFrom.size() > 1)
        first += tr(" and %1 more readings").arg(c.madeFrom.size() - 1);
    const auto taken = text(words::takenOut(c.takenOut, lightRangeOf(c.takenOut), spoken()));
    QStringList lines{first + (taken.isEmpty() ? tr("; the reading was used as it is.") : ". " + taken)};
    lines << (c.light.estimated ? tr("Light %1, Duv %2, estimated from the neutral.")
                                : tr("Light: %1, Duv %2 (set by hand)."))
                 .arg(kelvin(c.light.cctKelvin), withSign(c.light.duv, 4));
    if (c.appearance == Appearance::UnderLight)
        lines << tr("References: the chart as it looked under this light.");
    QString figures = tr("Noise gain %1, condition number %2")
                          .arg(fixed(c.figures.noiseGain, 2), fixed(c.figures.condition, 1));
    if (c.figures.mostStretch > 1.01)
        figures += tr("; enlarges colour differences %1 × at most").arg(fixed(c.figures.mostStretch, 2));
    if (c.figures.sensitivity > 0)
        figures += tr("; noise of the reading changes it by ΔE %1").arg(fixed(c.figures.sensitivity, 2));
    lines << figures + ".";
    if (c.lean.hasSectors())
        lines << tr("Sectors of hue are changed by hand (Fit menu).");
    for (const auto &thing : c.things)
        lines << text(words::thing(thing, spoken()));
    if (c.figures.metamerismIndex)
        lines << tr("Metamerism index on this chart %1.").arg(fixed(*c.figures.metamerismIndex, 0));
    painter.setPen(palette().color(QPalette::WindowText));
    const int y = stepRect(Contrast, 0).bottom() + 14;
    drawWords(painter, {0, y, width() - 24, height() - y}, lines.join('\n'), face(kBody));
}

void FitStop::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    if (m_facts->calibrations.empty()) {
        const auto why = m_facts->fault.empty()
                             ? tr("Nothing to fit yet: no chart was read, or too few patches can be used.")
                             : text(m_facts->fault);
        drawWords(painter, rect().adjusted(0, 10, -20, 0), why, face(kAnswer));
        return;
    }
    drawWords(painter, {0, 8, width() - 24, 44}, text(words::recommendation(m_facts->recommended, spoken())),
              face(15, 600));
    if (!m_facts->followsReading) {
        drawLine(painter, autoRect(), tr("Choose automatically for each chart (Home)"), face(kBody));
        painter.drawLine(autoRect().left(), autoRect().bottom() - 2, 245, autoRect().bottom() - 2);
    }
    paintAxis(painter);
    for (const auto &c : m_facts->calibrations)
        paintCell(painter, c);
    if (!m_facts->chosen())
        return;
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(0, leanTop(), width() - 24, leanTop());
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, {0, leanTop() + 8, width() - 24, 22}, tr("Colour lean, on top of the exact result"),
             face(kBody, 600));
    for (const auto amount : {Reds, Chroma, Contrast})
        paintScale(painter, amount);
    paintMeasured(painter);
}

void FitStop::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    if (autoRect().contains(event->pos())) {
        emit partsAsked({});
        return;
    }
    for (const auto &c : m_facts->calibrations)
        if (cellRect(c.parts).contains(event->pos())) {
            emit partsAsked(c.parts);
            return;
        }
    const auto *chosen = m_facts->chosen();
    for (int step = -kMostLean; chosen && step <= kMostLean; ++step)
        for (const auto amount : {Reds, Chroma, Contrast})
            if (stepRect(amount, step).contains(event->pos())) {
                auto lean = chosen->lean;
                lean.*stepsOf(amount) = step;
                return emit leanAsked(lean);
            }
}

/// To the next crossing that there is, that way.
void FitStop::step(int colour, int tone)
{
    const auto rows = tones();
    const auto row = std::find(rows.begin(), rows.end(), m_facts->parts.tone) - rows.begin() + tone;
    const auto *part = colourPart(m_facts->parts.colour);
    const auto column = ptrdiff_t(part ? placeOf(part) : 0) + colour;
    if (row < 0 || row >= ptrdiff_t(rows.size()) || column < 0 || column >= ptrdiff_t(colourParts().size()))
        return;
    if (const Parts next{colourParts()[size_t(column)].name, rows[size_t(row)]}; m_facts->of(next))
        emit partsAsked(next);
}

void FitStop::keyPressEvent(QKeyEvent *event)
{
    if (!m_facts->chosen() || event->modifiers() != Qt::NoModifier)
        return QWidget::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Left:
        return step(-1, 0);
    case Qt::Key_Right:
        return step(1, 0);
    case Qt::Key_Up:
        return step(0, -1);
    case Qt::Key_Down:
        return step(0, 1);
    case Qt::Key_Home:
        emit partsAsked({});
        return;
    case Qt::Key_Space: {
        const auto here = m_facts->parts;
        const auto there = m_facts->followsReading ? m_before : Parts();
        m_before = here;
        emit partsAsked(there);
        return;
    }
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace wavechroma::app
