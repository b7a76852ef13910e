#pragma once
#include "app/model/task_runner.h"
#include "core/facts/other_versions.h"
#include "core/job/job.h"

#include <QDialog>
#include <QImage>
#include <array>

class QCheckBox;
class QComboBox;
class QLabel;

namespace wavechroma::app {

/// Two pictures in one place and size: beside each other, or with an edge between that a hand drags. The
/// wheel zooms both, dragging moves both; while B is held, each place shows the other one.
class TwoPictures : public QWidget
{
    Q_OBJECT
public:
    explicit TwoPictures(QWidget *parent = nullptr);
    void show(int side, const QImage &picture);
    void setSplit(bool on);
    [[nodiscard]] bool isSplit() const { return m_isSplit; }
    [[nodiscard]] bool isFlicked() const { return m_isFlicked; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {640, 360}; }

protected:
    void paintEvent(QPaintEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;

private:
    [[nodiscard]] QRect placeOf(int side) const;
    void paint(QPainter &painter, const QImage &picture, const QRect &place) const;

    std::array<QImage, 2> m_pictures;
    bool m_isSplit = false, m_isFlicked = false, m_dragsEdge = false;
    double m_zoom = 1, m_edge = 0.5;
    QPointF m_middle{0.5, 0.5}; ///< of the picture, in its own size
    QPointF m_from;
};

/// Any two frames of the job side by side, each through what serves it or another way to colour it: one thing
/// under two lights, one scene by two cameras, one chart by two calibrations.
class TwoFramesDialog : public QDialog
{
    Q_OBJECT
public:
    TwoFramesDialog(const Job &job, RowId first, RowId second, TaskRunner *tasks, QWidget *parent);

    struct Side
    {
        QComboBox *frames, *versions;
        std::vector<OtherVersion> others; ///< after what serves the frame, and the file's own matrix
        QImage picture;
    };
    [[nodiscard]] const Side &side(int which) const { return m_sides[size_t(which)]; }
    [[nodiscard]] TwoPictures *pictures() const { return m_pictures; }

private:
    void fillVersions(int which);
    void ask(int which);
    [[nodiscard]] RowId frameOf(int which) const;

    Job m_job;
    TaskRunner *m_tasks;
    std::vector<RowId> m_frames;
    std::array<Side, 2> m_sides;
    TwoPictures *m_pictures;
    QCheckBox *m_split;
    QLabel *m_message;
};

} // namespace wavechroma::app
