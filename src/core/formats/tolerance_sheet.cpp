#include "core/formats/tolerance_sheet.h"

#include "core/formats/json_fields.h"
#include "embedded/ordinarySheet.h"
#include "embedded/strictSheet.h"

#include <cmath>
#include <functional>

namespace wavechroma {

using namespace json;

namespace {

/// A limit's key in the file and its place in the sheet.
struct LimitField
{
    const char *key;
    double &(*at)(ToleranceSheet &);
};

constexpr LimitField kFields[] = {
    {"match", [](ToleranceSheet &s) -> double & { return s.capture.leastMatch; }},
    {"clipped_share", [](ToleranceSheet &s) -> double & { return s.capture.clippedShare; }},
    {"exposure_stops", [](ToleranceSheet &s) -> double & { return s.capture.exposureStops; }},
    {"exposure_stop_at", [](ToleranceSheet &s) -> double & { return s.capture.mostUnderStops; }},
    {"exposure_aim", [](ToleranceSheet &s) -> double & { return s.capture.exposureAim; }},
    {"patch_error", [](ToleranceSheet &s) -> double & { return s.capture.meanError; }},
    {"unevenness", [](ToleranceSheet &s) -> double & { return s.capture.unevenness; }},
    {"unevenness_stop_at", [](ToleranceSheet &s) -> double & { return s.capture.mostUneven; }},
    {"shadow_stops", [](ToleranceSheet &s) -> double & { return s.capture.shadow; }},
    {"shadow_stop_at", [](ToleranceSheet &s) -> double & { return s.capture.deepShadow; }},
    {"glare", [](ToleranceSheet &s) -> double & { return s.capture.glare; }},
    {"flare", [](ToleranceSheet &s) -> double & { return s.capture.flare; }},
    {"flare_stop_at", [](ToleranceSheet &s) -> double & { return s.capture.mostFlare; }},
    {"misfit", [](ToleranceSheet &s) -> double & { return s.capture.misfit; }},
    {"blur_pixels", [](ToleranceSheet &s) -> double & { return s.capture.blurPixels; }},
    {"noise", [](ToleranceSheet &s) -> double & { return s.capture.noise; }},
    {"mean_de00", [](ToleranceSheet &s) -> double & { return s.proof.mean; }},
    {"patch_de00", [](ToleranceSheet &s) -> double & { return s.proof.patch; }},
    {"mean_de94", [](ToleranceSheet &s) -> double & { return s.proof.de94.mean; }},
    {"patch_de94", [](ToleranceSheet &s) -> double & { return s.proof.de94.patch; }},
    {"mean_de94_textiles", [](ToleranceSheet &s) -> double & { return s.proof.de94Textiles.mean; }},
    {"patch_de94_textiles", [](ToleranceSheet &s) -> double & { return s.proof.de94Textiles.patch; }},
    {"mean_de76", [](ToleranceSheet &s) -> double & { return s.proof.de76.mean; }},
    {"patch_de76", [](ToleranceSheet &s) -> double & { return s.proof.de76.patch; }},
    {"chart_days", [](ToleranceSheet &s) -> double & { return s.chartDays; }},
    {"chart_frames", [](ToleranceSheet &s) -> double & { return s.chartFrames; }},
    {"scale_error", [](ToleranceSheet &s) -> double & { return s.scaleError; }},
    {"distortion", [](ToleranceSheet &s) -> double & { return s.distortion; }},
};

ToleranceSheet sheetFrom(const Fields &f)
{
    ToleranceSheet sheet;
    sheet.name = f.text("name");
    if (sheet.name.empty())
        f.fail("name", "{where}: \"{key}\" is empty");
    sheet.title = f.textOr("title", sheet.name);
    const auto &limits = f.raw("limits");
    if (!limits.is_object())
        f.fail("limits", "{where}: \"{key}\" is not an object of numbers");
    for (const auto &[key, value] : limits.items()) {
        const auto *field = std::find_if(std::begin(kFields), std::end(kFields),
                                         [&, &k = key](const LimitField &one) { return k == one.key; });
        if (field == std::end(kFields))
            f.fail(("limits." + key).c_str(), "{where}: \"{key}\" is not a limit that this program knows");
        if (!value.is_number() || !std::isfinite(value.get<double>()) || value.get<double>() < 0)
            f.fail(("limits." + key).c_str(), "{where}: \"{key}\" is not a number of 0 or more");
        field->at(sheet) = value.get<double>();
    }
    const auto &c = sheet.capture;
    if (c.mostUneven < c.unevenness)
        f.fail("limits.unevenness_stop_at",
               "{where}: \"{key}\" is under unevenness, so that there would be no warning before it");
    if (c.deepShadow < c.shadow)
        f.fail("limits.shadow_stop_at",
               "{where}: \"{key}\" is under shadow_stops, so that there would be no warning before it");
    if (c.mostFlare < c.flare)
        f.fail("limits.flare_stop_at",
               "{where}: \"{key}\" is under flare, so that there would be no warning before it");
    if (c.mostUnderStops < c.exposureStops)
        f.fail("limits.exposure_stop_at",
               "{where}: \"{key}\" is under exposure_stops, so that there would be no warning before it");
    if (!(c.exposureAim > 0 && c.exposureAim < 1))
        f.fail("limits.exposure_aim", "{where}: \"{key}\" is not between 0 and 1 of saturation");
    sheet.aims = f.textOr("aims", "");
    if (const auto aims = aimsFrom(sheet.aims); !aims)
        f.fail("aims", {"{where}: \"{key}\" cannot be read: {reason}", {{"reason", aims.error().phrase}}});
    return sheet;
}

} // namespace

const std::vector<ToleranceSheet> &shippedSheets()
{
    static const std::vector<ToleranceSheet> sheets{*toleranceFrom(embedded::ordinarySheet, "ordinary"),
                                                    *toleranceFrom(embedded::strictSheet, "strict")};
    return sheets;
}

Result<ToleranceSheet> shippedSheet(const std::string &name)
{
    std::string known;
    for (const auto &sheet : shippedSheets()) {
        if (sheet.name == name)
            return sheet;
        known += (known.empty() ? "" : ", ") + sheet.name;
    }
    return unusable("tolerance sheet \"{file}\" does not ship with the program; known: {known}; any other is "
                    "given as a file",
                    {{"file", name}, {"known", known}});
}

std::vector<NamedLimit> limitsOf(const ToleranceSheet &sheet)
{
    ToleranceSheet copy = sheet;
    std::vector<NamedLimit> out;
    for (const auto &field : kFields)
        out.push_back({field.key, field.at(copy)});
    return out;
}

ToleranceSheet withLimits(ToleranceSheet sheet, const std::vector<NamedLimit> &limits)
{
    for (const auto &field : kFields)
        for (const auto &limit : limits)
            if (limit.key == field.key)
                field.at(sheet) = limit.value;
    return sheet;
}

std::string documentOf(const ToleranceSheet &sheet)
{
    Json limits = Json::object();
    ToleranceSheet copy = sheet;
    for (const auto &field : kFields)
        limits[field.key] = field.at(copy);
    Json out{{"schema", "wavechroma.tolerance/1"},
             {"name", sheet.name},
             {"title", sheet.title},
             {"limits", limits}};
    if (!sheet.aims.empty())
        out["aims"] = sheet.aims;
    return textOf(out);
}

Result<ToleranceSheet> toleranceFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    return readDocument<ToleranceSheet>(*document, "tolerance", name, sheetFrom);
}

} // namespace wavechroma
