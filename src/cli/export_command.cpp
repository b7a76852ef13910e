#include "cli/command.h"
#include "core/tasks/export_task.h"
#include "core/tasks/fit_task.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct ExportOptions
{
    std::string calibration, dcp, icc, cube, csv, cgats, sectors, encoding, light, cubeOutput, space = "srgb",
                                                                                               copyright;
    std::vector<std::string> embed;
    int size = 0, iccVersion = 4;
    bool linearTone = false, iccTable = false, force = false;
};

int run(const ExportOptions &options)
{
    const auto calibration = loadCalibration(options.calibration);
    if (!calibration)
        return failed(calibration.error());
    ExportRequest request;
    const auto path = [](const std::string &name) {
        return name.empty() ? std::nullopt : std::optional<std::filesystem::path>(name);
    };
    request.dcp = path(options.dcp);
    request.icc = path(options.icc);
    request.cube = path(options.cube);
    request.sectors = path(options.sectors);
    if (!options.embed.empty())
        request.embed = {options.embed[0], options.embed[1]};
    request.space = options.space;
    request.cubeOutput = options.cubeOutput;
    request.cubeSize = options.size;
    request.iccVersion = options.iccVersion;
    request.iccTable = options.iccTable;
    request.csv = path(options.csv);
    request.cgats = path(options.cgats);
    if (!options.encoding.empty())
        request.iccEncoding = request.cubeEncoding = options.encoding;
    request.linearTone = options.linearTone;
    request.copyright = options.copyright;
    request.light = options.light;
    request.force = options.force;
    const auto written = exportCalibration(*calibration, request);
    if (!written)
        return failed(written.error());
    for (const auto &file : *written)
        say("%s: %s, %zu bytes%s%s\n", file.path.c_str(), file.what.c_str(), file.bytes,
            file.remark.empty() ? "" : "; ", file.remark.c_str());
    return Done;
}

} // namespace

Action addExport(CommandLine &app)
{
    const auto options = std::make_shared<ExportOptions>();
    app.option("CALIBRATION", options->calibration, "a calibration").required();
    app.option("--dcp", options->dcp, "DNG camera profile to write");
    app.option("--icc", options->icc, "ICC input profile to write");
    app.option("--cube", options->cube, "3D table (.cube) to write");
    app.option("--size", options->size,
               "points a side of the .cube: 17, 33 or 65; by default 33, or 65 where that is too coarse");
    app.option("--space", options->space, "of the .cube's output: srgb, display-p3, oprgb or romm");
    app.option("--output-encoding", options->cubeOutput,
               "how the .cube's output is coded: linear, srgb, oprgb or log; by default in the space's "
               "own transfer curve");
    app.option("--icc-version", options->iccVersion, "2 or 4");
    app.flag("--icc-table", options->iccTable,
             "write the ICC profile as a table (A2B0) even where a matrix would do");
    app.option("--sectors", options->sectors, "CSV of the correction in eight hue sectors");
    app.option("--embed", options->embed,
               "a DNG file, and the copy of it to write with profile and white balance in it")
        .takes(2);
    app.option("--csv", options->csv, "CSV with the matrix and the patches");
    app.option("--cgats", options->cgats, "CGATS.17 text with the patches");
    app.option("--encoding", options->encoding,
               "of the camera RGB that ICC profile and .cube expect: linear, srgb, or for .cube also "
               "oprgb and log; by default linear for ICC, srgb for .cube");
    app.flag("--linear-tone", options->linearTone, "put a straight tone curve into the camera profile");
    app.option("--light", options->light,
               "which light of a calibration of several goes into ICC profile and .cube");
    app.flag("--force", options->force, "embed into a frame of another camera or lens, too");
    app.option("--copyright", options->copyright, "goes into the profiles");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
