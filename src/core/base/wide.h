#pragma once

/// Loops over rows, compiled for processors with registers of 512, 256 and 128 bits; chosen when the program
/// starts. Files that hold them are compiled with -ffp-contract=off: products and sums are not fused, so all
/// three give the same bits.
#if defined(__x86_64__) && !defined(WAVECHROMA_SANITIZE)
#define WAVECHROMA_WIDE __attribute__((target_clones("arch=x86-64-v4", "avx2", "default")))
#else // sanitizers are not ready yet when such a choice is made
#define WAVECHROMA_WIDE
#endif
