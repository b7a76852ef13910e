#include "core/tasks/export_task.h"

#include "core/base/filled.h"
#include "core/base/letters.h"
#include "core/base/number_text.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/camera_profile.h"
#include "core/formats/clf.h"
#include "core/formats/cube_lut.h"
#include "core/formats/dng_embed.h"
#include "core/formats/dng_frame.h"
#include "core/formats/icc_profile.h"
#include "core/formats/names.h"
#include "core/formats/read_back_exports.h"
#include "core/raw/open_frame.h"
#include "core/raw/tiff_directory.h"
#include "core/tasks/refusals.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <system_error>

namespace wavechroma {

namespace {

struct Made
{
    Bytes bytes;
    std::string remark;
};

Error notKept(const std::string &name, const Agreement &agreement)
{
    return unusable("{file}: not written: {agreement}. The limit is 0.3 on average",
                    {{"file", name}, {"agreement", textOf(agreement)}});
}

/// A rendered picture's calibration says nothing of the camera's raw samples.
Result<Done> forRawFrames(const Calibration &c, const std::string &name)
{
    if (c.fileColor.xyzD50FromRendered)
        return unusable(
            "{file}: a DNG profile is for raw frames; this calibration is of rendered pictures (give a "
            ".cube or an ICC profile)",
            {{"file", name}});
    return Done{};
}

Result<Made> checkedDcp(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    if (const auto fits = forRawFrames(c, name); !fits)
        return fits.error();
    const auto wanted = cameraProfileOf(c, {request.settings.linearTone, request.settings.copyright});
    auto bytes = fileOf(wanted);
    const auto back = cameraProfileFrom(bytes, name);
    if (!back)
        return internalError(back.error().phrase);
    if (!saysTheSame(*back, wanted))
        return internalError("{file}: the camera profile does not read back as it was written",
                             {{"file", name}});
    if (!wanted.agreement.isKept())
        return notKept(name, wanted.agreement);
    return Made{bytes, wanted.lights.front().map.hues > 0 ? textOf(wanted.agreement) : ""};
}

Result<Made> checkedIcc(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto &settings = request.settings;
    const auto coding = settings.iccCoding == IccCoding::Linear ? CameraCoding::Linear : CameraCoding::Srgb;
    const IccOptions options{coding, settings.iccVersion == IccVersion::Two ? 2 : 4,
                             settings.iccTable ? IccOptions::Kind::Table : IccOptions::Kind::ByModel,
                             settings.copyright};
    const auto bytes = iccProfileOf(c, options);
    if (!bytes)
        return bytes.error();
    const auto agreement = iccAgreement(*bytes, c, coding);
    if (!agreement)
        return agreement.error();
    if (!agreement->isKept())
        return notKept(name, *agreement);
    const bool table = settings.iccTable || !c.isLinear();
    return Made{*bytes, table ? textOf(*agreement) : ""};
}

/// Between a table, applied as read back (see `apply`), and the model, over the patches whose codes the table
/// takes and whose colours the output space holds.
Agreement cubeAgreement(const std::function<Vector3(const Vector3 &)> &apply, const InputCodes &input,
                        const Calibration &c, const CubeOptions &options)
{
    const auto isWithin = [](const Vector3 &v) {
        return std::all_of(v.begin(), v.end(), [](double x) { return x >= 0 && x <= 1; });
    };
    std::vector<double> errors;
    for (const auto &patch : c.patches) {
        const auto balanced = balancedFrom(c, patch.rgb);
        const auto in = input.code(balanced);
        const Xyz wanted = xyzFromBalanced(c, balanced);
        const auto out = rgbFromXyzD50(options.space, wanted);
        const bool isHeld = options.of != TableInput::CameraRgb || isWithin(vectorOf(balanced));
        if (!isHeld || !isWithin(in) || !isWithin({out.r, out.g, out.b}))
            continue;
        auto got = apply(in);
        for (auto &v : got)
            v = outputLight(options, v);
        errors.push_back(
            de2000(labFromXyz(xyzOf(xyzD50FromRgbMatrix(options.space) * got)), labFromXyz(wanted)));
    }
    return agreementOf(std::move(errors));
}

std::string wordsFor(CameraCoding coding)
{
    return coding == CameraCoding::Log     ? "coded as log2(1 + 255 x) / 8"
           : coding == CameraCoding::Srgb  ? "in the sRGB transfer curve"
           : coding == CameraCoding::OpRgb ? "in the opRGB transfer curve"
                                           : "linear";
}

CubeOptions cubeOptionsOf(const ProfileSettings &settings)
{
    CubeOptions options;
    options.input = settings.cubeCoding;
    options.space = rgbSpace(settings.cubeSpace);
    switch (settings.cubeOutput) {
    case CubeOutput::OwnCurve:
        break;
    case CubeOutput::Linear:
        options.output = CameraCoding::Linear;
        break;
    case CubeOutput::Srgb:
        options.output = CameraCoding::Srgb;
        break;
    case CubeOutput::OpRgb:
        options.output = CameraCoding::OpRgb;
        break;
    case CubeOutput::Log:
        options.output = CameraCoding::Log;
        break;
    }
    options.size = settings.cubePoints == CubePoints::P17   ? 17
                   : settings.cubePoints == CubePoints::P65 ? 65
                                                            : 33;
    return options;
}

/// What the table expects, for its title and its first line.
std::string inputWords(const Calibration &c, const CubeOptions &options, bool isBrief)
{
    const auto &m = c.multipliers;
    switch (options.of) {
    case TableInput::Codes:
        return "the rendered picture's own codes, as they are in the file";
    case TableInput::PlainPicture:
        return "picture in " + std::string(options.space.title) +
               (isBrief ? ""
                        : ", made of the raw frame by white balance, exposure and the camera's own matrix");
    case TableInput::CameraRgb:
        break;
    }
    return isBrief
               ? "camera RGB, balanced and scaled, " + wordsFor(options.input)
               : fmt::format("camera RGB x multipliers ({:.7g}, 1, {:.7g}) x exposure scale {:.7g}, clipped "
                             "to 0...1, {}",
                             m[0], m[2], c.exposureScale, wordsFor(options.input));
}

std::string titleFor(const Calibration &c, const CubeOptions &options)
{
    return c.name + ": " + inputWords(c, options, true) + ", to " + std::string(options.space.title) +
           (options.output ? ", " + wordsFor(*options.output) : "");
}

std::string noteFor(const Calibration &c, const CubeOptions &options, const std::string &copyright)
{
    return fmt::format("Input: {}.\nOutput: {} {}.\nMade from: {}", inputWords(c, options, false),
                       options.space.title,
                       options.output ? wordsFor(*options.output) : "with its own transfer curve",
                       provenanceOf(c)) +
           (copyright.empty() ? "" : "\nCopyright: " + copyright);
}

bool isFineEnough(const Agreement &agreement)
{
    return agreement.mean < 0.25 && agreement.worst < 0.9;
}

/// What is sRGB-coded for a table behind a curve.
Vector3 linearOf(const Vector3 &codes)
{
    return {uncoded(CameraCoding::Srgb, codes[0]), uncoded(CameraCoding::Srgb, codes[1]),
            uncoded(CameraCoding::Srgb, codes[2])};
}

struct MadeCube
{
    Made cube;
    std::optional<Made> before;
};

/// A table that is written, read back and judged: 33 points a side, or 65 where they are too coarse and the
/// size was left open.
struct JudgedTable
{
    Bytes bytes;
    Agreement agreement;
};
using Written = std::function<Result<JudgedTable>(const CubeOptions &)>;
Result<JudgedTable> fittingTable(CubeOptions options, CubePoints asked, const std::string &name,
                                 const Written &written)
{
    for (;;) {
        const auto made = written(options);
        if (!made)
            return made.error();
        if (!isFineEnough(made->agreement) && asked == CubePoints::Fitting && options.size < 65) {
            options.size = 65;
            continue;
        }
        return made->agreement.isKept() ? made : Result<JudgedTable>(notKept(name, made->agreement));
    }
}

/// What a calibration of rendered pictures expects is fixed: the codes as they are.
CubeOptions optionsFor(const Calibration &c, const ProfileSettings &settings)
{
    auto options = cubeOptionsOf(settings);
    if (c.fileColor.xyzD50FromRendered) {
        options.of = TableInput::Codes;
        options.input = CameraCoding::Srgb;
    }
    options.title = titleFor(c, options);
    return options;
}

Result<MadeCube> checkedCube(const Calibration &c, CubeOptions options, const ExportRequest &request,
                             const std::filesystem::path &path)
{
    const auto input = inputCodesOf(c, options);
    if (!input)
        return input.error();
    options.title = titleFor(c, options);
    const auto before = options.of == TableInput::CameraRgb ? cubeBefore(options) : std::nullopt;
    std::error_code code;
    if (before &&
        std::filesystem::exists(tableBefore(path), code)) // a name of our own making replaces nothing
        return unusable("{file}: exists already, and linear input needs a table of that name. Move it, or "
                        "give the .cube another name",
                        {{"file", tableBefore(path).string()}});
    const auto order = !before ? std::string()
                               : "\nTwo tables, one after the other: first " +
                                     tableBefore(path).filename().string() + " (1D), then " +
                                     path.filename().string() + " (3D), whose own input is sRGB-coded.";
    const auto note = noteFor(c, options, request.settings.copyright) + order;
    const std::string beforeText = before ? textOf(*before, note) : "";
    const auto beforeBack = before ? cubeFrom(beforeText, path.string()) : Result<CubeLut>(CubeLut());
    if (!beforeBack)
        return internalError(beforeBack.error().phrase);
    const auto made =
        fittingTable(options, request.settings.cubePoints, path.string(),
                     [&](const CubeOptions &sized) -> Result<JudgedTable> {
                         const auto text = textOf(cubeOf(c, *input, sized), note);
                         const auto back = cubeFrom(text, path.string());
                         if (!back)
                             return internalError(back.error().phrase);
                         const auto apply = [&](const Vector3 &in) {
                             if (!before)
                                 return applied(*back, in);
                             return applied(*back, applied(*beforeBack, linearOf(in)));
                         };
                         return JudgedTable{bytesOf(text), cubeAgreement(apply, *input, c, sized)};
                     });
    if (!made)
        return made.error();
    MadeCube out{{made->bytes, textOf(made->agreement)}, {}};
    if (before) {
        out.cube.remark += "; apply it after " + tableBefore(path).filename().string();
        out.before = Made{bytesOf(beforeText), "apply it before " + path.filename().string()};
    }
    return out;
}

/// The raw calibration's second table, for pictures.
Result<Made> checkedPictureCube(const Calibration &c, const ExportRequest &request,
                                const std::filesystem::path &path)
{
    if (c.fileColor.xyzD50FromRendered)
        return unusable("{file}: a calibration of rendered pictures has one table for them; give --cube",
                        {{"file", path.string()}});
    auto options = cubeOptionsOf(request.settings);
    options.of = TableInput::PlainPicture;
    options.input = CameraCoding::Srgb;
    options.output.reset(); // its input is coded so, too
    auto made = checkedCube(c, options, request, path);
    return made ? Result<Made>(made->cube) : made.error();
}

Result<Made> checkedClf(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto options = optionsFor(c, request.settings);
    const auto input = inputCodesOf(c, options);
    if (!input)
        return input.error();
    const bool isLinear = options.of == TableInput::CameraRgb && options.input == CameraCoding::Linear;
    const auto note = noteFor(c, options, request.settings.copyright);
    const auto made = fittingTable(
        options, request.settings.cubePoints, name, [&](const CubeOptions &sized) -> Result<JudgedTable> {
            const auto text = clfOf({cubeOf(c, *input, sized), isLinear, sized.title}, note);
            const auto back = clfFrom(text, name);
            if (!back)
                return internalError(back.error().phrase);
            const auto apply = [&](const Vector3 &in) {
                return applied(*back, isLinear ? linearOf(in) : in);
            };
            return JudgedTable{bytesOf(text), cubeAgreement(apply, *input, c, sized)};
        });
    return made ? Result<Made>(Made{made->bytes, textOf(made->agreement)}) : made.error();
}

/// Has the file, a TIFF, the tag DNGVersion?
bool dngVersionIn(const Bytes &file)
{
    constexpr uint16_t kDngVersion = 50706;
    const auto directory = tiffDirectoryOf(file);
    return directory && directory->find(kDngVersion);
}

Result<Made> checkedCopy(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    if (const auto fits = forRawFrames(c, name); !fits)
        return fits.error();
    const auto original = readWhole(request.dng->first, size_t(4) << 30);
    if (!original)
        return original.error();
    const auto frame = openFrame(request.dng->first);
    if (!frame)
        return frame.error();
    if (const auto other = refusedStation(c, frame->camera, request.dng->first.string());
        other && !request.force)
        return unusable("{refusal} Give --force to do it anyway.", {{"refusal", *other}});
    const auto profile = cameraProfileOf(c, {request.settings.linearTone, request.settings.copyright});
    const auto &m = c.multipliers;
    const auto neutral = request.neutral.value_or(Vector3{1 / m[0], 1, 1 / m[2]});
    const bool isDng = dngVersionIn(*original);
    std::vector<uint16_t> samples;
    const auto fresh = isDng ? Result<DngFrame>(DngFrame()) : dngFrameOf(*frame, *original, samples);
    if (!fresh)
        return fresh.error();
    const auto base = isDng ? *original : dngFileOf(*fresh);
    const auto bytes = withProfile(base, profile, neutral, request.dng->first.string());
    if (!bytes)
        return bytes.error();
    const auto checked = checkCopy(*bytes, base, profile, neutral, name);
    const auto same = checked && !isDng ? checkSamples(*bytes, *frame, name) : checked;
    return same ? Result<Made>(Made{*bytes, ""}) : same.error();
}

/// "5 730 K" and "5730k" are the same.
std::string withoutGaps(const std::string &name)
{
    std::string out;
    for (const unsigned char c : name)
        if (c < 0x80 ? letters::isLetterOrDigit(char(c)) : false)
            out.push_back(letters::lower(char(c)));
    return out;
}

/// The calibration for one of its lights, by name, a part of one, or its number, said in its name.
Result<Calibration> underOneLight(const Calibration &c, const std::string &light)
{
    if (c.lights.empty())
        return c;
    const auto wanted = withoutGaps(light);
    std::vector<std::string> names;
    const LightModel *chosen = nullptr;
    int fitting = 0;
    const bool isWhole = std::any_of(c.lights.begin(), c.lights.end(), [&](const LightModel &one) {
        return withoutGaps(one.light.name) == wanted;
    });
    for (const auto &one : c.lights) {
        names.push_back(one.light.name);
        const auto name = withoutGaps(one.light.name);
        if (wanted == std::to_string(names.size()) ||
            (isWhole ? name == wanted : wanted.size() > 1 && name.find(wanted) != std::string::npos)) {
            chosen = &one;
            ++fitting;
        }
    }
    if (fitting != 1)
        return unusable(
            "{calibration}: an ICC profile and a .cube hold one light, but this calibration is for {n}. "
            "Choose one with --light ({known})",
            {{"calibration", c.name}, {"n", double(c.lights.size())}, {"known", words::joined(names, ", ")}});
    Calibration out = c;
    static_cast<ColorModel &>(out) = *chosen;
    out.light = chosen->light;
    out.colorMatrix = chosen->colorMatrix;
    out.fit = chosen->fit;
    out.crossValidated = chosen->crossValidated;
    out.lights.clear();
    out.name += ", under " + chosen->light.name + " only";
    return out;
}

/// A table as text, once it reads back as the calibration.
Result<Made> madeText(const Result<std::string> &text, const Calibration &c, const std::string &name,
                      Result<Done> (*check)(const std::string &, const Calibration &, const std::string &))
{
    if (!text)
        return text.error();
    const auto checked = check(*text, c, name);
    return checked ? Result<Made>(Made{bytesOf(*text), ""}) : checked.error();
}

} // namespace

std::string nameForFiles(const Calibration &c, bool withSerial, bool withIso)
{
    const bool composed = c.name == composedName(c, c.asked.setup);
    return composed ? composedName(c, c.asked.setup, {withSerial, withIso}) : c.name;
}

static const std::string kBefore = "-before";

bool hasTableBefore(const Calibration &calibration, const ProfileSettings &settings)
{
    return settings.cubeCoding == CameraCoding::Linear && !calibration.fileColor.xyzD50FromRendered;
}

std::filesystem::path tableBefore(const std::filesystem::path &cube)
{
    return cube.parent_path() / (cube.stem().string() + kBefore + cube.extension().string());
}

std::filesystem::path cubeOfTableBefore(const std::filesystem::path &before)
{
    const auto stem = before.stem().string();
    return before.parent_path() /
           (stem.substr(0, stem.size() - kBefore.size()) + before.extension().string());
}

std::vector<std::filesystem::path> filesOf(const ExportRequest &r)
{
    std::vector<std::filesystem::path> out;
    const auto copy = r.dng ? std::optional(r.dng->second) : std::nullopt;
    const auto before = r.cube && r.settings.cubeCoding == CameraCoding::Linear
                            ? std::optional(tableBefore(*r.cube))
                            : std::nullopt;
    for (const auto &path :
         {r.dcp, r.icc, before, r.cube, r.pictureCube, r.clf, r.csv, r.cgats, r.sectors, copy})
        if (path)
            out.push_back(*path);
    return out;
}

Result<std::vector<ExportedFile>> exportCalibration(const Calibration &calibration,
                                                    const ExportRequest &request)
{
    const bool isOfOneLight = request.icc || request.cube || request.pictureCube || request.clf;
    const auto single =
        isOfOneLight ? underOneLight(calibration, request.light) : Result<Calibration>(calibration);
    if (!single)
        return single.error();
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
        [&](const std::string &name) { return checkedIcc(*single, request, name); });
    std::optional<Made> before;
    add(request.cube, "3D table", [&](const std::string &) -> Result<Made> {
        auto made = checkedCube(*single, optionsFor(*single, request.settings), request, *request.cube);
        if (!made)
            return made.error();
        before = made->before;
        return made->cube;
    });
    if (before)
        add(std::optional(tableBefore(*request.cube)), "1D table",
            [&](const std::string &) -> Result<Made> { return *before; });
    add(request.pictureCube, "3D table for pictures",
        [&](const std::string &) { return checkedPictureCube(*single, request, *request.pictureCube); });
    add(request.clf, "table in the Common LUT Format",
        [&](const std::string &name) { return checkedClf(*single, request, name); });
    add(request.csv, "CSV table",
        [&](const std::string &name) { return madeText(csvOf(calibration), calibration, name, checkCsv); });
    add(request.sectors, "CSV of hue sectors", [&](const std::string &name) {
        return madeText(sectorCsvOf(calibration), calibration, name, checkSectors);
    });
    add(request.cgats, "CGATS.17 table", [&](const std::string &name) {
        return madeText(cgatsOf(calibration), calibration, name, checkCgats);
    });
    if (request.dng) {
        std::error_code code;
        if (std::filesystem::equivalent(request.dng->first, request.dng->second, code))
            return unusable("{file}: is the original. Give the copy another name",
                            {{"file", request.dng->second.string()}});
        add(std::optional(request.dng->second), "DNG with the profile in it",
            [&](const std::string &name) { return checkedCopy(calibration, request, name); });
    }
    if (error)
        return *error;
    if (files.empty())
        return unusable(
            "nothing to export: name at least one of --dcp, --icc, --cube, --picture-cube, --clf, "
            "--csv, --cgats, --sectors, --dng");
    for (size_t i = 0; i < files.size(); ++i)
        for (size_t j = i + 1; j < files.size(); ++j)
            if (files[i].path == files[j].path)
                return unusable("{file}: two exports would write this file",
                                {{"file", files[i].path.string()}});
    if (const auto done = writeWhole(files); !done)
        return done.error();
    return written;
}

} // namespace wavechroma
