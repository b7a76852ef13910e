#pragma once
#include "app/model/product_editor.h"
#include "app/view/frame/frame_view.h"

namespace wavechroma::app {

/// A product frame as it will leave, with its probes on it, and another version of it to flick to, or beside
/// it with an edge between that a hand drags.
class ProductView : public FrameView
{
    Q_OBJECT
public:
    explicit ProductView(QWidget *parent = nullptr);

    void show(const std::shared_ptr<const ProductFacts> &facts);
    void setOther(std::shared_ptr<const OpenFrame> other, const QString &name); ///< null: there is none
    void setOtherPixels(const QImage &image, const QRect &area);
    void setFlicked(bool on); ///< while the key is held
    [[nodiscard]] bool isFlicked() const { return m_isFlicked; }
    void setSplit(bool on);
    [[nodiscard]] bool isSplit() const { return m_split >= 0; }
    [[nodiscard]] double splitAt() const { return m_split; } ///< share of the width; below 0: whole
    void pick(const QString &name); ///< the probe that keys and wheel are about; empty: none
    [[nodiscard]] QString picked() const { return m_picked; }
    [[nodiscard]] QPointF probeOnView(const std::string &name) const;

signals:
    void probePicked(const QString &name);
    void probeLaid(const wavechroma::ProbePlace &place, bool finished);
    void newProbeAsked(const wavechroma::PixelPoint &at); ///< a double click where none is
    void targetAsked();                                   ///< a double click on one
    void flickAsked(bool on);
    void stepAsked(int by); ///< to a neighbour of the run

protected:
    void paintPicture(QPainter &painter, const QTransform &view) const override;
    void paintOver(QPainter &painter) const override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;

private:
    [[nodiscard]] const Probe *probeAt(const QPointF &point) const;
    [[nodiscard]] const Probe *pickedProbe() const;
    [[nodiscard]] bool isOnEdge(const QPointF &point) const;
    void paintProbe(QPainter &painter, const ProbePlace &place, bool isProposed, bool isPicked) const;
    void paintHatch(QPainter &painter, const QRegion &region, double block, bool isRising) const;
    void paintEdge(QPainter &painter) const;
    void paintCrop(QPainter &painter) const;
    bool nudge(const QKeyEvent *event);

    std::shared_ptr<const ProductFacts> m_facts = std::make_shared<const ProductFacts>();
    std::shared_ptr<const OpenFrame> m_other;
    QString m_otherName, m_picked;
    QImage m_otherPixels;
    QRect m_otherArea;
    QRegion m_doubted, m_outside; ///< each in its cells
    std::optional<ProbePlace> m_dragged;
    QPointF m_from;
    double m_split = -1;
    bool m_isFlicked = false, m_dragsEdge = false, m_nudged = false;
};

} // namespace wavechroma::app
