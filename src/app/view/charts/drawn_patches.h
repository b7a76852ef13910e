#pragma once
#include "core/chart/drawn_layout.h"

#include <QWidget>

class QDoubleSpinBox;
class QListWidget;
class QPushButton;

namespace wavechroma::app {

/// The patches of a layout that is drawn one by one: the size of the rectangle that the corners lie on to
/// begin with, then each patch by its name.
class DrawnPatches : public QWidget
{
    Q_OBJECT
public:
    explicit DrawnPatches(QWidget *parent = nullptr);
    /// Until the first patch is drawn, the rectangle of the size asked for at these corners.
    void start(const Corners &corners);
    void moveTo(const Corners &corners); ///< dragged
    /// Returns false where no patch is between those points of the frame.
    bool add(const PixelPoint &from, const PixelPoint &to);
    [[nodiscard]] const DrawnLayout &layout() const { return m_layout; }
    [[nodiscard]] bool hasPatches() const { return !m_layout.chart.places.empty(); }

signals:
    void drawAsked(); ///< two corners of the next patch
    void changed();

private:
    void showPatches();
    void rename();
    void remove();
    void outlineAgain();

    DrawnLayout m_layout;
    QDoubleSpinBox *m_width, *m_height;
    QListWidget *m_list;
    QPushButton *m_remove;
    bool m_isDisc = false;
};

} // namespace wavechroma::app
