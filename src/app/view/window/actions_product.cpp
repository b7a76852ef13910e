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
    return {
        {"servedBy", tr("Calibrate from Another Chart…"), "",
         tr("Use another chart of this station for this frame"), editable, [this] { chooseServing(); },
         NewGroup},
        {"lighter", tr("Lighter by a Third"), "Ctrl+Up", tr("Brightness of this frame, in thirds of a stop"),
         editable, [product] { product->editor()->levelBy(1); }},
        {"darker", tr("Darker by a Third"), "Ctrl+Down", tr("Brightness of this frame, in thirds of a stop"),
         editable, [product] { product->editor()->levelBy(-1); }},
        {"toStation", tr("Level and Balance to the Station"), "",
         tr("Copy them to all product frames of this light, camera and lens"), editable,
         [product] { product->editor()->carryToStation(); }}};
}

QString MainWindow::whenHandover() const
{
    if (const auto why = whenWritable(); !why.isEmpty())
        return why;
    return isAtHandover() ? QString() : tr("Handover is not open (F5).");
}

std::vector<ActionRow> MainWindow::handoverRows()
{
    auto *place = m_handover;
    const auto here = [this] { return whenHandover(); };
    using enum ActionRow::Place;
    return {{"newDelivery", tr("New Delivery…"), "",
             tr("Another delivery of this job; it starts with the same forms"), here,
             [place] { place->addDelivery(); }, NewGroup},
            {"addForm", tr("Add a Form…"), "", tr("Pictures, DNG copies, profiles, presets or values"), here,
             [place] { place->addForm(); }},
            {"changeForm", tr("Change the Form…"), "", tr("The selected form"), here,
             [place] { place->changeForm(); }},
            {"removeForm", tr("Remove the Form"), "", tr("The selected form"), here,
             [place] { place->removeForm(); }},
            {"deliveryFolder", tr("Folder of the Delivery…"), "",
             tr("Deliver to another folder than the job's own"), here, [place] { place->chooseFolder(); }},
            {"write", tr("Write the Delivery"), "Ctrl+Return",
             tr("Files that are there are not written again; a stopped delivery continues"), here,
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
               : probes->facts()->proposed.empty() ? tr("no probes are proposed.")
                                                   : QString();
    };
    using enum ActionRow::Place;
    return {
        {"split", tr("Split with the Other Version"), "Shift+B",
         tr("Both side by side; drag the edge between"), onProduct,
         [this, view] { view->setSplit(action("split")->isChecked()); }, NewGroup, true},
        {"nextOther", tr("Next Other Version"), "V",
         tr("White balance alone, another chart's calibration, another colour part; hold B to see it"),
         onProduct, [product] { product->nextOther(); }},
        {"doubted", tr("Hatch Uncertain Colours"), "D",
         tr("Hatch colours whose expected error is above the tolerance"), onProduct,
         [this, probes] { probes->setDoubted(action("doubted")->isChecked()); }, InMenu, true},
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

} // namespace wavechroma::app
