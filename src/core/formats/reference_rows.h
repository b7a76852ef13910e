#pragma once
#include "core/chart/chart_definition.h"
#include "core/formats/reference_agreement.h"
#include "core/formats/reference_heading.h"
#include "core/values/table_reading.h"

#include <functional>
#include <map>

namespace wavechroma {

/// Reference values read from a table, by patch id. "A01", "a1" and "A1" are the same. What scale the
/// table's values have is decided once, from all of its rows.
class ReferenceRows
{
public:
    /// Colours added are XYZ, as shares of white where the table has 0 to 100.
    explicit ReferenceRows(std::string file) : m_file(std::move(file)) {}
    /// Unusable for an empty or repeated id. `line` 0: not known. `beside`: XYZ that stand in the row of a
    /// L*, a*, b*.
    Result<Done> add(const std::string &id, ChartPatch patch, int line, std::optional<Xyz> beside = {});
    /// Colours under another standard illuminant are taken to D50 by Bradford; spectra need nothing. `isLab`:
    /// the table has L*, a*, b* against that light's white, rather than XYZ.
    void setHeading(const ReferenceHeading &heading, bool isLab)
    {
        m_heading = heading;
        m_isLab = isLab;
    }
    /// CGATS.17 has XYZ of 0 to 100 whatever a table holds (a single dark target too).
    void setPerCent() { m_isPerCent = true; }

    /// The chart with these values. XYZ whose lightest is at most 1.3 are shares of white, since no chart is
    /// all that dark; spectra above 1.2 somewhere are per cent. Unusable when a patch of the chart has no
    /// value; when a value is for a place that the chart does not have, so that it is another chart's; for
    /// an observer of 10° and for lights that are not known, unless the values are spectra; for spectra that
    /// no surface has; for L*, a*, b* beside X, Y, Z that are other colours under the table's light.
    [[nodiscard]] Result<ChartDefinition> putInto(const ChartDefinition &chart) const;
    /// All of them, D50, under their names as the table has them, in its order. Unusable as putInto(), and
    /// where no row tells whether XYZ are shares or per cent.
    [[nodiscard]] Result<std::vector<std::pair<std::string, Xyz>>> colours() const;
    /// What putInto() and colours() take the table for.
    [[nodiscard]] TableReading reading() const;

private:
    using ById = std::map<std::string, ChartPatch>;
    [[nodiscard]] bool hasColours() const;
    [[nodiscard]] double lightestY() const;
    [[nodiscard]] double largestReflectance() const;
    [[nodiscard]] Result<ChartPatch> finished(const std::string &id, const ChartPatch &patch,
                                              double scale) const;
    [[nodiscard]] Result<ById> all(double scaleOfColours) const;
    [[nodiscard]] Result<std::function<Xyz(const Xyz &)>> toD50() const;
    [[nodiscard]] Result<Done> checkBeside() const;
    std::string m_file;
    ReferenceHeading m_heading;
    bool m_isLab = false, m_isPerCent = false;
    ById m_patches;
    std::vector<BothColours> m_both;
    std::map<std::string, int> m_lines;
    std::vector<std::string> m_names; ///< as the table has them
};

/// "a01" → "A1".
[[nodiscard]] std::string plainPatchId(std::string id);

/// Why these cannot be the L*, a*, b* of a surface; empty when they can.
[[nodiscard]] words::Phrase labFault(double l, double a, double b);
/// Why these cannot be the X, Y, Z (0 to 100) of a surface under any usual light; empty when they can.
[[nodiscard]] words::Phrase xyzFault(double x, double y, double z);

} // namespace wavechroma
