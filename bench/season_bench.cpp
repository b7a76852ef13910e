// A season in one job: how long the window stands still at most, and how long one waits, when thousands of
// product frames are taken in, shown on the day sheet and planned as a delivery. The real window without a
// screen (1280 × 800). wavechroma-bench-season [frames] [PNG of Handover to write]
#include "app/view/handover/handover.h"
#include "app/view/window/main_window.h"
#include "bench/in_window.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/frame_files.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <QTreeWidget>
#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
#include <functional>
#include <vector>

using namespace wavechroma;
using namespace wavechroma::app;

namespace {

struct Waited
{
    double still = 0; ///< ms, the longest that no event was heard
    double whole = 0; ///< ms, until what was asked for is there
};

Waited waited(const std::function<void()> &act, const std::function<bool()> &isThere)
{
    Waited out;
    QElapsedTimer whole, one;
    whole.start();
    one.start();
    act();
    for (bool first = true; first || (!isThere() && whole.elapsed() < 60000); first = false) {
        out.still = std::max(out.still, double(one.nsecsElapsed()) / 1e6);
        one.start();
        QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
        out.still = std::max(out.still, double(one.nsecsElapsed()) / 1e6);
        one.start();
    }
    out.whole = double(whole.nsecsElapsed()) / 1e6;
    return out;
}

void tell(const char *what, const Waited &w)
{
    fmt::print("{:<40}{:>8.0f}{:>8.0f} ms\n", what, w.still, w.whole);
}

/// Copies of a product frame that the job has, as links to its file.
JobChange season(const JobState &state, const std::filesystem::path &folder, int count)
{
    const auto product = *std::find_if(state.frames.begin(), state.frames.end(),
                                       [](const JobFrame &f) { return f.part == FramePart::Product; });
    JobChange change;
    RowId id = nextId(state);
    for (int i = 0; i < count; ++i) {
        auto frame = product;
        frame.id = id++;
        frame.path = fmt::format("frames/SE_{:05}.dng", i);
        std::filesystem::create_hard_link(folder / product.path, folder / frame.path);
        change.frames.push_back({std::nullopt, frame});
    }
    return change;
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const FrameReaders readers; // as the program has it
    QApplication application(argc, argv);
    bench::dressWindow();
    const int count = argc > 1 ? std::atoi(argv[1]) : 4000;
    QTemporaryDir own;
    const std::string folder = own.filePath("demo").toStdString();
    if (const auto made = makeDemo(folder, {4, 1}); !made)
        return 1;
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!QTest::qWaitForWindowExposed(&window) || !window.desk()->openJob(QString::fromStdString(folder)))
        return 1;
    QTest::qWait(3000);
    auto *handover = window.findChild<Handover *>();
    auto *editor = handover->editor();
    const auto files = [&] { return editor->plan().items.size(); };
    const auto change = season(window.desk()->job()->state(), folder, count);

    fmt::print("{} product frames more{:<16}{:>8}{:>8}\n", count, "", "still", "whole");
    const auto once = [] { return true; };
    tell("taken into the job", waited([&] { window.desk()->job()->push("season", change); }, once));
    tell("the day sheet", waited(
                              [&] {
                                  window.desk()->showDaySheet();
                                  (void)window.grab();
                              },
                              once));
    tell("Handover, until it is planned",
         waited([&] { window.desk()->showHandover(); }, [&] { return files() > size_t(count); }));
    QTest::qWait(500);
    if (argc > 2)
        window.grab().save(argv[2]);
    auto *pair = handover->frames()->topLevelItem(0)->child(0);
    const auto before = files();
    tell("one frame stays",
         waited([&] { pair->child(0)->setCheckState(0, Qt::Unchecked); }, [&] { return files() < before; }));
    QTest::qWait(1000);
    const auto fewer = files();
    tell("all of a camera stay",
         waited([&] { handover->frames()->topLevelItem(0)->child(0)->setCheckState(0, Qt::Unchecked); },
                [&] { return files() < fewer; }));
    QTest::qWait(1000);
    tell("undone",
         waited([&] { window.desk()->job()->undoStack()->undo(); }, [&] { return files() >= fewer; }));
    const auto product = window.desk()->job()->state().frames.back().id;
    window.desk()->showBench(product);
    QTest::qWait(3000);
    // until its picture is asked for, which is made elsewhere, and until the window hears again
    const auto stepOf = [&](const char *action) {
        std::vector<double> asked, still;
        for (int i = 0; i < 21; ++i) {
            still.push_back(waited(
                                [&] {
                                    QElapsedTimer trigger;
                                    trigger.start();
                                    window.action(action)->trigger();
                                    asked.push_back(double(trigger.nsecsElapsed()) / 1e6);
                                },
                                once)
                                .still);
            QTest::qWait(100);
        }
        for (auto *all : {&asked, &still})
            std::nth_element(all->begin(), all->begin() + 10, all->end());
        fmt::print("{:<40}{:>8.1f}{:>8.1f} ms, medians of 21: asked for, still\n", action, asked[10],
                   still[10]);
    };
    stepOf("warmer");
    stepOf("lighter");
    tell("another frame on the bench", waited([&] { window.desk()->showBench(product - 1); }, once));
    return 0;
}
