#include "app/view/fit_stop.h"

#include "app/view/look.h"
#include "core/base/number_text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

namespace wavechroma::app {

namespace {

QString text(const std::string &s)
{
    return QString::fromStdString(s);
}

QString longName(const std::string &model)
{
    return model == "balance" ? QObject::tr("balance: white balance and scale only") : QObject::tr("matrix: 3 × 3, white kept");
}

double largestError(const BenchFacts &facts)
{
    double most = 1;
    for (const auto &c : facts.calibrations)
        most = std::max(most, c.crossValidated.mean);
    return most;
}

const Calibration *bestOf(const BenchFacts &facts)
{
    const auto at = std::min_element(facts.calibrations.begin(), facts.calibrations.end(), [](const auto &a, const auto &b) { return a.crossValidated.mean < b.crossValidated.mean; });
    return at == facts.calibrations.end() ? nullptr : &*at;
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
    return chosen ? text(chosen->model) + tr(", ΔE ") + text(fixedText(chosen->crossValidated.mean, 1)) : tr("none");
}

QString FitStop::sentence(const BenchFacts &facts) const
{
    const auto *chosen = facts.chosen(), *best = bestOf(facts);
    if (!chosen)
        return facts.reading && facts.reading->found ? tr("Too few patches can be used.") : QString();
    if (best != chosen && best->crossValidated.mean < 0.95 * chosen->crossValidated.mean)
        return tr("The %1 model does better on patches it has not seen.").arg(text(best->model));
    return tr("Mean error with each patch left out in turn.");
}

int FitStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    int y = where.top();
    const double most = largestError(facts);
    for (const auto &c : facts.calibrations) {
        const bool chosen = c.model == facts.chosenModel;
        painter.setPen(palette().color(QPalette::WindowText));
        drawLine(painter, {where.left(), y, where.width(), 20}, text(c.model) + " " + text(fixedText(c.crossValidated.mean, 1)), face(kBody, chosen ? 600 : 400));
        painter.fillRect(QRectF(where.left(), y + 21, where.width() * c.crossValidated.mean / most, 8), palette().color(chosen ? QPalette::WindowText : QPalette::Button));
        y += 38;
    }
    return y - where.top();
}

void FitStop::show(const BenchFacts &facts)
{
    m_facts = facts;
    setAccessibleDescription(figure(facts) + ". " + sentence(facts));
    update();
}

QRect FitStop::modelRect(int index) const
{
    return {0, 34 + index * 86, std::min(width() - 24, 760), 78};
}

void FitStop::paintModel(QPainter &painter, int index) const
{
    const auto &c = m_facts.calibrations[size_t(index)];
    const bool chosen = c.model == m_facts.chosenModel;
    const QRect area = modelRect(index);
    if (chosen)
        painter.fillRect(area, palette().base());
    painter.setPen(palette().color(chosen ? QPalette::Text : QPalette::WindowText));
    const QRect inner = area.adjusted(14, 8, -14, -8);
    drawLine(painter, {inner.left(), inner.top(), inner.width() - 170, 24}, longName(c.model), face(kAnswer, chosen ? 600 : 400));
    drawLine(painter, {inner.right() - 170, inner.top(), 170, 24}, text(fixedText(c.crossValidated.mean, 2)), face(22, 600), Qt::AlignRight | Qt::AlignVCenter);
    const double most = largestError(m_facts);
    const QRectF bar(inner.left(), inner.top() + 30, inner.width() * c.crossValidated.mean / most, 9);
    painter.fillRect(bar, chosen ? palette().color(QPalette::Text) : palette().color(QPalette::WindowText));
    drawLine(painter, {inner.left(), inner.top() + 44, inner.width(), 20},
             tr("fitted %1   median %2   worst unseen %3").arg(text(fixedText(c.fit.mean, 2)), text(fixedText(c.crossValidated.median, 2)), text(fixedText(c.crossValidated.max, 2))), face(kBody));
}

void FitStop::paintCalibration(QPainter &painter, const QRect &where) const
{
    const auto *c = m_facts.chosen();
    if (!c)
        return;
    QRect area = where;
    const auto line = [&](const QString &words, const QFont &font, int gap) { area.setTop(area.top() + drawWords(painter, area, words, font) + gap); };
    line(text(c->name), face(kHead, 600), 8);
    const auto &l = c->light;
    line(tr("Light: %1, Duv %2, %3").arg(text(l.name), text(signedText(l.duv, 4)), l.estimated ? tr("estimated from the neutral") : l.name == "unknown" ? tr("taken as D50") : tr("as told")), face(kBody), 4);
    line(tr("Exposure scale %1, from %2 patches").arg(text(fixedText(c->exposureScale, 4))).arg(c->patches.size()), face(kBody), 10);
    if (const auto words = wordsFor(c->takenOut); !words.empty())
        line(text(words), face(kBody, 600), 10);
    const char *rows[] = {"X", "Y", "Z"};
    for (int i = 0; i < 3; ++i) {
        drawLine(painter, {area.left(), area.top(), 30, 22}, QString(rows[i]), face(kBody, 600));
        for (int j = 0; j < 3; ++j)
            drawLine(painter, {area.left() + 30 + 92 * j, area.top(), 84, 22}, text(fixedText(c->matrix(i, j), 5)), face(kBody), Qt::AlignRight | Qt::AlignVCenter);
        area.setTop(area.top() + 24);
    }
}

void FitStop::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    if (m_facts.calibrations.empty()) {
        drawWords(painter, rect().adjusted(0, 10, -20, 0), tr("There is nothing to fit yet: it takes a chart reading with at least six usable patches."), face(kAnswer));
        return;
    }
    drawLine(painter, {0, 4, width() - 24, 24}, tr("Mean ΔE2000 of patches the fit has not seen. Less is better."), face(kBody));
    for (int i = 0; i < int(m_facts.calibrations.size()); ++i)
        paintModel(painter, i);
    const int y = modelRect(int(m_facts.calibrations.size())).top() + 10;
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(0, y, width() - 24, y);
    painter.setPen(palette().color(QPalette::WindowText));
    paintCalibration(painter, {0, y + 16, width() - 24, height() - y});
    if (hasFocus() && m_facts.chosen()) {
        const auto index = int(m_facts.chosen() - m_facts.calibrations.data());
        painter.setPen(QPen(palette().color(QPalette::WindowText), 2));
        painter.drawRect(modelRect(index).adjusted(1, 1, -1, -1));
    }
}

void FitStop::mousePressEvent(QMouseEvent *event)
{
    for (int i = 0; i < int(m_facts.calibrations.size()); ++i)
        if (modelRect(i).contains(event->pos()))
            emit modelAsked(text(m_facts.calibrations[size_t(i)].model));
}

void FitStop::keyPressEvent(QKeyEvent *event)
{
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (!by || !m_facts.chosen()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const auto index = m_facts.chosen() - m_facts.calibrations.data() + by;
    if (index >= 0 && index < ptrdiff_t(m_facts.calibrations.size()))
        emit modelAsked(text(m_facts.calibrations[size_t(index)].model));
}

} // namespace wavechroma::app
