#pragma once

/// Loops over rows of floats, compiled for processors with and without registers of 256 bits; chosen when the
/// program starts. Neither may fuse products and sums, so both give the same bits.
#if defined(__x86_64__) && !defined(WAVECHROMA_SANITIZE)
#define WAVECHROMA_WIDE __attribute__((target_clones("avx2", "default")))
#else // sanitizers are not ready yet when such a choice is made
#define WAVECHROMA_WIDE
#endif
