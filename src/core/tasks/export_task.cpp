#include "core/tasks/export_task.h"

#include "core/base/number_text.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/camera_profile.h"
#include "core/formats/cube_lut.h"
#include "core/formats/dng_embed.h"
#include "core/formats/icc_profile.h"
#include "core/formats/names.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma {

namespace {

bool near(const Matrix3 &a, const Matrix3 &b, double within)
{
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            if (!(std::abs(a(i, j) - b(i, j)) <= within))
                return false;
    return true;
}

/// The worst that a table may be off by on average before the file counts as not written.
constexpr double kMostMean = 0.3;

bool same(const CameraProfile &a, const CameraProfile &b)
{
    bool equal = a.name == b.name && a.cameraModel == b.cameraModel && a.lights.size() == b.lights.size() &&
                 a.tone.size() == b.tone.size();
    for (size_t i = 0; equal && i < a.lights.size(); ++i)
        equal = near(a.lights[i].colorMatrix, b.lights[i].colorMatrix, 1e-6) &&
                near(a.lights[i].forwardMatrix, b.lights[i].forwardMatrix, 1e-6) &&
                a.lights[i].illuminantCode == b.lights[i].illuminantCode &&
                a.lights[i].map == b.lights[i].map;
    return equal;
}

struct Made
{
    Bytes bytes;
    std::string remark;
};

std::string errorWords(double mean, double most)
{
    return fmt::format("its table is within ΔE {} of the model on average, {} at most", fixedText(mean, 2),
                       fixedText(most, 2));
}

Result<Made> checkedDcp(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto wanted = cameraProfileOf(c, {request.linearTone, request.copyright});
    auto bytes = fileOf(wanted);
    const auto back = cameraProfileFrom(bytes, name);
    if (!back)
        return internalError(back.error().phrase);
    if (!same(*back, wanted))
        return internalError("{file}: the camera profile does not read back as it was made",
                             {{"file", name}});
    return Made{bytes,
                wanted.lights.front().map.hues > 0 ? errorWords(wanted.meanError, wanted.largestError) : ""};
}

Result<Made> checkedIcc(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto coding = cameraCodingFrom(request.iccEncoding);
    if (!coding)
        return coding.error();
    IccOptions options{*coding, request.iccVersion,
                       request.iccTable ? IccOptions::Kind::Table : IccOptions::Kind::ByModel,
                       request.copyright};
    const auto bytes = iccProfileOf(c, options);
    if (!bytes)
        return bytes.error();
    const auto agreement = iccAgreement(*bytes, c, *coding);
    if (!agreement || agreement->mean > kMostMean)
        return internalError("{file}: the ICC profile does not do what it was made from", {{"file", name}});
    const bool table = request.iccTable || !c.isLinear();
    return Made{*bytes, table ? errorWords(agreement->mean, agreement->max) : ""};
}

/// ΔE2000 between the table, applied as read back, and the model, over the patches whose colours the output
/// space holds.
ErrorSummary cubeAgreement(const CubeLut &cube, const Calibration &c, const CubeOptions &options)
{
    const auto &space = options.space;
    std::vector<double> errors;
    for (const auto &patch : c.patches) {
        const auto rgb = vectorOf(balancedFrom(c, patch.rgb));
        const Xyz wanted = xyzFromBalanced(c, {rgb[0], rgb[1], rgb[2]});
        const auto out = rgbFromXyzD50(space, wanted);
        if (*std::min_element(rgb.begin(), rgb.end()) < 0 || *std::max_element(rgb.begin(), rgb.end()) > 1 ||
            std::min({out.r, out.g, out.b}) < 0 || std::max({out.r, out.g, out.b}) > 1)
            continue;
        auto got = applied(
            cube, {coded(options.input, rgb[0]), coded(options.input, rgb[1]), coded(options.input, rgb[2])});
        for (auto &v : got)
            v = outputLight(options, v);
        errors.push_back(de2000(labFromXyz(xyzOf(xyzD50FromRgbMatrix(space) * got)), labFromXyz(wanted)));
    }
    return summaryOf(errors);
}

std::string wordsFor(CameraCoding coding)
{
    return coding == CameraCoding::Log     ? "coded as log2(1 + 1023 x) / 10"
           : coding == CameraCoding::Srgb  ? "in the sRGB transfer curve"
           : coding == CameraCoding::OpRgb ? "in the opRGB transfer curve"
                                           : "linear";
}

Result<CubeOptions> cubeOptionsFrom(const ExportRequest &request)
{
    CubeOptions options;
    const auto input = cameraCodingFrom(request.cubeEncoding);
    if (!input)
        return input.error();
    options.input = *input;
    const auto space = rgbSpaceFromId(request.space);
    if (!space)
        return unusable("unknown space \"{space}\"; known: srgb, display-p3, oprgb, romm",
                        {{"space", request.space}});
    options.space = *space;
    if (!request.cubeOutput.empty()) {
        const auto output = cameraCodingFrom(request.cubeOutput);
        if (!output)
            return output.error();
        options.output = *output;
    }
    if (request.cubeSize != 17 && request.cubeSize != 33 && request.cubeSize != 65)
        return unusable("a .cube table has 17, 33 or 65 points a side, not {points}",
                        {{"points", double(request.cubeSize)}});
    options.size = request.cubeSize;
    return options;
}

constexpr double kShaperFrom =
    0.25; ///< mean ΔE2000 of a table without one; a table of 33 points is to stay within 0.3

Result<Made> checkedCube(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    auto asked = cubeOptionsFrom(request);
    if (!asked)
        return asked.error();
    CubeOptions &options = *asked;
    const std::string title(options.space.title);
    options.title = c.name + ": camera RGB, balanced and scaled, " + wordsFor(options.input) + ", to " +
                    title + (options.output ? ", " + wordsFor(*options.output) : "");
    const auto &m = c.multipliers;
    const auto note = fmt::format("Input: camera RGB x multipliers ({:.7g}, 1, {:.7g}) x exposure scale "
                                  "{:.7g}, clipped to 0...1, {}.\nOutput: {} {}.\nMade from: {}",
                                  m[0], m[2], c.exposureScale, wordsFor(options.input), title,
                                  options.output ? wordsFor(*options.output) : "with its own transfer curve",
                                  provenanceOf(c)) +
                      (request.copyright.empty() ? "" : "\nCopyright: " + request.copyright);
    for (;;) {
        const auto text = textOf(cubeOf(c, options), note);
        const auto back = cubeFrom(text, name);
        if (!back)
            return internalError(back.error().phrase);
        const auto agreement = cubeAgreement(*back, c, options);
        if (agreement.mean < kShaperFrom || options.shaper || options.input == CameraCoding::Linear)
            return Made{bytesOf(text),
                        errorWords(agreement.mean, agreement.max) +
                            (back->shaper.empty() ? "" : ", behind a 1D table in the same file")};
        options.shaper = true; // the plain table is too coarse for this coding
    }
}

Result<Made> checkedCopy(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto original = readWhole(request.embed->first, size_t(4) << 30);
    if (!original)
        return original.error();
    const auto profile = cameraProfileOf(c, {request.linearTone, request.copyright});
    const auto &m = c.multipliers;
    const auto bytes =
        withProfile(*original, profile, request.neutral.value_or(Vector3{1 / m[0], 1, 1 / m[2]}),
                    request.embed->first.string());
    if (!bytes)
        return bytes.error();
    const auto tags = tags::readDirectory(*bytes, 42, name);
    const auto matrix = tags ? tags::numbersOf(*tags, 50721) : std::nullopt; // ColorMatrix1
    if ((*bytes)[0] == 'I' && (!matrix || matrix->size() != 9 ||
                               std::abs(matrix->front() - profile.lights.front().colorMatrix(0, 0)) > 1e-6))
        return internalError("{file}: the copy does not read back as it was made", {{"file", name}});
    return Made{*bytes, ""};
}

Result<Made> madeText(const Result<std::string> &text)
{
    if (!text)
        return text.error();
    return Made{bytesOf(*text), ""};
}

} // namespace

Result<std::vector<ExportedFile>> exportCalibration(const Calibration &calibration,
                                                    const ExportRequest &request)
{
    std::vector<OutputFile> files;
    std::vector<ExportedFile> written;
    std::optional<Error> error;
    const auto add = [&](const std::optional<std::filesystem::path> &path, const char *what, auto &&make) {
        if (!path || error)
            return;
        const Result<Made> made = make(path->string());
        if (!made) {
            error = made.error();
            return;
        }
        written.push_back({*path, what, made->bytes.size(), made->remark});
        files.push_back({*path, made->bytes});
    };
    add(request.dcp, "DNG camera profile",
        [&](const std::string &name) { return checkedDcp(calibration, request, name); });
    add(request.icc, "ICC input profile",
        [&](const std::string &name) { return checkedIcc(calibration, request, name); });
    add(request.cube, "3D table",
        [&](const std::string &name) { return checkedCube(calibration, request, name); });
    add(request.csv, "CSV table", [&](const std::string &) { return madeText(csvOf(calibration)); });
    add(request.sectors, "CSV of hue sectors",
        [&](const std::string &) { return madeText(sectorCsvOf(calibration)); });
    add(request.cgats, "CGATS.17 table", [&](const std::string &) { return madeText(cgatsOf(calibration)); });
    if (request.embed) {
        std::error_code code;
        if (std::filesystem::equivalent(request.embed->first, request.embed->second, code))
            return unusable("{file}: is the original, which stays as it is; give the copy another name",
                            {{"file", request.embed->second.string()}});
        add(std::optional(request.embed->second), "DNG with the profile in it",
            [&](const std::string &name) { return checkedCopy(calibration, request, name); });
    }
    if (error)
        return *error;
    if (files.empty())
        return unusable("nothing to export: name at least one of --dcp, --icc, --cube, --csv, --cgats, "
                        "--sectors, --embed");
    for (size_t i = 0; i < files.size(); ++i)
        for (size_t j = i + 1; j < files.size(); ++j)
            if (files[i].path == files[j].path)
                return unusable("{file}: two exports would go to this one file",
                                {{"file", files[i].path.string()}});
    if (const auto done = writeWhole(files); !done)
        return done.error();
    return written;
}

} // namespace wavechroma
