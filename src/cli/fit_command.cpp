#include "cli/command.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/known_things.h"
#include "core/tasks/read_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"
#include "core/words/fit_words.h"

#include <cstdio>
#include <filesystem>
#include <system_error>

namespace wavechroma::cli {

namespace {

struct FitOptions
{
    std::vector<std::string> readings, lights, references;
    std::string with;
    std::string colour = "auto", tone = "auto", name, setup, without, output, appearance, weights, sectors;
    int reds = 0, chroma = 0, contrast = 0;
    bool compare = false, force = false;
};

Result<FitRequest> requestFrom(const FitOptions &options, const std::string &reference,
                               const std::vector<Reading> &readings)
{
    FitRequest request;
    auto &ask = request.ask;
    ask.parts = {options.colour, options.tone};
    if (const auto known = check(ask.parts); !known)
        return known.error();
    ask.lean = {options.reds, options.chroma, options.contrast, {}};
    if (const auto known = check(ask.lean); !known)
        return known.error();
    ask.name = options.name;
    ask.setup = options.setup;
    ask.without = namesIn(options.without);
    ask.weights = options.weights;
    ask.reference = reference;
    if (!options.with.empty()) {
        const auto things = knownThings(options.with, readings.front());
        if (!things)
            return things.error();
        ask.things = *things;
    }
    request.lights = options.lights;
    if (!options.sectors.empty()) {
        const auto sectors = loadSectors(options.sectors);
        if (!sectors)
            return sectors.error();
        request.sectors = *sectors;
    }
    if (options.appearance == "light" || options.appearance == "d50")
        ask.appearance = options.appearance == "light" ? Appearance::UnderLight : Appearance::UnderD50;
    else if (!options.appearance.empty())
        return unusable("unknown appearance \"{appearance}\"; known: light (as it looked under it), d50 (as "
                        "it would look under D50)",
                        {{"appearance", options.appearance}});
    return request;
}

/// All crossings side by side, on standard error.
int compare(const Reading &reading, const FitRequest &request)
{
    const auto all = fitPlaneOf(reading, request);
    if (!all)
        return failed(all.error());
    if (all->empty())
        return Done;
    std::vector<const Calibration *> plane;
    for (const auto &calibration : *all)
        plane.push_back(&calibration);
    const auto choice = recommendedAmong(plane, request.ask.parts, reading);
    say("%-10s %-10s %8s %8s %8s %8s %8s %8s\n", "colour", "tone", "unseen", "fitted", "stretch", "noise",
        "gain", "cond");
    for (size_t i = 0; i < all->size(); ++i) {
        const auto &c = (*all)[i];
        say("%-10s %-10s %8.3f %8.3f %8.2f %8.3f %8.2f %8.2f%s\n", c.parts.colour.c_str(),
            c.parts.tone.c_str(), c.crossValidated.mean, c.fit.mean, c.figures.mostStretch,
            c.figures.sensitivity, c.figures.noiseGain, c.figures.condition,
            i == choice.index ? "  recommended" : "");
    }
    say("%s\n", words::recommendation(choice).c_str());
    return Done;
}

void tell(const Calibration &c)
{
    if (c.light.estimated)
        say("light: %s, estimated from the neutral through the raw file's own matrix\n",
            c.light.name.c_str());
    else if (c.light.name == "unknown")
        say("light: unknown (the file has no colour matrix and no --light was given); D50 is assumed\n");
    if (c.appearance == Appearance::UnderLight)
        say("references: the chart's spectra as they looked under %s; give --appearance d50 for their "
            "colours under D50\n",
            c.light.name.c_str());
    if (const auto taken = words::takenOut(c.takenOut, lightRangeOf(c.takenOut)); !taken.empty())
        say("%s: %s\n", c.madeFrom.front().image.c_str(), taken.c_str());
    for (const auto &thing : c.things)
        say("%s\n", words::thing(thing).c_str());
    for (const auto &warning : c.warnings)
        say("%s\n", words::warning(warning).c_str());
    for (const auto &source : c.madeFrom)
        if (source.sha256.empty())
            say("%s: the frame was not found, so its hash is not recorded\n", source.image.c_str());
}

Result<wavechroma::Done> check(const std::vector<Reading> &readings, const FitRequest &request, bool force)
{
    const auto &reference = request.ask.reference;
    if (const auto sound =
            unlessForced(force, reference.empty() ? std::nullopt : refusedReference(reference));
        !sound)
        return sound;
    for (size_t i = 0; i < readings.size(); ++i) {
        TableReading how;
        const auto chart = referencesOf(readings[i], request.ask.reference, &how);
        if (!chart)
            return chart.error();
        if (i == 0)
            sayTable(request.ask.reference, how, *chart, readings[i]);
        std::optional<NamedLight> told;
        if (!request.lights.empty()) {
            const auto light = lightNamed(request.lights[std::min(i, request.lights.size() - 1)]);
            if (!light)
                return light.error();
            told = *light;
        }
        if (const auto sound = unlessForced(force, refusedFit(readings[i], *chart, told)); !sound)
            return sound;
    }
    return wavechroma::Done{};
}

/// One look, or the chart's own references. Says its exit status, and adds the calibration where that is 0.
int fitTo(const std::string &reference, const FitOptions &options, const std::vector<Reading> &readings,
          std::vector<Calibration> &fitted)
{
    const auto request = requestFrom(options, reference, readings);
    if (!request)
        return failed(request.error());
    if (const auto sound = check(readings, *request, options.force); !sound)
        return failed(sound.error());
    const auto calibration = fitReadings(readings, *request);
    if (!calibration)
        return failed(calibration.error());
    if (const auto sound = unlessForced(options.force, refusedLightTaken(*calibration, readings.front()));
        !sound)
        return failed(sound.error());
    if (options.compare)
        if (const int status = compare(readings.front(), *request); status != Done)
            return status;
    if (isAuto(request->ask.parts))
        say("parts: %s, as recommended for this reading (--compare shows all)\n",
            words::parts(calibration->parts).c_str());
    tell(*calibration);
    fitted.push_back(*calibration);
    return Done;
}

int save(const std::vector<Calibration> &fitted, const std::string &output)
{
    std::error_code code;
    const bool isFolder = output.ends_with('/') || std::filesystem::is_directory(output, code);
    if (!isFolder)
        return deliver(fitted.size() == 1 ? documentOf(fitted.front()) : documentOf(fitted), output);
    const auto saved = saveApart(output, fitted);
    return saved ? int(Done) : failed(saved.error());
}

int run(const FitOptions &options)
{
    std::vector<Reading> readings;
    for (const auto &file : options.readings) {
        const auto charts = chartsToUse(file);
        if (!charts)
            return failed(charts.error());
        readings.insert(readings.end(), charts->begin(), charts->end());
    }
    auto looks = options.references;
    if (looks.empty())
        looks.emplace_back();
    if (looks.size() > 1 && !options.name.empty())
        return failed(unusable("--name names one calibration, but several references are given"));
    std::vector<Calibration> fitted;
    for (const auto &look : looks)
        if (const int status = fitTo(look, options, readings, fitted); status != Done)
            return status;
    return save(fitted, options.output);
}

} // namespace

Action addFit(CommandLine &app)
{
    const auto options = std::make_shared<FitOptions>();
    app.option("READING", options->readings,
               "a reading; several of one light are merged, those of two or three lights are joined, charts "
               "of one frame are "
               "one set")
        .required();
    app.option("--colour", options->colour,
               "colour part: balance, matrix, roots or field; auto by default, chosen by unseen patches");
    app.option("--tone", options->tone,
               "tone part: as-shot, greys (one curve) or channels (a curve for each); auto by default");
    app.option("--reds", options->reds,
               "-4 to 4 steps on top of the exact result; negative steps calm reds, for skin");
    app.option("--chroma", options->chroma,
               "-4 to 4 steps on top of the exact result; positive steps are livelier");
    app.option("--contrast", options->contrast,
               "-4 to 4 steps on top of the exact result; positive steps are harder");
    app.option("--sectors", options->sectors,
               "a table that export --sectors wrote, edited: what each sector of hue is to be");
    app.option("--with", options->with,
               "a wavechroma.probes/1 of frames of the same station: places with targets count as patches");
    app.option("--reference", options->references,
               "reference values: CGATS.17 text, CSV, a chart definition, or another camera's reading or "
               "proof to match to; several make a calibration each");
    app.option("--light", options->lights,
               "A, D50, D65, a temperature such as 4100K, or a spectrum file; one for all readings, or "
               "one for each");
    app.option("--name", options->name, "name of the calibration; composed if absent");
    app.option("--setup", options->setup, "name of the lighting setup, for the composed name");
    app.option("--without", options->without, "patches to leave out, for example C4,D1");
    app.option("--appearance", options->appearance,
               "for charts with spectra: light (colours as they looked under it) or d50 (colours under D50)");
    app.option("--weights", options->weights,
               "weights: even, neutrals, skin, or patches such as D1=4,C3=0.5");
    app.flag("--compare", options->compare, "also print every crossing of colour and tone");
    app.option("-o", options->output,
               "file for the document, an array of them for several references; - is standard output; a "
               "folder has a document for each");
    app.flag("--force", options->force, "fit even if the references or the light cannot be right");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
