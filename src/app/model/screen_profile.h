#pragma once
#include "app/model/task_runner.h"
#include "core/tasks/look_task.h"

#include <QObject>

namespace wavechroma::app {

/// The monitor that all pictures and patches are made for: by the profile that the desktop's colour service
/// names, by a chosen file, or none, which means sRGB. The choice is kept between runs.
class ScreenProfile : public QObject
{
    Q_OBJECT
public:
    static ScreenProfile &current();

    enum class From { Desktop, File, None };
    [[nodiscard]] From from() const { return m_from; }
    [[nodiscard]] const Screen *screen() const { return m_screen.get(); } ///< null: sRGB
    [[nodiscard]] std::shared_ptr<const Screen> shared() const
    {
        return m_screen;
    }                                    ///< for work off this thread
    [[nodiscard]] QString words() const; ///< what is in use, or that nothing is and why

    /// Restores the last choice. The desktop is asked off the interface thread.
    void restore(TaskRunner *tasks);
    void useDesktops(TaskRunner *tasks);
    [[nodiscard]] Result<Done> useFile(const QString &file);
    void useNone();

signals:
    void changed();

private:
    ScreenProfile() = default;
    void keep(From from, const QString &file, std::shared_ptr<const Screen> screen);

    From m_from = From::None;
    std::shared_ptr<const Screen> m_screen;
    int m_round = 0; ///< of choices: the desktop's answer does not overrule a later one
};

/// The file that the colour service (org.freedesktop.ColorManager on the system bus) has for the first
/// monitor that has one; empty: no service, or no profile.
[[nodiscard]] QString desktopsProfile();

} // namespace wavechroma::app
