#pragma once
#include "core/color/colors.h"

#include <array>
#include <optional>
#include <string_view>

namespace wavechroma {

/// How a colour difference is measured. The measure is named wherever a figure stands.
enum class DifferenceMeasure {
    De2000,       ///< CIEDE2000 (ISO/CIE 11664-6)
    De94,         ///< CIE94, graphic arts
    De94Textiles, ///< CIE94, textiles
    De76          ///< CIE 1976, ΔE*ab (ISO/CIE 11664-4)
};
struct DifferenceMeasureRow
{
    DifferenceMeasure measure;
    const char *id;   ///< in documents and on the command line
    const char *sign; ///< before a figure
    const char *unit; ///< of a figure in a document
};
inline constexpr std::array<DifferenceMeasureRow, 4> kDifferenceMeasures{{
    {DifferenceMeasure::De2000, "de2000", "ΔE00", "dE2000"},
    {DifferenceMeasure::De94, "de94", "ΔE94", "dE94"},
    {DifferenceMeasure::De94Textiles, "de94-textiles", "ΔE94 (textiles)", "dE94 textiles"},
    {DifferenceMeasure::De76, "de76", "ΔE76", "dE76"},
}};
[[nodiscard]] std::optional<DifferenceMeasure> differenceMeasureFrom(std::string_view id);
[[nodiscard]] inline const DifferenceMeasureRow &rowOf(DifferenceMeasure measure)
{
    return kDifferenceMeasures[size_t(measure)];
}

/// Unitless, ≥ 0. CIE94 weighs by the reference's chroma and so is not symmetric; the others are.
[[nodiscard]] double difference(DifferenceMeasure measure, const Lab &sample, const Lab &reference);

} // namespace wavechroma
