#include "cli/command.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/tasks/chart_tasks.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct Options {
    std::vector<std::string> readings, lights;
    std::string model = "matrix", reference, name, setup, without, output;
};

int run(const Options &options)
{
    if (const auto known = checkModel(options.model); !known)
        return failed(known.error());
    if (options.readings.size() > 1 || options.lights.size() > 1)
        return failed(unusable("fit: joining readings under several lights is not in this version; give one reading and at most one --light"));
    const auto text = readText(options.readings.front());
    const auto reading = text ? readingFrom(*text, options.readings.front()) : Result<Reading>(text.error());
    if (!reading)
        return failed(reading.error());
    FitRequest request;
    request.model = options.model;
    request.name = options.name;
    request.setup = options.setup;
    request.without = namesIn(options.without);
    if (!options.reference.empty())
        request.reference = options.reference;
    if (!options.lights.empty())
        request.light = options.lights.front();
    const auto calibration = fitReading(*reading, request);
    if (!calibration)
        return failed(calibration.error());
    if (calibration->light.estimated)
        std::fprintf(stderr, "light: %s, estimated from the neutral through the raw file's own matrix\n", calibration->light.name.c_str());
    else if (calibration->light.name == "unknown")
        std::fprintf(stderr, "light: unknown (the file has no colour matrix and no --light was given); taken as D50\n");
    if (const auto words = wordsFor(calibration->takenOut); !words.empty())
        std::fprintf(stderr, "%s: %s\n", reading->image.c_str(), words.c_str());
    if (calibration->madeFrom.front().sha256.empty())
        std::fprintf(stderr, "%s: the frame itself was not at hand, so its hash is not recorded\n", reading->image.c_str());
    return deliver(documentOf(*calibration), options.output);
}

} // namespace

Action addFit(CLI::App &app)
{
    const auto options = std::make_shared<Options>();
    app.add_option("READING", options->readings, "a reading")->required();
    app.add_option("--model", options->model, "balance or matrix");
    app.add_option("--reference", options->reference, "reference values: CGATS.17 text or a chart definition");
    app.add_option("--light", options->lights, "A, D50, D65, a temperature such as 4100K, or a spectrum file");
    app.add_option("--name", options->name, "the calibration's name; composed when absent");
    app.add_option("--setup", options->setup, "the lighting setup's name, for the composed name");
    app.add_option("--without", options->without, "patches to leave out, for example C4,D1");
    app.add_option("-o", options->output, "where the document goes; - is standard output");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
