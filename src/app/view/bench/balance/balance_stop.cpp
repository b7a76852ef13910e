#include "app/view/bench/balance/balance_stop.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/color/lab.h"
#include "core/words/balance_words.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace wavechroma::app {

namespace {

constexpr int kHeader = 28, kGreyHeight = 52, kRungHeight = 24, kLeans = 5;
constexpr double kLeanStep = 2;

/// Largest cast that is left on a usable grey, as a share.
double largestCast(const BenchFacts &facts)
{
    double worst = 0;
    for (const auto &grey : facts.greys)
        if (grey.usable)
            worst = std::max(worst, grey.cast);
    return worst;
}

QString sourceWords(const BenchFacts &facts)
{
    const auto &source = facts.balance->source;
    QStringList ids;
    for (const auto &id : source.patches)
        ids << text(id);
    if (!ids.isEmpty())
        return QObject::tr("From %1").arg(ids.join(", "));
    if (source.area)
        return QObject::tr("From an area of the frame");
    return facts.balance->preset ? QObject::tr("From the preset “%1”").arg(text(facts.balance->preset->name))
                                 : QObject::tr("For a light by name");
}

QString aimWords(const AimedNeutral &aim)
{
    const auto level = [&](double value) { return fixed(value, aim.isCode ? 0 : 1); };
    const QString words = (aim.isCode ? QObject::tr("code %1, aim %2: ") : QObject::tr("L* %1, aim %2: "))
                              .arg(level(aim.seen), level(aim.aim));
    return words + (aim.passes ? QObject::tr("met") : QObject::tr("%1 stop").arg(withSign(aim.stops, 2)));
}

QString leanWords(const Lean &lean)
{
    QStringList parts;
    if (lean.warmer != 0)
        parts << QObject::tr("%1 %2").arg(fixed(std::abs(lean.warmer), 0),
                                          lean.warmer > 0 ? QObject::tr("warmer") : QObject::tr("cooler"));
    if (lean.rosier != 0)
        parts << QObject::tr("%1 %2").arg(fixed(std::abs(lean.rosier), 0),
                                          lean.rosier > 0 ? QObject::tr("rosier") : QObject::tr("greener"));
    return parts.isEmpty() ? QObject::tr("no lean") : parts.join(", ");
}

/// Of one of the small charts.
QString leanStepWords(int index)
{
    const double steps = (index - kLeans / 2) * kLeanStep;
    return steps == 0 ? QObject::tr("neutral") : leanWords({steps, 0});
}

QString neutralWords(const NeutralState &grey)
{
    return grey.source ? QObject::tr("used as neutral") : text(words::neutral(grey, spoken()));
}

} // namespace

BalanceStop::BalanceStop(QWidget *parent)
    : Stop(parent),
      m_greys(new PaintedList(
          tr("Greys"), [this](QPainter &p, const QRect &area, int row) { paintGrey(p, area, row); }, this)),
      m_ladder(new PaintedList(
          tr("Lights"), [this](QPainter &p, const QRect &area, int row) { paintRung(p, area, row); }, this)),
      m_leans(new PaintedList(
          tr("Lean"), [this](QPainter &p, const QRect &area, int row) { paintLean(p, area, row); }, this))
{
    setFocusPolicy(Qt::StrongFocus);
    setFocusProxy(m_greys);
    setAccessibleName(tr("Balance"));
    m_greys->setStepping(true);
    m_leans->setFlow(QListView::LeftToRight);
    connect(m_greys, &PaintedList::picked, this, &BalanceStop::pickGrey);
    connect(m_ladder, &PaintedList::picked, this,
            [this](int row) { emit lightAsked(m_facts->ladder[size_t(row)].light); });
    connect(m_leans, &PaintedList::picked, this, [this](int row) {
        emit leanAsked({(row - kLeans / 2) * kLeanStep, m_facts->balance->lean.rosier});
    });
}

QString BalanceStop::figure(const BenchFacts &facts) const
{
    if (!facts.balance)
        return tr("none");
    if (!facts.balance->temperature)
        return fixed(facts.balance->multipliers[0], 2) + " 1 " + fixed(facts.balance->multipliers[2], 2);
    return kelvin(facts.balance->temperature->cctKelvin) + " " + withSign(facts.balance->temperature->duv, 3);
}

QString BalanceStop::sentence(const BenchFacts &facts) const
{
    if (!facts.balance)
        return facts.reading && facts.reading->found ? tr("No neutral of this chart can be used.")
                                                     : QString();
    if (facts.otherFace)
        return text(words::otherFace(*facts.otherFace, spoken()));
    const auto cast = percent(largestCast(facts), 1).replace(' ', QChar::Nbsp);
    return facts.greys.size() < 2 ? sourceWords(facts) + "."
                                  : tr("%1. The greys stay within %2.").arg(sourceWords(facts), cast);
}

int BalanceStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    int y = where.top();
    double most = 0.01;
    for (const auto &grey : facts.greys)
        most = std::max(most, grey.balanced[1]);
    for (const auto &grey : facts.greys) {
        painter.setPen(palette().color(QPalette::WindowText));
        drawLine(painter, {where.left(), y, 28, 20}, text(grey.id), face(kBody, grey.source ? 700 : 400));
        painter.fillRect(QRectF(where.left() + 30, y + 5, (where.width() - 30) * grey.balanced[1] / most, 10),
                         palette().color(QPalette::WindowText));
        y += 23;
    }
    return y - where.top();
}

void BalanceStop::show(const Facts &facts)
{
    m_facts = facts;
    setAccessibleDescription(figure(*facts) + ". " + sentence(*facts));
    QStringList greys, lights, leans;
    if (hasBalance()) {
        for (const auto &grey : facts->greys)
            greys << tr("%1, %2").arg(text(grey.id), neutralWords(grey));
        for (const auto &rung : facts->ladder)
            lights << tr("%1, %2").arg(text(rung.name), kelvin(rung.light.cctKelvin));
        for (int i = 0; i < kLeans; ++i)
            leans << leanStepWords(i);
    }
    m_greys->show(greys, sourceRow());
    m_ladder->show(lights, nearestRung());
    m_leans->show(leans,
                  hasBalance() ? int(std::lround(facts->balance->lean.warmer / kLeanStep)) + kLeans / 2 : -1);
    for (auto *list : {m_greys, m_ladder, m_leans})
        list->setVisible(hasBalance());
    layOut();
    update();
}

void BalanceStop::resizeEvent(QResizeEvent *event)
{
    layOut();
    Stop::resizeEvent(event);
}

void BalanceStop::layOut()
{
    const int left = std::max(260, width() * 54 / 100 - 16), ladder = width() * 54 / 100 + 2;
    m_greys->setCell({left, kGreyHeight});
    m_greys->setGeometry(0, kHeader, left, kGreyHeight * int(m_facts->greys.size()));
    m_ladder->setCell({width() - ladder - 20, kRungHeight});
    m_ladder->setGeometry(ladder, kHeader, width() - ladder - 20, kRungHeight * int(m_facts->ladder.size()));
    const int top = answerTop() + 122, wide = (width() - 24) / kLeans;
    const int high = std::min(wide * 2 / 3, std::max(82, height() - top - 8));
    m_leans->setCell({wide, high});
    m_leans->setGeometry(0, top, wide * kLeans + 1, high);
}

int BalanceStop::answerTop() const
{
    return kHeader +
           std::max(kGreyHeight * int(m_facts->greys.size()), kRungHeight * int(m_facts->ladder.size())) + 12;
}

/// The first of the greys that the balance is from; −1: from something else.
int BalanceStop::sourceRow() const
{
    const auto source = m_facts->balance ? m_facts->balance->source.patches : std::vector<std::string>();
    const auto at = std::find_if(m_facts->greys.begin(), m_facts->greys.end(), [&](const auto &grey) {
        return !source.empty() && grey.id == source.front();
    });
    return at == m_facts->greys.end() ? -1 : int(at - m_facts->greys.begin());
}

int BalanceStop::nearestRung() const
{
    int nearest = -1;
    double least = 1e9;
    for (size_t i = 0; m_facts->balance && m_facts->balance->temperature && i < m_facts->ladder.size(); ++i) {
        const auto &a = m_facts->ladder[i].light, &b = *m_facts->balance->temperature;
        const double off = std::hypot(1e6 / a.cctKelvin - 1e6 / b.cctKelvin, 4000 * (a.duv - b.duv));
        if (off < least) {
            least = off;
            nearest = int(i);
        }
    }
    return nearest;
}

void BalanceStop::paintGrey(QPainter &painter, const QRect &row, int index) const
{
    const auto &grey = m_facts->greys[size_t(index)];
    const QRect area = row.adjusted(0, 0, 0, -4);
    if (grey.source)
        painter.fillRect(area, palette().base());
    const QColor ink = palette().color(grey.source ? QPalette::Text : QPalette::WindowText);
    painter.setPen(ink);
    drawLine(painter, {area.left() + 8, area.top(), 36, area.height()}, text(grey.id),
             face(kAnswer, grey.source ? 700 : 400));
    double most = 0.01;
    for (const auto &each : m_facts->greys)
        most = std::max(most, *std::max_element(each.balanced.begin(), each.balanced.end()));
    const int left = area.left() + 48, wide = std::min(110, area.width() / 4);
    const char *names[] = {"R", "G", "B"};
    for (int c = 0; c < 3; ++c) {
        const int top = area.top() + 2 + 15 * c;
        painter.fillRect(QRectF(left, top + 3, std::max(1.0, wide * grey.balanced[size_t(c)] / most), 8),
                         ink);
        drawLine(painter, {left + wide + 6, top - 2, 70, 18},
                 QString("%1 %2").arg(names[c], percent(grey.balanced[size_t(c)], 1)), face(12));
    }
    const QRect words(left + wide + 68, area.top(), area.right() - left - wide - 72, area.height());
    const auto aim = std::find_if(m_facts->aims.begin(), m_facts->aims.end(),
                                  [&](const auto &a) { return a.id == grey.id; });
    drawLine(painter, {words.left(), words.top() + 2, words.width(), 20}, neutralWords(grey),
             face(13, grey.usable ? 400 : 600));
    if (aim != m_facts->aims.end() && aim->usable)
        drawLine(painter, {words.left(), words.top() + 23, words.width(), 20}, aimWords(*aim),
                 face(13, aim->passes ? 400 : 600));
}

void BalanceStop::paintRung(QPainter &painter, const QRect &row, int index) const
{
    const auto &rung = m_facts->ladder[size_t(index)];
    const bool near = index == nearestRung();
    const QRect area = row.adjusted(6, 0, 0, 0);
    const QFont font = face(13, near ? 700 : 400);
    painter.setPen(palette().color(QPalette::WindowText));
    if (near)
        painter.drawLine(row.left(), row.top() + 3, row.left(), row.bottom() - 2);
    drawLine(painter, {area.left(), area.top(), area.width() - 172, area.height()}, text(rung.name), font);
    drawLine(painter, {area.right() - 170, area.top(), 62, area.height()}, kelvin(rung.light.cctKelvin), font,
             Qt::AlignRight | Qt::AlignVCenter);
    drawLine(painter, {area.right() - 104, area.top(), 104, area.height()},
             QString("%1  %2").arg(fixed(rung.multipliers[0], 3), fixed(rung.multipliers[2], 3)), font,
             Qt::AlignRight | Qt::AlignVCenter);
}

void BalanceStop::paintAnswer(QPainter &painter) const
{
    const auto &b = *m_facts->balance;
    const auto &m = b.leaned ? *b.leaned : b.multipliers;
    const QRect tag(0, answerTop(), width() - 24, 84);
    painter.fillRect(tag, palette().base());
    painter.setPen(palette().color(QPalette::Text));
    const auto line = [&](int row, const QString &words, const QFont &font) {
        drawLine(painter, {tag.left() + 16, tag.top() + 8 + 24 * row, tag.width() - 32, 24}, words, font);
    };
    line(0,
         tr("Multipliers  R %1   G 1   B %2").arg(fixed(m[0], 4), fixed(m[2], 4)) +
             (b.leaned ? tr("   with %1").arg(leanWords(b.lean)) : QString()),
         face(kAnswer, 600));
    const auto *chosen = m_facts->chosen();
    const QString by = chosen && !chosen->light.estimated ? tr("by the station's calibration")
                                                          : tr("by the raw file's own matrix");
    line(1,
         b.temperature
             ? tr("%1, Duv %2, %3").arg(kelvin(b.temperature->cctKelvin), withSign(b.temperature->duv, 4), by)
             : tr("The file has no colour matrix, so no temperature is known."),
         face(kBody));
    line(2,
         sourceWords(*m_facts) +
             (m_facts->balanceIsChosen ? tr(", chosen by hand.") : tr(", chosen automatically.")),
         face(kBody));
}

/// The chart as it would come out: colours of its patches by the chosen calibration with the lean's
/// multipliers.
void BalanceStop::paintLean(QPainter &painter, const QRect &cell, int index) const
{
    const auto *chosen = m_facts->chosen();
    const QRect area = cell.adjusted(2, 2, -16, -24);
    const double steps = (index - kLeans / 2) * kLeanStep;
    const bool current = std::abs(m_facts->balance->lean.warmer - steps) < kLeanStep / 2;
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, {area.left(), area.bottom() + 2, area.width(), 20}, leanStepWords(index),
             face(13, current ? 700 : 400), Qt::AlignCenter);
    if (chosen) {
        ColorModel model = *chosen;
        model.multipliers =
            leaned(m_facts->balance->multipliers, {steps, m_facts->balance->lean.rosier}, chosen->matrix);
        const auto &chart = m_facts->chart;
        for (const auto &patch : m_facts->reading->patches) {
            const auto at = std::find_if(chart.patches.begin(), chart.patches.end(),
                                         [&](const auto &p) { return p.id == patch.id; }) -
                            chart.patches.begin();
            const auto grid = shownGrid(chart);
            const int row = int(at) / grid.columns, column = int(at) % grid.columns;
            const QRectF square(area.left() + area.width() * double(column) / grid.columns,
                                area.top() + area.height() * double(row) / grid.rows,
                                double(area.width()) / grid.columns, double(area.height()) / grid.rows);
            painter.fillRect(square, screenColor(labFromXyz(xyzFromCamera(model, patch.mean))));
        }
    }
    painter.setPen(QPen(palette().color(QPalette::WindowText), current ? 3 : 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(area);
}

void BalanceStop::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    if (m_facts->balance && !m_facts->reading) {
        drawWords(painter, rect().adjusted(0, 10, -20, 0),
                  tr("This frame shows no chart, so its balance is not checked against one."), face(kAnswer));
        return paintAnswer(painter);
    }
    if (!hasBalance()) {
        drawWords(painter, rect().adjusted(0, 10, -20, 0),
                  m_facts->reading && m_facts->reading->found
                      ? tr("No neutral of this chart can be used: each is clipped or too dark.")
                      : tr("There is no chart reading to balance from."),
                  face(kAnswer));
        return;
    }
    const QRect greys = m_greys->geometry(), ladder = m_ladder->geometry();
    drawLine(painter, {0, 0, greys.width(), 24},
             tr("The greys after balancing. Click one to use it as neutral."), face(kBody, 600));
    drawLine(painter, {ladder.left() + 6, 0, ladder.width(), 24}, tr("Lights on this camera: R and B"),
             face(kBody, 600));
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(ladder.left() - 8, 0, ladder.left() - 8, answerTop() - 12);
    paintAnswer(painter);
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, {0, answerTop() + 92, width() - 24, 24},
             tr("Lean, for people or mood. It does not change the neutral. Now: %1.")
                 .arg(leanWords(m_facts->balance->lean)),
             face(kBody, 600));
}

/// With Ctrl a grey joins the others, or leaves them.
void BalanceStop::pickGrey(int index, Qt::KeyboardModifiers with)
{
    const auto &source = m_facts->balance->source.patches;
    const auto &id = m_facts->greys[size_t(index)].id;
    std::vector<std::string> ids{id};
    if (with & Qt::ControlModifier) {
        ids = source;
        if (std::erase(ids, id) == 0)
            ids.push_back(id);
    }
    if (!ids.empty())
        emit greysAsked(ids);
}

} // namespace wavechroma::app
