#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"

#include <QDir>
#include <QProcess>
#include <QRegularExpression>
#include <QTest>

using namespace wavechroma;

/// What the README tells people to type.
class ReadmeTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void everyCommandRunsAsWritten();
};

/// One after the other on the demo day, whose frames are small ones here.
void ReadmeTest::everyCommandRunsAsWritten()
{
    QFile readme(qEnvironmentVariable("WAVECHROMA_SOURCE_DIR") + "/README.md");
    QVERIFY(readme.open(QIODevice::ReadOnly));
    int commands = 0;
    QString last;
    for (const auto &line : QString::fromUtf8(readme.readAll()).split('\n')) {
        if (line.startsWith("    alias "))
            QCOMPARE(line, QString("    alias chroma=./build/bin/wavechroma-cli"));
        if (!line.startsWith("    chroma "))
            continue;
        ++commands;
        last = line.trimmed();
        if (last == "chroma demo my-demo") {
            testing::layDemoDay(at("my-demo").toStdString());
            continue;
        }
        QProcess shell;
        shell.setWorkingDirectory(m_folder.path());
        shell.start("bash", {"-c", "chroma() { \"$WAVECHROMA_CLI\" \"$@\"; }; " + last});
        QVERIFY(shell.waitForFinished(120000));
        QVERIFY2(shell.exitCode() == 0, (last.toUtf8() + "\n" + shell.readAllStandardError()).constData());
    }
    QVERIFY2(commands > 15, last.toUtf8().constData());
    QCOMPARE(QProcess::execute("bash", {"-c", "! type -P chroma"}), 0); // no command of the system is hidden
}

static const testing::Registered<ReadmeTest> registeredReadmeTest("readme_test");
#include "readme_test.moc"
