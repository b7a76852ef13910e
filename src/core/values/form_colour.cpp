#include "core/values/form_colour.h"

#include "core/base/said.h"

namespace wavechroma {

namespace {

/// The id of a choice that is not the job's own.
std::string idOf(const Setting &row, size_t choice, const std::string &own)
{
    return choice == 0 ? own : row.choices[choice].id;
}

} // namespace

Parts FormColour::parts(const Parts &own) const
{
    const auto &rows = formColourSettings();
    return {idOf(rows[0], size_t(colour), own.colour), idOf(rows[1], size_t(tone), own.tone)};
}

ColourLean FormColour::lean(const ColourLean &own) const
{
    return reds || chroma || contrast || !sectors.empty()
               ? ColourLean{reds.value_or(0), chroma.value_or(0), contrast.value_or(0), {}}
               : own;
}

const std::vector<SettingRow<FormColour>> &formColourSettings()
{
    using S = FormColour;
    static const std::vector<SettingRow<S>> rows{
        settingOf<&S::colour>({.key = "colour",
                               .flag = nullptr,
                               .label = "Colour part",
                               .help = words::said("colour part of the calibrations, fitted to their charts"),
                               .brief = words::said("colour {choice}"),
                               .choices = {{"job", words::said("as in the job")},
                                           {"auto", "as recommended"},
                                           {"balance", "white balance alone"},
                                           {"matrix", "3 × 3"},
                                           {"roots", words::said("3 × 3 and square roots")},
                                           {"field", words::said("3 × 3 and a smooth field")}}}),
        settingOf<&S::tone>({.key = "tone",
                             .flag = nullptr,
                             .label = "Tone part",
                             .help = words::said("tone part of the calibrations, fitted to their charts"),
                             .brief = words::said("tone {choice}"),
                             .choices = {{"job", words::said("as in the job")},
                                         {"auto", "as recommended"},
                                         {"as-shot", "as shot"},
                                         {"greys", "one curve"},
                                         {"channels", words::said("a curve for each channel")}}}),
        settingOf<&S::balance>({.key = "balance",
                                .flag = nullptr,
                                .label = "White balance preset",
                                .help = words::said("a preset in place of each frame's own white balance"),
                                .brief = words::said("a white balance of its own"),
                                .unset = words::said("as in the job"),
                                .extension = "json"}),
    };
    return rows;
}

const std::vector<SettingRow<FormColour>> &formLeanSettings()
{
    using S = FormColour;
    static const std::vector<SettingRow<S>> rows{
        settingOf<&S::reds>({.key = "reds",
                             .flag = nullptr,
                             .label = "Reds, steps",
                             .help = words::said("steps on top of the exact result; negative ones calm reds"),
                             .brief = words::said("reds {n:+0}"),
                             .least = -kMostLean,
                             .most = kMostLean,
                             .unset = words::said("as in the job")}),
        settingOf<&S::chroma>(
            {.key = "chroma",
             .flag = nullptr,
             .label = "Chroma, steps",
             .help = words::said("steps on top of the exact result; positive ones are livelier"),
             .brief = words::said("chroma {n:+0}"),
             .least = -kMostLean,
             .most = kMostLean,
             .unset = words::said("as in the job")}),
        settingOf<&S::contrast>(
            {.key = "contrast",
             .flag = nullptr,
             .label = "Contrast, steps",
             .help = words::said("steps on top of the exact result; positive ones are harder"),
             .brief = words::said("contrast {n:+0}"),
             .least = -kMostLean,
             .most = kMostLean,
             .unset = words::said("as in the job")}),
        settingOf<&S::sectors>(
            {.key = "sectors",
             .flag = nullptr,
             .label = "Sectors of hue",
             .help = words::said(
                 "a table of eight sectors of hue, exported and edited, that the result is to have"),
             .brief = words::said("sectors of its own"),
             .unset = words::said("as in the job"),
             .extension = "csv"}),
    };
    return rows;
}

} // namespace wavechroma
