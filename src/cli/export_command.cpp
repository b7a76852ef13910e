#include "cli/command.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/tasks/export_task.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct Options {
    std::string calibration, dcp, icc, csv, cgats, encoding = "linear", copyright;
    bool linearTone = false;
};

int run(const Options &options)
{
    const auto text = readText(options.calibration);
    const auto calibration = text ? calibrationFrom(*text, options.calibration) : Result<Calibration>(text.error());
    if (!calibration)
        return failed(calibration.error());
    ExportRequest request;
    const auto path = [](const std::string &name) { return name.empty() ? std::nullopt : std::optional<std::filesystem::path>(name); };
    request.dcp = path(options.dcp);
    request.icc = path(options.icc);
    request.csv = path(options.csv);
    request.cgats = path(options.cgats);
    request.encoding = options.encoding;
    request.linearTone = options.linearTone;
    request.copyright = options.copyright;
    const auto written = exportCalibration(*calibration, request);
    if (!written)
        return failed(written.error());
    for (const auto &file : *written)
        std::fprintf(stderr, "%s: %s, %zu bytes\n", file.path.c_str(), file.what.c_str(), file.bytes);
    return Done;
}

} // namespace

Action addExport(CLI::App &app)
{
    const auto options = std::make_shared<Options>();
    app.add_option("CALIBRATION", options->calibration, "a calibration")->required();
    app.add_option("--dcp", options->dcp, "DNG camera profile to write");
    app.add_option("--icc", options->icc, "ICC input profile to write");
    app.add_option("--csv", options->csv, "CSV with the matrix and the patches");
    app.add_option("--cgats", options->cgats, "CGATS.17 text with the patches");
    app.add_option("--encoding", options->encoding, "of the camera RGB that the ICC profile expects: linear or srgb");
    app.add_flag("--linear-tone", options->linearTone, "put a straight tone curve into the camera profile");
    app.add_option("--copyright", options->copyright, "goes into the profiles");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
