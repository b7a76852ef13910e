#pragma once
#include "core/chart/chart_definition.h"

#include <functional>
#include <map>

namespace wavechroma {

/// "D65" and 10 of a table's heading; empty and 0 where it says nothing.
struct ReferenceHeading
{
    std::string illuminant;
    int observerDegrees = 0;
    bool isLab = false; ///< colours are L*, a*, b* against that light's white, rather than XYZ
};
/// From lines before the data that speak of an illuminant or an observer, in CGATS's and other wordings.
[[nodiscard]] ReferenceHeading headingOf(const std::string &text);

/// Reference values read from a table, by patch id. "A01", "a1" and "A1" are the same.
class ReferenceRows
{
public:
    explicit ReferenceRows(std::string file) : m_file(std::move(file)) {}
    /// Spectra in per cent are made 0…1 and integrated under D50. Unusable for an empty or repeated id, and
    /// for a spectrum that no surface has. `line` 0: not known.
    Result<Done> add(const std::string &id, ChartPatch patch, int line);
    /// What a table's heading says of light and observer, see headingOf(): colours under another standard
    /// illuminant are taken to D50 by Bradford, spectra need nothing. Unusable for an observer of 10° and for
    /// lights that are not known, unless the colours come as spectra.
    void setHeading(const ReferenceHeading &heading) { m_heading = heading; }
    /// XYZ whose white is at most 1.3 are taken as shares rather than per cent. Unusable when a patch of the
    /// chart has no value, or a value is for a place that the chart does not have: then it is another
    /// chart's.
    [[nodiscard]] Result<ChartDefinition> putInto(const ChartDefinition &chart) const;

    /// All of them, D50, under their names as the table has them, in its order.
    [[nodiscard]] Result<std::vector<std::pair<std::string, Xyz>>> colours() const;

private:
    [[nodiscard]] double scaleOfColours() const;
    [[nodiscard]] Result<std::function<Xyz(const Xyz &)>> toD50() const;
    std::string m_file;
    ReferenceHeading m_heading;
    std::map<std::string, ChartPatch> m_patches;
    std::vector<std::string> m_names; ///< as the table has them
};

/// "a01" → "A1".
[[nodiscard]] std::string plainPatchId(std::string id);

/// Why these cannot be the L*, a*, b* of a surface; empty when they can.
[[nodiscard]] words::Phrase labFault(double l, double a, double b);

} // namespace wavechroma
