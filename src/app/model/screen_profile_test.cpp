// The desktop's colour service, by a stand-in on a bus of the test's own.
#include "app/model/screen_profile.h"
#include "core/color/rgb_space.h"
#include "core/formats/picture_file.h"
#include "core/formats/whole_file.h"
#include "support/registry.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusObjectPath>
#include <QDBusVariant>
#include <QDBusVirtualObject>
#include <QProcess>
#include <QSettings>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace wavechroma;
using namespace wavechroma::app;

static const QString kManager = "/org/freedesktop/ColorManager", kService = "org.freedesktop.ColorManager";

/// Two monitors, the first without a profile, as the service tells of them.
class ColourService : public QDBusVirtualObject
{
public:
    QString profile; ///< of the second monitor; empty: it has none either

    QString introspect(const QString &path) const override
    {
        const auto property = [](const char *interface, const char *name, const char *type) {
            return QString("<interface name='org.freedesktop.ColorManager.%1'>"
                           "<property name='%2' type='%3' access='read'/></interface>")
                .arg(interface, name, type);
        };
        if (path.contains("/devices/"))
            return property("Device", "Profiles", "ao");
        if (path.contains("/profiles/"))
            return property("Profile", "Filename", "s");
        return "<interface name='org.freedesktop.ColorManager'><method name='GetDevicesByKind'>"
               "<arg name='kind' direction='in' type='s'/><arg name='devices' direction='out' type='ao'/>"
               "</method></interface>";
    }

    bool handleMessage(const QDBusMessage &message, const QDBusConnection &bus) override
    {
        using Paths = QList<QDBusObjectPath>;
        const auto path = message.path();
        QVariant answer;
        if (message.member() == "GetDevicesByKind" && message.arguments().value(0) == "display")
            answer = QVariant::fromValue(Paths{QDBusObjectPath(kManager + "/devices/left"),
                                               QDBusObjectPath(kManager + "/devices/right")});
        else if (message.member() == "Get" && path.endsWith("/devices/left"))
            answer = QVariant::fromValue(QDBusVariant(QVariant::fromValue(Paths())));
        else if (message.member() == "Get" && path.endsWith("/devices/right"))
            answer = QVariant::fromValue(QDBusVariant(QVariant::fromValue(
                profile.isEmpty() ? Paths() : Paths{QDBusObjectPath(kManager + "/profiles/panel")})));
        else if (message.member() == "Get" && path.endsWith("/profiles/panel"))
            answer = QVariant::fromValue(QDBusVariant(profile));
        else
            return false;
        return bus.send(message.createReply(answer));
    }
};

class ScreenProfileTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void withoutAServiceItIsSrgb();
    void theDesktopsProfileIsUsed();
    void aProfileThatIsNoneLeavesSrgb();
    void aLaterChoiceIsNotOverruled();
    void cleanupTestCase();

private:
    ScreenProfile &asked()
    {
        QSignalSpy changed(&ScreenProfile::current(), &ScreenProfile::changed);
        ScreenProfile::current().useDesktops(&m_tasks);
        [&] { QTRY_VERIFY_WITH_TIMEOUT(changed.count() > 0, 20000); }();
        return ScreenProfile::current();
    }

    QTemporaryDir m_folder;
    QProcess m_bus;
    ColourService m_service;
    TaskRunner m_tasks;
};

void ScreenProfileTest::initTestCase()
{
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, m_folder.path());
    m_bus.start("dbus-daemon", {"--session", "--nofork", "--print-address"});
    QVERIFY2(m_bus.waitForStarted() && m_bus.waitForReadyRead(), qPrintable(m_bus.errorString()));
    const auto address = m_bus.readAllStandardOutput().trimmed();
    qputenv("DBUS_SYSTEM_BUS_ADDRESS", address);
    QVERIFY(QDBusConnection::systemBus().isConnected());
    const auto file = m_folder.filePath("panel.icc").toStdString();
    QVERIFY(writeWhole({{file, *iccProfileOf(*rgbSpaceFromId("display-p3"))}}));
}

void ScreenProfileTest::withoutAServiceItIsSrgb()
{
    const auto &monitor = asked();
    QVERIFY(monitor.from() == ScreenProfile::From::Desktop && !monitor.screen());
    QVERIFY2(monitor.words().contains("sRGB"), qPrintable(monitor.words()));
    auto bus = QDBusConnection::connectToBus(qEnvironmentVariable("DBUS_SYSTEM_BUS_ADDRESS"), "service");
    QVERIFY(bus.registerVirtualObject(kManager, &m_service, QDBusConnection::SubPath));
    QVERIFY(bus.registerService(kService));
    QVERIFY(!asked().screen()); // a service whose monitors have no profile
}

void ScreenProfileTest::theDesktopsProfileIsUsed()
{
    m_service.profile = m_folder.filePath("panel.icc");
    const auto &monitor = asked();
    QVERIFY(monitor.screen());
    QVERIFY2(monitor.words().contains("Display P3"), qPrintable(monitor.words()));
    QCOMPARE(QSettings().value("monitor/profile").toString(), QString("desktop"));
}

void ScreenProfileTest::aProfileThatIsNoneLeavesSrgb()
{
    m_service.profile = m_folder.filePath("gone.icc");
    QVERIFY(!asked().screen());
    m_service.profile = m_folder.filePath("panel.icc");
    QVERIFY(asked().screen());
}

void ScreenProfileTest::aLaterChoiceIsNotOverruled()
{
    auto &monitor = ScreenProfile::current();
    monitor.useDesktops(&m_tasks);
    monitor.useNone();
    m_tasks.finish("monitor");
    QVERIFY(monitor.from() == ScreenProfile::From::None && !monitor.screen());
}

void ScreenProfileTest::cleanupTestCase()
{
    QDBusConnection::disconnectFromBus("service");
    m_bus.kill();
    m_bus.waitForFinished();
}

static const testing::Registered<ScreenProfileTest> registeredScreenProfileTest("screen_profile_test");
#include "screen_profile_test.moc"
