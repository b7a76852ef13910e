#include "cli/command.h"
#include "core/base/number_text.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/prove_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/refusals.h"
#include "core/words/balance_words.h"
#include "core/words/frame_words.h"
#include "core/words/proof_words.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct BalanceOptions
{
    std::string input, patches, area, output, calibration, light, lean, name, setup, preset, aims,
        assume = "srgb";
    bool whole = false, propose = false, ladder = false, force = false;
};

/// What the command is about: a reading, or a frame and what was read of it.
struct Input
{
    std::optional<RawFrame> frame;
    std::optional<Reading> reading;
    std::optional<Calibration> calibration;
    [[nodiscard]] const FileColor &fileColor() const { return frame ? frame->fileColor : reading->fileColor; }
    [[nodiscard]] const CameraFacts &camera() const { return frame ? frame->camera : reading->camera; }
    [[nodiscard]] const Calibration *station() const { return calibration ? &*calibration : nullptr; }
};

/// JSON opens with a brace or bracket; no picture file does.
bool isDocument(const std::string &path)
{
    std::FILE *file = std::fopen(path.c_str(), "rb");
    if (!file)
        return false;
    int c = std::fgetc(file);
    while (c == ' ' || c == '\n' || c == '\r' || c == '\t')
        c = std::fgetc(file);
    std::fclose(file);
    return c == '{' || c == '[';
}

Result<Input> inputFrom(const BalanceOptions &options)
{
    Input out;
    if (!options.calibration.empty()) {
        const auto calibration = loadCalibration(options.calibration);
        if (!calibration)
            return calibration.error();
        out.calibration = *calibration;
    }
    if (isDocument(options.input)) {
        const auto reading = readingToUse(options.input);
        if (!reading)
            return reading.error();
        out.reading = *reading;
        return out;
    }
    const auto frame = openToMeasure(options.input, options.assume);
    if (!frame)
        return frame.error();
    out.frame = *frame;
    const bool needsChart =
        options.area.empty() && !options.whole && !options.propose && options.light.empty();
    if (needsChart || !options.aims.empty()) {
        const auto reading = readFrame(*frame);
        if (!reading)
            return reading.error();
        out.reading = *reading;
    }
    return out;
}

Result<Balance> presetOf(const BalanceOptions &options, const Input &input)
{
    const auto preset = loadBalance(options.preset);
    if (!preset)
        return preset;
    if (!preset->preset)
        return unusable("{file}: is not a preset: it has no name and no camera. Make one with --name",
                        {{"file", options.preset}});
    const auto verdict = verdictOn(*preset->preset, input.camera());
    const auto said = words::preset(verdict);
    if (verdict.refuses())
        return unusable("{file}: {reason}", {{"file", options.input}, {"reason", said}});
    if (!said.empty())
        say("%s: %s\n", options.input.c_str(), said.c_str());
    if (input.frame && !(input.reading && input.reading->found))
        if (const auto same =
                unlessForced(options.force, doubtedPreset(*preset, input.fileColor(), options.input));
            !same)
            return same.error();
    if (input.reading)
        if (const auto chart = chartOf(*input.reading))
            if (const auto same = unlessForced(options.force, refusedPreset(*preset, *input.reading, *chart));
                !same)
                return same.error();
    return preset;
}

/// By the best place of a frame without a target; says what others there are.
Result<Balance> proposed(const std::string &file, const RawFrame &frame)
{
    const auto places = proposedNeutrals(frame);
    if (places.empty())
        return unusable("{file}: nothing in it is plain and could be grey under a lamp", {{"file", file}});
    for (const auto &place : places)
        say("%s\n", words::filled(place.said, words::plain()).c_str());
    say("%s: the first of these is taken. Look whether it is a grey; --area takes another\n", file.c_str());
    return balanceFrameArea(frame, places.front().area);
}

Result<Balance> plainBalance(const BalanceOptions &options, const Input &input)
{
    if (!options.preset.empty())
        return presetOf(options, input);
    if (!options.light.empty()) {
        const auto light = temperatureFrom(options.light);
        return light ? balanceForLight(options.input, *light, input.station(), input.fileColor())
                     : Result<Balance>(light.error());
    }
    if (options.whole || options.propose || !options.area.empty()) {
        if (!input.frame)
            return unusable("{file}: is a reading; --area, --propose and --whole need the frame itself",
                            {{"file", options.input}});
        if (options.propose)
            return proposed(options.input, *input.frame);
        if (options.whole) {
            const auto out = balanceWholeFrame(*input.frame);
            const auto white =
                unlessForced(options.force, out ? refusedWhite(*out, input.fileColor()) : std::nullopt);
            return white ? out : Result<Balance>(white.error());
        }
        const auto n = numbersIn(options.area, 4, "--area");
        if (!n)
            return n.error();
        const std::array<double, 4> area{(*n)[0], (*n)[1], (*n)[2], (*n)[3]};
        const auto out = balanceFrameArea(*input.frame, area);
        const auto plain = unlessForced(options.force, out ? refusedArea(*input.frame, area) : std::nullopt);
        return plain ? out : Result<Balance>(plain.error());
    }
    const auto patches = namesIn(options.patches);
    if (const auto chart = chartOf(*input.reading))
        if (const auto neutral = unlessForced(options.force, refusedNeutral(*input.reading, *chart, patches));
            !neutral)
            return neutral.error();
    return balanceReading(*input.reading, {patches, {}});
}

Result<Balance> balance(const BalanceOptions &options, const Input &input)
{
    auto out = plainBalance(options, input);
    if (!out)
        return out;
    if (input.calibration && options.light.empty())
        out = readThrough(*out, *input.calibration);
    if (!options.lean.empty()) {
        const auto steps = numbersIn(options.lean, 2, "--lean");
        if (!steps)
            return steps.error();
        out = withLean(*out, {(*steps)[0], (*steps)[1]}, input.station(), input.fileColor());
    }
    if (!options.name.empty())
        out->preset =
            PresetFacts{options.name, options.setup, input.camera(), input.fileColor().asShotNeutral};
    return out;
}

void tellGreys(const Input &input, const Balance &balance)
{
    if (!input.reading || !input.reading->found || balance.source.patches.empty())
        return;
    const auto chart = chartOf(*input.reading);
    if (!chart)
        return;
    for (const auto &state : readBack(*input.reading, *chart, balance))
        say("%s  R %s  G %s  B %s  %s\n", state.id.c_str(), percentText(state.balanced[0], 2).c_str(),
            percentText(state.balanced[1], 2).c_str(), percentText(state.balanced[2], 2).c_str(),
            words::neutral(state).c_str());
    if (const auto face = otherFaceOf(*input.reading, *chart, balance))
        say("%s\n", words::otherFace(*face).c_str());
}

/// AnswerIsNo where a neutral misses its aim, or cannot be judged.
int tellAims(const BalanceOptions &options, const Input &input)
{
    if (!input.calibration)
        return failed(unusable("--aims needs --calibration, which says what level a sample stands for"));
    const auto chart = chartOf(*input.reading);
    const auto aims = chart ? aimsFrom(options.aims == "reference" ? "" : options.aims, *chart)
                            : Result<ExposureAims>(chart.error());
    if (!aims)
        return failed(aims.error());
    int status = Done;
    for (const auto &one : aimedNeutrals(*input.calibration, *input.reading, *chart, *aims)) {
        say("%s\n", words::aimed(one).c_str());
        if (!one.usable || !one.passes)
            status = AnswerIsNo;
    }
    return status;
}

void tellLadder(const Input &input)
{
    const auto lights = cameraLightsFor(input.station(), input.fileColor());
    for (const auto &rung : ladderOf(lights))
        say("%-18s %8s %8s   R %.4f  G 1  B %.4f\n", rung.name.c_str(),
            kelvinText(rung.light.cctKelvin).c_str(), signedText(rung.light.duv, 4).c_str(),
            rung.multipliers[0], rung.multipliers[2]);
}

int run(const BalanceOptions &options)
{
    const auto input = inputFrom(options);
    if (!input)
        return failed(input.error());
    const auto result = balance(options, *input);
    if (!result)
        return failed(result.error());
    tellGreys(*input, *result);
    if (const auto setting = cameraSetting(*result, input->fileColor()); !setting.empty())
        say("%s\n", words::filled(setting, words::plain()).c_str());
    const int met = options.aims.empty() ? int(Done) : tellAims(options, *input);
    if (met != Done && met != AnswerIsNo)
        return met;
    if (options.ladder)
        tellLadder(*input);
    if (input->frame && input->frame->rendered)
        say("%s: %s\n", options.input.c_str(),
            words::renderedCost(costOfBalance(*input->frame, result->multipliers)).c_str());
    const int written = deliver(documentOf(*result), options.output);
    return written == Done ? met : written;
}

} // namespace

Action addBalance(CommandLine &app)
{
    const auto options = std::make_shared<BalanceOptions>();
    app.option("INPUT", options->input, "a frame, or a reading").required();
    const auto patches = app.option("--patch", options->patches, "neutral patches, for example D2 or D2,D3");
    const auto area = app.option("--area", options->area, "a neutral area of the frame, x,y,w,h in pixels")
                          .excludes(patches);
    const auto whole =
        app.flag("--whole", options->whole, "the whole frame, if it is even, as through a diffuser")
            .excludes(patches)
            .excludes(area);
    const auto light =
        app.option("--light", options->light, "a light by temperature and Duv, as in 5000K,+0.002")
            .excludes(patches)
            .excludes(area)
            .excludes(whole);
    app.flag("--propose", options->propose, "the most likely neutral of a frame without a target")
        .excludes(patches)
        .excludes(area)
        .excludes(whole)
        .excludes(light);
    app.option("--preset", options->preset, "a balance that was saved with --name, for this frame")
        .excludes(patches)
        .excludes(area)
        .excludes(whole)
        .excludes(light);
    app.option("--calibration", options->calibration,
               "a calibration of this station, used to compute temperatures");
    app.option("--lean", options->lean,
               "steps warmer,rosier (negative: cooler, greener); the neutral stays as it is");
    app.option("--name", options->name, "keep it as a preset under this name");
    app.option("--setup", options->setup, "the lighting setup, for the preset");
    app.option("--aims", options->aims,
               "check the levels of the neutrals, status 3 if one fails: reference, or D1=92, D1=92±0.5, "
               "D1=242@srgb or D1=95%");
    app.option("--assume", options->assume,
               "colour space of pictures without a profile: srgb (the default), display-p3, oprgb or romm");
    app.flag("--ladder", options->ladder, "print named lights and their multipliers for this camera");
    app.option("-o", options->output, "file for the document; - is standard output");
    app.flag("--force", options->force,
             "also accept a patch or an area that is not neutral, or a preset of another light");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
