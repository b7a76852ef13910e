#include "core/color/difference.h"

#include "core/color/de2000.h"
#include "core/color/lab_difference.h"

namespace wavechroma {

std::optional<DifferenceMeasure> differenceMeasureFrom(std::string_view id)
{
    for (const auto &row : kDifferenceMeasures)
        if (row.id == id)
            return row.measure;
    return std::nullopt;
}

double difference(DifferenceMeasure measure, const Lab &sample, const Lab &reference)
{
    switch (measure) {
    case DifferenceMeasure::De94:
        return de94(sample, reference);
    case DifferenceMeasure::De94Textiles:
        return de94Textiles(sample, reference);
    case DifferenceMeasure::De76:
        return de76(sample, reference);
    case DifferenceMeasure::De2000:
        break;
    }
    return de2000(sample, reference);
}

} // namespace wavechroma
