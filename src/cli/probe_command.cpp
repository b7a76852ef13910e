#include "cli/command.h"
#include "cli/tables.h"
#include "core/base/number_text.h"
#include "core/tasks/probe_task.h"
#include "core/words/reference_words.h"

#include <algorithm>
#include <cstdio>

namespace wavechroma::cli {

namespace {

struct ProbeOptions
{
    std::vector<std::string> images, at;
    std::string calibration, job, level = "chart", balance, flat, places, targets, assume = "srgb", output;
    bool save = false, anyCamera = false, table = false;
};

/// "NAME,x,y,r[,NAME,x,y,r…]"
Result<wavechroma::Done> readPlaces(const std::string &text, ProbeRequest &out)
{
    const auto fields = namesIn(text);
    const auto bad = unusable("--at \"{text}\": a place is NAME,x,y,r in frame pixels", {{"text", text}});
    if (fields.empty() || fields.size() % 4 != 0)
        return bad;
    for (size_t i = 0; i < fields.size(); i += 4) {
        const auto x = numberFrom(fields[i + 1]), y = numberFrom(fields[i + 2]),
                   r = numberFrom(fields[i + 3]);
        if (!x || !y || !r)
            return bad;
        const ProbePlace place{fields[i], *x, *y, *r};
        if (const auto sound = check(place); !sound)
            return sound;
        out.places.emplace_back("", place);
    }
    return wavechroma::Done{};
}

Result<ProbeRequest> requestFrom(const ProbeOptions &options)
{
    if (options.calibration.empty() == options.job.empty())
        return unusable("give either --calibration or --job");
    if (options.level != "as-shot" && options.level != "chart")
        return unusable("--level: \"{level}\" is not as-shot or chart", {{"level", options.level}});
    if (options.save && options.job.empty())
        return unusable("--save saves places in a job; give --job");
    ProbeRequest out;
    out.asked = {options.calibration, options.job, options.balance, options.flat};
    out.atChartLevel = options.level == "chart";
    out.assume = options.assume;
    out.anyCamera = options.anyCamera;
    for (const auto &at : options.at)
        if (const auto read = readPlaces(at, out); !read)
            return read.error();
    if (!options.places.empty()) {
        const auto places = loadPlaces(options.places);
        if (!places)
            return places.error();
        out.places.insert(out.places.end(), places->begin(), places->end());
    }
    if (out.places.empty() && options.job.empty())
        return unusable("give --at or --places: the places to probe");
    if (!options.targets.empty()) {
        TableReading how;
        const auto targets = loadTargets(options.targets, &how);
        if (!targets)
            return targets.error();
        std::vector<std::pair<std::string, Lab>> colours;
        for (const auto &target : *targets)
            colours.emplace_back(target.name, target.lab);
        if (const auto line = words::tableRead(options.targets, how, colours); !line.empty())
            say("%s\n", words::filled(line, words::plain()).c_str());
        out.targets = *targets;
    }
    return out;
}

int run(const ProbeOptions &options)
{
    const auto request = requestFrom(options);
    if (!request)
        return failed(request.error());
    const auto source = PictureSource::open(request->asked);
    if (!source)
        return failed(source.error());
    std::vector<FrameProbes> all;
    for (const auto &image : options.images) {
        std::vector<words::Phrase> remarks;
        auto probes = probeImage(image, *request, *source, remarks);
        if (!probes)
            return failed(probes.error());
        for (const auto &remark : remarks)
            say("%s\n", words::filled(remark, words::plain()).c_str());
        all.push_back(std::move(*probes));
    }
    if (options.save)
        if (const auto saved = saveProbes(*request, *source, {options.images.begin(), options.images.end()});
            !saved)
            return failed(saved.error());
    const auto document = all.size() == 1 ? documentOf(all.front()) : documentOf(all);
    const int status = options.table ? deliverTable(tableOf(all), document, options.output)
                                     : deliver(document, options.output);
    const bool areRead =
        std::all_of(all.begin(), all.end(), [](const FrameProbes &f) { return f.allRead(); });
    return std::max(status, areRead ? int(Done) : int(AnswerIsNo));
}

} // namespace

Action addProbe(CommandLine &app)
{
    const auto options = std::make_shared<ProbeOptions>();
    app.option("IMAGE", options->images, "frames").required();
    app.option("--calibration", options->calibration, "the calibration");
    app.option("--job", options->job, "the job of these frames: each uses its calibration there");
    app.flag("--save", options->save, "save places and targets in the job");
    app.option(
        "--at", options->at,
        "NAME,x,y,r: a disc in frame pixels; may be given several times. Without it, the probes of the job");
    app.option("--places", options->places,
               "CSV with the header image,name,x,y,r; the image column is optional");
    app.option("--targets", options->targets, "target colours: wavechroma.targets/1, CSV or CGATS.17");
    app.option("--level", options->level,
               "chart brings a frame to the exposure of its chart; as-shot keeps its own");
    app.option("--balance", options->balance, "a balance to use instead of the calibration's");
    app.option("--flat", options->flat, "a flat frame, used to even the light");
    app.flag("--any-camera", options->anyCamera, "also use a calibration of another camera or lens");
    app.option("--assume", options->assume,
               "colour space of pictures without a profile: srgb, display-p3, oprgb or romm");
    app.flag("--table", options->table, kTableHelp);
    app.option("-o", options->output, "file for the document; - is standard output");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
