#pragma once
#include "app/model/task_runner.h"
#include "core/tasks/studio_task.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QFormLayout;
class QLabel;
class QPushButton;
class QSpinBox;

namespace wavechroma::app {

/// Stands in for a set and a tethered camera: the light, the body, what lies on the table and what goes wrong
/// are chosen here, and a press writes a raw frame into the folder that is watched.
class StudioPanel : public QWidget
{
    Q_OBJECT
public:
    explicit StudioPanel(TaskRunner *tasks, QWidget *parent = nullptr);

    void setFolder(const QString &folder); ///< where frames go; empty: it cannot shoot
    [[nodiscard]] sim::StudioSettings settings() const;
    void shoot();
    void stop();
    [[nodiscard]] bool isShooting() const;

signals:
    void aboutToShoot();
    void shot(const QString &file);
    void problem(const QString &message);

private:
    void makeLight(QFormLayout *form);
    void makeCamera(QFormLayout *form);
    void makeTable(QFormLayout *form);
    void makeMishaps(QFormLayout *form);
    void showLenses();
    void adapt();

    QString m_folder, m_file;
    QComboBox *m_lamp = nullptr, *m_modifier = nullptr, *m_camera = nullptr, *m_lens = nullptr,
              *m_iso = nullptr, *m_time = nullptr, *m_aperture = nullptr, *m_subject = nullptr,
              *m_chart = nullptr;
    QDoubleSpinBox *m_power = nullptr;
    QSpinBox *m_width = nullptr, *m_turn = nullptr, *m_yarn = nullptr;
    struct Mishap
    {
        bool sim::StudioSettings::*field;
        QCheckBox *box;
    };
    std::vector<Mishap> m_mishaps;
    QCheckBox *m_tired = nullptr;
    QPushButton *m_shoot = nullptr;
    QLabel *m_state = nullptr;
    TaskRunner *m_tasks;
    uint64_t m_count = 0;
    std::string m_lastLight; ///< of the last shot, to notice a change of it
};

} // namespace wavechroma::app
