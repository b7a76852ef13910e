// wavechroma-screenshots FOLDER: the pictures of docs/screenshots, taken of the real window with the demo
// job.
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/bench/proof/proof_stop.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/charts/layout_dialog.h"
#include "app/view/charts/tolerance_dialog.h"
#include "app/view/day/call_out.h"
#include "app/view/day/day_sheet.h"
#include "app/view/day/strike_view.h"
#include "app/view/widgets/look.h"
#include "app/view/window/main_window.h"
#include "core/tasks/demo_task.h"

#include <QAction>
#include <QApplication>
#include <QTemporaryDir>
#include <QTest>
#include <QTime>

using namespace wavechroma;
using namespace wavechroma::app;

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    useStyle();
    useTypeface();
    useSurround(Surround::Board);
    QTemporaryDir folder;
    if (argc != 2 || !makeDemo(folder.filePath("harbour-row").toStdString()))
        return 2;
    const QString target = QString::fromLocal8Bit(argv[1]) + "/";
    MainWindow window;
    window.show();
    const auto take = [&](const char *name) {
        QTest::qWait(400);
        return window.grab().save(target + name + ".png");
    };
    bool saved = take("start");
    window.desk()->openJob(folder.filePath("harbour-row"));
    QTest::qWait(8000); // the small pictures
    saved = take("day-sheet") && saved;
    window.desk()->daySheet()->canvas()->select(window.desk()->job()->state().frames.front().id);
    window.action("callOut")->trigger(); // the clipped one
    saved = take("call-out") && saved;
    window.desk()->callOut()->hide();
    window.action("studio")->trigger();
    QTest::qWait(3000); // what still runs from before
    saved = take("studio") && saved;
    window.action("studio")->trigger();
    const auto &frames = window.desk()->job()->state().frames;
    window.desk()->daySheet()->canvas()->select(std::find_if(frames.begin(), frames.end(), [](const auto &f) {
                                                    return f.path.find("0414") != f.path.npos;
                                                })->id);
    window.action("bench")->trigger();
    window.desk()->bench()->openStop(1);
    QTest::qWait(4000); // the frame
    saved = take("bench-read") && saved;
    const auto shown = window.desk()->job()->currentFrame();
    window.desk()->showBench(frames.front().id); // the clipped one
    QTest::qWait(4000);
    window.action("hatch")->trigger();
    window.action("loupe")->trigger();
    QTest::qWait(1000); // the pixels under the loupe
    saved = take("bench-levels") && saved;
    window.action("hatch")->trigger();
    window.action("loupe")->trigger();
    window.desk()->showBench(shown);
    QTest::qWait(4000);
    window.action("drawChart")->trigger();
    QTest::qWait(500);
    saved = window.findChild<LayoutDialog *>()->grab().save(target + "new-chart.png") && saved;
    window.findChild<LayoutDialog *>()->reject();
    window.action("limits")->trigger();
    saved = window.findChild<ToleranceDialog *>()->grab().save(target + "limits.png") && saved;
    window.findChild<ToleranceDialog *>()->reject();
    window.desk()->bench()->openStop(2);
    saved = take("bench-balance") && saved;
    window.desk()->bench()->openStop(3);
    saved = take("bench-fit") && saved;
    window.desk()->bench()->openStop(4);
    window.desk()->bench()->proofStop()->highlight("C6");
    saved = take("bench-proof") && saved;
    const auto frameNamed = [&](const char *name) {
        return std::find_if(frames.begin(), frames.end(),
                            [&](const auto &f) { return f.path.find(name) != f.path.npos; })
            ->id;
    };
    window.desk()->showBench(frameNamed("0053"));
    QTest::qWait(5000);
    auto *product = window.desk()->bench()->product();
    product->view()->pick("lichen");
    auto strict = *shippedSheet("strict");
    JobChange change;
    auto title = window.desk()->job()->state().title;
    title.tolerance = documentOf(strict);
    change.titles.push_back({window.desk()->job()->state().title, title});
    window.desk()->job()->push("Strict", change);
    window.action("doubted")->trigger();
    QTest::qWait(3000);
    saved = take("bench-product") && saved;
    window.action("doubted")->trigger();
    window.desk()->job()->undoStack()->undo();
    product->view()->pick({});
    window.action("split")->trigger();
    QTest::qWait(1500);
    saved = take("bench-product-split") && saved;
    window.action("split")->trigger();
    window.action("agreement")->trigger();
    QTest::qWait(6000); // the probed frames
    saved = take("agreement") && saved;
    window.desk()->showStrike(window.desk()->job()->state().frame(frameNamed("0420"))->setup);
    saved = take("strike") && saved;
    window.desk()->strikeView()->hide();
    window.action("handover")->trigger();
    QTest::qWait(2000);
    saved = take("handover") && saved;
    JobChange run; // as if a long afternoon had followed
    auto frame = *window.desk()->job()->state().frame(frameNamed("0418"));
    RowId next = nextId(window.desk()->job()->state());
    for (int i = 0; i < 280; ++i) {
        frame.id = next++;
        frame.camera.capturedAt = QTime(9, 37).addSecs(7 * i).toString("'2026-10-14T'HH:mm:ss").toStdString();
        run.frames.push_back({std::nullopt, frame});
    }
    window.desk()->job()->push("Run", run);
    window.desk()->showDaySheet();
    window.desk()->daySheet()->canvas()->select(run.frames[120].after->id);
    QTest::qWait(3000);
    saved = take("day-sheet-run") && saved;
    return saved ? 0 : 1;
}
