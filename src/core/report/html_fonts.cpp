#include "core/report/html_fonts.h"

#include "core/report/base64.h"
#include "core/report/inter_fonts.h"

#include <fmt/format.h>
#include <hb-subset.h>
#include <memory>

namespace wavechroma {

namespace {

template <auto Free> struct FreeWith
{
    template <class T> void operator()(T *one) const { Free(one); }
};
using Blob = std::unique_ptr<hb_blob_t, FreeWith<hb_blob_destroy>>;
using Face = std::unique_ptr<hb_face_t, FreeWith<hb_face_destroy>>;
using Letters = std::unique_ptr<hb_subset_input_t, FreeWith<hb_subset_input_destroy>>;
using Buffer = std::unique_ptr<hb_buffer_t, FreeWith<hb_buffer_destroy>>;

Letters lettersOf(const std::string &text)
{
    Letters out(hb_subset_input_create_or_fail());
    const Buffer buffer(hb_buffer_create());
    if (!out)
        return out;
    hb_buffer_add_utf8(buffer.get(), text.data(), int(text.size()), 0, int(text.size()));
    unsigned count = 0;
    const auto *glyphs = hb_buffer_get_glyph_infos(buffer.get(), &count);
    for (unsigned i = 0; i < count; ++i) // code points still: nothing was shaped
        hb_set_add(hb_subset_input_unicode_set(out.get()), glyphs[i].codepoint);
    return out;
}

/// The font with those letters and nothing else; empty where the library cannot make it.
std::string subset(std::span<const char> font, hb_subset_input_t *letters)
{
    const Blob whole(
        hb_blob_create(font.data(), unsigned(font.size()), HB_MEMORY_MODE_READONLY, nullptr, nullptr));
    const Face face(hb_face_create(whole.get(), 0));
    const Face part(hb_subset_or_fail(face.get(), letters));
    if (!part)
        return {};
    const Blob bytes(hb_face_reference_blob(part.get()));
    unsigned length = 0;
    const char *data = hb_blob_get_data(bytes.get(), &length);
    return {data, length};
}

} // namespace

std::string fontFacesFor(const std::string &text)
{
    constexpr int kWeights[] = {400, 600, 700}; // as interFonts() has them
    const auto letters = lettersOf(text);
    std::string out;
    if (!letters)
        return out;
    for (size_t i = 0; i < std::size(kWeights); ++i)
        if (const auto font = subset(interFonts()[i], letters.get()); !font.empty())
            out += fmt::format("@font-face{{font-family:Inter;font-weight:{};", kWeights[i]) +
                   fmt::format("src:url(data:font/otf;base64,{})}}\n", base64(font));
    return out;
}

} // namespace wavechroma
