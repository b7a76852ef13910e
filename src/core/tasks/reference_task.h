#pragma once
#include "core/chart/chart_definition.h"
#include "core/color/illuminant.h"
#include "core/fit/calibration.h"
#include "core/measure/read_chart.h"
#include "core/values/reading.h"
#include "core/values/table_reading.h"

#include <filesystem>

/// What charts are, and what their patches should be.
namespace wavechroma {

/// A catalogue id or a `wavechroma.chart/1` file.
[[nodiscard]] Result<ChartDefinition> chartNamed(const std::string &idOrFile);
[[nodiscard]] Result<Done> saveChart(const std::filesystem::path &file, const ChartDefinition &chart);

/// A CIE name, a temperature, or a spectrum file (CSV nm,value).
[[nodiscard]] Result<NamedLight> lightNamed(const std::string &text);

/// Returns the chart with its references replaced from CGATS.17 text, CxF3, a CSV table or a
/// `wavechroma.chart/1` file; ids are matched by name. A `wavechroma.reading/1` of another camera stands for
/// what that camera made of the patches: a rendered picture as it is, raw samples by white balance alone; a
/// `wavechroma.proof/1` stands for its results. Spectra are integrated under `light` (see lightNamed()), D50
/// when absent, and adapted to D50. `how`: what a table was taken for; unchanged for other files.
[[nodiscard]] Result<ChartDefinition> withReferences(const ChartDefinition &chart,
                                                     const std::filesystem::path &file,
                                                     const std::optional<std::string> &light = {},
                                                     TableReading *how = nullptr);
/// The chart of a reading with the references of a file, where one is given (not empty). A chart that is not
/// known takes its patches from the reading, and fits and proves by the file's ids alone.
[[nodiscard]] Result<ChartDefinition> referencesOf(const Reading &reading, const std::string &reference,
                                                   TableReading *how = nullptr);
/// The patches of C*ab under 5 become its neutrals, the lightest first, where there are any.
void nameNeutrals(ChartDefinition &chart);
/// A chart measured patch by patch with the simulated spectrophotometer: what the studio's print of it
/// reflects, with the instrument's own scatter. Unusable for a chart that the studio has no print of.
[[nodiscard]] Result<ChartDefinition> measuredChart(const ChartDefinition &chart, const std::string &date,
                                                    uint64_t seed);
/// The colours of a chart without known ones, as a calibration of the same station sees them in a reading of
/// it.
[[nodiscard]] Result<ChartDefinition> withSeenColours(const ChartDefinition &chart, const Reading &reading,
                                                      const Calibration &calibration);

} // namespace wavechroma
