// Places, the view of a frame, monitors, and help.
#include "app/view/window/view_actions.h"
#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "app/view/day/day_sheet.h"
#include "app/view/frame/frame_view.h"

#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QScrollArea>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace wavechroma::app {

ViewActions::ViewActions(Desk *desk) : ActionGroup(desk) {}

MenuRows ViewActions::rows()
{
    const auto open = needs(&Availability::open);
    const auto onBench = needs(&Availability::onBench);
    const auto stop = [this](int number) {
        return [this, number] {
            if (!m_desk->isOnBench())
                openBench();
            m_bench->openStop(number);
        };
    };
    using enum ActionRow::Place;
    return {tr("&View"),
            {ticked({"daySheet", tr("Day sheet"), "F2", tr("Every frame of the job, by setup and time"), open,
                     [this] { m_desk->showDaySheet(); }},
                    [](const Availability &now) { return now.place == Availability::Place::Day; }),
             ticked({"bench", tr("Bench"), "F3", tr("One station: read, balance, fit, proof"), open,
                     [this] { openBench(); }},
                    [](const Availability &now) { return now.place == Availability::Place::Bench; }),
             ticked({"agreement", tr("Agreement"), "F8",
                     tr("Does the same thing get the same colour at every station?"), open,
                     [this] { m_desk->showAgreement(); }},
                    [](const Availability &now) { return now.place == Availability::Place::Agreement; }),
             ticked({"handover", tr("Handover"), "F5",
                     tr("What to deliver: frames, forms, and the files that will be written"), open,
                     [this] { m_desk->showHandover(); }},
                    [](const Availability &now) { return now.place == Availability::Place::Handover; }),
             {"stop1", tr("1 Read"), "1", tr("Where the chart is, and what the checks say"), open, stop(1),
              NewGroup},
             {"stop2", tr("2 Balance"), "2", tr("What is neutral"), open, stop(2)},
             {"stop3", tr("3 Fit"), "3", tr("Colour and tone of the calibration"), open, stop(3)},
             {"stop4", tr("4 Proof"), "4", tr("Error of each patch"), open, stop(4)},
             {"zoomFit", tr("Whole Frame"), "0", tr("The whole frame in the window"), onBench,
              [this] { m_bench->view()->zoomToFit(); }, NewGroup},
             {"zoomPixels", tr("100 %"), "9", tr("One frame pixel to one screen pixel"), onBench,
              [this] { m_bench->view()->zoomToPixels(); }},
             {"zoomIn", tr("Closer"), "+", tr("Also the wheel"), onBench,
              [this] { m_bench->view()->zoomBy(1.4); }},
             {"zoomOut", tr("Further"), "-", tr("Also the wheel"), onBench,
              [this] { m_bench->view()->zoomBy(1 / 1.4); }},
             {"surround",
              tr("Next Surround"),
              "F9",
              tr("Grey card, dark or paper: the surround that colours are judged in"),
              {},
              [this] {
                  m_surround = after(m_surround);
                  useSurround(m_surround);
              },
              NewGroup},
             named({"monitorFile",
                    tr("Monitor Profile…"),
                    "Ctrl+F9",
                    tr("An ICC profile of this monitor, used to show pictures and patches"),
                    {},
                    [this] { chooseMonitorProfile(); },
                    NewGroup},
                   [](const Availability &now) { return tr("Monitor: %1…").arg(now.monitor); }),
             ticked({"monitorDesktop",
                     tr("Monitor Profile of the Desktop"),
                     "Shift+F9",
                     tr("The profile that the desktop has for this monitor"),
                     {},
                     [this] { ScreenProfile::current().useDesktops(&m_tasks); }},
                    [](const Availability &now) { return now.isMonitorDesktops; }),
             ticked({"monitorNone",
                     tr("No Monitor Profile"),
                     "",
                     tr("Show pictures and patches for an sRGB monitor"),
                     {},
                     [] { ScreenProfile::current().useNone(); }},
                    [](const Availability &now) { return now.isMonitorNone; }),
             {"fullScreen", tr("Full Screen"), "F11", tr("Use the whole screen"), {}, [this] {
                  window()->setWindowState(window()->windowState() ^ Qt::WindowFullScreen);
              }}}};
}

MenuRows ViewActions::helpRows(const ActionTable *table)
{
    return {tr("&Help"),
            {{"find",
              tr("Find an Action…"),
              "F7",
              tr("Type a part of its name; see its key, or why it cannot be used now"),
              {},
              [this, table] { findAction(table); }},
             {"keys", tr("Keys"), "F1", tr("All keys, by place"), {}, [this, table] { showKeys(table); }},
             {"guide",
              tr("Guide"),
              "Shift+F1",
              tr("The work from the first frame to the delivered files"),
              {},
              [this] { showGuide(); }},
             {"about", tr("About"), "Ctrl+F1", tr("Version, licence, and libraries"), {}, [this] {
                  showAbout();
              }}}};
}

void ViewActions::chooseMonitorProfile()
{
    const auto file =
        QFileDialog::getOpenFileName(window(), tr("Monitor Profile"), {}, tr("ICC profiles (*.icc *.icm)"));
    if (file.isEmpty())
        return;
    if (const auto used = ScreenProfile::current().useFile(file); !used)
        QMessageBox::warning(window(), tr("Monitor Profile"), text(used.error()));
}

void ViewActions::findAction(const ActionTable *table)
{
    (new ActionFinder(table->offers(), window()))->open();
}

void ViewActions::openBench()
{
    const RowId chosen = m_desk->daySheet()->canvas()->selected();
    m_desk->showBench(chosen                 ? chosen
                      : m_job.currentFrame() ? m_job.currentFrame()
                                             : m_job.stations().frameToOpen());
}

/// A page that fits a laptop and scrolls beyond.
static QDialog *page(QWidget *parent, const QString &title, QWidget *content, const QSize &size)
{
    auto *dialog = new QDialog(parent);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    dialog->resize(size);
    auto *layout = new QVBoxLayout(dialog);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(content);
    return dialog;
}

static QTextBrowser *reader()
{
    auto *browser = new QTextBrowser;
    browser->setFrameShape(QFrame::NoFrame);
    browser->setOpenLinks(false);
    browser->document()->setDocumentMargin(28);
    return browser;
}

/// The keys of one menu as lines of a table.
static QString keysOf(const ActionTable::Keys &keys)
{
    QString rows;
    for (const auto *action : keys.actions)
        rows += QString("<tr><td width='118'><b>%1</b></td><td>%2</td></tr>")
                    .arg(action->shortcut().toString(QKeySequence::NativeText).toHtmlEscaped(),
                         QString(action->text()).remove('&').toHtmlEscaped());
    return rows;
}

/// By place, in three columns, so that all are seen at once.
void ViewActions::showKeys(const ActionTable *table)
{
    const std::pair<QString, QString> more[] = {
        {tr("Read"), QString("<tr><td><b>Tab, arrows, [ ]</b></td><td>%1</td></tr>")
                         .arg(tr("Select a corner, move it, change the measured area"))},
        {tr("Fit"), QString("<tr><td><b>arrows, Home, Space</b></td><td>%1</td></tr>")
                        .arg(tr("Choose parts, choose automatically, flick between the two"))},
        {tr("Proof"), QString("<tr><td><b>B, Page Up, Page Down</b></td><td>%1</td></tr>")
                          .arg(tr("Hold for the other version, go through the run"))}};
    auto *sheet = new QWidget;
    auto *columns = new QHBoxLayout(sheet);
    columns->setContentsMargins(24, 16, 24, 16);
    constexpr int kColumns = 3, kLinesEach = 34;
    QString html;
    int lines = 0;
    const auto flush = [&] {
        auto *label = new QLabel(html);
        label->setAlignment(Qt::AlignTop | Qt::AlignLeft);
        label->setWordWrap(true);
        columns->addWidget(label, 1);
        html.clear();
        lines = 0;
    };
    for (const auto &keys : table->keys()) {
        auto rows = keysOf(keys);
        for (const auto &[menu, line] : more)
            if (menu == keys.menu)
                rows += line;
        if (rows.isEmpty())
            continue;
        const int needed = int(rows.count("<tr>")) + 2;
        if (lines > 0 && lines + needed > kLinesEach && columns->count() < kColumns - 1)
            flush();
        html += "<p><b>" + keys.menu.toHtmlEscaped() + "</b></p><table cellspacing='2'>" + rows + "</table>";
        lines += needed;
    }
    flush();
    auto *scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(sheet);
    page(window(), tr("Keys"), scroll, {1180, 720})->open();
}

void ViewActions::showGuide()
{
    QFile file(":/guide/guide.md");
    auto *browser = reader();
    if (file.open(QIODevice::ReadOnly))
        browser->setMarkdown(QString::fromUtf8(file.readAll()));
    page(window(), tr("Guide"), browser, {760, 700})->open();
}

void ViewActions::showAbout()
{
    auto *browser = reader();
    browser->setMarkdown(
        tr("# Wavechroma %1\n\nThe same colour for the same object, whatever the light, lens or "
           "camera.\n\nFree software under the GNU General Public License, version 3 or later.\n\n"
           "Built on Qt, QCustomPlot, LibRaw, Little CMS, Exiv2, libtiff, libpng, libjpeg, OpenCV, "
           "Eigen, Ceres Solver, oneTBB, SQLite, CLI11, nlohmann-json and fmt; set in Inter.")
            .arg(QApplication::applicationVersion()));
    page(window(), tr("About"), browser, {520, 420})->open();
}

} // namespace wavechroma::app
