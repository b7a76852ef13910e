// DNG files of random layouts, against a slow reader written from the specification alone.
// wavechroma-bench-dng [count [first seed]]
#include "support/spec_judge.h"

#include <fmt/format.h>

using namespace wavechroma;

int main(int argc, char **argv)
{
    const uint64_t count = argc > 1 ? std::stoull(argv[1]) : 1000,
                   first = argc > 2 ? std::stoull(argv[2]) : 1001;
    const auto file = std::filesystem::temp_directory_path() / "wavechroma-bench.dng";
    uint64_t wrong = 0, refused = 0;
    for (uint64_t seed = first; seed < first + count; ++seed) {
        const testing::RandomDng dng(seed);
        const auto fault = testing::judged(dng, file);
        refused += dng.refused != 0;
        if (!fault.empty())
            fmt::print("seed {} ({}): {}\n", seed, dng.words, fault);
        wrong += !fault.empty();
    }
    std::filesystem::remove(file);
    fmt::print("{} layouts from seed {}, {} of them to be refused: {} wrong\n", count, first, refused, wrong);
    return wrong == 0 ? 0 : 1;
}
