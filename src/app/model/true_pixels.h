#pragma once
#include "app/model/frame_pictures.h"
#include "core/tasks/frame_files.h"

#include <QRect>

namespace wavechroma::app {

/// The part of the open frame that is seen at 100 % or larger, at every pixel, made off the interface thread.
/// What is in sight comes with a margin, so that a small move of the hand finds it there; another colour
/// makes no pixel anew.
class TruePixels : public QObject
{
    Q_OBJECT
public:
    explicit TruePixels(TaskRunner *tasks, QObject *parent = nullptr);

    /// The frame and colour of now; null: none.
    void setFrame(std::shared_ptr<const OpenFrame> frame);
    /// What is in sight, in frame pixels.
    void see(const QRect &area);
    /// Returns where image() lies in the frame; empty if there is none.
    [[nodiscard]] QRect area() const { return m_area; }
    [[nodiscard]] const QImage &image() const { return m_image; }

signals:
    void changed();

private:
    void make(const QRect &area);
    void colour();

    TaskRunner *m_tasks;
    std::shared_ptr<const OpenFrame> m_frame;
    std::shared_ptr<const Overview> m_pixels; ///< of m_area
    QRect m_area, m_asked;
    QImage m_image;
    int m_round = 0; ///< of frames; what belongs to an older one is dropped
};

} // namespace wavechroma::app
