#pragma once
#include "core/formats/dng_frame.h"

namespace wavechroma {

/// Whose picture it is, where it was taken, all of Exif and the maker's note, and what programs noted beside
/// it (XMP), from a frame's own bytes into a DNG of it, as far as the metadata library reads that format;
/// what is damaged is left out. What speaks of the file that it stood in (sizes, filter, places) stays there.
void takeNotesOf(const Bytes &file, DngFrame &to);

} // namespace wavechroma
