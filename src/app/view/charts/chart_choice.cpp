#include "app/view/charts/chart_choice.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace wavechroma::app {

ChartChoice::ChartChoice(const std::vector<ChartDefinition> &charts, const std::string &current,
                         QWidget *parent)
    : QDialog(parent), m_charts(charts), m_list(new QListWidget), m_rows(new QSpinBox),
      m_columns(new QSpinBox)
{
    setWindowTitle(tr("Which Chart"));
    setMinimumSize(520, 380);
    for (const auto &chart : m_charts) {
        m_list->addItem(QString::fromStdString(chart.name));
        if (chart.id == current)
            m_list->setCurrentRow(m_list->count() - 1);
    }
    m_list->addItem(tr("A plain grid of unknown colours"));
    if (m_list->currentRow() < 0)
        m_list->setCurrentRow(0);
    m_list->setObjectName("charts");
    auto *grid = new QHBoxLayout;
    for (auto *box : {m_rows, m_columns})
        box->setRange(1, 100);
    m_rows->setObjectName("rows");
    m_columns->setObjectName("columns");
    m_rows->setValue(4);
    m_columns->setValue(6);
    grid->addWidget(new QLabel(tr("Rows")));
    grid->addWidget(m_rows);
    grid->addWidget(new QLabel(tr("Columns")));
    grid->addWidget(m_columns);
    grid->addStretch(1);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    auto *find = buttons->addButton(tr("Find Chart"), QDialogButtonBox::AcceptRole);
    auto *place = buttons->addButton(tr("Place by Hand"), QDialogButtonBox::ActionRole);
    find->setObjectName("find");
    place->setObjectName("place");
    find->setDefault(true);
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(m_list, 1);
    layout->addLayout(grid);
    layout->addWidget(buttons);
    const auto adapt = [this] {
        const bool plain = m_list->currentRow() == int(m_charts.size());
        m_rows->setEnabled(plain);
        m_columns->setEnabled(plain);
    };
    connect(m_list, &QListWidget::currentRowChanged, this, adapt);
    connect(m_list, &QListWidget::itemActivated, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(place, &QPushButton::clicked, this, [this] {
        m_byHand = true;
        accept();
    });
    adapt();
}

ChartDefinition ChartChoice::chart() const
{
    const int row = m_list->currentRow();
    return row >= 0 && row < int(m_charts.size()) ? m_charts[size_t(row)]
                                                  : plainGrid(m_rows->value(), m_columns->value());
}

} // namespace wavechroma::app
