#pragma once
#include "core/values/colour_lean.h"

#include <QDialog>
#include <array>

class QDoubleSpinBox;

namespace wavechroma::app {

/// Eight sectors of hue, each with its hue, chroma and lightness in steps, on top of the exact result; what
/// is changed is seen at once.
class SectorDialog : public QDialog
{
    Q_OBJECT
public:
    SectorDialog(const ColourLean &lean, QWidget *parent);
    void show(const ColourLean &lean);

signals:
    void leanAsked(const wavechroma::ColourLean &lean);
    void tableAsked();
    void refused(const QString &why); ///< two sectors side by side would be turned too far apart

private:
    void ask();
    ColourLean m_lean;
    std::array<std::array<QDoubleSpinBox *, 3>, kHueSectors> m_boxes{};
    bool m_isShowing = false;
};

} // namespace wavechroma::app
