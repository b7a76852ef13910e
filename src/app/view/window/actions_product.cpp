// The rows of a product frame, in Balance and Proof.
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/handover/handover.h"
#include "app/view/window/main_window.h"

namespace wavechroma::app {

QString MainWindow::whenProduct() const
{
    if (const auto why = whenOnBench(); !why.isEmpty())
        return why;
    return m_bench->isProduct() ? QString() : tr("no product frame is on the bench.");
}

QString MainWindow::whenProductEditable() const
{
    const auto why = whenProduct();
    return why.isEmpty() ? whenWritable() : why;
}

QString MainWindow::whenProbe() const
{
    if (const auto why = whenProductEditable(); !why.isEmpty())
        return why;
    return m_bench->product()->view()->picked().isEmpty() ? tr("no probe is chosen.") : QString();
}

std::vector<ActionRow> MainWindow::levelRows()
{
    auto *product = m_bench->product();
    const auto editable = [this] { return whenProductEditable(); };
    using enum ActionRow::Place;
    return {{"servedBy", tr("Calibrate from Another Chart…"), "",
             tr("Take another chart of this station for this frame"), editable, [this] { chooseServing(); },
             NewGroup},
            {"lighter", tr("Lighter by a Third"), "Ctrl+Up", tr("The frame's own level, in thirds of a stop"),
             editable, [product] { product->editor()->levelBy(1); }},
            {"darker", tr("Darker by a Third"), "Ctrl+Down", tr("The frame's own level, in thirds of a stop"),
             editable, [product] { product->editor()->levelBy(-1); }},
            {"toStation", tr("Level and Balance to the Station"), "",
             tr("All product frames of this light, camera and lens take them; crops and geometry never"),
             editable, [product] { product->editor()->carryToStation(); }}};
}

QString MainWindow::whenHandover() const
{
    if (const auto why = whenWritable(); !why.isEmpty())
        return why;
    return isAtHandover() ? QString() : tr("the handover is not open (F5).");
}

std::vector<ActionRow> MainWindow::handoverRows()
{
    auto *place = m_handover;
    const auto here = [this] { return whenHandover(); };
    using enum ActionRow::Place;
    return {{"newDelivery", tr("New Delivery…"), "",
             tr("Another one of this job, with the same forms to start"), here,
             [place] { place->addDelivery(); }, NewGroup},
            {"addForm", tr("Add a Form…"), "", tr("What the frames leave as: pictures, copies, profiles, …"),
             here, [place] { place->addForm(); }},
            {"changeForm", tr("Change the Form…"), "", tr("The one that is chosen"), here,
             [place] { place->changeForm(); }},
            {"removeForm", tr("Remove the Form"), "", tr("The one that is chosen"), here,
             [place] { place->removeForm(); }},
            {"deliveryFolder", tr("Where It Goes…"), "", tr("Another folder than the job's own"), here,
             [place] { place->chooseFolder(); }},
            {"write", tr("Write the Delivery"), "Ctrl+Return",
             tr("What is there already is not written again; stopped, it goes on where it was"), here,
             [place] { place->editor()->write(); }}};
}

std::vector<ActionRow> MainWindow::productRows()
{
    auto *product = m_bench->product();
    auto *view = product->view();
    auto *probes = product->editor();
    const auto onProduct = [this] { return whenProduct(); };
    const auto editable = [this] { return whenProductEditable(); };
    const auto probe = [this] { return whenProbe(); };
    const auto proposed = [this, probes] {
        const auto why = whenProductEditable();
        return !why.isEmpty()                      ? why
               : probes->facts()->proposed.empty() ? tr("none are proposed.")
                                                   : QString();
    };
    using enum ActionRow::Place;
    return {{"split", tr("Split with the Other Version"), "Shift+B",
             tr("Both side by side; drag the edge between"), onProduct,
             [this, view] { view->setSplit(action("split")->isChecked()); }, NewGroup, true},
            {"nextOther", tr("Next Other Version"), "V",
             tr("White balance alone, another chart's calibration, another part of colour; hold B to see it"),
             onProduct, [product] { product->nextOther(); }},
            {"doubted", tr("Hatch What the Chart Does Not Vouch For"), "D",
             tr("Where the error to be expected is over the sheet's limit"), onProduct,
             [this, probes] { probes->setDoubted(action("doubted")->isChecked()); }, InMenu, true},
            {"newProbe", tr("New Probe"), "P", tr("A place whose colour is measured; also by a double click"),
             editable, [product] { product->layInMiddle(); }, NewGroup},
            {"target", tr("Name and Target…"), "T",
             tr("What the chosen probe is, and what it is to come out as"), probe,
             [this] { askForTarget(); }},
            {"takeAsTarget", tr("Take as Target for the Others"), "Ctrl+G",
             tr("What the chosen probe reads here is what the others of its name are to be"), probe,
             [view, probes] { probes->takeAsTarget(view->picked().toStdString()); }},
            {"targetsFile", tr("Targets from a File…"), "",
             tr("CSV, CGATS.17 or JSON: names with Lab, XYZ, sRGB or spectra"), editable,
             [this] { chooseTargets(); }},
            {"removeProbe", tr("Remove Probe"), "Backspace", tr("From this frame; its target stays"), probe,
             [view, probes] { probes->remove(view->picked().toStdString()); }},
            {"confirmProbes", tr("Confirm Proposed Probes"), "Return", tr("They lie where they should"),
             proposed, [probes] { probes->confirm(); }},
            {"dropProbes", tr("Drop Proposed Probes"), "Shift+Backspace",
             tr("They do not belong on this frame"), proposed, [probes] { probes->dropProposed(); }}};
}

} // namespace wavechroma::app
