// What serves a product frame, and what its probes are to be.
#include "app/model/spoken.h"
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/window/main_window.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace wavechroma::app {

void MainWindow::chooseServing()
{
    const auto &facts = *m_bench->product()->editor()->facts();
    const auto &state = m_job.state();
    QStringList names{tr("Automatic: the last chart before the frame")};
    int now = 0;
    for (size_t i = 0; i < facts.charts.size(); ++i) {
        const auto *row = state.calibrationOf(facts.charts[i], partsFor(state, facts.charts[i]));
        names << tr("Chart of %1%2")
                     .arg(text(state.frame(facts.charts[i])->camera.capturedAt).mid(11, 8),
                          row ? tr(", ΔE %1 unseen").arg(fixed(row->brief.unseen, 1)) : QString());
        if (facts.frame && facts.frame->servedBy == facts.charts[i])
            now = int(i) + 1;
    }
    auto *dialog = question(tr("Calibrate from"), tr("Chart that this frame is calibrated from:"));
    dialog->setComboBoxItems(names);
    dialog->setTextValue(names[now]);
    const auto frame = facts.frame ? facts.frame->id : 0;
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this, names, frame, charts = facts.charts](const QString &chosen) {
                const auto at = names.indexOf(chosen);
                const auto *editor = m_bench->product()->editor();
                if (at >= 0 && editor->isHere() && editor->facts()->frame->id == frame)
                    m_bench->product()->editor()->serveBy(at == 0 ? 0 : charts[size_t(at) - 1]);
            });
    dialog->open();
}

void MainWindow::chooseTargets()
{
    const auto file = QFileDialog::getOpenFileName(this, tr("Targets from a File"), handover(),
                                                   tr("Tables (*.csv *.txt *.json);;All files (*)"));
    if (!file.isEmpty())
        m_bench->product()->editor()->loadTargets(file);
}

static QString coloursText(const Lab &lab)
{
    return QString("%1 %2 %3").arg(lab.l, 0, 'f', 2).arg(lab.a, 0, 'f', 2).arg(lab.b, 0, 'f', 2);
}

void MainWindow::askForTarget()
{
    auto *probes = m_bench->product()->editor();
    const auto name = m_bench->product()->view()->picked();
    const auto *target = targetNamed(probes->facts()->targets, name.toStdString());
    auto *dialog = new QDialog(this);
    dialog->setObjectName("target");
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Name and Target"));
    auto *form = new QFormLayout(dialog);
    auto *named = new QLineEdit(name), *colour = new QLineEdit, *tolerance = new QLineEdit;
    named->setObjectName("name");
    colour->setObjectName("colour");
    tolerance->setObjectName("tolerance");
    colour->setPlaceholderText(tr("52.1 -3.4 14.5, or #c08040; empty for none"));
    tolerance->setPlaceholderText(tr("the sheet's, %1").arg(fixed(probes->facts()->limit, 1)));
    if (target) {
        colour->setText(coloursText(target->lab));
        if (target->tolerance)
            tolerance->setText(QString::number(*target->tolerance));
    }
    auto *fault = new QLabel;
    fault->setWordWrap(true);
    fault->setMinimumWidth(360);
    form->addRow(tr("What it is:"), named);
    form->addRow(tr("L*, a*, b* (D50) or sRGB:"), colour);
    form->addRow(tr("Within ΔE:"), tolerance);
    form->addRow(fault);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    auto *measure = buttons->addButton(tr("Measure"), QDialogButtonBox::ActionRole);
    measure->setObjectName("measure");
    measure->setToolTip(tr("Measure the object of that name with the simulated spectrophotometer"));
    form->addRow(buttons);
    connect(measure, &QPushButton::clicked, dialog, [=, this] {
        const auto lab =
            measuredThing(named->text().trimmed().toStdString(), uint64_t(nextId(m_job.state())));
        fault->setText(lab ? QString() : text(lab.error()));
        if (lab)
            colour->setText(coloursText(*lab));
    });
    connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    const auto was = name.toStdString();
    connect(buttons, &QDialogButtonBox::accepted, dialog, [=, this] {
        std::optional<ProbeTarget> wanted;
        if (!colour->text().trimmed().isEmpty()) {
            const auto lab = colourFromText(colour->text().toStdString());
            if (!lab)
                return fault->setText(text(lab.error()));
            wanted = ProbeTarget{named->text().trimmed().toStdString(), *lab};
        }
        if (const auto within = tolerance->text().trimmed(); wanted && !within.isEmpty()) {
            bool isNumber = false;
            const double value = QString(within).replace(',', '.').toDouble(&isNumber);
            if (!isNumber || !(value > 0) || value > 100)
                return fault->setText(tr("The tolerance must be a ΔE above 0."));
            wanted->tolerance = value;
        }
        const auto to = named->text().trimmed().toStdString();
        if (to.empty())
            return fault->setText(tr("A probe needs a name."));
        probes->rename(was, to);
        m_bench->product()->view()->pick(text(to));
        if (wanted || targetNamed(probes->facts()->targets, to))
            probes->setTarget(to, wanted);
        dialog->accept();
    });
    dialog->open();
}

} // namespace wavechroma::app
