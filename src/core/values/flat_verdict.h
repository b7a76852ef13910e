#pragma once
#include "core/base/filled.h"

namespace wavechroma {

/// What there is to say of a flat frame: its falloff and what is left of it afterwards, or why it cannot
/// serve.
struct FlatVerdict
{
    bool serves = false;
    double before = 0, after = 0; ///< falloff, 0…1, of the frame's green field
    double stopsUnder = 0;        ///< of its brightest spot, under saturation
    words::Phrase refusal;        ///< the reason, where it does not serve
};

} // namespace wavechroma
