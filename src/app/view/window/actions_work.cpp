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
    return {tr("&Read"),
            {{"readAgain", tr("Find Again"), "Ctrl+F",
              tr("Search the whole frame again; a placement by hand is discarded"), editable,
              [this] { editor()->readAgain(); }},
             {"chooseChart", tr("Which Chart…"), "Ctrl+K",
              tr("Read the frame as another chart, or as a plain grid"), editable, [this] { chooseChart(); }},
             {"placeByHand", tr("Place by Hand"), "Ctrl+H",
              tr("Put the chart in the middle of the frame and drag it into place"), editable,
              [this] {
                  m_bench->openStop(1);
                  editor()->placeByHand();
              },
              NewGroup},
             {"threeCorners", tr("Place by Three Clicks"), "",
              tr("Click the first patch, the last of the top row, and the last of all"), editable,
              tool(FrameView::Tool::ThreeCorners)},
             {"snap", tr("Snap Corners to Patches"), "S",
              tr("A corner that is dropped near the printed corner moves onto it"), onBench,
              [this] { editor()->setSnapping(action("snap")->isChecked()); }, InMenu, true},
             {"carry", tr("Copy to Later Frames"), "Ctrl+B",
              tr("Chart frames: copy the placement to the frames that follow, and refine it in each. Product "
                 "frames: copy level, balance and probes to the rest of the run"),
              editable,
              [this] {
                  if (m_bench->isProduct())
                      m_bench->product()->editor()->carryOn();
                  else
                      editor()->carryPlacement();
              },
              OfBench},
             {"patchesOff", tr("Patches Off…"), "Ctrl+P",
              tr("Switch spoilt patches off; a click on one does the same"), editable,
              [this] { switchPatchesOff(); }, OfBench},
             {"drawChart", tr("New Chart over This Frame…"), "",
              tr("Draw the layout of your own chart over its picture"), editable, [this] { drawChart(); },
              OfBench},
             {"ruler", tr("Ruler"), "R", tr("Click both ends of a known length to measure the scale"),
              onBench, tool(FrameView::Tool::Ruler), NewGroup},
             {"hatch", tr("Hatch Clipped and Noisy"), "H",
              tr("Hatch where the frame is clipped, by channel, or lost in noise"), onBench,
              [this, view] {
                  for (auto *one : {view, static_cast<FrameView *>(m_bench->product()->view())})
                      one->setHatched(action("hatch")->isChecked());
              },
              InMenu, true},
             {"loupe", tr("Loupe"), "L",
              tr("Raw and coded values under the mouse, or moved by the arrow keys"), onBench,
              [this, view] {
                  for (auto *one : {view, static_cast<FrameView *>(m_bench->product()->view())})
                      one->setLoupe(action("loupe")->isChecked());
              },
              InMenu, true},
             {"charts", tr("Charts and References…"), "",
              tr("Reference values by batch and date, measured or from files"), writable,
              [this] { editCharts(); }, NewGroup},
             {"limits", tr("Tolerances…"), "Ctrl+T", tr("Limits of the checks, and the intended scale"),
              writable, [this] { chooseLimits(); }}}};
}

MenuRows MainWindow::balanceRows()
{
    const auto editable = [this] { return whenEditable(); };
    const auto balanced = [this] { return whenBalanced(); };
    const auto lean = [this](double warmer, double rosier) {
        return [this, warmer, rosier] { editor()->leanBy(warmer, rosier); };
    };
    const QString step = tr("One step is one unit of a*b* on a grey of L* 65");
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Balance"),
        {{"neutralArea", tr("Neutral from an Area"), "",
          tr("Click two opposite corners of something neutral in the frame"), editable,
          [this] {
              if (!m_bench->isProduct())
                  m_bench->openStop(1);
              m_bench->view()->startTool(FrameView::Tool::Area);
          }},
         {"neutralWhole", tr("Neutral from the Whole Frame"), "",
          tr("For a frame shot through a diffuser, or filled by a grey board"), editable,
          [this] { editor()->balanceFromWholeFrame(); }},
         {"balanceLight", tr("Balance for a Light…"), "",
          tr("Kelvin and Duv, through this camera's own calibration"), editable, [this] { askForLight(); }},
         {"neutralDefault", tr("Use the Chart's Grey Again"), "",
          tr("The lightest middle grey that is not clipped"),
          [this] {
              const auto why = whenBalanced();
              return !why.isEmpty()                     ? why
                     : m_bench->facts().balanceIsChosen ? QString()
                                                        : tr("the balance is already the chart's own.");
          },
          [this] { editor()->dropBalance(); }},
         {"warmer", tr("Lean Warmer"), "Alt+Up", step, balanced, lean(1, 0), NewGroup},
         {"cooler", tr("Lean Cooler"), "Alt+Down", step, balanced, lean(-1, 0)},
         {"rosier", tr("Lean Rosier"), "Alt+Right", step, balanced, lean(0, 1)},
         {"greener", tr("Lean Greener"), "Alt+Left", step, balanced, lean(0, -1)},
         {"noLean", tr("No Lean"), "Alt+Home", tr("Use the neutral without a lean"), balanced,
          [this] { editor()->leanTo({}); }},
         {"keepPreset", tr("Save as Preset…"), "",
          tr("Save the balance with its camera, lens and setup as a file"), balanced,
          [this] { keepPreset(); }, NewGroup},
         {"usePreset", tr("Use a Preset…"), "", tr("Use it for this frame and those of its lane"), editable,
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
          tr("Choose colour and tone by what each chart's patches support"),
          [this] { return whenWritable(); }, [this] { editor()->chooseParts({}); }},
         {"weights", tr("Weight Patches…"), "",
          tr("Patches that matter most: greys, skin, or the colours of a product"), fitted,
          [this] { askForWeights(); }, NewGroup},
         {"merge", tr("Merge Bracket and Repeats"), "",
          tr("Fit from all frames of this bracket; noisier patches count less. Choose again to fit from this "
             "frame alone"),
          fitted, [this] { editor()->mergeReadings(); }},
         {"fitLight", tr("Light of the Fit…"), "",
          tr("A CIE name, a temperature or a measured spectrum, if the estimate is not good enough"), fitted,
          [this] { askForFitLight(); }},
         {"asUnderLight", tr("References as Under This Light"), "",
          tr("Fit to the chart's colours as they looked under this light"), fitted,
          [this] { editor()->useAppearance(Appearance::UnderLight); }, OfBench},
         {"asUnderD50", tr("References as Under D50"), "",
          tr("Fit to the chart's colours under D50: the same object, the same colour, whatever the light"),
          fitted, [this] { editor()->useAppearance(Appearance::UnderD50); }, OfBench},
         {"redsCalmer", tr("Reds a Step Calmer"), "", tr("For skin: duller and a little yellower"), fitted,
          lean(-1, 0), NewGroup},
         {"redsRicher", tr("Reds a Step Richer"), "", tr("The opposite step"), fitted, lean(1, 0)},
         {"chromaLivelier", tr("Chroma a Step Livelier"), "", tr("Stronger middle colours"), fitted,
          lean(0, 1)},
         {"chromaQuieter", tr("Chroma a Step Quieter"), "", tr("The opposite step"), fitted, lean(0, -1)},
         {"exact", tr("Exact Colours"), "", tr("No colour lean: for products and artworks"), fitted,
          [this] { editor()->leanColour({}); }},
         {"match", tr("Match to Another Camera…"), "",
          tr("Fit a calibration that gives this camera the other camera's colours"), read,
          [this] { chooseMatch(); }, NewGroup},
         {"keepReference", tr("Save Patches as a Reference"), "",
          tr("Save what this camera saw, so that another camera can be matched to it"), read,
          [this] { keepReference(); }, OfBench}}};
}

MenuRows MainWindow::proofRows()
{
    using enum ActionRow::Place;
    MenuRows out{
        tr("&Proof"),
        {{"callOut", tr("Call-Out"), "F4", tr("The result in large letters; press Space to close it"),
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
