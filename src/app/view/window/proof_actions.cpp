// The result, profiles, and the probes of a product frame.
#include "app/view/window/proof_actions.h"
#include "app/model/spoken.h"
#include "app/view/agreement/agreement_place.h"
#include "app/view/agreement/compare_dialog.h"
#include "app/view/agreement/drift_dialog.h"
#include "app/view/agreement/two_frames_dialog.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/handover/handover.h"
#include "core/color/rgb_space.h"
#include "core/facts/strike.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace wavechroma::app {

ProofActions::ProofActions(Desk *desk) : ActionGroup(desk)
{
    connect(desk->bench()->product(), &ProductBench::targetAsked, this, &ProofActions::askForTarget);
}

MenuRows ProofActions::rows()
{
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Proof"),
        {{"callOut", tr("Call-Out"), "F4", tr("The result in large letters; press Space to close it"),
          needs(&Availability::anyChart),
          [this] {
              const auto frame = subject() ? subject() : m_job.stations().frameToOpen();
              m_job.setCurrentFrame(frame);
              m_desk->showCallOut(frame);
          }},
         {"strike", tr("Before You Strike the Set"), "F12",
          tr("One card for the setup: what is there and what is missing while the lights are up"),
          needs(&Availability::open),
          [this] {
              const auto *frame = m_job.state().frame(subject());
              m_desk->showStrike(frame ? frame->setup : newestSetup(m_job.job()));
          }},
         {"drift", tr("Drift of the Station…"), "",
          tr("Its later charts and check frames against its calibration: pass or fail, what changed, "
             "and when a new chart is due"),
          needs(&Availability::frame), [this] { showDrift(); }},
         {"compare", tr("Compare Calibrations…"), "",
          tr("Any calibration of the job, a profile or a table against any other, on this chart"),
          needs(&Availability::chartRead),
          [this] { (new CompareDialog(m_job.job(), subject(), &m_tasks, window()))->open(); }},
         {"sideBySide", tr("Frames Side by Side…"), "",
          tr("Any two frames, each by what serves it or another way: two lights, two cameras, two "
             "calibrations"),
          needs(&Availability::frame), [this] { showSideBySide(); }},
         {"profiles", tr("Deliver Profiles"), "Ctrl+E",
          tr("Camera profile, ICC profile and tables for other programs"), needs(&Availability::profiles),
          [this] { openProfiles(); }}}};
    for (const auto &more : {productRows(), agreementRows()})
        out.rows.insert(out.rows.end(), more.begin(), more.end());
    return out;
}

std::vector<ActionRow> ProofActions::productRows()
{
    auto *product = m_bench->product();
    auto *view = product->view();
    auto *probes = product->editor();
    const auto onProduct = needs(&Availability::product);
    const auto editable = needs(&Availability::productEditable);
    const auto probe = needs(&Availability::probe);
    const auto proposed = needs(&Availability::proposed);
    using enum ActionRow::Place;
    return {
        {"split", tr("Split with the Other Version"), "Shift+B",
         tr("Both side by side; drag the edge between"), onProduct,
         [this, view] { view->setSplit(isOn("split")); }, NewGroup, true},
        {"nextOther", tr("Next Other Version"), "V",
         tr("White balance alone, another chart's calibration, another colour part; hold B to see it"),
         onProduct, [product] { product->nextOther(); }},
        {"doubted", tr("Hatch Uncertain Colours"), "D",
         tr("Hatch colours whose expected error is above the tolerance"), onProduct,
         [this, probes] { probes->setDoubted(isOn("doubted")); }, InMenu, true},
        {"outside", tr("Hatch Colours Outside the Next Space"), "O",
         tr("Hatch what sRGB, Display P3, opRGB or ROMM RGB does not hold, and say how much of the frame it "
            "is"),
         onProduct,
         [probes] {
             const int next = probes->outsideOf() + 1;
             probes->setOutside(next < int(rgbSpaces().size()) ? next : -1);
         }},
        {"newProbe", tr("New Probe"), "P", tr("Add a place whose colour is measured; also by double-click"),
         editable, [product] { product->layInMiddle(); }, NewGroup},
        {"target", tr("Name and Target…"), "T",
         tr("Name of the selected probe, and the colour it should have"), probe, [this] { askForTarget(); }},
        {"takeAsTarget", tr("Set as Target for the Others"), "Ctrl+G",
         tr("Use the measured colour as the target of all probes of this name"), probe,
         [view, probes] { probes->takeAsTarget(view->picked().toStdString()); }},
        {"targetsFile", tr("Targets from a File…"), "",
         tr("CSV, CGATS.17 or JSON: names with Lab, XYZ, sRGB or spectra"), editable,
         [this] { chooseTargets(); }},
        {"removeProbe", tr("Remove Probe"), "Backspace",
         tr("Remove the probe from this frame; its target is kept"), probe,
         [view, probes] { probes->remove(view->picked().toStdString()); }},
        {"confirmProbes", tr("Confirm Proposed Probes"), "Return", tr("The proposed places are right"),
         proposed, [probes] { probes->confirm(); }},
        {"dropProbes", tr("Remove Proposed Probes"), "Shift+Backspace",
         tr("The proposed places are wrong for this frame"), proposed, [probes] { probes->dropProposed(); }}};
}

std::vector<ActionRow> ProofActions::agreementRows()
{
    auto *place = m_desk->agreementPlace();
    const auto here = needs(&Availability::agreement);
    using enum ActionRow::Place;
    return {{"drawTogether", tr("Draw Stations Together"), "",
             tr("Fit all stations at once: each near its own references, all near each other"), here,
             [place] { place->drawTogether(); }, NewGroup},
            {"useDrawn", tr("Use What Was Drawn"), "",
             tr("The calibrations drawn together serve the stations' product frames"),
             needs(&Availability::drawn), [place] { place->apply(); }},
            {"copyAgreement", tr("Copy the Agreement as Text"), "", tr("For a spreadsheet or a letter"), here,
             [place] { place->copy(); }},
            {"saveAgreement", tr("Save the Agreement as CSV…"), "", tr("The table as a file"), here,
             [place] { place->saveTable(); }}};
}

/// Beside the frame that was last shown so; the first time, beside itself, to be shown another way.
void ProofActions::showSideBySide()
{
    const auto frame = subject();
    const auto before = m_job.state().frame(m_lastSubject) ? m_lastSubject : frame;
    (new TwoFramesDialog(m_job.job(), before, frame, &m_tasks, window()))->open();
    m_lastSubject = frame;
}

void ProofActions::showDrift()
{
    const auto *station = m_job.stations().of(subject());
    const auto drift = station ? driftOfStation(m_job.job(), *station) : Result<StationDrift>(unusable(""));
    if (!drift)
        return showMessage(text(drift.error()));
    (new DriftDialog(*drift, window()))->open();
}

void ProofActions::openProfiles()
{
    m_desk->handoverPlace()->editor()->openProfilesOf(subject());
    m_desk->showHandover();
}

void ProofActions::chooseTargets()
{
    const auto file = QFileDialog::getOpenFileName(window(), tr("Targets from a File"), handoverFolder(),
                                                   tr("Tables (*.csv *.txt *.json *.cxf);;All files (*)"));
    if (!file.isEmpty())
        m_bench->product()->editor()->loadTargets(file);
}

static QString coloursText(const Lab &lab)
{
    return QString("%1 %2 %3").arg(lab.l, 0, 'f', 2).arg(lab.a, 0, 'f', 2).arg(lab.b, 0, 'f', 2);
}

void ProofActions::askForTarget()
{
    auto *probes = m_bench->product()->editor();
    const auto name = m_bench->product()->view()->picked();
    const auto *target = targetNamed(probes->facts()->targets, name.toStdString());
    auto *dialog = new QDialog(window());
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
