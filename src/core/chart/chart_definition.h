#pragma once
#include "core/base/result.h"
#include "core/color/spectrum.h"

#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A patch of a chart and what it should be.
struct ChartPatch
{
    std::string id; ///< in a grid row letter, column number: "A1" is the top-left patch of the upright chart
    Xyz reference;  ///< D50
    std::optional<Spectrum> reflectance;
    bool isKnown = true; ///< false: it has its place in the layout, but no colour to go by
    bool operator==(const ChartPatch &) const = default;
};

struct PanelGap
{
    int afterColumn = 0;
    double widthMm = 0; ///< added between the two columns on top of the normal pitch
    bool operator==(const PanelGap &) const = default;
};

/// Where a patch lies in a layout that is no grid: its middle and its size, in mm; a disc is as wide as high.
struct PatchPlace
{
    double x = 0, y = 0, widthMm = 0, heightMm = 0;
    bool isDisc = false;
    bool operator==(const PatchPlace &) const = default;
};

/// Where the reference values come from.
struct ReferenceSource
{
    std::string illuminant, observer, source, measuredOn;
    bool operator==(const ReferenceSource &) const = default;
};

/// A chart: its layout in millimetres and its reference colours, as `wavechroma.chart/1`.
struct ChartDefinition
{
    std::string id, name;
    int rows = 0, columns = 0;
    double patchWidthMm = 0, patchHeightMm = 0;
    double pitchXMm = 0, pitchYMm = 0; ///< from one patch's left (top) edge to the next one's
    std::optional<PanelGap> panelGap;
    /// Of a layout that is no grid, one for each patch, from the upper left corner of the rectangle round
    /// them all. It then counts as one row; patch and pitch are those of the smallest and of the closest.
    std::vector<PatchPlace> places;
    std::vector<std::string> neutral; ///< ids, lightest first
    std::vector<ChartPatch> patches;  ///< row by row
    ReferenceSource reference;
    /// False: a plain grid whose colours nobody has measured yet. Every reference then holds a mid-grey that
    /// says nothing.
    bool colorsKnown = true;

    [[nodiscard]] const ChartPatch *patch(const std::string &patchId) const;
    bool operator==(const ChartDefinition &) const = default;
};

/// "A1" for row 0, column 0. Rows past Z are "AA", "AB" …
[[nodiscard]] std::string patchId(int row, int column);

/// How its patches are shown side by side: a grid as it is, another layout in its patches' order, about half
/// as wide again as high.
struct ShownGrid
{
    int rows = 1, columns = 1;
};
[[nodiscard]] ShownGrid shownGrid(const ChartDefinition &chart);

/// Neighbouring columns without a gap between them.
struct ChartPanel
{
    int firstColumn = 0, columns = 0;
};
[[nodiscard]] std::vector<ChartPanel> panelsOf(const ChartDefinition &chart);

/// The same chart with its patches at these places, one for each, moved so that the rectangle round them
/// begins at (0, 0).
[[nodiscard]] ChartDefinition placedFreely(ChartDefinition chart, std::vector<PatchPlace> places);

/// Does the definition hang together: counts, ids, sizes, values? The message names the field.
[[nodiscard]] Result<Done> check(const ChartDefinition &chart);

/// The charts that the search looks for unasked, by the pattern of their colours: `classic-24` with its
/// published nominal values; `double-24` (48 patches in two panels), `field-140` and `grey-strip` with
/// made-up demo references, labelled so.
[[nodiscard]] const std::vector<ChartDefinition> &chartCatalogue();
/// Those of chartCatalogue() and the ones that only their name finds: `grey-card` (one patch), `grey-cube` (a
/// white, a grey and a dark field on each of two faces: A, B, C from the top, column 1 the left face, 2 the
/// right one; C2 is the light trap), `even-field` (the whole frame), and any `grid-RxC` of R rows and C
/// columns, 1 to 100 each, whose colours are unknown. Unusable, with the known ids, when there is none of
/// that name.
[[nodiscard]] Result<ChartDefinition> chartFromCatalogue(const std::string &id);
[[nodiscard]] std::vector<std::string> chartIds(); ///< all of them, `grid-RxC` as the last

/// Are its values made up for the demo, as those of `double-24` and `field-140` are? A real chart of that
/// layout has others.
[[nodiscard]] bool hasDemoValues(const ChartDefinition &chart);
/// The layout alone: nothing is known of its colours, nor which of them are neutral.
[[nodiscard]] ChartDefinition withoutValues(ChartDefinition chart);

/// A grid of square patches with unknown colours.
[[nodiscard]] ChartDefinition plainGrid(int rows, int columns);

/// All patches are neutral: greys in known steps, found by their levels rather than by their colours.
[[nodiscard]] bool isGreyScale(const ChartDefinition &chart);

} // namespace wavechroma
