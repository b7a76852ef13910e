#pragma once
#include "core/base/phrase.h"
#include "core/base/result.h"
#include "core/color/rgb_space.h"
#include "core/raw/raw_frame.h"

#include <atomic>
#include <filesystem>
#include <span>
#include <sys/stat.h>

/// What the files of this folder share; not for other folders.
namespace wavechroma::raw {

/// A file mapped into memory, read-only. Where the file is cut short while it is read, what is gone reads as
/// zeros rather than ending the program (the system's bus error is answered with empty pages), and
/// hasChanged() says so; it does too when the file was written into.
class MappedFile
{
public:
    static Result<std::shared_ptr<const MappedFile>> open(const std::filesystem::path &path);
    /// A file that is open; its descriptor is taken over.
    static Result<std::shared_ptr<const MappedFile>> of(int descriptor, const std::string &name);
    ~MappedFile();
    MappedFile(const MappedFile &) = delete;
    MappedFile &operator=(const MappedFile &) = delete;
    [[nodiscard]] std::span<const uint8_t> bytes() const { return {m_data, m_size}; }
    [[nodiscard]] bool hasChanged() const;
    [[nodiscard]] int descriptor() const { return m_descriptor; }
    /// A reader that goes through the file has come so far: pages before need no memory any longer, until
    /// they are read again.
    void passed(size_t at) const;

private:
    MappedFile() = default;
    struct Stamp ///< how long it is, and when it was written last
    {
        uint64_t size = 0;
        int64_t seconds = 0, nanoseconds = 0;
        bool operator==(const Stamp &) const = default;
    };
    static Stamp stampOf(const struct stat &info);
    int m_descriptor = -1;
    Stamp m_stamp;
    const uint8_t *m_data = nullptr;
    size_t m_size = 0;
    mutable std::atomic<size_t> m_passed = 0;
    int m_guard = -1; ///< among the guarded ranges; −1: there was no place
};

/// Facts of the camera that are no numbers (a fraction over nothing, a NaN) become unknown.
void keepFinite(RawFrame &frame);

/// What the raw library's code says, to be read after a file's name.
[[nodiscard]] words::Phrase libraryFault(int code);

/// Can so many bytes of pixels come out of a file of that size? No packing of these formats is better than
/// `mostTimes`.
[[nodiscard]] inline bool canHold(size_t fileSize, double pixelBytes, double mostTimes)
{
    return pixelBytes <= mostTimes * double(fileSize) + 1e6;
}

/// What the codes of a picture without an ICC profile stand for.
struct CodedSpace
{
    RgbSpace space;   ///< its primaries and white
    double power = 0; ///< light is code to that power; 0: by the space's transfer curve
};

/// A picture as decoded, before its tone curve is undone.
struct CodedPicture
{
    int width = 0, height = 0, channels = 0; ///< 1 or 3
    int maxCode = 255;                       ///< 255 or 65535
    Samples codes;                           ///< interleaved
    std::vector<uint8_t> iccProfile;         ///< empty when none
    std::optional<CodedSpace> space = {};    ///< by a mark of its format's own
    const char *leaves = nullptr;            ///< what of the file is not in it; null: nothing
};

inline constexpr size_t kMostPixels = 400'000'000;

Result<CodedPicture> decodeJpeg(std::span<const uint8_t> bytes, const std::string &name);
Result<CodedPicture> decodePng(const MappedFile &file, const std::string &name);
Result<CodedPicture> decodeTiff(const MappedFile &file, const std::string &name);

struct Linearised
{
    LinearPicture picture;
    Matrix3 xyzD50FromRgb{};           ///< of its primaries; (1,1,1) to the profile connection space's D50
    std::vector<CodeCurve> codes = {}; ///< three, or none for a profile with tables
};

/// Undoes the tone curve of the picture's profile, keeping its primaries where the profile is
/// matrix-and-curves; profiles with tables go to linear sRGB primaries. Pictures without a profile are in
/// the space that they name, else count as `assume` says.
Result<Linearised> linearise(CodedPicture picture, const std::string &name, const std::string &assume);

/// Fills what the decoders left empty of camera facts and the orientation from the file's Exif data. Never
/// fails: a file with broken metadata keeps what is known.
/// Returns the space of the codes where the data name one: sRGB, or opRGB (Exif ColorSpace; DCF 2.0, 5.4.2:
/// interoperability index R03).
std::optional<CodedSpace> fillFromExif(std::span<const uint8_t> bytes, CameraFacts &facts, int *orientation);

/// Facts by the raw library; samples by own_dng.h where that reads them, else, or `byLibrary`, by it too.
Result<RawFrame> decodeRaw(std::shared_ptr<const MappedFile> file, const std::string &name,
                           bool byLibrary = false);

} // namespace wavechroma::raw
