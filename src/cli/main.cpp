#include "cli/command.h"
#include "core/base/lazy.h"
#include "core/base/standard_streams.h"
#include "core/tasks/frame_files.h"

#include <csignal>
#include <cstdio>
#include <exception>
#include <filesystem>
#include <set>
#include <system_error>

using namespace wavechroma;

namespace {

const std::vector<cli::Command> kCommands{
    {"read", "find a chart in frames and measure its patches", cli::addRead},
    {"balance", "white balance from a neutral", cli::addBalance},
    {"fit", "make a calibration from a reading", cli::addFit},
    {"prove", "apply a calibration to a reading and report the errors", cli::addProve},
    {"compare", "say how two calibrations, profiles or tables differ and whether one is better",
     cli::addCompare},
    {"drift", "say whether a calibration still holds by later readings of its chart, and what changed",
     cli::addDrift},
    {"export", "write profiles and tables", cli::addExport},
    {"render", "make finished pictures from frames", cli::addRender},
    {"probe", "measure colours at places of frames and compare them with targets", cli::addProbe},
    {"deliver", "deliver a job: pictures, DNG copies, profiles, presets, values", cli::addDeliver},
    {"inspect", "show what is in a file", cli::addInspect},
    {"serve", "say what serves frames of a job: a chart, a grey, or the rule again", cli::addServe},
    {"take", "add the frames of a shoot to a job: read, fitted, judged", cli::addTake},
    {"watch", "add frames of a folder to a job as they arrive, and answer each", cli::addWatch},
    {"day", "the job as the day sheet shows it", cli::addDay},
    {"agree", "say whether things get the same colour at each station of a job; draw stations together",
     cli::addAgree},
    {"report", "the evidence of a job as pages, with a record of every figure; compute a record again",
     cli::addReport},
    {"demo", "make the demo job with its raw frames", cli::addDemo},
};

/// Outputs and inputs of a call, by the options that name them. What is no path is no file that is there
/// either.
struct Paths
{
    std::vector<std::pair<std::string, std::filesystem::path>> outputs; ///< with their options
    std::vector<std::filesystem::path> inputs;
};

Paths pathsOf(const cli::CommandLine &command)
{
    const std::set<std::string> outputs{"-o",      "--csv",     "--dcp",          "--icc", "--cube",
                                        "--cgats", "--sectors", "--picture-cube", "--clf"};
    Paths out;
    for (const auto &[name, values] : command.given())
        for (size_t i = 0; i < values.size(); ++i)
            if (outputs.count(name) || (name == "--dng" && i == 0))
                out.outputs.emplace_back(name, values[i]);
            else
                out.inputs.emplace_back(values[i]);
    return out;
}

/// Is it one file, whatever it is called?
bool isSame(const std::filesystem::path &a, const std::filesystem::path &b)
{
    std::error_code code;
    if (std::filesystem::equivalent(a, b, code))
        return std::filesystem::is_regular_file(a, code);
    const auto first = std::filesystem::weakly_canonical(std::filesystem::absolute(a, code), code),
               second = std::filesystem::weakly_canonical(std::filesystem::absolute(b, code), code);
    return !code && !first.empty() && first == second && !std::filesystem::exists(first, code);
}

/// No output is an input or another output.
Result<Done> soundOutputs(const cli::CommandLine &command)
{
    const auto paths = pathsOf(command);
    std::error_code code;
    for (size_t i = 0; i < paths.outputs.size(); ++i) {
        const auto &[option, output] = paths.outputs[i];
        for (const auto &input : paths.inputs)
            if (std::filesystem::exists(input, code) && isSame(output, input))
                return unusable("{file}: {option} would replace a file that is read. Give another name",
                                {{"file", output.string()}, {"option", option}});
        for (size_t j = i + 1; j < paths.outputs.size(); ++j)
            if (isSame(output, paths.outputs[j].second))
                return unusable(
                    "{file}: {option} and {other} would both write this file",
                    {{"file", output.string()}, {"option", option}, {"other", paths.outputs[j].first}});
    }
    return Done{};
}

int run(int argc, char **argv)
{
    return cli::runCommand(argc, argv, kCommands, [](const cli::CommandLine &command) {
        const auto sound = soundOutputs(command);
        return sound ? int(cli::Done) : cli::failed(sound.error());
    });
}

} // namespace

int main(int argc, char **argv)
{
    holdStandardStreams();
    std::signal(SIGPIPE, SIG_IGN); // a closed pipe is a failed write with a message, not a kill
    std::signal(SIGXFSZ, SIG_IGN); // … as is a file grown past what it may
#ifndef WAVECHROMA_SANITIZE        // a report from another process would be taken for a broken file
    const FrameReaders readers;
#endif
    try {
        return run(argc, argv);
    } catch (const std::filesystem::filesystem_error &fault) { // a path that cannot be followed
        cli::say("wavechroma-cli: %s: %s\n", fault.path1().c_str(), fault.code().message().c_str());
        return cli::Unusable;
    } catch (const Unreadable &damaged) { // a document of a job
        return cli::failed(damaged.error);
    } catch (const std::exception &fault) {
        cli::say("wavechroma-cli: internal fault: %s\n", fault.what());
    } catch (...) {
        cli::say("wavechroma-cli: internal fault\n");
    }
    return cli::InternalFault;
}
