#include "app/view/charts/tolerance_dialog.h"

#include "app/model/spoken.h"
#include "app/view/charts/limit_picture.h"
#include "app/view/widgets/look.h"
#include "core/tasks/read_task.h"
#include "core/words/limit_words.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QTableWidget>

namespace wavechroma::app {

ToleranceDialog::ToleranceDialog(const ToleranceSheet &sheet, double intendedPpi, QWidget *parent)
    : QDialog(parent), m_names(new QComboBox), m_limits(new QTableWidget), m_ppi(new QDoubleSpinBox),
      m_aims(new QLineEdit)
{
    setWindowTitle(tr("Tolerances"));
    resize(620, 640);
    for (const auto &shipped : shippedSheets())
        m_names->addItem(text(shipped.title), text(shipped.name));
    m_names->setObjectName("sheet");
    m_limits->setColumnCount(2);
    m_limits->setHorizontalHeaderLabels({tr("Limit"), tr("Value")});
    m_limits->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_limits->verticalHeader()->hide();
    m_limits->setColumnWidth(1, 130);
    m_limits->setIconSize({20, 20});
    m_limits->setObjectName("limits");
    m_ppi->setRange(0, 20000);
    m_ppi->setDecimals(0);
    m_ppi->setSpecialValueText(tr("none"));
    m_ppi->setSuffix(tr(" pixels per inch"));
    m_ppi->setValue(intendedPpi);
    m_ppi->setObjectName("ppi");
    m_aims->setObjectName("aims");
    m_aims->setPlaceholderText(tr("as the reference of each, within 1 L*"));
    m_aims->setToolTip(
        tr("L* as in D1=92 or D1=92±0.5, codes in an output space as in D1=242@srgb, or per cent "
           "of the largest code as in D1=95%; separate several by commas. Shown in the Balance stop."));
    auto *open = new QPushButton(tr("Open Sheet…")), *save = new QPushButton(tr("Save Sheet…"));
    auto *form = new QFormLayout(this);
    form->addRow(tr("Sheet"), m_names);
    form->addRow(m_limits);
    form->addRow(tr("Neutrals' aims"), m_aims);
    form->addRow(tr("Intended scale"), m_ppi);
    auto *words = new QLabel(tr("These limits apply to frames added from now on. A frame that was read "
                                "before keeps its limits until it is read again (Find Again)."));
    words->setWordWrap(true);
    form->addRow(words);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->addButton(open, QDialogButtonBox::ActionRole);
    buttons->addButton(save, QDialogButtonBox::ActionRole);
    form->addRow(buttons);
    connect(open, &QPushButton::clicked, this, &ToleranceDialog::openFile);
    connect(save, &QPushButton::clicked, this, &ToleranceDialog::saveFile);
    connect(buttons, &QDialogButtonBox::accepted, this, &ToleranceDialog::confirm);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    show(sheet);
    connect(m_names, &QComboBox::activated, this, [this] {
        if (const auto chosen = shippedSheet(m_names->currentData().toString().toStdString()))
            show(*chosen);
    });
}

void ToleranceDialog::show(const ToleranceSheet &sheet)
{
    m_sheet = sheet;
    int at = m_names->findData(text(sheet.name));
    if (at < 0) {
        m_names->addItem(text(sheet.title), text(sheet.name));
        at = m_names->count() - 1;
    }
    m_names->setCurrentIndex(at);
    m_aims->setText(text(sheet.aims));
    m_limits->setRowCount(0);
    m_boxes.clear();
    for (const auto &limit : limitsOf(sheet)) {
        const auto question = words::limit(limit.key, spoken()).question;
        if (std::none_of(m_boxes.begin(), m_boxes.end(),
                         [&](const LimitBox &box) { return box.question == question; }))
            addQuestion(question);
    }
}

/// A question, and below it the limits that answer it.
void ToleranceDialog::addQuestion(const std::string &question)
{
    const int head = m_limits->rowCount();
    m_limits->insertRow(head);
    auto *title = new QTableWidgetItem(text(question));
    title->setFlags(Qt::ItemIsEnabled);
    title->setFont(face(kAnswer, 600));
    m_limits->setItem(head, 0, title);
    m_limits->setSpan(head, 0, 1, 2);
    for (const auto &limit : limitsOf(m_sheet)) {
        const auto said = words::limit(limit.key, spoken());
        if (said.question != question)
            continue;
        const int row = m_limits->rowCount();
        m_limits->insertRow(row);
        auto *name = new QTableWidgetItem(text(said.name));
        name->setFlags(Qt::ItemIsEnabled);
        name->setIcon(limitPicture(limit.key, m_limits->palette()));
        name->setToolTip(text(limit.key));
        m_limits->setItem(row, 0, name);
        auto *box = new QDoubleSpinBox;
        box->setDecimals(said.decimals);
        box->setRange(0, 100 * said.factor);
        box->setSingleStep(said.decimals == 0 ? 1 : said.decimals == 1 ? 0.1 : 0.05);
        box->setSuffix(text(said.unit));
        if (said.mayBeUnset)
            box->setSpecialValueText(tr("not held"));
        box->setValue(limit.value * said.factor);
        box->setAccessibleName(text(question + " " + said.name));
        m_limits->setCellWidget(row, 1, box);
        m_boxes.push_back({question, limit.key, box, box->value(), said.factor});
    }
}

ToleranceSheet ToleranceDialog::sheet() const
{
    auto limits = limitsOf(m_sheet);
    bool edited = false;
    for (const auto &box : m_boxes) {
        if (box.box->value() == box.shown) // a value with more digits than are shown stays as it is
            continue;
        for (auto &limit : limits)
            if (limit.key == box.key)
                limit.value = box.box->value() / box.factor;
        edited = true;
    }
    auto out = withLimits(m_sheet, limits);
    out.aims = m_aims->text().trimmed().toStdString();
    if (!edited && out.aims == m_sheet.aims)
        return m_sheet;
    if (const auto shipped = shippedSheet(out.name)) { // an edited one is no longer the shipped one
        out.name += "-edited";
        out.title += ", edited";
    }
    return out;
}

void ToleranceDialog::confirm()
{
    const auto aims = aimsFrom(m_aims->text().toStdString());
    if (aims)
        return accept();
    m_aims->setFocus();
    QMessageBox::warning(this, windowTitle(), text(aims.error()));
}

double ToleranceDialog::intendedPpi() const
{
    return m_ppi->value();
}

void ToleranceDialog::openFile()
{
    const auto file =
        QFileDialog::getOpenFileName(this, tr("Open Sheet"), {}, tr("Tolerance sheets (*.json)"));
    if (file.isEmpty())
        return;
    const auto sheet = toleranceNamed(file.toStdString());
    if (sheet)
        show(*sheet);
    else
        QMessageBox::warning(this, windowTitle(), text(sheet.error()));
}

void ToleranceDialog::saveFile()
{
    const auto file = QFileDialog::getSaveFileName(this, tr("Save Sheet"), "tolerance.json",
                                                   tr("Tolerance sheets (*.json)"));
    if (file.isEmpty())
        return;
    if (const auto done = saveTolerance(file.toStdString(), sheet()); !done)
        QMessageBox::warning(this, windowTitle(), text(done.error()));
}

} // namespace wavechroma::app
