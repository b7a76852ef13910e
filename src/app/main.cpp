#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "app/view/window/main_window.h"
#include "core/base/lazy.h"
#include "core/base/standard_streams.h"
#include "core/tasks/frame_files.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QMessageBox>
#include <clocale>

using namespace wavechroma::app;

namespace {

/// Says which document of the job cannot be read where a view came upon it, instead of ending.
class Application : public QApplication
{
public:
    using QApplication::QApplication;
    bool notify(QObject *receiver, QEvent *event) override
    {
        try {
            return QApplication::notify(receiver, event);
        } catch (const wavechroma::Unreadable &damaged) {
            auto *box = new QMessageBox(QMessageBox::Warning, applicationName(), text(damaged.error),
                                        QMessageBox::Close, activeWindow());
            box->setAttribute(Qt::WA_DeleteOnClose);
            box->open();
            return true;
        }
    }
};

} // namespace

int main(int argc, char **argv)
{
    wavechroma::holdStandardStreams();
    const wavechroma::FrameReaders readers; // before the toolkit starts its threads
    Application application(argc, argv);
    std::setlocale(LC_NUMERIC, "C"); // files are read and written with a point, by libraries too
    QApplication::setOrganizationName("Wavechroma");
    QApplication::setApplicationName("Wavechroma");
    QApplication::setApplicationVersion(WAVECHROMA_VERSION);
    speakAs(QLocale());
    useStyle();
    useTypeface();
    useSurround(Surround::Board);

    QCommandLineParser arguments;
    arguments.setApplicationDescription("The same colour for the same object, whatever the light");
    arguments.addHelpOption();
    arguments.addVersionOption();
    arguments.addPositionalArgument("job", "folder of a job to open", "[job]");
    arguments.addPositionalArgument("frames", "frames to add to it", "[frames…]");
    arguments.process(application);

    MainWindow window;
    ScreenProfile::current().restore(window.desk()->tasks());
    window.show();
    auto paths = arguments.positionalArguments();
    if (!paths.isEmpty() && window.desk()->openJob(paths.takeFirst()) && !paths.isEmpty())
        window.desk()->bringIn(paths);
    return QApplication::exec();
}
