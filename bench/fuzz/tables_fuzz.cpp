// Tables of references, targets and places: CGATS.17, CSV, JSON; and .cube.
#include "bench/fuzz/memory_file.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/cube_lut.h"
#include "core/formats/probe_document.h"

#include <cmath>

using namespace wavechroma;

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    const std::string text(reinterpret_cast<const char *>(data), size);
    const auto &chart = chartCatalogue().front();
    (void)withCgatsReferences(chart, text, "table");
    (void)withCsvReferences(chart, text, "table");
    (void)cubeFrom(text, "table");
    (void)placesFrom(text, "table");
    if (const auto targets = targetsFrom(text, "table"))
        for (const auto &target : *targets)
            mustHold(std::isfinite(target.lab.l + target.lab.a + target.lab.b));
    return 0;
}
