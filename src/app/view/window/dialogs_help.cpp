// The keys, the guide, and what this is.
#include "app/view/window/action_finder.h"
#include "app/view/window/main_window.h"

#include <QApplication>
#include <QDialog>
#include <QFile>
#include <QLabel>
#include <QScrollArea>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace wavechroma::app {

namespace {

/// A page that fits a laptop and scrolls beyond.
QDialog *page(QWidget *parent, const QString &title, QWidget *content, const QSize &size)
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

QTextBrowser *reader()
{
    auto *browser = new QTextBrowser;
    browser->setFrameShape(QFrame::NoFrame);
    browser->setOpenLinks(false);
    browser->document()->setDocumentMargin(28);
    return browser;
}

} // namespace

void MainWindow::findAction()
{
    std::vector<ActionFinder::Offer> offers;
    for (const auto &made : m_actions)
        offers.push_back({made.action, made.row.why, made.row.when ? made.row.when() : QString()});
    (new ActionFinder(std::move(offers), this))->open();
}

void MainWindow::showKeys()
{
    QString rows;
    for (const auto *each : actions())
        if (!each->shortcut().isEmpty())
            rows += QString("<tr><td width='150'><b>%1</b></td><td>%2</td></tr>")
                        .arg(each->shortcut().toString(QKeySequence::NativeText).toHtmlEscaped(),
                             QString(each->text()).remove('&').toHtmlEscaped());
    rows += "<tr><td><b>Tab, arrows, [ ]</b></td><td>" +
            tr("in the open Read stop: select a corner, move it, change the measured area") + "</td></tr>";
    rows +=
        "<tr><td><b>arrows, Home, Space</b></td><td>" +
        tr("in the open Fit stop: choose parts, choose them automatically, flick to the recommended ones") +
        "</td></tr>";
    auto *label = new QLabel("<table cellspacing='5'>" + rows + "</table>");
    label->setMargin(16);
    auto *scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(label);
    page(this, tr("Keys"), scroll, {620, 700})->open();
}

void MainWindow::showGuide()
{
    QFile file(":/guide/guide.md");
    auto *browser = reader();
    if (file.open(QIODevice::ReadOnly))
        browser->setMarkdown(QString::fromUtf8(file.readAll()));
    page(this, tr("Guide"), browser, {760, 700})->open();
}

void MainWindow::showAbout()
{
    auto *browser = reader();
    browser->setMarkdown(
        tr("# Wavechroma %1\n\nThe same colour for the same object, whatever the light, lens or "
           "camera.\n\nFree software under the GNU General Public License, version 3 or later.\n\n"
           "Built on Qt, QCustomPlot, LibRaw, Little CMS, Exiv2, libtiff, libpng, libjpeg, OpenCV, "
           "Eigen, Ceres Solver, oneTBB, SQLite, CLI11, nlohmann-json and fmt; set in Inter.")
            .arg(QApplication::applicationVersion()));
    page(this, tr("About"), browser, {520, 420})->open();
}

} // namespace wavechroma::app
