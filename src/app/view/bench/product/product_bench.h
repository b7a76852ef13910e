#pragma once
#include "app/model/product_editor.h"

#include <QLabel>
#include <QWidget>

namespace wavechroma::app {

class ProductPanel;
class ProductView;
class TruePixels;

/// The bench of a product frame: the picture as it will leave, and beside it what serves it, its balance, its
/// level, its probes.
class ProductBench : public QWidget
{
    Q_OBJECT
public:
    ProductBench(JobDocument *job, TaskRunner *tasks, FrameEditor *frames, QWidget *parent = nullptr);

    [[nodiscard]] ProductEditor *editor() const { return m_editor; }
    [[nodiscard]] ProductView *view() const { return m_view; }
    [[nodiscard]] ProductPanel *panel() const { return m_panel; }
    void flick(bool on);
    void nextOther();                        ///< another of the versions to flick to
    [[nodiscard]] QString otherName() const; ///< empty: there is none
    void step(int by);                       ///< to the next frame of the run, or the one before
    void layProbe(const PixelPoint &at);
    void layInMiddle(); ///< of what is in sight

signals:
    void frameAsked(qint64 frame);
    void targetAsked();

private:
    void showFacts();
    void showPicture();
    void askOther();

    JobDocument *m_job;
    FrameEditor *m_frames;
    ProductEditor *m_editor;
    TruePixels *m_pixels, *m_otherPixels;
    ProductView *m_view;
    ProductPanel *m_panel;
    QLabel *m_head, *m_hint;
    int m_other = 0; ///< into the versions
    std::shared_ptr<const OpenFrame> m_otherFrame;
    QString m_otherMissing; ///< why there is none
};

} // namespace wavechroma::app
