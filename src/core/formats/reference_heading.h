#pragma once
#include "core/base/result.h"

#include <string>

namespace wavechroma {

/// "D65" and 10 of a table's heading; empty and 0 where it says nothing.
struct ReferenceHeading
{
    std::string illuminant;
    int observerDegrees = 0;
};

/// The light and the observer that colours are for, from the lines before BEGIN_DATA of CGATS text, or from
/// the comment lines ('#') of CSV. Only a keyword that names one counts: ILLUMINANT, OBSERVER,
/// ILLUMINATION_NAME, WEIGHTING_FUNCTION (CGATS.17, annex A) and the same words before ':' or '=' in a
/// comment; a sentence that begins otherwise says nothing. Unusable, with the line, where the keyword's value
/// is not understood, and where two lines contradict each other.
[[nodiscard]] Result<ReferenceHeading> headingOf(const std::string &text, bool isCgats,
                                                 const std::string &name);

} // namespace wavechroma
