#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "app/view/window/main_window.h"

#include <QFileDialog>
#include <QMessageBox>

namespace wavechroma::app {

void MainWindow::chooseMonitorProfile()
{
    const auto file =
        QFileDialog::getOpenFileName(this, tr("Monitor Profile"), {}, tr("ICC profiles (*.icc *.icm)"));
    if (file.isEmpty())
        return;
    if (const auto used = ScreenProfile::current().useFile(file); !used)
        QMessageBox::warning(this, tr("Monitor Profile"), text(used.error()));
}

} // namespace wavechroma::app
