#include "app/view/agreement/agreement_place.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/widgets/patch_colors.h"
#include "core/base/number_text.h"
#include "core/words/agreement_words.h"

#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSaveFile>
#include <QSpinBox>
#include <QVBoxLayout>
#include <algorithm>

namespace wavechroma::app {

namespace {

constexpr int kName = 176, kBars = 300, kRowHeight = 40, kLeastColumn = 64;
constexpr const char *kQueue = "agreement";

Lab meanOf(const std::map<std::string, Lab> &labs)
{
    Lab out;
    for (const auto &[station, lab] : labs)
        out = {out.l + lab.l, out.a + lab.a, out.b + lab.b};
    const double n = std::max<double>(1, double(labs.size()));
    return {out.l / n, out.a / n, out.b / n};
}

} // namespace

AgreementPlace::AgreementPlace(JobDocument *job, TaskRunner *tasks, QWidget *parent)
    : QWidget(parent), m_job(job), m_tasks(tasks), m_head(new QLabel), m_answer(new QLabel),
      m_drawn(new QLabel),
      m_rows(new PaintedList(
          tr("Agreement between stations"),
          [this](QPainter &painter, const QRect &area, int row) { paintRow(painter, area, row); }, this)),
      m_give(new QSpinBox), m_leader(new QComboBox), m_draw(new QPushButton(tr("Draw Together"))),
      m_apply(new QPushButton(tr("Use for Product Frames")))
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(20, 14, 20, 14);
    m_head->setFont(face(kAnswer, 700));
    m_head->setText(tr("Does the same thing get the same colour everywhere?"));
    for (auto *label : {m_answer, m_drawn}) {
        label->setFont(face(kBody));
        label->setWordWrap(true);
        label->setTextFormat(Qt::PlainText);
    }
    column->addWidget(m_head);
    column->addWidget(m_answer);
    column->addSpacing(64); // the stations' names, painted
    column->addWidget(m_rows, 1);
    m_rows->setRowHeight([](int, int) { return kRowHeight; });
    auto *foot = new QHBoxLayout;
    foot->addWidget(m_drawn, 1);
    auto *give = new QLabel(tr("Each may give up"));
    give->setBuddy(m_give);
    m_give->setRange(0, 100);
    m_give->setValue(3);
    m_give->setSuffix(tr(" %"));
    m_give->setToolTip(tr("Share of its own mean error that a station may give up for agreement"));
    m_apply->setToolTip(
        tr("The calibrations drawn together serve the stations' product frames; can be undone"));
    auto *leader = new QLabel(tr("House standard"));
    leader->setBuddy(m_leader);
    m_leader->addItem(tr("none"));
    m_leader->setMaximumWidth(150);
    m_leader->setToolTip(tr("A station that stays as it is, while the others come to it"));
    foot->addWidget(leader);
    foot->addWidget(m_leader);
    foot->addWidget(give);
    foot->addWidget(m_give);
    foot->addWidget(m_draw);
    foot->addWidget(m_apply);
    column->addLayout(foot);
    m_apply->setEnabled(false);
    connect(m_draw, &QPushButton::clicked, this, &AgreementPlace::drawTogether);
    connect(m_apply, &QPushButton::clicked, this, &AgreementPlace::apply);
    connect(m_job, &JobDocument::opened, this, [this] { m_revision = ~0ULL; });
    connect(m_job, &JobDocument::changed, this, [this] {
        if (isVisible())
            ask(false);
    });
}

void AgreementPlace::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    ask(false);
}

void AgreementPlace::ask(bool drawTogether)
{
    if (!m_job->isOpen() || (!drawTogether && m_revision == m_job->job().revision()))
        return;
    m_revision = m_job->job().revision();
    AgreeRequest request{m_job->store()->folder(), drawTogether, m_give->value() / 100.0};
    if (drawTogether && m_leader->currentIndex() > 0)
        request.leader = m_leader->currentText().toStdString();
    TaskSpec spec{kQueue, drawTogether ? tr("drawing the stations together") : tr("comparing the stations"),
                  true};
    m_tasks->run<Agreed>(
        spec,
        [job = m_job->job(), request](const Progress &progress) {
            return agreementOf(PictureSource::of(job), request, progress);
        },
        this,
        [this](const Result<Agreed> &agreed) {
            if (agreed) {
                take(*agreed);
                return;
            }
            m_agreed.reset();
            m_sorted.clear();
            m_rows->show({}, -1);
            m_answer->setText(text(agreed.error()));
            m_drawn->clear();
            m_apply->setEnabled(false);
            update();
            emit answered();
        });
}

void AgreementPlace::take(const Agreed &agreed)
{
    m_agreed = agreed;
    m_limit = sheetOf(m_job->state()).proof.mean;
    m_sorted = sorted();
    QStringList stations{tr("none")};
    for (const auto &name : agreed.agreement.stations)
        stations << text(name);
    const auto chosen = m_leader->currentText();
    m_leader->clear();
    m_leader->addItems(stations);
    m_leader->setCurrentIndex(std::max(0, int(stations.indexOf(chosen))));
    auto shown = agreed.agreement;
    const auto drawn = shown.drawn;
    shown.drawn.reset();
    m_answer->setText(text(words::agreement(shown, spoken())));
    m_drawn->setText(
        drawn ? text(words::drawnTogether(*drawn, spoken()) + " " + words::stays(agreed.agreement, spoken()))
                    .trimmed()
              : tr("Drawing together fits all stations at once: each near its own references, all "
                   "near each other."));
    m_apply->setEnabled(canApply() && !m_job->isReadOnly());
    QStringList sentences;
    for (const auto &row : m_sorted)
        sentences << tr("%1, %2: %3 apart, %4 by white balance alone")
                         .arg(text(row.thing->id), row.isObject ? tr("object") : tr("patch"),
                              text(fixedText(row.thing->spread, 1)),
                              text(fixedText(row.thing->spreadPlain, 1)));
    m_rows->show(sentences, -1);
    update();
    emit answered();
}

/// The furthest apart first, objects before patches.
std::vector<AgreementPlace::Row> AgreementPlace::sorted() const
{
    std::vector<Row> out;
    for (const bool isObject : {true, false}) {
        const auto &things = isObject ? m_agreed->agreement.objects : m_agreed->agreement.patches;
        const auto from = ptrdiff_t(out.size());
        for (const auto &thing : things)
            out.push_back({&thing, isObject});
        std::stable_sort(out.begin() + from, out.end(),
                         [](const Row &a, const Row &b) { return a.thing->spread > b.thing->spread; });
    }
    return out;
}

QRect AgreementPlace::columnOf(const QRect &area, int station) const
{
    const auto count = std::max(1, int(m_agreed->agreement.stations.size()));
    const int wide = std::max(kLeastColumn, (area.width() - kName - kBars) / count);
    return {area.left() + kName + station * wide, area.top(), wide, area.height()};
}

void AgreementPlace::paintRow(QPainter &painter, const QRect &area, int row) const
{
    if (row >= int(m_sorted.size()))
        return;
    const auto &[thing, isObject] = m_sorted[size_t(row)];
    painter.setPen(palette().color(QPalette::WindowText));
    drawLine(painter, QRect(area.left(), area.top(), kName - 66, area.height()), text(thing->id),
             face(kBody, 600));
    drawLine(painter, QRect(area.left() + kName - 64, area.top(), 60, area.height()),
             isObject ? tr("object") : tr("patch"), face(12));
    const auto &stations = m_agreed->agreement.stations;
    const auto mean = meanOf(thing->lab);
    for (int i = 0; i < int(stations.size()); ++i) {
        const auto at = thing->lab.find(stations[size_t(i)]);
        const auto cell = columnOf(area, i);
        if (at == thing->lab.end() || cell.right() > area.right() - kBars)
            continue;
        PatchProof chip;
        chip.reference = mean;
        chip.lab = at->second;
        drawRingChip(painter, QRectF(cell.left() + 8, cell.center().y() - 15, 30, 30), chip);
    }
    double most = 1;
    for (const auto &one : m_sorted)
        most = std::max({most, one.thing->spread, one.thing->spreadPlain});
    const QRect bars(area.right() - kBars + 10, area.top(), kBars - 60, area.height());
    const auto length = [&](double value) { return int(bars.width() * value / most); };
    painter.fillRect(QRect(bars.left(), bars.center().y() - 11, length(thing->spreadPlain), 22),
                     palette().color(QPalette::Button));
    painter.fillRect(QRect(bars.left(), bars.center().y() - 5, std::max(2, length(thing->spread)), 10),
                     palette().color(QPalette::WindowText));
    painter.setPen(palette().color(QPalette::WindowText));
    if (m_limit < most)
        painter.drawLine(bars.left() + length(m_limit), area.top(), bars.left() + length(m_limit),
                         area.bottom());
    drawLine(painter, QRect(area.right() - 46, area.top(), 46, area.height()),
             text(fixedText(thing->spread, 1)), face(kBody, 600), Qt::AlignRight | Qt::AlignVCenter);
    painter.setPen(palette().color(QPalette::Mid));
    painter.drawLine(area.bottomLeft(), area.bottomRight());
}

void AgreementPlace::paintEvent(QPaintEvent *)
{
    if (!m_agreed)
        return;
    QPainter painter(this);
    const auto view = m_rows->viewport();
    QRect area(view->mapTo(this, QPoint(0, 0)), view->size());
    area = QRect(area.left(), area.top() - 62, area.width(), 58);
    painter.setPen(palette().color(QPalette::WindowText));
    const auto &stations = m_agreed->agreement.stations;
    for (int i = 0; i < int(stations.size()); ++i) {
        auto cell = columnOf(area, i);
        if (cell.right() > area.right() - kBars)
            continue;
        painter.setFont(face(12, 600));
        painter.drawText(cell.adjusted(4, 0, -8, 0), Qt::AlignLeft | Qt::AlignBottom | Qt::TextWordWrap,
                         QString::number(i + 1) + " " + text(stations[size_t(i)]));
    }
    painter.setFont(face(12, 600));
    painter.drawText(QRect(area.right() - kBars + 10, area.top(), kBars, area.height()),
                     Qt::AlignLeft | Qt::AlignBottom,
                     tr("ΔE apart: now (black), white balance alone;\nthe line is the limit of the mean, %1")
                         .arg(text(fixedText(m_limit, 1))));
}

QString AgreementPlace::answer() const
{
    return m_answer->text();
}

QString AgreementPlace::drawnWords() const
{
    return m_drawn->text();
}

void AgreementPlace::drawTogether()
{
    ask(true);
}

void AgreementPlace::apply()
{
    if (!canApply() || m_job->isReadOnly())
        return;
    const auto change = drawnChange(m_job->state(), m_job->stations(), *m_agreed);
    m_job->push(tr("Draw Stations Together"), change);
}

QString AgreementPlace::table(char between) const
{
    const auto quoted = [between](QString cell) {
        return between == ',' ? '"' + cell.replace('"', "\"\"") + '"' : cell;
    };
    QStringList lines{
        QStringList{tr("thing"), tr("kind"), tr("white balance alone"), tr("now")}.join(between)};
    for (const auto &row : m_sorted)
        lines << QStringList{quoted(text(row.thing->id)), row.isObject ? "object" : "patch",
                             QString::number(row.thing->spreadPlain, 'f', 4),
                             QString::number(row.thing->spread, 'f', 4)}
                     .join(between);
    return lines.join('\n') + '\n';
}

void AgreementPlace::copy() const
{
    QGuiApplication::clipboard()->setText(table('\t'));
}

void AgreementPlace::saveTable()
{
    const auto name =
        QFileDialog::getSaveFileName(this, tr("Save Table"), "agreement.csv", tr("Tables (*.csv)"));
    if (name.isEmpty())
        return;
    QSaveFile file(name);
    if (!file.open(QIODevice::WriteOnly) || file.write(table(',').toUtf8()) < 0 || !file.commit())
        emit problem(tr("%1 could not be written: %2").arg(name, file.errorString()));
}

} // namespace wavechroma::app
