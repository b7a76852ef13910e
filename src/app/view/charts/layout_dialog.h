#pragma once
#include "app/model/true_pixels.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QFormLayout;
class QLineEdit;
class QSpinBox;

namespace wavechroma::app {

class DrawnPatches;
class FrameView;

/// Makes a chart definition over a picture of a home-made chart. Of a grid rows, columns and sizes are typed,
/// the corners dragged on the frame until every window lies on its patch; other patches are drawn one by one.
class LayoutDialog : public QDialog
{
    Q_OBJECT
public:
    LayoutDialog(TaskRunner *tasks, std::shared_ptr<const OpenFrame> frame,
                 const std::optional<Calibration> &calibration, QWidget *parent = nullptr);
    [[nodiscard]] ChartDefinition chart() const { return m_made; }
    void accept() override; ///< only with a definition that hangs together; else it says why
    [[nodiscard]] FrameView *view() const { return m_view; }

private:
    [[nodiscard]] ChartDefinition layoutNow() const;
    [[nodiscard]] bool isGrid() const;
    [[nodiscard]] const Corners &corners() const;
    QFormLayout *makeLines();
    void moved(const Corners &corners, double share);
    void adapt(); ///< to grid or patches
    void showLayout();

    std::shared_ptr<const OpenFrame> m_frame;
    std::optional<Calibration> m_calibration;
    FrameView *m_view;
    TruePixels *m_pixels;
    QLineEdit *m_name;
    QComboBox *m_kind;
    QWidget *m_gridLines;
    DrawnPatches *m_drawn;
    QSpinBox *m_rows, *m_columns, *m_gapAfter;
    QDoubleSpinBox *m_patchWidth, *m_patchHeight, *m_gapX, *m_gapY, *m_panelGap;
    QCheckBox *m_colours;
    Corners m_corners{}; ///< of a grid
    double m_windowShare = 0.5;
    ChartDefinition m_made;
};

} // namespace wavechroma::app
