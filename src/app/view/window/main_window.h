#pragma once
#include "app/view/window/action_table.h"
#include "app/view/window/desk.h"

#include <QMainWindow>

namespace wavechroma::app {

class FrameActions;

/// Puts the desk, the menus and the keys together; holds no state of the job.
class MainWindow : public QMainWindow
{
    Q_OBJECT
public:
    explicit MainWindow(QWidget *parent = nullptr);
    ~MainWindow() override;

    [[nodiscard]] Desk *desk() const { return m_desk; }
    [[nodiscard]] FrameActions *frameActions() const { return m_frames; }
    [[nodiscard]] QAction *action(const QString &id) const { return m_table->action(id); }

protected:
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void closeEvent(QCloseEvent *event) override;

private:
    void makeActions();
    void makeUndo();
    void adapt();
    void adaptSoon(); ///< once, however much changes until then

    Desk *m_desk;
    ActionTable *m_table;
    FrameActions *m_frames = nullptr;
    bool m_adaptsSoon = false;
};

} // namespace wavechroma::app
