#include "app/view/bench/proof/proof_stop.h"

#include "app/model/spoken.h"
#include "app/view/bench/proof/ab_plot.h"
#include "app/view/bench/proof/error_list.h"
#include "app/view/bench/proof/ring_chart.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/words/fit_words.h"
#include "core/words/proof_words.h"

#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace wavechroma::app {

ProofStop::ProofStop(QWidget *parent)
    : Stop(parent), m_rings(new RingChart), m_errors(new ErrorList), m_plot(new AbPlot),
      m_summary(new QLabel), m_empty(new QLabel), m_content(new QWidget)
{
    setFocusPolicy(Qt::StrongFocus);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    m_empty->setWordWrap(true);
    m_empty->setFont(face(kAnswer));
    m_empty->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    outer->addWidget(m_empty);
    auto *scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(m_content);
    outer->addWidget(scroll, 1);
    auto *grid = new QGridLayout(m_content);
    grid->setContentsMargins(0, 0, 12, 0);
    grid->setHorizontalSpacing(18);
    grid->setVerticalSpacing(14);
    grid->addWidget(m_rings, 0, 0);
    auto *side = new QVBoxLayout;
    side->setSpacing(12);
    side->addWidget(m_plot, 1);
    m_summary->setAutoFillBackground(true);
    m_summary->setBackgroundRole(QPalette::Base);
    m_summary->setForegroundRole(QPalette::Text);
    m_summary->setMargin(12);
    m_summary->setWordWrap(true);
    m_summary->setAccessibleName(tr("Summary"));
    side->addWidget(m_summary);
    grid->addLayout(side, 0, 1);
    grid->addWidget(m_errors, 1, 0, 1, 2);
    grid->setColumnStretch(0, 62);
    grid->setColumnStretch(1, 38);
    grid->setRowStretch(2, 1);
    connect(m_rings, &RingChart::patchPointed, this, &ProofStop::highlight);
    connect(m_errors, &ErrorList::patchPointed, this, &ProofStop::highlight);
}

/// "0.57 better than balance alone (0.21 to 0.93)"; empty for itself. A difference that chance makes as well
/// is said to be none.
static QString against(const BenchFacts &facts, const Parts &parts)
{
    const auto errors = errorsAgainst(facts, parts);
    if (!errors)
        return {};
    const auto other = text(words::parts(parts, spoken()));
    using enum ErrorsCompared::Better;
    if (errors->better == Neither)
        return ProofStop::tr("No better than %1 alone: %2 is chance")
            .arg(other, fixed(std::abs(errors->difference), 2));
    const double ends[] = {std::abs(errors->interval.low), std::abs(errors->interval.high)};
    return (errors->better == B ? ProofStop::tr("%1 better than %2 alone (%3 to %4)")
                                : ProofStop::tr("%1 worse than %2 alone (%3 to %4)"))
        .arg(fixed(std::abs(errors->difference), 2), other, fixed(std::min(ends[0], ends[1]), 2),
             fixed(std::max(ends[0], ends[1]), 2));
}

QString ProofStop::figure(const BenchFacts &facts) const
{
    const auto *proof = facts.proof();
    if (!proof)
        return tr("none");
    if (facts.isWhiteAlone())
        return tr("needs a chart");
    return (passes(*proof, facts.limits) ? tr("passes, mean ") : tr("fails, mean ")) +
           fixed(proof->summary.mean, 1);
}

QString ProofStop::sentence(const BenchFacts &facts) const
{
    const auto *proof = facts.proof();
    if (!proof)
        return {};
    if (facts.isWhiteAlone())
        return tr("A grey says what white is. How far colours are off, a chart has to tell.");
    const auto neutrals = neutralsOf(*proof, facts.chart);
    return tr("Worst %1 %2. Greys %3, %4.")
        .arg(text(proof->worst), fixed(proof->summary.max, 1), fixed(neutrals.mean, 1),
             text(words::cast(neutrals, spoken())));
}

int ProofStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    const auto *proof = facts.proof();
    if (!proof)
        return 0;
    auto worst = proof->patches;
    std::stable_sort(worst.begin(), worst.end(),
                     [](const auto &a, const auto &b) { return a.de00 > b.de00; });
    int y = where.top();
    const double scale = std::max(worst.front().de00, facts.limits.patch);
    for (size_t i = 0; i < std::min<size_t>(5, worst.size()); ++i) {
        drawRingChip(painter, QRectF(where.left() + 1, y + 1, 17, 17), worst[i]);
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.setPen(palette().color(QPalette::WindowText));
        drawLine(painter, {where.left() + 24, y, 26, 20}, text(worst[i].id), face(kBody));
        painter.fillRect(QRectF(where.left() + 52, y + 6, (where.width() - 52) * worst[i].de00 / scale, 8),
                         palette().color(QPalette::WindowText));
        y += 23;
    }
    return y - where.top();
}

void ProofStop::show(const Facts &facts)
{
    const auto *proof = facts->proof();
    m_empty->setVisible(!proof);
    m_content->setVisible(proof != nullptr);
    m_empty->setText(tr("Nothing to prove yet: this frame has no calibration."));
    m_rings->show(facts);
    m_errors->show(facts);
    m_plot->show(facts);
    if (!proof)
        return;
    if (facts->isWhiteAlone())
        return m_summary->setText(sentence(*facts));
    QStringList lines;
    const auto &s = proof->summary;
    lines << tr("Mean ΔE00 %1, median %2").arg(fixed(s.mean, 2), fixed(s.median, 2));
    if (const auto errors = errorsOf(*facts); errors && errors->isUnseen)
        lines << tr("Unseen ΔE00 %1 (%2 to %3)")
                     .arg(fixed(errors->mean, 2), fixed(errors->interval.low, 2),
                          fixed(errors->interval.high, 2));
    else if (errors)
        lines << tr("The mean lies between %1 and %2")
                     .arg(fixed(errors->interval.low, 2), fixed(errors->interval.high, 2));
    lines << tr("95 % within %1, worst %2").arg(fixed(s.p95, 2), fixed(s.max, 2));
    if (const auto better = against(*facts, {colourParts().front().name, plainParts().tone});
        !better.isEmpty())
        lines << better;
    const auto neutrals = neutralsOf(*proof, facts->chart);
    lines << tr("Greys %1, %2").arg(fixed(neutrals.mean, 1), text(words::cast(neutrals, spoken())));
    for (const auto &held : heldTo(facts->limits, *proof))
        if (held.measure != DifferenceMeasure::De2000)
            lines << text(words::held(held, spoken()));
    lines << tr("Limits: %1").arg(text(words::limits(facts->limits, spoken())));
    m_summary->setText(lines.join('\n'));
    m_summary->setToolTip(
        tr("Ranges hold the mean with 95 % certainty, from resampled patches and the noise of the reading."));
}

void ProofStop::highlight(const QString &patch)
{
    m_rings->highlight(patch);
    m_errors->highlight(patch);
    m_plot->highlight(patch);
}

} // namespace wavechroma::app
