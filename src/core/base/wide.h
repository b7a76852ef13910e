#pragma once
#include <algorithm>
#include <bit>
#include <cstdint>

/// Loops over rows, compiled for processors with registers of 512, 256 and 128 bits; chosen when the program
/// starts. Files that hold them are compiled with -ffp-contract=off: products and sums are not fused, so all
/// three give the same bits.
#if defined(__x86_64__) && !defined(WAVECHROMA_SANITIZE)
#define WAVECHROMA_WIDE __attribute__((target_clones("arch=x86-64-v4", "avx2", "default")))
#else // sanitizers are not ready yet when such a choice is made
#define WAVECHROMA_WIDE
#endif

namespace wavechroma {

/// The larger of v and 0. By their bits: numbers above 0 are in the order of theirs, all others are less as
/// integers, and of that loops become one instruction, where a comparison of floats takes two.
inline float positive(float v)
{
    return std::bit_cast<float>(std::max(std::bit_cast<int32_t>(v), 0));
}
/// v within least…1, 0 < least < 1, in the same way; what is no number counts as infinity of its sign.
inline float clippedToOne(float v, float least)
{
    return std::bit_cast<float>(
        std::clamp(std::bit_cast<int32_t>(v), std::bit_cast<int32_t>(least), std::bit_cast<int32_t>(1.0F)));
}

} // namespace wavechroma
