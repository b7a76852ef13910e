#include "core/formats/read_back_exports.h"

#include "core/base/csv_table.h"
#include "core/base/number_text.h"
#include "core/base/said.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/hue_sectors.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/dng_embed.h"
#include "core/formats/tag_directory.h"
#include "core/raw/open_frame.h"

#include <algorithm>
#include <cmath>
#include <exiv2/exiv2.hpp>
#include <sys/mman.h>
#include <unistd.h>

namespace wavechroma {

namespace {

constexpr double kRational = 1e-6; ///< what a signed rational of these tags is rounded by, and more

Error notAsMade(const std::string &name, const std::string &what)
{
    return internalError("{file}: does not read back as it was written ({what})",
                         {{"file", name}, {"what", what}});
}

bool near(double a, double b, double within)
{
    return std::abs(a - b) <= within;
}

bool nearMatrix(const Matrix3 &a, const Matrix3 &b)
{
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            if (!near(a(i, j), b(i, j), kRational))
                return false;
    return true;
}

bool sameLight(const ProfileLight &a, const ProfileLight &b)
{
    const bool isSamePlace = a.illuminant.has_value() == b.illuminant.has_value() &&
                             (!a.illuminant || (near(a.illuminant->x, b.illuminant->x, kRational) &&
                                                near(a.illuminant->y, b.illuminant->y, kRational)));
    return isSamePlace && a.illuminantCode == b.illuminantCode && nearMatrix(a.colorMatrix, b.colorMatrix) &&
           nearMatrix(a.forwardMatrix, b.forwardMatrix) && a.map == b.map;
}

bool sameTone(const CameraProfile &a, const CameraProfile &b)
{
    return a.linearTone == b.linearTone && std::equal(a.tone.begin(), a.tone.end(), b.tone.begin(),
                                                      b.tone.end(), [](const auto &one, const auto &other) {
                                                          return near(one.first, other.first, kRational) &&
                                                                 near(one.second, other.second, kRational);
                                                      });
}

/// The tags that the metadata library sees, by its own parser.
Result<Done> checkByLibrary(const Bytes &copy, const CameraProfile &profile, const Vector3 &neutral,
                            const std::string &name)
try {
    Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute); // of odd tags that are the original's own
    const auto image = Exiv2::ImageFactory::open(copy.data(), copy.size());
    image->readMetadata();
    const auto &exif = image->exifData();
    const auto numbers = [&](const char *key) {
        std::vector<double> out;
        if (const auto at = exif.findKey(Exiv2::ExifKey(key)); at != exif.end())
            for (decltype(at->count()) i = 0; i < at->count(); ++i)
                out.push_back(double(at->toFloat(long(i))));
        return out;
    };
    constexpr double kSingle = 1e-5; // it gives them in single precision
    const auto matrix = numbers("Exif.Image.ColorMatrix1"), seen = numbers("Exif.Image.AsShotNeutral");
    bool isSame = matrix.size() == 9 && seen.size() == 3;
    for (size_t i = 0; i < 9 && isSame; ++i)
        isSame = near(matrix[i], profile.lights.front().colorMatrix(int(i / 3), int(i % 3)), kSingle);
    for (size_t i = 0; i < 3 && isSame; ++i)
        isSame = near(seen[i], neutral[i], kSingle);
    return isSame ? Result<Done>(Done{}) : notAsMade(name, words::said("by the metadata library"));
} catch (const Exiv2::Error &fault) {
    return notAsMade(name, fault.what());
}

/// Lines of a table, as fields.
std::vector<std::vector<std::string>> fieldsOf(const std::string &text)
{
    std::vector<std::vector<std::string>> out;
    for (size_t from = 0; from < text.size();) {
        const auto end = std::min(text.find("\r\n", from), text.size());
        out.push_back(splitCsvLine(std::string_view(text).substr(from, end - from)));
        from = end + 2;
    }
    return out;
}

/// A number, and by how much it may differ as it is printed.
struct Printed
{
    double value, within;
};
Printed withDigits(double value, int digits)
{
    return {value, std::abs(value) * std::pow(10.0, 1 - digits) + 1e-300};
}
Printed withDecimals(double value, int decimals)
{
    return {value, 0.51 * std::pow(10.0, -decimals)};
}

/// Do the fields from the second on say these numbers?
bool say(const std::vector<std::string> &fields, const std::vector<Printed> &wanted)
{
    if (fields.size() != wanted.size() + 1)
        return false;
    for (size_t i = 0; i < wanted.size(); ++i) {
        const auto got = numberFrom(fields[i + 1]);
        if (!got || !near(*got, wanted[i].value, wanted[i].within))
            return false;
    }
    return true;
}

std::vector<Printed> row(const Vector3 &v)
{
    constexpr int kDigits = 9;
    return {withDigits(v[0], kDigits), withDigits(v[1], kDigits), withDigits(v[2], kDigits)};
}

std::vector<Printed> row(const Calibration &c, const FittedPatch &patch)
{
    const Lab wanted = labFromXyz(patch.reference), got = labFromXyz(xyzFromCamera(c, patch.rgb));
    std::vector<Printed> out;
    for (const double v : {patch.rgb.r, patch.rgb.g, patch.rgb.b})
        out.push_back(withDigits(v, 8));
    for (const double v : {wanted.l, wanted.a, wanted.b, got.l, got.a, got.b, de2000(got, wanted)})
        out.push_back(withDecimals(v, 4));
    return out;
}

} // namespace

bool saysTheSame(const CameraProfile &a, const CameraProfile &b)
{
    return a.name == b.name && a.cameraModel == b.cameraModel && a.copyright == b.copyright &&
           sameTone(a, b) &&
           std::equal(a.lights.begin(), a.lights.end(), b.lights.begin(), b.lights.end(), sameLight);
}

Result<Done> checkCopy(const Bytes &copy, const Bytes &original, const CameraProfile &profile,
                       const Vector3 &asShotNeutral, const std::string &name)
{
    constexpr size_t kHeader = 8;
    const bool isThere = copy.size() > original.size() &&
                         std::equal(original.begin() + kHeader, original.end(), copy.begin() + kHeader);
    if (!isThere)
        return notAsMade(name, "the original's bytes");
    const auto tags = tags::readDirectory(copy, 42, name), before = tags::readDirectory(original, 42, name);
    if (!tags || !before)
        return (tags ? before : tags).error();
    for (const auto &tag : *before) {
        if (isReplacedByProfile(tag.id))
            continue;
        const auto *now = tags::find(*tags, tag.id);
        if (!now || now->type != tag.type || now->count != tag.count || now->data != tag.data)
            return notAsMade(name, "tag " + std::to_string(tag.id));
    }
    auto made = cameraProfileOf(*tags, name);
    if (!made)
        return made.error();
    made->cameraModel = profile.cameraModel; // the file keeps its own
    if (!saysTheSame(*made, profile))
        return notAsMade(name, "the profile");
    const double most = *std::max_element(asShotNeutral.begin(), asShotNeutral.end());
    const Vector3 neutral{asShotNeutral[0] / most, asShotNeutral[1] / most, asShotNeutral[2] / most};
    const auto seen = tags::numbersOf(*tags, 50728); // AsShotNeutral
    for (size_t i = 0; i < 3; ++i)
        if (!seen || seen->size() != 3 || !near((*seen)[i], neutral[i], kRational))
            return notAsMade(name, "AsShotNeutral");
    return checkByLibrary(copy, profile, neutral, name);
}

/// A file in memory that has a path, for what opens files.
class FileInMemory
{
public:
    explicit FileInMemory(const Bytes &bytes) : m_file(memfd_create("copy", MFD_CLOEXEC))
    {
        for (size_t at = 0; m_file >= 0 && at < bytes.size();) {
            const auto written = ::write(m_file, bytes.data() + at, bytes.size() - at);
            if (written <= 0)
                break;
            at += size_t(written);
        }
    }
    ~FileInMemory()
    {
        if (m_file >= 0)
            ::close(m_file);
    }
    FileInMemory(const FileInMemory &) = delete;
    FileInMemory &operator=(const FileInMemory &) = delete;
    [[nodiscard]] std::filesystem::path path() const { return "/proc/self/fd/" + std::to_string(m_file); }

private:
    int m_file;
};

Result<Done> checkSamples(const Bytes &dng, const RawFrame &frame, const std::string &name)
{
    const FileInMemory file(dng);
    const auto back = openFrame(file.path());
    if (!back || !back->mosaic || back->width != frame.width || back->height != frame.height)
        return notAsMade(name, words::said("size and filter"));
    const auto &a = *back->mosaic, &b = *frame.mosaic;
    for (int y = 0; y < frame.height; ++y)
        if (!std::equal(a.samples + y * a.rowStride, a.samples + y * a.rowStride + frame.width,
                        b.samples + y * b.rowStride))
            return notAsMade(name, words::said("samples"));
    for (int y = 0; y < b.periodY * a.periodY; ++y)
        for (int x = 0; x < b.periodX * a.periodX; ++x)
            if (a.channel[a.cell(x, y)] != b.channel[b.cell(x, y)] ||
                std::abs(a.black[a.cell(x, y)] - b.black[b.cell(x, y)]) > 1e-3F)
                return notAsMade(name, words::said("filter and black levels"));
    return std::lround(a.white) == std::lround(b.white) ? Result<Done>(Done{})
                                                        : notAsMade(name, words::said("white level"));
}

Result<Done> checkCsv(const std::string &text, const Calibration &c, const std::string &name)
{
    const auto rows = fieldsOf(text);
    constexpr size_t kAbove = 8; // header, matrix, multipliers, scale, an empty line, header
    if (rows.size() != kAbove + c.patches.size())
        return notAsMade(name, "its lines");
    for (int i = 0; i < 3; ++i)
        if (!say(rows[size_t(i) + 1], row({c.matrix(i, 0), c.matrix(i, 1), c.matrix(i, 2)})))
            return notAsMade(name, "the matrix");
    if (!say(rows[4], row(c.multipliers)) ||
        !say(rows[5], row({c.exposureScale, c.exposureScale, c.exposureScale})))
        return notAsMade(name, words::said("multipliers and exposure scale"));
    for (size_t i = 0; i < c.patches.size(); ++i) {
        const auto &fields = rows[kAbove + i];
        const auto id = splitCsvLine(csvField(c.patches[i].id));
        if (fields.front() != id.front() || !say(fields, row(c, c.patches[i])))
            return notAsMade(name, "patch " + c.patches[i].id);
    }
    return Done{};
}

Result<Done> checkSectors(const std::string &text, const Calibration &c, const std::string &name)
{
    const auto rows = fieldsOf(text);
    const auto sectors = hueSectorsOf(c);
    if (rows.size() != sectors.size() + 1)
        return notAsMade(name, "its lines");
    for (size_t i = 0; i < sectors.size(); ++i) {
        const auto &s = sectors[i];
        if (!say(rows[i + 1],
                 {withDecimals(s.from, 1), withDecimals(s.to, 1), withDecimals(s.hueShift, 2),
                  withDecimals(100 * (s.chromaRatio - 1), 2), withDecimals(s.lightnessShift, 2)}))
            return notAsMade(name, "sector " + std::to_string(i + 1));
    }
    return Done{};
}

Result<Done> checkCgats(const std::string &text, const Calibration &c, const std::string &name)
{
    const auto rows = cgatsNumbers(text, name);
    if (!rows)
        return rows.error();
    if (rows->size() != c.patches.size())
        return notAsMade(name, "its rows");
    for (size_t i = 0; i < c.patches.size(); ++i) {
        const auto &[id, numbers] = (*rows)[i];
        const auto wanted = cgatsRow(c, c.patches[i]);
        const bool isSame = id == c.patches[i].id &&
                            std::equal(numbers.begin(), numbers.end(), wanted.begin(), wanted.end(),
                                       [](double got, double made) {
                                           constexpr double kWritten = 1e-6; // of ten digits
                                           return near(got, made, kWritten * std::max(1.0, std::abs(made)));
                                       });
        if (!isSame)
            return notAsMade(name, "patch " + c.patches[i].id);
    }
    return Done{};
}

} // namespace wavechroma
