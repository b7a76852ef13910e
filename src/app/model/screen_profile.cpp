#include "app/model/screen_profile.h"

#include <QDBusConnection>
#include <QDBusInterface>
#include <QDBusObjectPath>
#include <QDBusReply>
#include <QSettings>

namespace wavechroma::app {

namespace {

constexpr auto kKey = "monitor/profile"; ///< "desktop", "none", or a file's path
const QString kService = QStringLiteral("org.freedesktop.ColorManager");

QVariant property(const QString &path, const char *kind, const char *name)
{
    QDBusInterface object(kService, path, kService + kind, QDBusConnection::systemBus());
    object.setTimeout(500);
    return object.isValid() ? object.property(name) : QVariant();
}

} // namespace

QString desktopsProfile()
{
    auto bus = QDBusConnection::systemBus();
    if (!bus.isConnected())
        return {};
    QDBusInterface manager(kService, "/org/freedesktop/ColorManager", kService, bus);
    manager.setTimeout(500);
    if (!manager.isValid())
        return {};
    const QDBusReply<QList<QDBusObjectPath>> devices = manager.call("GetDevicesByKind", "display");
    if (!devices.isValid())
        return {};
    for (const auto &device : devices.value()) {
        const auto profiles =
            qdbus_cast<QList<QDBusObjectPath>>(property(device.path(), ".Device", "Profiles"));
        if (profiles.isEmpty()) // the first one is the one in use
            continue;
        const auto file = property(profiles.front().path(), ".Profile", "Filename").toString();
        if (!file.isEmpty())
            return file;
    }
    return {};
}

ScreenProfile &ScreenProfile::current()
{
    static ScreenProfile one;
    return one;
}

QString ScreenProfile::words() const
{
    const auto name = m_screen ? QString::fromStdString(m_screen->name()) : QString();
    switch (m_from) {
    case From::Desktop:
        return m_screen ? tr("%1, from the desktop").arg(name) : tr("sRGB (no monitor profile set)");
    case From::File:
        return name;
    default:
        return tr("sRGB");
    }
}

void ScreenProfile::keep(From from, const QString &file, std::shared_ptr<const Screen> screen)
{
    ++m_round;
    m_from = from;
    m_screen = std::move(screen);
    QSettings().setValue(kKey, file);
    emit changed();
}

void ScreenProfile::restore(TaskRunner *tasks)
{
    const auto kept = QSettings().value(kKey, "desktop").toString();
    if (kept == "none") {
        m_from = From::None;
        m_screen.reset();
    } else if (kept == "desktop" || !useFile(kept)) { // a file that is gone: as if none had been chosen
        useDesktops(tasks);
    }
}

void ScreenProfile::useDesktops(TaskRunner *tasks)
{
    using Found = std::shared_ptr<const Screen>;
    TaskSpec spec{"monitor", {}, true, true};
    spec.stillWanted = [this, round = m_round] { return round == m_round; };
    tasks->run<Found>(
        spec,
        [](const Progress &) -> Result<Found> {
            const auto file = desktopsProfile();
            return file.isEmpty() ? Result<Found>(Found()) : Screen::from(file.toStdString());
        },
        this,
        [this](const Result<Found> &found) { keep(From::Desktop, "desktop", found ? *found : nullptr); });
}

Result<Done> ScreenProfile::useFile(const QString &file)
{
    const auto screen = Screen::from(file.toStdString());
    if (!screen)
        return screen.error();
    keep(From::File, file, *screen);
    return Done{};
}

void ScreenProfile::useNone()
{
    keep(From::None, "none", nullptr);
}

} // namespace wavechroma::app
