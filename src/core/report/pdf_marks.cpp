#include "core/report/pdf_marks.h"

#include "core/report/tagged_pdf.h"

namespace wavechroma {

Result<Bytes> markedAsTagged(const Bytes &pdf, const std::vector<std::string> &figures)
{
    try {
        return taggedPdf(pdf, figures);
    } catch (const std::exception &fault) {
        return internalError(
            {"the report could not be marked as tagged: {reason}", {{"reason", std::string(fault.what())}}});
    }
}

} // namespace wavechroma
