#include "app/view/charts/charts_dialog.h"

#include "app/model/spoken.h"
#include "app/view/charts/reference_preview.h"
#include "core/tasks/job_task.h"
#include "core/tasks/reference_task.h"
#include "core/words/reference_words.h"

#include <QComboBox>
#include <QDate>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace wavechroma::app {

ChartsDialog::ChartsDialog(JobDocument *job, QWidget *parent)
    : QDialog(parent), m_job(job), m_table(new QTableWidget), m_chart(new QComboBox), m_light(new QComboBox),
      m_words(new QLabel), m_preview(new ReferencePreview)
{
    setWindowTitle(tr("Charts and References"));
    resize(820, 480);
    m_table->setColumnCount(4);
    m_table->setHorizontalHeaderLabels({tr("In use, name"), tr("Chart"), tr("Source"), tr("Measured")});
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    m_table->verticalHeader()->hide();
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setObjectName("charts");
    for (const auto &chart : chartsOf(job->state()))
        m_chart->addItem(text(chart.name), text(chart.id));
    m_chart->setObjectName("chart");
    m_light->addItems({"D50", "D65", "A", "4100K"});
    m_light->setEditable(true);
    m_light->setToolTip(tr("For tables of spectra: the light under which colours are computed. A CIE name, "
                           "or a temperature such as 4100K"));
    m_words->setWordWrap(true);
    m_words->setText(tr("Printed charts age and differ by batch. A chart without its own reference values is "
                        "compared with the values shipped with the program."));
    auto *form = new QFormLayout(this);
    form->addRow(m_table);
    form->addRow(tr("For the chart"), m_chart);
    form->addRow(tr("Spectra under"), m_light);
    form->addRow(m_words);
    form->addRow(m_preview);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    const auto button = [&](const QString &words, const QString &why, const char *name, auto &&run) {
        auto *made = buttons->addButton(words, QDialogButtonBox::ActionRole);
        made->setToolTip(why);
        made->setObjectName(name);
        made->setEnabled(!job->isReadOnly());
        connect(made, &QPushButton::clicked, this, run);
    };
    button(tr("Import…"), tr("CGATS.17 text, CSV, or a chart definition"), "import", [this] {
        const auto file = QFileDialog::getOpenFileName(
            this, tr("Reference Values"), {},
            tr("Reference values (*.txt *.cgats *.it8 *.csv *.json *.cxf);;All files (*)"));
        if (!file.isEmpty())
            importFile(file);
    });
    button(tr("Measure"), tr("Patch by patch with the simulated spectrophotometer"), "measure",
           [this] { measure(); });
    button(tr("Save…"), tr("Save the selected chart as a chart definition file"), "save",
           [this] { saveChosen(); });
    button(tr("Remove"), tr("Remove the selected references. Readings keep the values they were made with."),
           "remove", [this] { removeChosen(); });
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(job, &JobDocument::changed, this, &ChartsDialog::refresh);
    // Later, for the change rebuilds the table: the item must not go while it is still telling of itself.
    connect(
        m_table, &QTableWidget::cellChanged, this,
        [this](int row, int column) {
            if (const auto *item = m_table->item(row, 0); item && column == 0)
                setInUse(item->data(Qt::UserRole).toLongLong(), item->checkState() == Qt::Checked);
        },
        Qt::QueuedConnection);
    refresh();
}

void ChartsDialog::refresh()
{
    const QSignalBlocker quiet(m_table);
    const auto &charts = m_job->state().charts;
    m_table->setRowCount(int(charts.size()));
    for (int row = 0; row < int(charts.size()); ++row) {
        const auto &chart = charts[size_t(row)];
        auto *label = new QTableWidgetItem(text(chart.label));
        label->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        label->setCheckState(chart.inUse ? Qt::Checked : Qt::Unchecked);
        label->setData(Qt::UserRole, qlonglong(chart.id));
        m_table->setItem(row, 0, label);
        const auto &from = chart.definition.reference;
        const QString words[] = {text(chart.definition.name), text(from.source).section('/', -1),
                                 text(from.measuredOn)};
        for (int column = 1; column < 4; ++column) {
            auto *item = new QTableWidgetItem(words[column - 1]);
            item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
            m_table->setItem(row, column, item);
        }
    }
}

ChartDefinition ChartsDialog::target() const
{
    const auto id = m_chart->currentData().toString().toStdString();
    for (const auto &chart : chartsOf(m_job->state()))
        if (chart.id == id)
            return chart;
    return chartCatalogue().front();
}

const JobChart *ChartsDialog::chosen() const
{
    const auto row = m_table->currentRow();
    const auto &charts = m_job->state().charts;
    return row >= 0 && row < int(charts.size()) ? &charts[size_t(row)] : nullptr;
}

void ChartsDialog::report(const Error &error)
{
    m_fault = text(error);
    m_words->setText(m_fault);
}

void ChartsDialog::add(const std::string &label, const ChartDefinition &chart)
{
    const auto &state = m_job->state();
    JobChange change;
    for (const auto &other : state.charts)
        if (other.inUse && other.definition.id == chart.id) {
            auto out = other;
            out.inUse = false;
            change.charts.push_back({other, out});
        }
    change.charts.push_back({std::nullopt, JobChart{nextId(state), label, true, chart}});
    m_job->push(tr("Add References"), change);
    m_fault.clear();
    m_words->setText(tr("%1 is used for frames added from now on. Find Again reads a frame again with it.")
                         .arg(text(label)));
}

void ChartsDialog::importFile(const QString &file)
{
    const auto path = file.toStdString();
    if (file.endsWith(".json", Qt::CaseInsensitive)) { // a whole chart, perhaps of another layout
        const auto chart = chartNamed(path);
        if (chart)
            add(QFileInfo(file).completeBaseName().toStdString(), *chart);
        else
            report(chart.error());
        return;
    }
    const auto light = m_light->currentText().trimmed();
    const auto plain = light.isEmpty() || light == "D50";
    TableReading how;
    const auto usual = target();
    const auto chart =
        withReferences(usual, path, plain ? std::nullopt : std::optional(light.toStdString()), &how);
    m_preview->setVisible(false);
    if (!chart) {
        report(chart.error());
        return;
    }
    add(QFileInfo(file).completeBaseName().toStdString(), *chart);
    const auto read = words::tableRead(QFileInfo(file).fileName().toStdString(), how, *chart, usual);
    if (!read.empty())
        m_words->setText(text(words::filled(read, spoken())) + "\n" + m_words->text());
    m_preview->show(*chart, usual);
}

void ChartsDialog::measure()
{
    const auto date = QDate::currentDate().toString(Qt::ISODate);
    const auto chart = measuredChart(target(), date.toStdString(), uint64_t(nextId(m_job->state())));
    if (chart)
        add(tr("Measured %1").arg(date).toStdString(), *chart);
    else
        report(chart.error());
}

void ChartsDialog::setInUse(RowId id, bool on)
{
    JobChange change;
    const auto &charts = m_job->state().charts;
    const auto at = std::find_if(charts.begin(), charts.end(), [&](const auto &c) { return c.id == id; });
    if (at == charts.end())
        return;
    for (const auto &chart : charts) {
        const bool wanted = chart.id == id                                   ? on
                            : chart.definition.id == at->definition.id && on ? false
                                                                             : chart.inUse;
        if (wanted == chart.inUse)
            continue;
        auto after = chart;
        after.inUse = wanted;
        change.charts.push_back({chart, after});
    }
    m_job->push(tr("Use Other References"), change);
    refresh();
}

void ChartsDialog::saveChosen()
{
    const auto *chart = chosen();
    if (!chart)
        return;
    const auto file =
        QFileDialog::getSaveFileName(this, tr("Save Chart"), text(chart->definition.id) + ".json");
    if (file.isEmpty())
        return;
    if (const auto done = saveChart(file.toStdString(), chart->definition); !done)
        report(done.error());
}

void ChartsDialog::removeChosen()
{
    const auto *chart = chosen();
    if (!chart)
        return;
    JobChange change;
    change.charts.push_back({*chart, std::nullopt});
    m_job->push(tr("Remove References"), change);
}

} // namespace wavechroma::app
