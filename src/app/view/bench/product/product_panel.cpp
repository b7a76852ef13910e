#include "app/view/bench/product/product_panel.h"

#include "app/model/spoken.h"
#include "app/view/bench/product/trend_strip.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/color/rgb_space.h"
#include "core/words/answer_words.h"
#include "core/words/proof_words.h"

#include <QPainter>
#include <QVBoxLayout>
#include <cmath>

namespace wavechroma::app {

namespace {

constexpr int kRowHeight = 50, kFigure = 70, kMargin = 16;

/// Of a calibration brought along.
QString broughtWords(const ProductFacts &facts)
{
    if (!facts.serves.isServed)
        return QObject::tr("A calibration that cannot be read.");
    const auto doubts = text(words::serving(facts.serving, spoken()));
    const auto how = text(words::servedFrom(facts.serving.from, spoken()));
    return text(facts.serves.calibration.name) + ".\n" + how + (doubts.isEmpty() ? QString() : "\n" + doubts);
}

QString servedWords(const ProductFacts &facts)
{
    if (!facts.serving.isServed())
        return text(words::serving(facts.serving, spoken()));
    if (facts.serving.calibration)
        return broughtWords(facts);
    if (!facts.serves.isServed)
        return QObject::tr("Chart at %1, which could not be fitted.").arg(text(facts.chartAt).mid(11, 5));
    const auto at = text(facts.chartAt).mid(11, 5);
    QString out = facts.serving.isByGrey()
                      ? QObject::tr("Grey at %1").arg(at)
                      : QObject::tr("Chart at %1, ΔE %2 on unseen patches").arg(at, fixed(facts.unseen, 1));
    if (facts.frame->servedBy == facts.serving.chart)
        out += QObject::tr(", chosen by hand");
    const auto doubts = text(words::serving(facts.serving, spoken()));
    return doubts.isEmpty() ? out + QObject::tr(".\nSame light, same camera and lens.")
                            : out + ".\n" + doubts;
}

QString balanceWords(const BenchFacts &bench)
{
    if (!bench.balance)
        return QObject::tr("The file's own.");
    QString where = bench.balanceIsChosen ? QObject::tr("This frame's own") : QObject::tr("The station's");
    if (bench.balance->temperature)
        where += ", " + kelvin(bench.balance->temperature->cctKelvin);
    const auto &lean = bench.balance->lean;
    QStringList leans;
    if (lean.warmer != 0)
        leans << QString("%1 %2").arg(fixed(std::abs(lean.warmer), 0),
                                      lean.warmer > 0 ? QObject::tr("warmer") : QObject::tr("cooler"));
    if (lean.rosier != 0)
        leans << QString("%1 %2").arg(fixed(std::abs(lean.rosier), 0),
                                      lean.rosier > 0 ? QObject::tr("rosier") : QObject::tr("greener"));
    return where + (leans.isEmpty() ? QObject::tr("; no lean.") : "; " + leans.join(", ") + ".");
}

QString cropWords(const ProductFacts &facts)
{
    const auto &crop = facts.frame->crop;
    if (!crop)
        return ProductPanel::tr("All of the frame.");
    const auto size = ProductPanel::tr("%1 × %2 pixels").arg(int(crop->width)).arg(int(crop->height));
    if (crop->squared)
        return ProductPanel::tr("%1, a flat thing squared.").arg(size);
    return crop->degrees == 0 ? size + "."
                              : ProductPanel::tr("%1, turned by %2°.").arg(size, withSign(crop->degrees, 1));
}

QString levelWords(const ProductFacts &facts)
{
    const int thirds = facts.frame->levelThirds;
    const QString level = thirds == 0  ? QObject::tr("As shot")
                          : thirds > 0 ? QObject::tr("%1 lighter than shot").arg(stops(thirds / 3.0))
                                       : QObject::tr("%1 darker than shot").arg(stops(thirds / 3.0));
    return level + (facts.clipped < 0.0005
                        ? QObject::tr("; nothing is clipped.")
                        : QObject::tr("; %1 of the frame is clipped.").arg(percent(facts.clipped, 1)));
}

QString whyWords(const std::string &why)
{
    if (why == "outside")
        return QObject::tr("outside the frame");
    if (why == "clipped")
        return QObject::tr("clipped, so it has no colour");
    return QObject::tr("the frame has no calibration");
}

PatchProof chipOf(const Probe &probe)
{
    PatchProof out;
    out.lab = probe.lab.value_or(Lab{55, 0, 0});
    out.reference = probe.target ? probe.target->lab : out.lab;
    return out;
}

QString sentenceOf(const Probe &probe)
{
    if (!probe.lab)
        return whyWords(probe.why);
    const QString lab = QObject::tr("L* %1, a* %2, b* %3")
                            .arg(fixed(probe.lab->l, 1), fixed(probe.lab->a, 1), fixed(probe.lab->b, 1));
    return probe.target ? text(words::direction(probe, spoken())) : lab;
}

} // namespace

ProductPanel::ProductPanel(QWidget *parent) : QWidget(parent)
{
    setFixedWidth(404);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(kMargin, 12, kMargin, 12);
    layout->setSpacing(4);
    m_served = section(tr("Calibrated from"));
    m_balance = section(tr("Balance"));
    m_level = section(tr("Level"));
    m_crop = section(tr("Crop"));
    m_probesHead = section(tr("Probes"));
    for (auto **column : {&m_expected, &m_found}) {
        *column = new QLabel(column == &m_expected ? tr("expected") : tr("found"));
        (*column)->setFont(face(13));
        (*column)->setFixedWidth(kFigure);
        (*column)->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        (*column)->setContentsMargins(0, 0, 6, 0);
        m_lastHead->addWidget(*column);
    }
    m_list = new PaintedList(
        tr("Probes"), [this](QPainter &p, const QRect &area, int row) { paintRow(p, area, row); }, this);
    m_list->setCell({404 - 2 * kMargin, kRowHeight});
    m_list->setMinimumHeight(kRowHeight);
    layout->addWidget(m_list, 1);
    m_trend = new TrendStrip;
    layout->addWidget(m_trend);
    m_verdict = new QLabel;
    m_verdict->setFont(face(kAnswer, 600));
    m_verdict->setWordWrap(true);
    m_verdict->setMargin(12);
    m_verdict->setAutoFillBackground(true);
    layout->addWidget(m_verdict);
    m_carry = new QLabel;
    m_carry->setWordWrap(true);
    m_carry->setFont(face(kBody));
    layout->addWidget(m_carry);
    connect(m_list, &PaintedList::picked, this,
            [this](int row) { emit probePicked(text(m_facts->probes.probes[size_t(row)].place.name)); });
}

QLabel *ProductPanel::section(const QString &head)
{
    auto *title = new QLabel(head);
    title->setFont(face(kHead, 600));
    auto *words = new QLabel;
    words->setWordWrap(true);
    words->setFont(face(kBody));
    words->setAccessibleName(head);
    auto *box = static_cast<QVBoxLayout *>(layout());
    auto *line = new QHBoxLayout;
    line->addWidget(title, 1);
    box->addLayout(line);
    m_lastHead = line;
    box->addWidget(words);
    box->addSpacing(10);
    return words;
}

/// "Hatched falling: outside sRGB, 12 % of the frame. Display P3: 3 %. …"
static QString outsideWords(const ProductFacts &facts)
{
    if (!facts.outside || facts.outsideOf < 0)
        return {};
    const auto title = [](size_t space) { return text(std::string(rgbSpaces()[space].title)); };
    const auto shown = size_t(facts.outsideOf);
    QStringList out{facts.outside->share[shown] > 0
                        ? ProductPanel::tr("Hatched falling: outside %1, %2 of the frame.")
                              .arg(title(shown), percent(facts.outside->share[shown], 1))
                        : ProductPanel::tr("No colour of the frame is outside %1.").arg(title(shown))};
    for (size_t i = 0; i < facts.outside->share.size(); ++i)
        if (i != shown)
            out << ProductPanel::tr("%1: %2.").arg(title(i), percent(facts.outside->share[i], 1));
    return out.join(' ');
}

void ProductPanel::show(const std::shared_ptr<const ProductFacts> &facts, const Facts &bench)
{
    m_facts = facts;
    if (!facts->frame)
        return;
    m_served->setText(servedWords(*facts));
    m_balance->setText(balanceWords(*bench));
    m_level->setText(levelWords(*facts));
    m_crop->setText(cropWords(*facts));
    m_probesHead->setText(
        !facts->proposed.empty() ? tr("%1 proposed (dashed on the picture). Press Enter to confirm them.")
                                       .arg(facts->proposed.size())
        : facts->probes.probes.empty()
            ? tr("None yet. Double-click the product to add one, or press P to add one in the middle.")
        : facts->doubted.isOver.empty() ? QString()
        : facts->doubted.share <= 0
            ? tr("No colour of the frame has an expected error above ΔE %1.").arg(fixed(facts->limit, 1))
            : tr("Hatched: colours with an expected error above ΔE %1. %2 of the frame.")
                  .arg(fixed(facts->limit, 1), percent(facts->doubted.share)));
    if (const auto said = outsideWords(*facts); !said.isEmpty())
        m_probesHead->setText(m_probesHead->text() + (m_probesHead->text().isEmpty() ? "" : "\n") + said);
    m_probesHead->setVisible(!m_probesHead->text().isEmpty());
    for (auto *column : {m_expected, m_found})
        column->setVisible(!facts->probes.probes.empty());
    pick(m_picked);
    m_trend->show(*facts);
    showVerdict();
    const auto ahead = int(facts->run.size()) - facts->place - 1;
    m_carry->setText(ahead < 1
                         ? tr("This is the last frame of its run.")
                         : text(words::filled("Copy these to {n} more {n|frame|frames} of the run: Ctrl+B",
                                              {{"n", double(ahead)}}, spoken())));
}

void ProductPanel::pick(const QString &name)
{
    m_picked = name;
    int row = -1;
    for (size_t i = 0; i < m_facts->probes.probes.size(); ++i)
        if (text(m_facts->probes.probes[i].place.name) == name)
            row = int(i);
    QStringList sentences;
    for (const auto &probe : m_facts->probes.probes)
        sentences << text(probe.place.name) + ", " + sentenceOf(probe);
    m_list->show(sentences, row);
}

/// The worst of those that miss their limit, else how many keep it.
void ProductPanel::showVerdict()
{
    const Probe *worst = nullptr;
    int held = 0;
    for (const auto &probe : m_facts->probes.probes) {
        held += probe.within.has_value();
        if (probe.within && !*probe.within && (!worst || probe.de00 > worst->de00))
            worst = &probe;
    }
    m_verdict->setVisible(held > 0);
    auto colours = palette();
    colours.setColor(QPalette::Window, palette().color(worst ? QPalette::Highlight : QPalette::Base));
    colours.setColor(QPalette::WindowText,
                     palette().color(worst ? QPalette::HighlightedText : QPalette::Text));
    m_verdict->setPalette(colours);
    if (worst)
        m_verdict->setText(tr("%1 fails: ΔE %2, limit %3.")
                               .arg(text(worst->place.name), fixed(worst->de00, 1),
                                    fixed(worst->target->tolerance.value_or(m_facts->limit), 1)));
    else
        m_verdict->setText(held == 1 ? tr("It is within its limit.")
                                     : tr("All %1 are within their limits.").arg(held));
}

void ProductPanel::paintRow(QPainter &painter, const QRect &area, int row) const
{
    const auto &probe = m_facts->probes.probes[size_t(row)];
    const bool isPicked = text(probe.place.name) == m_picked, fails = probe.within && !*probe.within;
    const bool isDoubted = probe.foretold && *probe.foretold > m_facts->limit;
    if (isPicked) {
        painter.fillRect(area, palette().base());
    }
    painter.setPen(palette().color(isPicked ? QPalette::Text : QPalette::WindowText));
    if (probe.lab)
        drawRingChip(painter, QRectF(area.left() + 4, area.top() + 6, 38, 38), chipOf(probe));
    const int left = area.left() + 52, right = area.right() - 2 * kFigure;
    painter.setPen(palette().color(isPicked ? QPalette::Text : QPalette::WindowText));
    drawLine(painter, {left, area.top() + 5, right - left, 20}, text(probe.place.name), face(15, 600));
    drawLine(painter, {left, area.top() + 25, right - left, 20}, sentenceOf(probe), face(kBody));
    if (probe.foretold)
        drawLine(painter, {right, area.top() + 5, kFigure - 6, 20}, fixed(*probe.foretold, 1),
                 face(15, isDoubted ? 700 : 400), Qt::AlignRight | Qt::AlignVCenter);
    if (probe.lab && probe.target)
        drawLine(painter, {right + kFigure, area.top() + 5, kFigure - 6, 20}, fixed(probe.de00, 1),
                 face(15, fails ? 700 : 400), Qt::AlignRight | Qt::AlignVCenter);
    if (fails)
        drawLine(painter, {right + kFigure, area.top() + 25, kFigure - 6, 20}, tr("fails"), face(kBody, 600),
                 Qt::AlignRight | Qt::AlignVCenter);
}

void ProductPanel::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(QPen(palette().color(QPalette::WindowText), 2));
    painter.drawLine(0, 0, 0, height());
}

} // namespace wavechroma::app
