#pragma once
#include "app/view/bench/bench.h"
#include "app/view/bench/proof/proof_stop.h"
#include "app/view/bench/read/read_stop.h"
#include "app/view/day/day_sheet.h"
#include "app/view/widgets/look.h"
#include "app/view/window/main_window.h"
#include "core/tasks/demo_task.h"

#include <QTemporaryDir>
#include <QTest>

#ifdef WAVECHROMA_SANITIZE // all takes five times as long
#undef QTRY_COMPARE
#undef QTRY_VERIFY
#define QTRY_COMPARE(actual, expected) QTRY_COMPARE_WITH_TIMEOUT(actual, expected, 60000)
#define QTRY_VERIFY(condition) QTRY_VERIFY_WITH_TIMEOUT(condition, 60000)
#endif

namespace wavechroma::app {

/// The real window on a demo day of small frames, driven by mouse and keys, without a screen.
class WindowFixture : public QObject
{
protected:
    void makeDay()
    {
        useStyle();
        useTypeface();
        useSurround(Surround::Board);
        const auto made = makeDemo(demo().toStdString(), {5, 1});
        QVERIFY2(bool(made), made ? "" : made.error().message.c_str());
    }

    void openWindow()
    {
        m_window = std::make_unique<MainWindow>();
        m_window->show();
        m_window->activateWindow();
        QVERIFY(QTest::qWaitForWindowExposed(m_window.get()));
        QVERIFY(m_window->desk()->openJob(demo()));
    }

    void closeWindow()
    {
        while (m_window && m_window->desk()->job()->undoStack()->canUndo())
            m_window->desk()->job()->undoStack()->undo(); // each test leaves the job as it found it
        m_window.reset();
    }

    FrameView *view() const { return m_window->desk()->bench()->readStop()->view(); }
    void openBench(int stop, const char *frame = "0414")
    {
        m_window->desk()->daySheet()->canvas()->select(frameNamed(frame));
        QTest::keyClick(m_window.get(), Qt::Key_F3);
        QTest::keyClick(m_window.get(), Qt::Key(Qt::Key_0 + stop));
        QTRY_VERIFY_WITH_TIMEOUT(view()->frame() != nullptr, 20000);
    }
    double mean() const { return m_window->desk()->bench()->facts().proof()->summary.mean; }
    void drag(const QPointF &from, const QPointF &by)
    {
        QTest::mousePress(view(), Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(view(), (from + by / 2).toPoint());
        QTest::mouseMove(view(), (from + by).toPoint());
        QTest::mouseRelease(view(), Qt::LeftButton, {}, (from + by).toPoint());
    }
    RowId frameNamed(const char *name) const
    {
        for (const auto &frame : m_window->desk()->job()->state().frames)
            if (frame.path.find(name) != std::string::npos)
                return frame.id;
        return 0;
    }
    QString demo() const { return m_folder.filePath("demo"); }
    QTemporaryDir m_folder;
    std::unique_ptr<MainWindow> m_window;
};

} // namespace wavechroma::app
