#include "app/view/fit_stop.h"

#include "app/view/look.h"
#include "core/base/number_text.h"
#include "core/fit/character.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

namespace wavechroma::app {

namespace {

constexpr int kTop = 78, kRow = 36;
constexpr Character kCharacters[] = {Character::Exact, Character::CalmReds, Character::Lively};

QString text(const std::string &s)
{
    return QString::fromStdString(s);
}

QString wordsOf(const std::string &model)
{
    static const std::map<std::string, QString> words{
        {"balance", QObject::tr("white balance and scale only")},
        {"matrix", QObject::tr("3 × 3")},
        {"matrix-offset", QObject::tr("3 × 3 and a veil")},
        {"root-polynomial", QObject::tr("3 × 3 and square roots")},
        {"curves", QObject::tr("tone curve on the greys")},
        {"curves-matrix", QObject::tr("tone curve, then 3 × 3")},
        {"lut", QObject::tr("3 × 3 and a smooth table")},
        {"curves-lut", QObject::tr("tone curve, 3 × 3, smooth table")}};
    const auto at = words.find(model);
    return at == words.end() ? QString() : at->second;
}

QString wordsOf(Character character)
{
    return character == Character::Exact      ? QObject::tr("exact")
           : character == Character::CalmReds ? QObject::tr("calm reds, for skin")
                                              : QObject::tr("lively, for show");
}

/// The largest error that bars are drawn to: of the models beyond white balance, so that their differences
/// can be seen.
double largestError(const BenchFacts &facts)
{
    double most = 0.5;
    for (const auto &c : facts.calibrations)
        if (c.model != "balance" && c.model != "curves")
            most = std::max(most, c.crossValidated.mean);
    return most * 1.15;
}

const Calibration *recommendedOf(const BenchFacts &facts)
{
    return facts.recommended.index < facts.calibrations.size() ? &facts.calibrations[facts.recommended.index]
                                                               : nullptr;
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
    return chosen ? tr("ΔE %1 unseen").arg(text(fixedText(chosen->crossValidated.mean, 1))) : tr("none");
}

QString FitStop::sentence(const BenchFacts &facts) const
{
    const auto *chosen = facts.chosen(), *best = recommendedOf(facts);
    if (!chosen)
        return facts.reading && facts.reading->found ? tr("Too few patches can be used.") : QString();
    if (best != chosen)
        return tr("By %1, as chosen for the whole job; %2 is recommended here.")
            .arg(text(chosen->model), text(best->model));
    return facts.followsReading ? tr("By %1, the recommended model.").arg(text(chosen->model))
                                : tr("By %1, as chosen for the whole job; it is recommended here too.")
                                      .arg(text(chosen->model));
}

int FitStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    int y = where.top();
    const double most = largestError(facts);
    for (const auto &c : facts.calibrations) {
        const bool chosen = c.model == facts.chosenModel;
        painter.setPen(palette().color(QPalette::WindowText));
        drawLine(painter, {where.left(), y, where.width(), 18},
                 text(c.model) + " " + text(fixedText(c.crossValidated.mean, 1)),
                 face(13, chosen ? 600 : 400));
        painter.fillRect(
            QRectF(where.left(), y + 18, where.width() * std::min(1.0, c.crossValidated.mean / most), 6),
            palette().color(chosen ? QPalette::WindowText : QPalette::Button));
        y += 29;
    }
    return y - where.top();
}

void FitStop::show(const BenchFacts &facts)
{
    m_facts = facts;
    setAccessibleDescription(figure(facts) + ". " + sentence(facts) + " " + text(facts.recommended.why));
    update();
}

QRect FitStop::modelRect(int index) const
{
    return {0, kTop + index * kRow, width() - 24, kRow - 2};
}

QRect FitStop::choiceRect(int index) const
{
    const int top = modelRect(int(m_facts.calibrations.size())).top() + 8;
    return {96 + index * 279, top, 271, 28};
}

QRect FitStop::characterRect(int index) const
{
    return {96 + index * 186, choiceRect(0).bottom() + 7, 178, 28};
}

void FitStop::paintModel(QPainter &painter, int index) const
{
    const auto &c = m_facts.calibrations[size_t(index)];
    const bool chosen = c.model == m_facts.chosenModel, recommended = recommendedOf(m_facts) == &c;
    const QRect area = modelRect(index);
    if (chosen)
        painter.fillRect(area, palette().base());
    const QColor ink = palette().color(chosen ? QPalette::Text : QPalette::WindowText);
    painter.setPen(ink);
    const QFont plain = face(13), strong = face(15, chosen || recommended ? 700 : 400);
    drawLine(painter, {area.left() + 10, area.top(), 140, area.height()}, text(c.model), strong);
    const int figures = area.right() - 232, bar = area.left() + 152, wide = figures - bar - 74;
    const double share = c.crossValidated.mean / largestError(m_facts);
    const QRectF length(bar, area.top() + 5, wide * std::min(1.0, share), 9);
    painter.fillRect(length, ink);
    if (share > 1) { // longer than the scale: its end is torn off
        painter.setPen(QPen(palette().color(chosen ? QPalette::Base : QPalette::Window), 3));
        painter.drawLine(QPointF(length.right() - 14, length.bottom() + 2),
                         QPointF(length.right() - 6, length.top() - 2));
        painter.setPen(ink);
    }
    drawLine(painter, {bar, area.top() + 15, wide, 19},
             recommended ? tr("recommended: %1").arg(wordsOf(c.model)) : wordsOf(c.model),
             face(12, recommended ? 700 : 400));
    drawLine(painter, {bar + wide + 4, area.top(), 62, area.height()},
             text(fixedText(c.crossValidated.mean, 2)), face(20, 600), Qt::AlignRight | Qt::AlignVCenter);
    const QString values[] = {text(fixedText(c.fit.mean, 2)), text(fixedText(c.crossValidated.max, 1)),
                              text(fixedText(c.figures.mostStretch, 2)),
                              text(fixedText(c.figures.sensitivity, 2))};
    for (int i = 0; i < 4; ++i)
        drawLine(painter, {figures + 56 * i, area.top(), 52, area.height()}, values[i], plain,
                 Qt::AlignRight | Qt::AlignVCenter);
}

void FitStop::paintBox(QPainter &painter, const QRect &area, const QString &words, bool current) const
{
    if (current)
        painter.fillRect(area, palette().base());
    painter.setPen(palette().color(current ? QPalette::Text : QPalette::WindowText));
    drawLine(painter, area.adjusted(10, 0, -6, 0), words, face(kBody, current ? 600 : 400));
    if (!current)
        painter.drawRect(area.adjusted(0, 0, -1, -1));
}

void FitStop::paintChoices(QPainter &painter) const
{
    const auto *c = m_facts.chosen();
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, {0, choiceRect(0).top(), 92, 28}, tr("Answers"), face(kBody, 600));
    drawLine(painter, {0, characterRect(0).top(), 92, 28}, tr("Character"), face(kBody, 600));
    paintBox(painter, choiceRect(0), tr("by each chart's recommended model"), m_facts.followsReading);
    paintBox(painter, choiceRect(1), tr("by %1 for the whole job").arg(text(m_facts.chosenModel)),
             !m_facts.followsReading);
    for (int i = 0; i < 3; ++i)
        paintBox(painter, characterRect(i), wordsOf(kCharacters[i]), c && c->character == kCharacters[i]);
}

void FitStop::paintCalibration(QPainter &painter, const QRect &where) const
{
    const auto *c = m_facts.chosen();
    if (!c)
        return;
    QRect area = where;
    const auto line = [&](const QString &words, const QFont &font, int gap) {
        area.setTop(area.top() + drawWords(painter, area, words, font) + gap);
    };
    line(text(c->name), face(kHead, 600), 4);
    const auto &l = c->light;
    line(tr("Light: %1, Duv %2, %3. Exposure scale %4, from %5 patches%6.")
             .arg(text(l.name), text(signedText(l.duv, 4)),
                  l.estimated           ? tr("estimated from the neutral")
                  : l.name == "unknown" ? tr("taken as D50")
                                        : tr("as told"),
                  text(fixedText(c->exposureScale, 4)))
             .arg(c->patches.size())
             .arg(c->madeFrom.size() > 1 ? tr(" of %1 frames merged").arg(c->madeFrom.size()) : QString()),
         face(kBody), 4);
    line(tr("References: %1.")
             .arg(c->appearance == Appearance::UnderLight
                      ? tr("as the chart's spectra looked under this light")
                      : tr("as the chart looks under D50")),
         face(kBody), 4);
    if (const auto words = wordsFor(c->takenOut); !words.empty())
        line(text(words), face(kBody, 600), 4);
    const QString index =
        c->figures.metamerismIndex
            ? tr(", sensitivity metamerism index %1").arg(text(fixedText(*c->figures.metamerismIndex, 0)))
            : QString();
    line(tr("Noise gain %1, condition %2%3")
             .arg(text(fixedText(c->figures.noiseGain, 2)), text(fixedText(c->figures.condition, 1)), index),
         face(kBody), 6);
    const char *rows[] = {"X", "Y", "Z"};
    for (int i = 0; i < 3; ++i) {
        drawLine(painter, {area.left(), area.top(), 30, 20}, QString(rows[i]), face(13, 600));
        for (int j = 0; j < 3; ++j)
            drawLine(painter, {area.left() + 30 + 92 * j, area.top(), 84, 20},
                     text(fixedText(c->matrix(i, j), 5)), face(13), Qt::AlignRight | Qt::AlignVCenter);
        area.setTop(area.top() + 20);
    }
}

void FitStop::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    if (m_facts.calibrations.empty()) {
        drawWords(
            painter, rect().adjusted(0, 10, -20, 0),
            tr("There is nothing to fit yet: it takes a chart reading with at least six usable patches."),
            face(kAnswer));
        return;
    }
    const auto why = text(m_facts.recommended.why);
    const QFont large = face(kAnswer, 600);
    const bool isLong = QFontMetrics(large).horizontalAdvance(why) >
                        width() - 40; // the whole sentence counts more than its size
    drawLine(painter, {0, 0, width() - 24, 26}, why.left(1).toUpper() + why.mid(1),
             isLong ? face(kBody, 700) : large);
    drawLine(painter, {0, 30, 420, 20}, tr("Mean ΔE2000 on patches the fit has not seen. Less is better."),
             face(13));
    const QString heads[] = {tr("fitted"), tr("worst"), tr("stretch"), tr("noise")};
    for (int i = 0; i < 4; ++i)
        drawLine(painter, {modelRect(0).right() - 232 + 56 * i, kTop - 22, 52, 18}, heads[i], face(12),
                 Qt::AlignRight | Qt::AlignVCenter);
    drawLine(painter, {modelRect(0).right() - 308, kTop - 22, 70, 18}, tr("unseen"), face(12, 600),
             Qt::AlignRight | Qt::AlignVCenter);
    for (int i = 0; i < int(m_facts.calibrations.size()); ++i)
        paintModel(painter, i);
    paintChoices(painter);
    const int y = characterRect(0).bottom() + 10;
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(0, y, width() - 24, y);
    painter.setPen(palette().color(QPalette::WindowText));
    paintCalibration(painter, {0, y + 10, width() - 24, height() - y});
    if (hasFocus() && m_facts.chosen()) {
        const auto index = int(m_facts.chosen() - m_facts.calibrations.data());
        painter.setPen(QPen(palette().color(QPalette::WindowText), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(modelRect(index).adjusted(1, 1, -1, -1));
    }
}

void FitStop::mousePressEvent(QMouseEvent *event)
{
    for (int i = 0; i < int(m_facts.calibrations.size()); ++i)
        if (modelRect(i).contains(event->pos()))
            emit modelAsked(text(m_facts.calibrations[size_t(i)].model));
    if (choiceRect(0).contains(event->pos()))
        emit modelAsked(kRecommended);
    if (choiceRect(1).contains(event->pos()))
        emit modelAsked(text(m_facts.chosenModel));
    for (int i = 0; i < 3; ++i)
        if (characterRect(i).contains(event->pos()))
            emit characterAsked(kCharacters[i]);
}

void FitStop::keyPressEvent(QKeyEvent *event)
{
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    const bool flick = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right;
    if ((!by && !flick) || !m_facts.chosen()) {
        QWidget::keyPressEvent(event);
        return;
    }
    if (flick) {
        const auto *best = recommendedOf(m_facts);
        const auto here = text(m_facts.chosenModel);
        const auto there = best && best->model != m_facts.chosenModel ? QString(kRecommended) : m_before;
        m_before = here;
        if (!there.isEmpty())
            emit modelAsked(there);
        return;
    }
    const auto index = m_facts.chosen() - m_facts.calibrations.data() + by;
    if (index >= 0 && index < ptrdiff_t(m_facts.calibrations.size()))
        emit modelAsked(text(m_facts.calibrations[size_t(index)].model));
}

} // namespace wavechroma::app
