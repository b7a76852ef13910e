#pragma once
#include "core/formats/whole_file.h"
#include "core/raw/tiff_directory.h"

#include <optional>
#include <string>

/// Directories of tags as TIFF 6.0 (section 2), DNG and DNG camera profiles have them. Written with
/// the lowest byte first. A camera profile is no picture file, so the picture library cannot write it; raw
/// frames use the same few lines. Not for other folders.
namespace wavechroma::tags {

enum class Type : uint16_t {
    Byte = 1,
    Ascii = 2,
    Short = 3,
    Long = 4,
    Rational = 5,
    SByte = 6,
    Undefined = 7,
    SShort = 8,
    SLong = 9,
    SRational = 10,
    Float = 11,
    Double = 12
};

struct Tag
{
    uint16_t id = 0;
    Type type = Type::Byte;
    uint32_t count = 0;
    Bytes data;
};

[[nodiscard]] Tag ascii(uint16_t id, const std::string &text); ///< with its closing zero
[[nodiscard]] Tag bytes(uint16_t id, const Bytes &values);
[[nodiscard]] Tag undefined(uint16_t id, const Bytes &values);
[[nodiscard]] Tag shorts(uint16_t id, const std::vector<uint16_t> &values);
[[nodiscard]] Tag longs(uint16_t id, const std::vector<uint32_t> &values);
[[nodiscard]] Tag rationals(uint16_t id, const std::vector<double> &values);  ///< ≥ 0; 1/60 stays 1/60
[[nodiscard]] Tag srationals(uint16_t id, const std::vector<double> &values); ///< to 1e-7 below 200
[[nodiscard]] Tag floats(uint16_t id, const std::vector<float> &values);

/// A tag's data from that order to ours, or from ours to it. IlluminantData (18 bytes to the directory) holds
/// a SHORT and LONGs.
[[nodiscard]] Bytes inOrder(const Tag &tag, const ByteOrder &order);

/// A directory of tags alone (Exif, GPS) that a pointer tag of the one above names.
struct Branch
{
    uint16_t pointer = 0;
    std::vector<Tag> tags;
};

/// One directory and those below it: of tags alone, and at most one of a picture (SubIFDs), whose bytes its
/// StripOffsets then gives.
struct Directory
{
    std::vector<Tag> tags;
    std::vector<Branch> branches = {};
    uint16_t picturePointer = 0;
    std::vector<Tag> picture = {};
    Bytes pictureBytes = {};
};

/// A whole file: header with `magic` (42 for TIFF), directory, values, and `image` at the end, whose place a
/// LONG tag `imagePointer` then gives (0: no image).
[[nodiscard]] Bytes fileOf(const Directory &directory, uint16_t magic, uint16_t imagePointer = 0,
                           const Bytes &image = {});

/// The first directory of such a file, in either byte order. Unusable when it is cut short, has the wrong
/// magic, or points outside itself.
[[nodiscard]] Result<std::vector<Tag>> readDirectory(const Bytes &file, uint16_t magic,
                                                     const std::string &name);
[[nodiscard]] std::optional<std::string> textOf(const std::vector<Tag> &tags, uint16_t id);
/// Numbers of any type; nothing when the tag is absent.
[[nodiscard]] std::optional<std::vector<double>> numbersOf(const std::vector<Tag> &tags, uint16_t id);
[[nodiscard]] const Tag *find(const std::vector<Tag> &tags, uint16_t id);

} // namespace wavechroma::tags
