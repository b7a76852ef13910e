#pragma once
#include "app/model/true_pixels.h"

#include <QDialog>

class QCheckBox;
class QDoubleSpinBox;
class QLineEdit;
class QSpinBox;

namespace wavechroma::app {

class FrameView;

/// Makes a chart definition over a picture of a home-made chart: rows, columns and sizes are typed, the
/// corners dragged on the frame until every window lies on its patch.
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
    void showLayout();

    std::shared_ptr<const OpenFrame> m_frame;
    std::optional<Calibration> m_calibration;
    FrameView *m_view;
    TruePixels *m_pixels;
    QLineEdit *m_name;
    QSpinBox *m_rows, *m_columns, *m_gapAfter;
    QDoubleSpinBox *m_patchWidth, *m_patchHeight, *m_gapX, *m_gapY, *m_panelGap;
    QCheckBox *m_colours;
    Corners m_corners{};
    double m_windowShare = 0.5;
    ChartDefinition m_made;
};

} // namespace wavechroma::app
