#include "app/view/read_stop.h"

#include "app/view/look.h"
#include "app/view/patch_colors.h"
#include "core/base/number_text.h"

#include <QHBoxLayout>

namespace wavechroma::app {

static QString text(const std::string &s)
{
    return QString::fromStdString(s);
}

ReadStop::ReadStop(QWidget *parent) : Stop(parent), m_view(new FrameView), m_checks(new CheckList)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(16);
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
        return facts.frame ? tr("A picture without a chart.") : tr("Choose a chart frame on the day sheet.");
    const auto &r = *facts.reading;
    for (const auto severity : {Severity::Stop, Severity::Warn})
        for (const auto &check : r.checks)
            if (check.severity == severity)
                return text(check.message);
    QString exposure;
    for (const auto &check : r.checks)
        if (check.id == "exposure")
            exposure = text(check.message);
    return (r.placedBy == PlacedBy::Hand ? tr("Placed by hand. ") : tr("Found by itself. ")) + tr("Nothing burnt. ") + exposure;
}

int ReadStop::paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const
{
    const auto *proof = facts.proof();
    if (!facts.reading || !facts.reading->found || !proof)
        return 0;
    const int height = where.width() * 2 / 3;
    drawMiniChart(painter, QRectF(where.left(), where.top(), where.width(), height), *proof, facts.chart.rows, facts.chart.columns);
    return height;
}

void ReadStop::show(const BenchFacts &facts)
{
    m_view->setPlacement(facts.reading, facts.chart);
    m_checks->show(facts);
}

CheckList::CheckList(QWidget *parent) : QWidget(parent)
{
    setFixedWidth(232);
    setAccessibleName(tr("Checks"));
}

void CheckList::show(const BenchFacts &facts)
{
    m_facts = facts;
    QString all;
    if (facts.reading)
        for (const auto &check : facts.reading->checks)
            all += text(check.message) + " ";
    setAccessibleDescription(all);
    update();
}

void CheckList::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    QRect area = rect().adjusted(0, 0, -12, 0);
    painter.setPen(palette().color(QPalette::WindowText));
    const auto line = [&](const QString &words, const QFont &font, int gap) { area.setTop(area.top() + drawWords(painter, area, words, font) + gap); };
    if (!m_facts.frame)
        return;
    const auto &f = *m_facts.frame;
    line(text(f.path).section('/', -1), face(kHead, 600), 4);
    line(text(f.camera.model) + ", " + text(f.camera.lens), face(kBody), 0);
    line(tr("%1, f/%2, ISO %3").arg(text(exposureText(f.camera.exposureSeconds))).arg(f.camera.fNumber).arg(f.camera.iso), face(kBody), 0);
    line(text(f.camera.capturedAt).replace('T', ' '), face(kBody), 18);
    if (!m_facts.reading)
        return;
    for (const auto severity : {Severity::Stop, Severity::Warn, Severity::Ok})
        for (const auto &check : m_facts.reading->checks) {
            if (check.severity != severity)
                continue;
            const bool trouble = severity != Severity::Ok;
            const QFont font = face(kBody, trouble ? 600 : 400);
            const QRect inner = area.adjusted(trouble ? 10 : 0, trouble ? 8 : 0, trouble ? -10 : 0, 0);
            const int height = QFontMetrics(font).boundingRect(inner, Qt::TextWordWrap, text(check.message)).height();
            if (trouble) {
                const bool stop = severity == Severity::Stop;
                painter.fillRect(QRect(area.left(), area.top(), area.width(), height + 16), palette().brush(stop ? QPalette::Highlight : QPalette::Base));
                painter.setPen(palette().color(stop ? QPalette::HighlightedText : QPalette::Text));
            } else {
                painter.setPen(palette().color(QPalette::WindowText));
            }
            drawWords(painter, inner, text(check.message), font);
            area.setTop(area.top() + height + (trouble ? 24 : 8));
        }
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(area.left(), area.top() + 6, area.right(), area.top() + 6);
    area.setTop(area.top() + 16);
    painter.setPen(palette().color(QPalette::WindowText));
    line(tr("Windows take %1 of each patch").arg(text(percentText(m_facts.reading->windowShare))), face(kBody), 8);
    line(tr("Drag a corner or the cross.\nTab chooses, arrows move by a pixel, with Shift by ten.\n[ and ] size the windows.\nThe wheel zooms."), face(kBody), 0);
}

} // namespace wavechroma::app
