#pragma once
#include "core/color/colors.h"
#include "core/values/colour_lean.h"
#include "core/values/parts.h"
#include "core/values/setting_row.h"

namespace wavechroma {

/// Colour of a form of a delivery where it is another than the job's: exact for the catalogue and calmer for
/// people, of one chart. Parts that are not "job" and a lean are fitted to the chart's reading anew.
struct FormColour
{
    // In the order of the choices that their rows give.
    enum class Colour { Job, Auto, Balance, Matrix, Roots, Field } colour = Colour::Job;
    enum class Tone { Job, Auto, AsShot, Greys, Channels } tone = Tone::Job;
    /// Steps of the lean; none: the job's own, one of them: the others are 0.
    std::optional<int> reds, chroma, contrast;
    /// A table of hue sectors as `export --sectors` writes it, edited; absolute or from the job's folder;
    /// empty: none, and with a lean of its own none of the job's either.
    std::string sectors;
    std::string balance;                ///< file of a preset, absolute or from the job's folder; empty: none
    std::optional<Vector3> multipliers; ///< in place of one; not a row
    bool operator==(const FormColour &) const = default;

    [[nodiscard]] bool fitsAnew() const
    {
        return colour != Colour::Job || tone != Tone::Job || reds || chroma || contrast || !sectors.empty();
    }
    /// What is asked for where the job has `own`; sectors are those that the chart's own calibration makes of
    /// the table, see sectorLeanFor().
    [[nodiscard]] Parts parts(const Parts &own) const;
    [[nodiscard]] ColourLean lean(const ColourLean &own) const;
};

/// Those of colour, tone and balance, and those of the lean.
[[nodiscard]] const std::vector<SettingRow<FormColour>> &formColourSettings();
[[nodiscard]] const std::vector<SettingRow<FormColour>> &formLeanSettings();

} // namespace wavechroma
