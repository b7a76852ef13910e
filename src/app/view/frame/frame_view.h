#pragma once
#include "app/model/frame_pictures.h"
#include "app/view/frame/frame_marks.h"
#include "core/chart/chart_geometry.h"
#include "core/values/reading.h"

#include <QTransform>
#include <QWidget>

namespace wavechroma::app {

/// A frame, large: zoom, pan, the chart's corners and patch windows on it, a loupe, and hatching of what is
/// clipped or lost in noise. A tool takes clicks for three corners of a chart, the ends of a ruler or
/// opposite corners of an area. Shows the picture upright; all coordinates that go in and out are the frame's
/// own (contract: before the orientation flag).
class FrameView : public QWidget
{
    Q_OBJECT
public:
    explicit FrameView(QWidget *parent = nullptr);

    void setFrame(std::shared_ptr<const OpenFrame> frame); ///< null: nothing to show
    void setMessage(const QString &message);               ///< shown while there is no picture
    void setPlacement(const std::optional<Reading> &reading, const ChartDefinition &chart);
    void setEditable(bool editable);
    /// Every pixel of a part of the frame, which is drawn over the smaller sizes; an empty area: none.
    void setPixels(const QImage &image, const QRect &area);
    [[nodiscard]] const QRect &pixelArea() const { return m_pixelArea; }

    enum class Tool { None, ThreeCorners, Ruler, Area, Crop, Line, Square, Patch };
    /// Takes two or three points, by clicks, or with the keyboard by arrows and Enter; Escape gives up.
    void startTool(Tool tool);
    [[nodiscard]] Tool tool() const { return m_tool; }
    void showRuler(const QString &words)
    {
        m_rulerWords = words;
        update();
    }
    [[nodiscard]] QString rulerWords() const { return m_rulerWords; }
    void setHatched(bool on);
    void setLoupe(bool on);
    [[nodiscard]] bool isHatched() const { return m_hatched; }
    [[nodiscard]] bool hasLoupe() const { return m_loupe; }
    [[nodiscard]] QPointF patchOnView(const std::string &id) const; ///< its window's middle

    [[nodiscard]] double zoom() const { return m_zoom; } ///< screen pixels per frame pixel
    [[nodiscard]] QPointF viewFromFrame(const PixelPoint &p) const;
    [[nodiscard]] PixelPoint frameFromView(const QPointF &p) const;
    [[nodiscard]] const std::shared_ptr<const OpenFrame> &frame() const { return m_frame; }

public slots:
    void zoomToFit();
    void zoomToPixels(); ///< 100 %
    void zoomBy(double factor);

signals:
    /// While a handle moves (`finished` false) and when it is let go.
    void placementMoved(const wavechroma::Corners &corners, double windowShare, bool finished);
    /// A single corner was let go by the mouse: the one time that it may be drawn to the patch's own.
    void cornerDropped(const wavechroma::Corners &corners, double windowShare);
    void patchClicked(const QString &id);
    /// The part of the frame, in its pixels, that is seen so large that every pixel counts.
    void pixelsSeen(const QRect &area);
    void cornersClicked(const std::vector<wavechroma::PixelPoint> &three);
    void areaDrawn(const wavechroma::PixelPoint &from,
                   const wavechroma::PixelPoint &to); ///< opposite corners
    void rulerDrawn(const wavechroma::PixelPoint &from, const wavechroma::PixelPoint &to);
    void cropDrawn(const wavechroma::PixelPoint &from, const wavechroma::PixelPoint &to);
    void patchDrawn(const wavechroma::PixelPoint &from, const wavechroma::PixelPoint &to);
    void lineDrawn(const wavechroma::PixelPoint &from, const wavechroma::PixelPoint &to);
    void squareClicked(const std::vector<wavechroma::PixelPoint> &corners);

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;
    bool focusNextPrevChild(bool next) override;

    /// The picture under everything else.
    virtual void paintPicture(QPainter &painter, const QTransform &view) const;
    virtual void paintOver(QPainter &painter) const { (void)painter; } ///< on top of the picture
    void drawVersion(QPainter &painter, const QTransform &view, const OpenFrame &frame, const QImage &pixels,
                     const QRect &pixelArea) const;
    [[nodiscard]] QTransform transform() const; ///< frame pixels → view
    [[nodiscard]] bool isBusyWithTool() const { return m_tool != Tool::None; }

private:
    static constexpr double kGrip = 11;   ///< pixels a handle is taken by
    enum Handle { None = -1, Whole = 4 }; // 0…3 are the corners
    void zoomAbout(double factor, const QPointF &centre);
    void clampOffset();
    [[nodiscard]] QTransform upright() const; ///< frame pixels → upright picture pixels
    [[nodiscard]] QPointF wholeHandle() const;
    [[nodiscard]] int handleAt(const QPointF &point) const;
    void move(int handle, double dx, double dy);
    void paintPlacement(QPainter &painter) const;
    [[nodiscard]] QPolygonF outlineOf(const PatchPlace &place, const Homography &onFrame) const; ///< view
    void paintLoupe(QPainter &painter, const PixelPoint &point, const QStringList &words) const;
    void paintTool(QPainter &painter) const;
    void paintTag(QPainter &painter, const QString &words) const;
    void clickTool(const PixelPoint &at);
    bool toolKey(const QKeyEvent *event);
    [[nodiscard]] const std::string &idAt(int row, int column) const; ///< of a patch of the chart
    [[nodiscard]] std::string patchAt(const QPointF &point) const;
    [[nodiscard]] PixelPoint cursorPoint() const;
    [[nodiscard]] QRect pixelsInSight() const; ///< empty: nothing is seen so large
    void nudge(int dx, int dy);
    void changeWindow(double by);

    std::shared_ptr<const OpenFrame> m_frame;
    QImage m_pixels;
    QRect m_pixelArea;
    QString m_message;
    ChartDefinition m_chart;
    bool m_placed = false, m_editable = true, m_fits = true, m_nudged = false;
    Corners m_corners{};
    LensShape m_lens;
    double m_windowShare = 0.5, m_zoom = 1;
    QPointF m_offset, m_last;
    int m_active = None, m_dragging = None;
    bool m_panning = false, m_moved = false;
    std::vector<std::string> m_leftOut;
    Hatching m_hatching;
    bool m_hatched = false, m_loupe = false;
    Tool m_tool = Tool::None;
    std::vector<PixelPoint> m_clicked;
    std::optional<PixelPoint> m_cursor; ///< where the mouse or the arrows are, on the frame
    QString m_rulerWords;
};

} // namespace wavechroma::app
