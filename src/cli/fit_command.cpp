#include "cli/command.h"
#include "core/fit/character.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/tasks/camera_match.h"
#include "core/tasks/chart_tasks.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct Options
{
    std::vector<std::string> readings, lights;
    std::string model, reference, name, setup, without, output, character = "exact", appearance, weights;
    bool compare = false;
};

Result<FitRequest> requestFrom(const Options &options)
{
    FitRequest request;
    // another camera's tone may ask for curves: what serves there is told by the readings, not by habit
    const bool toCamera = !options.reference.empty() && isCameraReference(options.reference);
    request.model = !options.model.empty() ? options.model : toCamera ? kRecommended : "matrix";
    request.name = options.name;
    request.setup = options.setup;
    request.without = namesIn(options.without);
    request.lights = options.lights;
    request.weights = options.weights;
    if (!options.reference.empty())
        request.reference = options.reference;
    const auto character = characterNamed(options.character);
    if (!character)
        return unusable("unknown character \"" + options.character + "\"; known: exact, calm-reds, lively");
    request.character = *character;
    if (options.appearance == "light" || options.appearance == "d50")
        request.appearance = options.appearance == "light" ? Appearance::UnderLight : Appearance::UnderD50;
    else if (!options.appearance.empty())
        return unusable("unknown appearance \"" + options.appearance +
                        "\"; known: light (as it looked under it), d50 (as it would look under D50)");
    return request;
}

/// All models side by side, on standard error.
int compare(const Reading &reading, const FitRequest &request)
{
    const auto all = fitAllOf(reading, request);
    if (!all)
        return failed(all.error());
    if (all->empty())
        return Done;
    const auto choice = recommendationOf(*all, reading);
    std::fprintf(stderr, "%-16s %8s %8s %8s %8s %8s %8s\n", "model", "unseen", "fitted", "stretch", "noise",
                 "gain", "cond");
    for (size_t i = 0; i < all->size(); ++i) {
        const auto &c = (*all)[i];
        std::fprintf(stderr, "%-16s %8.3f %8.3f %8.2f %8.3f %8.2f %8.2f%s\n", c.model.c_str(),
                     c.crossValidated.mean, c.fit.mean, c.figures.mostStretch, c.figures.sensitivity,
                     c.figures.noiseGain, c.figures.condition, i == choice.index ? "  recommended" : "");
    }
    std::fprintf(stderr, "%s\n", choice.why.c_str());
    return Done;
}

void tell(const Calibration &c)
{
    if (c.light.estimated)
        std::fprintf(stderr, "light: %s, estimated from the neutral through the raw file's own matrix\n",
                     c.light.name.c_str());
    else if (c.light.name == "unknown")
        std::fprintf(
            stderr,
            "light: unknown (the file has no colour matrix and no --light was given); taken as D50\n");
    if (c.appearance == Appearance::UnderLight)
        std::fprintf(stderr,
                     "references: as the chart's spectra looked under %s; --appearance d50 for how they "
                     "would look under D50\n",
                     c.light.name.c_str());
    if (const auto words = wordsFor(c.takenOut); !words.empty())
        std::fprintf(stderr, "%s: %s\n", c.madeFrom.front().image.c_str(), words.c_str());
    for (const auto &warning : c.warnings)
        std::fprintf(stderr, "%s\n", warning.c_str());
    for (const auto &source : c.madeFrom)
        if (source.sha256.empty())
            std::fprintf(stderr, "%s: the frame itself was not at hand, so its hash is not recorded\n",
                         source.image.c_str());
}

int run(const Options &options)
{
    if (const auto known =
            checkModel(options.model.empty() || options.model == kRecommended ? "matrix" : options.model);
        !known)
        return failed(known.error());
    std::vector<Reading> readings;
    for (const auto &file : options.readings) {
        const auto text = readText(file);
        const auto reading = text ? readingFrom(*text, file) : Result<Reading>(text.error());
        if (!reading)
            return failed(reading.error());
        readings.push_back(*reading);
    }
    const auto request = requestFrom(options);
    if (!request)
        return failed(request.error());
    const auto calibration = fitReadings(readings, *request);
    if (!calibration)
        return failed(calibration.error());
    if (options.compare)
        if (const int status = compare(readings.front(), *request); status != Done)
            return status;
    if (request->model == kRecommended)
        std::fprintf(stderr, "model: %s, as recommended for this reading (--compare shows all)\n",
                     calibration->model.c_str());
    tell(*calibration);
    return deliver(documentOf(*calibration), options.output);
}

} // namespace

Action addFit(CLI::App &app)
{
    const auto options = std::make_shared<Options>();
    app.add_option("READING", options->readings,
                   "a reading; several of one light are merged, those of two or three lights joined")
        ->required();
    app.add_option("--model", options->model,
                   "balance, matrix, matrix-offset, root-polynomial, curves, curves-matrix, lut, curves-lut, "
                   "or recommended; by default matrix, and recommended for another camera as reference");
    app.add_option("--reference", options->reference,
                   "reference values: CGATS.17 text, CSV, a chart definition, or another camera's reading or "
                   "proof to match to");
    app.add_option("--light", options->lights,
                   "A, D50, D65, a temperature such as 4100K, or a spectrum file; one for all readings, or "
                   "one for each");
    app.add_option("--name", options->name, "the calibration's name; composed when absent");
    app.add_option("--setup", options->setup, "the lighting setup's name, for the composed name");
    app.add_option("--without", options->without, "patches to leave out, for example C4,D1");
    app.add_option("--character", options->character, "exact, calm-reds or lively");
    app.add_option(
        "--appearance", options->appearance,
        "of charts with spectra: light (as they looked under it) or d50 (as they would look under D50)");
    app.add_option("--weights", options->weights, "even, neutrals, skin, or patches such as D1=4,C3=0.5");
    app.add_flag("--compare", options->compare, "print every model beside the others, too");
    app.add_option("-o", options->output, "where the document goes; - is standard output");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
