// The rows of Read, Balance, Fit and Proof.
#include "app/view/bench/bench.h"
#include "app/view/bench/fit/fit_stop.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/window/main_window.h"

namespace wavechroma::app {

MenuRows MainWindow::readRows()
{
    auto *view = m_bench->readStop()->view();
    const auto editable = [this] { return whenEditable(); };
    const auto onBench = [this] { return whenOnBench(); };
    const auto writable = [this] { return whenWritable(); };
    const auto tool = [this, view](FrameView::Tool which) {
        return [this, view, which] {
            m_bench->openStop(1);
            view->startTool(which);
        };
    };
    using enum ActionRow::Place;
    return {
        tr("&Read"),
        {{"readAgain", tr("Find Again"), "Ctrl+F",
          tr("Search the whole frame anew; a placement by hand is dropped"), editable,
          [this] { editor()->readAgain(); }},
         {"chooseChart", tr("Which Chart…"), "Ctrl+K",
          tr("Read the frame as another chart, or as a plain grid"), editable, [this] { chooseChart(); }},
         {"placeByHand", tr("Place by Hand"), "Ctrl+H",
          tr("Lay the chart over the middle and drag it from there"), editable,
          [this] {
              m_bench->openStop(1);
              editor()->placeByHand();
          },
          NewGroup},
         {"threeCorners", tr("Place by Three Clicks"), "",
          tr("First patch, last of the top row, last of all: the rest follows"), editable,
          tool(FrameView::Tool::ThreeCorners)},
         {"snap", tr("Draw Corners to the Patches"), "S",
          tr("A corner dropped near the printed one jumps onto it"), onBench,
          [this] { editor()->setSnapping(action("snap")->isChecked()); }, InMenu, true},
         {"carry", tr("Carry On"), "Ctrl+B",
          tr("The chart frames that follow get this placement, found again in each; the product frames of "
             "the "
             "run get this level, balance and probes"),
          editable,
          [this] {
              if (m_bench->isProduct())
                  m_bench->product()->editor()->carryOn();
              else
                  editor()->carryPlacement();
          },
          OfBench},
         {"patchesOff", tr("Patches Off…"), "Ctrl+P",
          tr("Leave spoilt patches out; a click on one does it too"), editable,
          [this] { switchPatchesOff(); }, OfBench},
         {"drawChart", tr("New Chart over This Frame…"), "",
          tr("The layout of a home-made chart, drawn over its picture"), editable, [this] { drawChart(); },
          OfBench},
         {"ruler", tr("Ruler"), "R", tr("Two clicks on a known length give the scale"), onBench,
          tool(FrameView::Tool::Ruler), NewGroup},
         {"hatch", tr("Hatch Burnt and Noisy"), "H",
          tr("Where the whole frame is burnt, by channel, or lost in noise"), onBench,
          [this, view] {
              for (auto *one : {view, static_cast<FrameView *>(m_bench->product()->view())})
                  one->setHatched(action("hatch")->isChecked());
          },
          InMenu, true},
         {"loupe", tr("Loupe"), "L", tr("Raw and coded values under the mouse, or by the arrows"), onBench,
          [this, view] {
              for (auto *one : {view, static_cast<FrameView *>(m_bench->product()->view())})
                  one->setLoupe(action("loupe")->isChecked());
          },
          InMenu, true},
         {"charts", tr("Charts and References…"), "",
          tr("Reference values by batch and date; measured, or from files"), writable,
          [this] { editCharts(); }, NewGroup},
         {"limits", tr("Tolerances…"), "Ctrl+T", tr("The tolerance sheet and the intended scale"), writable,
          [this] { chooseLimits(); }}}};
}

MenuRows MainWindow::balanceRows()
{
    const auto editable = [this] { return whenEditable(); };
    const auto balanced = [this] { return whenBalanced(); };
    const auto lean = [this](double warmer, double rosier) {
        return [this, warmer, rosier] { editor()->leanBy(warmer, rosier); };
    };
    const QString step = tr("One step: a unit of a*b* on a grey of L* 65");
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Balance"),
        {{"neutralArea", tr("Neutral from an Area"), "",
          tr("Two clicks round something neutral in the frame, where no chart is"), editable,
          [this] {
              if (!m_bench->isProduct())
                  m_bench->openStop(1);
              m_bench->view()->startTool(FrameView::Tool::Area);
          }},
         {"neutralWhole", tr("Neutral from the Whole Frame"), "",
          tr("For a frame through a diffuser, or filled by a grey board"), editable,
          [this] { editor()->balanceFromWholeFrame(); }},
         {"balanceLight", tr("Balance for a Light…"), "",
          tr("Kelvin and Duv, through this camera's own calibration"), editable, [this] { askForLight(); }},
         {"neutralDefault", tr("Back to the Chart's Grey"), "", tr("The lightest mid-grey that is not burnt"),
          [this] {
              const auto why = whenBalanced();
              return !why.isEmpty()                     ? why
                     : m_bench->facts().balanceIsChosen ? QString()
                                                        : tr("the balance is the chart's own.");
          },
          [this] { editor()->dropBalance(); }},
         {"warmer", tr("Lean Warmer"), "Alt+Up", step, balanced, lean(1, 0), NewGroup},
         {"cooler", tr("Lean Cooler"), "Alt+Down", step, balanced, lean(-1, 0)},
         {"rosier", tr("Lean Rosier"), "Alt+Right", step, balanced, lean(0, 1)},
         {"greener", tr("Lean Greener"), "Alt+Left", step, balanced, lean(0, -1)},
         {"noLean", tr("No Lean"), "Alt+Home", tr("The neutral as it was picked"), balanced,
          [this] { editor()->leanTo({}); }},
         {"keepPreset", tr("Keep as Preset…"), "", tr("A file with the balance, its camera, lens and setup"),
          balanced, [this] { keepPreset(); }, NewGroup},
         {"usePreset", tr("Use a Preset…"), "", tr("For this frame and those of its lane"), editable,
          [this] { choosePreset(); }}}};
    const auto more = levelRows();
    out.rows.insert(out.rows.end(), more.begin(), more.end());
    return out;
}

MenuRows MainWindow::fitRows()
{
    const auto fitted = [this] { return whenFitted(); };
    const auto read = [this] { return whenRead(); };
    const auto lean = [this](int reds, int chroma) {
        return [this, reds, chroma] {
            const auto now = m_bench->facts().chosen()->lean;
            editor()->leanColour({now.reds + reds, now.chroma + chroma});
        };
    };
    using enum ActionRow::Place;
    return {
        tr("&Fit"),
        {{"eachReading", tr("Choose Parts for Each Chart Automatically"), "",
          tr("Colour and tone as each chart's own evidence supports them"), [this] { return whenWritable(); },
          [this] { editor()->chooseParts({}); }},
         {"weights", tr("Weight Patches…"), "",
          tr("What the fit is to get right before all: greys, skin, a product's own colours"), fitted,
          [this] { askForWeights(); }, NewGroup},
         {"merge", tr("Merge Bracket and Repeats"), "",
          tr("Fit from all chart frames shot in one go here, each patch weighted by its noise; again: from "
             "this "
             "frame alone"),
          fitted, [this] { editor()->mergeReadings(); }},
         {"fitLight", tr("Light of the Fit…"), "",
          tr("A CIE name, a temperature or a measured spectrum, where the neutral's estimate is not enough"),
          fitted, [this] { askForFitLight(); }},
         {"asUnderLight", tr("References as Under This Light"), "",
          tr("What the chart's spectra looked like on the set; the fit is easier, and true for that set"),
          fitted, [this] { editor()->useAppearance(Appearance::UnderLight); }, OfBench},
         {"asUnderD50", tr("References as Under D50"), "",
          tr("What they would look like under D50: the same object, the same colour, whatever the light"),
          fitted, [this] { editor()->useAppearance(Appearance::UnderD50); }, OfBench},
         {"redsCalmer", tr("Reds a Step Calmer"), "", tr("For skin: duller and a little yellower"), fitted,
          lean(-1, 0), NewGroup},
         {"redsRicher", tr("Reds a Step Richer"), "", tr("The way back, and beyond"), fitted, lean(1, 0)},
         {"chromaLivelier", tr("Chroma a Step Livelier"), "", tr("For show: middling colours stronger"),
          fitted, lean(0, 1)},
         {"chromaQuieter", tr("Chroma a Step Quieter"), "", tr("The way back, and beyond"), fitted,
          lean(0, -1)},
         {"exact", tr("Exact Colours"), "", tr("No lean of colour: for products and artworks"), fitted,
          [this] { editor()->leanColour({}); }},
         {"match", tr("Match to Another Camera…"), "",
          tr("A calibration that makes this camera's colours the other one's, to export"), read,
          [this] { chooseMatch(); }, NewGroup},
         {"keepReference", tr("Keep Patches as a Reference"), "",
          tr("What this camera saw, as a file that another can be fitted to"), read,
          [this] { keepReference(); }, OfBench}}};
}

MenuRows MainWindow::proofRows()
{
    using enum ActionRow::Place;
    MenuRows out{tr("&Proof"),
                 {{"callOut", tr("Answer for Across the Room"), "F4",
                   tr("One sentence in large letters; Space takes it away"),
                   [this] {
                       const auto why = whenOpen();
                       return !why.isEmpty()                   ? why
                              : m_job.stations().frameToOpen() ? QString()
                                                               : tr("there is no chart frame yet.");
                   },
                   [this] {
                       const auto frame = subject() ? subject() : m_job.stations().frameToOpen();
                       m_job.setCurrentFrame(frame);
                       showCallOut(frame);
                   }},
                  {"profiles", tr("Deliver Profiles"), "Ctrl+E",
                   tr("Camera profile, ICC profile and tables for other programs"),
                   [this] {
                       const auto why = whenOpen();
                       const auto &state = m_job.state();
                       return !why.isEmpty() ? why
                              : state.calibrationOf(subject(), partsFor(state, subject()))
                                  ? QString()
                                  : tr("the frame has no calibration.");
                   },
                   [this] { openProfiles(); }}}};
    const auto more = productRows();
    out.rows.insert(out.rows.end(), more.begin(), more.end());
    return out;
}

} // namespace wavechroma::app
