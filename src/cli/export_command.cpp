#include "cli/command.h"
#include "cli/setting_options.h"
#include "core/tasks/export_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/frame_files.h"
#include "core/tasks/refusals.h"

#include <cstdio>

namespace wavechroma::cli {

namespace {

struct ExportOptions
{
    std::string calibration, dcp, icc, cube, pictureCube, clf, csv, cgats, sectors, encoding, light;
    std::vector<std::string> dng;
    SettingOptions<ProfileSettings> settings{profileSettings()};
    bool force = false;
};

/// One encoding for all files that are asked for.
Result<wavechroma::Done> encodeAll(const std::string &encoding, ExportRequest &request)
{
    if (encoding.empty())
        return wavechroma::Done{};
    ProfileSettings other = request.settings;
    for (const auto &row : profileSettings()) {
        const bool isOfIcc = row.key == std::string_view("icc_encoding"),
                   isOfCube = row.key == std::string_view("cube_encoding");
        const bool isAsked = (isOfIcc && request.icc) || (isOfCube && (request.cube || request.clf));
        if (isAsked && !row.put(row, other, encoding))
            return unusable("{option}: \"{text}\" is not {known}",
                            {{"option", "--encoding"}, {"text", encoding}, {"known", valuesOf(row)}});
    }
    request.settings = other;
    return wavechroma::Done{};
}

int run(const ExportOptions &options)
{
    const auto calibration = loadCalibration(options.calibration);
    if (!calibration)
        return failed(calibration.error());
    const auto settings = options.settings.settings();
    if (!settings)
        return failed(settings.error());
    ExportRequest request;
    request.settings = *settings;
    const auto path = [](const std::string &name) {
        return name.empty() ? std::nullopt : std::optional<std::filesystem::path>(name);
    };
    request.dcp = path(options.dcp);
    request.icc = path(options.icc);
    request.cube = path(options.cube);
    request.pictureCube = path(options.pictureCube);
    request.clf = path(options.clf);
    request.csv = path(options.csv);
    request.cgats = path(options.cgats);
    request.sectors = path(options.sectors);
    if (!options.dng.empty())
        request.dng = {options.dng[1], options.dng[0]};
    if (const auto encoded = encodeAll(options.encoding, request); !encoded)
        return failed(encoded.error());
    request.light = options.light;
    request.force = options.force;
    if (request.dng) {
        const auto frame = openFrame(request.dng->first);
        if (!frame)
            return failed(frame.error());
        if (const auto same =
                unlessForced(options.force, doubtedLight(*calibration, frame->fileColor, options.dng[1]));
            !same)
            return failed(same.error());
    }
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
    app.option(
        "--picture-cube", options->pictureCube,
        "3D table (.cube) for pictures that render, or a camera, made of the raw frames by white balance "
        "alone");
    app.option("--clf", options->clf, "table in the Common LUT Format to write");
    app.option("--sectors", options->sectors, "CSV of the correction in eight hue sectors");
    app.option("--dng", options->dng,
               "a DNG to write of a raw frame of any format, and the frame: its samples with profile and "
               "white balance "
               "inside")
        .takes(2);
    app.option("--csv", options->csv, "CSV with the matrix and the patches");
    app.option("--cgats", options->cgats, "CGATS.17 text with the patches");
    app.option("--encoding", options->encoding,
               "coding of the camera RGB for both, ICC profile and .cube: linear or srgb, for .cube also "
               "oprgb or log");
    options->settings.addTo(app);
    app.option("--light", options->light, "which of several lights goes into ICC profile and .cube");
    app.flag("--force", options->force, "also write a DNG of a frame of another camera, lens or light");
    return [options] { return run(*options); };
}

} // namespace wavechroma::cli
