#pragma once
#include "core/chart/chart_definition.h"
#include "core/fit/calibration.h"
#include "core/fit/hue_sectors.h"
#include "core/formats/whole_file.h"
#include "core/values/table_reading.h"

#include <nlohmann/json_fwd.hpp>

/// Calibrations and references as text tables.
namespace wavechroma {

/// RFC 4180, decimal points. Two tables with an empty line between: the matrix (rows X, Y, Z; then
/// multipliers and exposure scale), and a line a patch: id, camera RGB, reference Lab, result Lab, ΔE2000.
[[nodiscard]] std::string csvOf(const Calibration &calibration);

/// The correction beyond white balance in eight hue sectors (see hueSectorsOf()), a line each.
[[nodiscard]] std::string sectorCsvOf(const Calibration &calibration);
/// Such a table, edited or not; columns by their names, in any order. Unusable, naming line and field, for
/// anything but the eight sectors.
[[nodiscard]] Result<std::vector<HueSector>> sectorsFromCsv(const std::string &text, const std::string &name);

/// CGATS.17 text by lcms2: SAMPLE_ID, RGB_* (camera RGB × 100), XYZ_* (0…100) and LAB_* of the reference,
/// RESULT_LAB_* and LAB_DE_2000 of what the calibration makes of it, D50.
[[nodiscard]] Result<std::string> cgatsOf(const Calibration &calibration);

/// The numbers of such a row, in the columns' order, and of every row of a text of ours, by its id.
[[nodiscard]] std::vector<double> cgatsRow(const Calibration &calibration, const FittedPatch &patch);
[[nodiscard]] Result<std::vector<std::pair<std::string, std::vector<double>>>>
cgatsNumbers(const std::string &text, const std::string &name);

/// Reference values by patch id from CGATS.17 text (SAMPLE_ID or SAMPLE_NAME with LAB_*, XYZ_* or SPECTRAL_NM
/// columns; spectra are integrated under D50). Ids match by name; "A01" is "A1". Unusable, naming the line or
/// the field, for broken text, missing patches and values that no surface has, and where a value may be read
/// in two ways (columns of one name, a light that is not understood). `how`: what the table was taken for.
[[nodiscard]] Result<ChartDefinition> withCgatsReferences(const ChartDefinition &chart,
                                                          const std::string &text, const std::string &name,
                                                          TableReading *how = nullptr);

/// Colours of a CGATS.17 text by their names, whatever they are of: D50, in the table's order.
[[nodiscard]] Result<std::vector<std::pair<std::string, Xyz>>>
cgatsColours(const std::string &text, const std::string &name, TableReading *how = nullptr);

/// References from a table with a header line: id (or SAMPLE_ID, patch) with L, a, b; or X, Y, Z of 0…100; or
/// wavelengths in nm. Commas, semicolons or tabs part the fields. Messages give the line and the field. `how`
/// and what is refused: as withCgatsReferences().
[[nodiscard]] Result<ChartDefinition> withCsvReferences(const ChartDefinition &chart, const std::string &text,
                                                        const std::string &name, TableReading *how = nullptr);

} // namespace wavechroma
