#include "app/view/agreement/compare_dialog.h"

#include "app/model/spoken.h"
#include "app/view/widgets/figure_view.h"
#include "app/view/widgets/look.h"
#include "core/base/number_text.h"
#include "core/color/rgb_space.h"
#include "core/figures/comparison_figures.h"
#include "core/tasks/reference_task.h"
#include "core/words/comparison_words.h"

#include <QClipboard>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QGuiApplication>
#include <QHeaderView>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QSaveFile>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace wavechroma::app {

namespace {

/// A number that sorts as a number and shows as many decimals as mean something.
class NumberItem : public QTableWidgetItem
{
public:
    explicit NumberItem(std::optional<double> value)
        : QTableWidgetItem(value ? app::text(fixedText(*value, 2)) : QString()), m_value(value.value_or(-1))
    {
        setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    bool operator<(const QTableWidgetItem &other) const override
    {
        const auto *number = dynamic_cast<const NumberItem *>(&other);
        return number ? m_value < number->m_value : QTableWidgetItem::operator<(other);
    }

private:
    double m_value;
};

QString titleOf(const std::string &space)
{
    const auto known = rgbSpaceFromId(space);
    return text(known ? std::string(known->title) : space);
}

} // namespace

CompareDialog::CompareDialog(const Job &job, RowId chartFrame, TaskRunner *tasks, QWidget *parent)
    : QDialog(parent), m_job(job), m_frame(chartFrame), m_tasks(tasks), m_all(comparablesOf(job, chartFrame)),
      m_a(new QComboBox), m_b(new QComboBox), m_measure(new QComboBox), m_answer(new QLabel),
      m_more(new QLabel), m_group(new QLabel), m_split(new FigureView(1)), m_greys(new FigureView(1)),
      m_sectors(new FigureView(1)), m_table(new QTableWidget)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Compare Calibrations"));
    resize(1080, 760);
    for (const auto &one : m_all)
        for (auto *box : {m_a, m_b})
            box->addItem(one.calibration ? text(one.label) : tr("White balance and the file's own matrix"));
    for (const auto &row : kDifferenceMeasures)
        m_measure->addItem(text(std::string(row.sign)));
    m_a->setCurrentIndex(m_all.size() > 1 ? 1 : 0);
    m_a->setAccessibleName(tr("A"));
    m_b->setAccessibleName(tr("B"));
    m_measure->setAccessibleName(tr("Measure of colour difference"));
    auto *file = new QPushButton(tr("From a File…"));
    file->setToolTip(
        tr("A calibration, DNG camera profile, ICC profile or .cube, as a general reader reads it"));
    auto *head = new QGridLayout;
    head->addWidget(new QLabel(tr("A")), 0, 0);
    head->addWidget(m_a, 0, 1);
    head->addWidget(m_measure, 0, 2);
    head->addWidget(new QLabel(tr("B")), 1, 0);
    head->addWidget(m_b, 1, 1);
    head->addWidget(file, 1, 2);
    head->setColumnStretch(1, 1);
    for (auto *label : {m_answer, m_more, m_group}) {
        label->setWordWrap(true);
        label->setTextFormat(Qt::PlainText);
    }
    m_answer->setFont(face(kAnswer));
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->verticalHeader()->hide();
    m_table->setAccessibleName(tr("Patches"));
    auto *body = new QGridLayout;
    body->addWidget(m_split, 0, 0, Qt::AlignTop);
    auto *greyName = new QLabel(tr("Greys: L* (bold), a*, b* (dashed) of B less A, dark to light"));
    auto *sectorName = new QLabel(tr("Hues from red: chroma (bars) and hue in degrees (rings) of B less A"));
    body->addWidget(greyName, 1, 0);
    body->addWidget(m_greys, 2, 0, Qt::AlignTop);
    body->addWidget(sectorName, 3, 0);
    body->addWidget(m_sectors, 4, 0, Qt::AlignTop);
    body->addWidget(m_table, 0, 1, 6, 1);
    body->setColumnStretch(1, 1);
    body->setRowStretch(5, 1);
    auto *buttons = new QDialogButtonBox;
    auto *copy = buttons->addButton(tr("Copy as Text"), QDialogButtonBox::ActionRole);
    auto *save = buttons->addButton(tr("Save as CSV…"), QDialogButtonBox::ActionRole);
    buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 12);
    column->addLayout(head);
    column->addWidget(m_answer);
    column->addWidget(m_more);
    column->addWidget(m_group);
    column->addLayout(body, 1);
    column->addWidget(buttons);
    connect(m_a, &QComboBox::currentIndexChanged, this, &CompareDialog::ask);
    connect(m_b, &QComboBox::currentIndexChanged, this, &CompareDialog::ask);
    connect(m_measure, &QComboBox::currentIndexChanged, this, &CompareDialog::ask);
    connect(m_table, &QTableWidget::itemSelectionChanged, this, &CompareDialog::askForGroup);
    connect(file, &QPushButton::clicked, this, &CompareDialog::chooseFile);
    connect(copy, &QPushButton::clicked, this,
            [this] { QGuiApplication::clipboard()->setText(table('\t')); });
    connect(save, &QPushButton::clicked, this, &CompareDialog::saveTable);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    ask();
}

void CompareDialog::chooseFile()
{
    const auto file = QFileDialog::getOpenFileName(
        this, tr("Compare with a File"), {},
        tr("Profiles and tables (*.dcp *.icc *.icm *.cube *.json);;All files (*)"));
    if (!file.isEmpty())
        addFile(file);
}

void CompareDialog::addFile(const QString &file)
{
    m_files.push_back(file.toStdString());
    const QSignalBlocker quietA(m_a), quietB(m_b);
    for (auto *box : {m_a, m_b})
        box->addItem(QFileInfo(file).fileName());
    m_b->setCurrentIndex(m_b->count() - 1);
    ask();
}

void CompareDialog::ask()
{
    struct Asked
    {
        Comparison comparison;
        ChartDefinition chart;
    };
    const auto chosen = [this](const QComboBox *box) {
        const auto at = size_t(std::max(0, box->currentIndex()));
        return at < m_all.size() ? std::pair(m_all[at], std::string())
                                 : std::pair(Comparable(), m_files[at - m_all.size()]);
    };
    const auto work = [job = m_job, frame = m_frame, a = chosen(m_a), b = chosen(m_b), group = group(),
                       measure =
                           DifferenceMeasure(m_measure->currentIndex())](const Progress &) -> Result<Asked> {
        const auto side = [&](const auto &one) {
            return one.second.empty() ? sideOn(job, frame, one.first) : sideOn(job, frame, one.second);
        };
        const auto first = side(a), second = side(b);
        if (!first || !second)
            return (first ? second : first).error();
        const auto compared = compareOn(job, frame, *first, *second, measure, group);
        if (!compared)
            return compared.error();
        const auto chart = referencesOf(*job.rows().readingOf(frame)->reading, {});
        return Asked{*compared, chart ? *chart : ChartDefinition()};
    };
    m_tasks->run<Asked>({"compare", tr("comparing calibrations"), true}, work, this,
                        [this](const Result<Asked> &asked) {
                            if (!asked) {
                                m_comparison.reset();
                                m_answer->setText(text(asked.error()));
                                return;
                            }
                            m_chart = asked->chart;
                            take(asked->comparison);
                        });
}

void CompareDialog::sayMore()
{
    QStringList outside, more;
    for (const auto &space : m_comparison->outside)
        if (!space.patches.empty())
            outside << tr("%1 of %2").arg(space.patches.size()).arg(titleOf(space.space));
    const auto &skin = m_comparison->skin;
    more << tr("Skin: lightness %1, chroma %2, hue %3°. Patches outside: %4.")
                .arg(text(signedText(skin.dL, 2)), text(signedText(skin.dC, 2)), text(signedText(skin.dh, 1)),
                     outside.isEmpty() ? tr("none") : outside.join(", "));
    if (const auto limits = words::comparedLimits(*m_comparison, spoken()); !limits.empty())
        more << text(limits);
    m_more->setText(more.join('\n'));
}

std::vector<std::string> CompareDialog::group() const
{
    std::vector<std::string> out;
    for (int row = 0; row < m_table->rowCount(); ++row)
        if (m_table->item(row, 0) && m_table->item(row, 0)->isSelected())
            out.push_back(m_table->item(row, 0)->text().toStdString());
    return out;
}

void CompareDialog::askForGroup()
{
    if (const auto ids = group(); m_comparison && (!ids.empty() || m_comparison->group))
        ask();
}

void CompareDialog::take(const Comparison &comparison)
{
    auto before = m_comparison.value_or(Comparison());
    before.group = comparison.group;
    const bool isOnlyAGroup = before == comparison;
    m_comparison = comparison;
    m_answer->setText(text(words::comparison(comparison, spoken())));
    sayMore();
    const auto about = words::comparedGroup(comparison, spoken());
    m_group->setText(about.empty() ? tr("Patches selected in the table are looked at together, as a group.")
                                   : text(about));
    if (isOnlyAGroup) // the rest is as it was, and so is the selection
        return;
    m_split->show(splitChart(comparison, m_chart, 384));
    m_greys->show(greyShift(comparison, 400, 86));
    m_sectors->show(sectorShift(comparison, 400, 76));
    const QString sign = text(std::string(rowOf(comparison.measure).sign));
    const QSignalBlocker quiet(m_table); // rows that are filled anew select nothing
    m_table->setSortingEnabled(false);
    m_table->setColumnCount(4);
    m_table->setHorizontalHeaderLabels(
        {tr("Patch"), tr("Between, %1").arg(sign), tr("A is off"), tr("B is off")});
    m_table->setRowCount(int(comparison.patches.size()));
    for (int i = 0; i < m_table->rowCount(); ++i) {
        const auto &patch = comparison.patches[size_t(i)];
        m_table->setItem(i, 0, new QTableWidgetItem(text(patch.id)));
        m_table->setItem(i, 1, new NumberItem(patch.between));
        m_table->setItem(i, 2, new NumberItem(patch.errorA));
        m_table->setItem(i, 3, new NumberItem(patch.errorB));
    }
    m_table->setSortingEnabled(true);
    m_table->sortItems(1, Qt::DescendingOrder);
    selectGroup();
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

/// The rows have gone elsewhere since they were selected.
void CompareDialog::selectGroup()
{
    const QSignalBlocker quiet(m_table);
    m_table->clearSelection();
    for (int row = 0; m_comparison->group && row < m_table->rowCount(); ++row) {
        const auto &ids = m_comparison->group->patches;
        const auto id = m_table->item(row, 0)->text().toStdString();
        for (int c = 0; c < m_table->columnCount(); ++c)
            m_table->item(row, c)->setSelected(std::find(ids.begin(), ids.end(), id) != ids.end());
    }
}

QString CompareDialog::answer() const
{
    return m_answer->text();
}

QString CompareDialog::more() const
{
    return m_more->text();
}

QString CompareDialog::aboutGroup() const
{
    return m_group->text();
}

/// As it is sorted now.
QString CompareDialog::table(char between) const
{
    QStringList lines;
    QStringList head;
    for (int c = 0; c < m_table->columnCount(); ++c) {
        const auto name = m_table->horizontalHeaderItem(c)->text();
        head << (between == ',' ? '"' + name + '"' : name);
    }
    lines << head.join(between);
    for (int r = 0; r < m_table->rowCount(); ++r) {
        QStringList cells;
        for (int c = 0; c < m_table->columnCount(); ++c)
            cells << m_table->item(r, c)->text().replace(QChar(0x2212), '-');
        lines << cells.join(between);
    }
    return lines.join('\n') + '\n';
}

void CompareDialog::saveTable()
{
    const auto name =
        QFileDialog::getSaveFileName(this, tr("Save Table"), "comparison.csv", tr("Tables (*.csv)"));
    if (name.isEmpty())
        return;
    QSaveFile file(name);
    if (!file.open(QIODevice::WriteOnly) || file.write(table(',').toUtf8()) < 0 || !file.commit())
        QMessageBox::warning(this, windowTitle(),
                             tr("%1 could not be written: %2").arg(name, file.errorString()));
}

} // namespace wavechroma::app
