#include "core/tasks/export_task.h"

#include "core/formats/calibration_tables.h"
#include "core/formats/camera_profile.h"
#include "core/formats/icc_profile.h"

#include <cmath>

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

Result<Bytes> checkedDcp(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto wanted = cameraProfileOf(c, {request.linearTone, request.copyright});
    auto bytes = fileOf(wanted);
    const auto back = cameraProfileFrom(bytes, name);
    if (!back)
        return internalError(back.error().message);
    const bool same = near(back->colorMatrix, wanted.colorMatrix, 1e-6) && near(back->forwardMatrix, wanted.forwardMatrix, 1e-6)
        && back->name == wanted.name && back->cameraModel == wanted.cameraModel && back->illuminantCode == wanted.illuminantCode;
    if (!same)
        return internalError(name + ": the camera profile does not read back as it was made");
    return bytes;
}

Result<Bytes> checkedIcc(const Calibration &c, const ExportRequest &request, const std::string &name)
{
    const auto encoding = iccEncodingFrom(request.encoding);
    if (!encoding)
        return encoding.error();
    auto bytes = iccProfileOf(c, *encoding, request.copyright);
    if (!bytes)
        return bytes;
    const auto content = iccContent(*bytes, name);
    if (!content)
        return internalError(content.error().message);
    const char *colours[] = {"red", "green", "blue"};
    for (int column = 0; column < 3; ++column)
        for (int row = 0; row < 3; ++row)
            if (std::abs((*content)["colorants"][colours[column]][size_t(row)].get<double>() - c.matrix(row, column)) > 2e-5)
                return internalError(name + ": the ICC profile does not read back as it was made");
    return bytes;
}

} // namespace

Result<std::vector<ExportedFile>> exportCalibration(const Calibration &calibration, const ExportRequest &request)
{
    std::vector<OutputFile> files;
    std::vector<ExportedFile> written;
    std::optional<Error> error;
    const auto add = [&](const std::optional<std::filesystem::path> &path, const char *what, auto &&make) {
        if (!path || error)
            return;
        const Result<Bytes> bytes = make(path->string());
        if (!bytes) {
            error = bytes.error();
            return;
        }
        written.push_back({*path, what, bytes->size()});
        files.push_back({*path, *bytes});
    };
    add(request.dcp, "DNG camera profile", [&](const std::string &name) { return checkedDcp(calibration, request, name); });
    add(request.icc, "ICC input profile", [&](const std::string &name) { return checkedIcc(calibration, request, name); });
    add(request.csv, "CSV table", [&](const std::string &) { return Result<Bytes>(bytesOf(csvOf(calibration))); });
    add(request.cgats, "CGATS.17 table", [&](const std::string &) -> Result<Bytes> {
        const auto text = cgatsOf(calibration);
        if (!text)
            return text.error();
        return bytesOf(*text);
    });
    if (error)
        return *error;
    if (files.empty())
        return unusable("nothing to export: name at least one of --dcp, --icc, --csv, --cgats");
    for (size_t i = 0; i < files.size(); ++i)
        for (size_t j = i + 1; j < files.size(); ++j)
            if (files[i].path == files[j].path)
                return unusable(files[i].path.string() + ": two exports would go to this one file");
    if (const auto done = writeWhole(files); !done)
        return done.error();
    return written;
}

} // namespace wavechroma
