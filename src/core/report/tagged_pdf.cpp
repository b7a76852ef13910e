#include "core/report/tagged_pdf.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

namespace wavechroma {

namespace {

/// Gives the figures below a node of the structure tree their texts.
void describe(QPDFObjectHandle node, const std::vector<std::string> &figures, size_t &next)
{
    if (node.isArray())
        for (auto &kid : node.getArrayAsVector())
            describe(kid, figures, next);
    if (!node.isDictionary())
        return;
    if (node.getKey("/S").isNameAndEquals("/Figure") && next < figures.size())
        if (const auto &text = figures[next++]; !text.empty())
            node.replaceKey("/Alt", QPDFObjectHandle::newUnicodeString(text));
    describe(node.getKey("/K"), figures, next);
}

} // namespace

std::vector<uint8_t> taggedPdf(const std::vector<uint8_t> &pdf, const std::vector<std::string> &figures)
{
    QPDF document;
    document.processMemoryFile("report", reinterpret_cast<const char *>(pdf.data()), pdf.size());
    auto root = document.getRoot();
    root.replaceKey("/MarkInfo", QPDFObjectHandle::parse("<< /Marked true >>"));
    root.replaceKey("/Lang", QPDFObjectHandle::newUnicodeString("en"));
    root.replaceKey("/ViewerPreferences", QPDFObjectHandle::parse("<< /DisplayDocTitle true >>"));
    size_t next = 0;
    describe(root.getKey("/StructTreeRoot"), figures, next);
    QPDFWriter writer(document);
    writer.setOutputMemory();
    writer.setDeterministicID(true);
    writer.write();
    const auto buffer = writer.getBufferSharedPointer();
    return std::vector<uint8_t>(buffer->getBuffer(), buffer->getBuffer() + buffer->getSize());
}

} // namespace wavechroma
