#include "core/report/inter_fonts.h"

#include <array>

// The assembler puts the files into the program: a source file of numbers would be ten times as long.
#define WAVECHROMA_FONT(name, file)                                                                          \
    __asm__(".section .rodata\n"                                                                             \
            ".global wavechroma_font_" #name "\n"                                                            \
            ".global wavechroma_font_" #name "_end\n"                                                        \
            "wavechroma_font_" #name ":\n"                                                                   \
            ".incbin \"" WAVECHROMA_FONTS "/" file "\"\n"                                                    \
            "wavechroma_font_" #name "_end:\n"                                                               \
            ".byte 0\n"                                                                                      \
            ".previous\n");                                                                                  \
    extern "C" const char wavechroma_font_##name[];                                                          \
    extern "C" const char wavechroma_font_##name##_end[];

WAVECHROMA_FONT(regular, "Inter-Regular.otf")
WAVECHROMA_FONT(semibold, "Inter-SemiBold.otf")
WAVECHROMA_FONT(bold, "Inter-Bold.otf")

namespace wavechroma {

std::span<const std::span<const char>> interFonts()
{
    static const std::array<std::span<const char>, 3> kFonts{
        std::span(wavechroma_font_regular, wavechroma_font_regular_end),
        std::span(wavechroma_font_semibold, wavechroma_font_semibold_end),
        std::span(wavechroma_font_bold, wavechroma_font_bold_end)};
    return kFonts;
}

} // namespace wavechroma
