// What one waits for at a product frame of 24 megapixels, in the real window without a screen (1280 × 800):
// from the key to the painted picture. wavechroma-bench-window [job made by `wavechroma-cli demo JOB --shrink
// 1`]
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/window/main_window.h"
#include "bench/in_window.h"
#include "bench/quantile.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/frame_files.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <cstdlib>
#include <fmt/format.h>

using namespace wavechroma;
using namespace wavechroma::app;

namespace {

RowId frameNamed(MainWindow &window, const char *name)
{
    for (const auto &frame : window.desk()->job()->state().frames)
        if (frame.path.find(name) != std::string::npos)
            return frame.id;
    std::exit(1);
}

/// Until the frame's picture is painted.
double shown(MainWindow &window, ProductView *view, RowId frame, const QElapsedTimer &since)
{
    while (!(view->frame() && view->frame()->id == frame && !view->frame()->levels.isEmpty()) &&
           since.elapsed() < 20000)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
    (void)window.grab();
    return double(since.nsecsElapsed()) / 1e6;
}

void tell(const char *what, const std::vector<double> &times)
{
    fmt::print("{:<44}{:>8.0f}{:>8.0f} ms\n", what, quantile(times, 0.5), quantile(times, 1.0));
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const FrameReaders readers; // as the program has it
    QApplication application(argc, argv);
    bench::dressWindow();
    QTemporaryDir own;
    QString job = argc > 1 ? QString(argv[1]) : own.filePath("demo");
    if (argc < 2)
        if (const auto made = makeDemo(job.toStdString(), {1, 1}); !made)
            return 1;
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!QTest::qWaitForWindowExposed(&window) || !window.desk()->openJob(job))
        return 1;
    const RowId frames[] = {frameNamed(window, "0416"), frameNamed(window, "0417"),
                            frameNamed(window, "0418")};
    auto *view = window.desk()->bench()->product()->view();
    std::vector<double> cold, ahead, flick;
    fmt::print("{:<44}{:>8}{:>8}\n", "", "median", "worst");
    for (int round = 0; round < 5; ++round) {
        window.desk()->showDaySheet();
        for (const char *other :
             {"0420", "0421", "0425", "MB_0052", "0424"}) // others take its place in what is kept
            if (const RowId id = frameNamed(window, other)) {
                QElapsedTimer since;
                since.start();
                window.desk()->showBench(id);
                QTest::qWait(3500);
            }
        QElapsedTimer timer;
        timer.start();
        window.desk()->showBench(frames[0]);
        cold.push_back(shown(window, view, frames[0], timer));
        QTest::qWait(4000); // the next is decoded, the other version made
        timer.start();
        QTest::keyPress(view, Qt::Key_B);
        (void)window.grab();
        flick.push_back(double(timer.nsecsElapsed()) / 1e6);
        const bool wasFlicked = view->isFlicked();
        QTest::keyRelease(view, Qt::Key_B);
        timer.start();
        QTest::keyClick(view, Qt::Key_PageDown);
        ahead.push_back(shown(window, view, frames[1], timer));
        if (!wasFlicked)
            fmt::print("there was no other version to flick to\n");
    }
    tell("opened cold", cold);
    tell("the next of the run, decoded ahead", ahead);
    tell("flick to the other version", flick);
}
