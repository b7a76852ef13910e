#include "core/formats/tag_directory.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>

namespace wavechroma::tags {

namespace {

void put(Bytes &out, uint32_t value, int size)
{
    ByteOrder().put(out, value, size);
}

size_t sizeOf(Type type)
{
    switch (type) {
    case Type::Byte:
    case Type::Ascii:
    case Type::SByte:
    case Type::Undefined:
        return 1;
    case Type::Short:
    case Type::SShort:
        return 2;
    case Type::Long:
    case Type::SLong:
    case Type::Float:
        return 4;
    case Type::Rational:
    case Type::SRational:
    case Type::Double:
        return 8;
    }
    return 0;
}

void alignEven(Bytes &out)
{
    if (out.size() % 2)
        out.push_back(0);
}

void patch(Bytes &out, size_t at, uint32_t value)
{
    for (size_t i = 0; i < 4; ++i)
        out[at + i] = uint8_t(value >> (8 * i));
}

/// Appends a directory and its values; says where each tag's value field lies.
std::vector<size_t> appendDirectory(Bytes &out, const std::vector<Tag> &tags)
{
    std::vector<size_t> valueFields;
    put(out, uint32_t(tags.size()), 2);
    for (const auto &tag : tags) {
        put(out, tag.id, 2);
        put(out, uint32_t(tag.type), 2);
        put(out, tag.count, 4);
        valueFields.push_back(out.size());
        Bytes inPlace = tag.data.size() <= 4 ? tag.data : Bytes{};
        inPlace.resize(4);
        out.insert(out.end(), inPlace.begin(), inPlace.end());
    }
    put(out, 0, 4); // no further directory
    for (size_t i = 0; i < tags.size(); ++i)
        if (tags[i].data.size() > 4) {
            alignEven(out);
            patch(out, valueFields[i], uint32_t(out.size()));
            out.insert(out.end(), tags[i].data.begin(), tags[i].data.end());
        }
    alignEven(out);
    return valueFields;
}

std::vector<Tag> sorted(std::vector<Tag> tags)
{
    std::sort(tags.begin(), tags.end(), [](const Tag &a, const Tag &b) { return a.id < b.id; });
    return tags;
}

size_t fieldOf(const std::vector<Tag> &tags, const std::vector<size_t> &fields, uint16_t id)
{
    for (size_t i = 0; i < tags.size(); ++i)
        if (tags[i].id == id)
            return fields[i];
    return 0;
}

double numberAt(const Tag &tag, size_t i)
{
    const std::span<const uint8_t> data = tag.data;
    const size_t size = sizeOf(tag.type);
    const uint32_t word = ByteOrder().get(data, i * size, int(std::min<size_t>(size, 4)));
    const uint32_t second = size == 8 ? ByteOrder().get(data, i * size + 4, 4) : 0;
    switch (tag.type) {
    case Type::SByte:
        return int8_t(word);
    case Type::SShort:
        return int16_t(word);
    case Type::SLong:
        return int32_t(word);
    case Type::Rational:
        return double(word) / second;
    case Type::SRational:
        return double(int32_t(word)) / int32_t(second);
    case Type::Float:
        return double(std::bit_cast<float>(word));
    case Type::Double:
        return std::bit_cast<double>(uint64_t(second) << 32 | word);
    default:
        return word;
    }
}

} // namespace

Tag ascii(uint16_t id, const std::string &text)
{
    Tag tag{id, Type::Ascii, uint32_t(text.size() + 1), Bytes(text.begin(), text.end())};
    tag.data.push_back(0);
    return tag;
}

Tag bytes(uint16_t id, const Bytes &values)
{
    return {id, Type::Byte, uint32_t(values.size()), values};
}

Tag undefined(uint16_t id, const Bytes &values)
{
    return {id, Type::Undefined, uint32_t(values.size()), values};
}

Tag shorts(uint16_t id, const std::vector<uint16_t> &values)
{
    Tag tag{id, Type::Short, uint32_t(values.size()), {}};
    for (const auto v : values)
        put(tag.data, v, 2);
    return tag;
}

Tag longs(uint16_t id, const std::vector<uint32_t> &values)
{
    Tag tag{id, Type::Long, uint32_t(values.size()), {}};
    for (const auto v : values)
        put(tag.data, v, 4);
    return tag;
}

Tag rationals(uint16_t id, const std::vector<double> &values)
{
    Tag tag{id, Type::Rational, uint32_t(values.size()), {}};
    for (const double v : values) {
        const double reciprocal = v > 0 ? 1 / v : 0;
        if (v < 1 && std::abs(reciprocal - std::round(reciprocal)) < 1e-9 * reciprocal && reciprocal < 4e9) {
            put(tag.data, 1, 4);
            put(tag.data, uint32_t(std::round(reciprocal)), 4);
        } else {
            const uint32_t denominator = v == std::floor(v) ? 1 : v < 400 ? 10'000'000 : 100;
            put(tag.data, uint32_t(std::llround(v * denominator)), 4);
            put(tag.data, denominator, 4);
        }
    }
    return tag;
}

Tag srationals(uint16_t id, const std::vector<double> &values)
{
    Tag tag{id, Type::SRational, uint32_t(values.size()), {}};
    for (const double v : values) {
        const int32_t denominator = std::abs(v) < 200 ? 10'000'000 : 1000;
        put(tag.data, uint32_t(int32_t(std::llround(v * denominator))), 4);
        put(tag.data, uint32_t(denominator), 4);
    }
    return tag;
}

Tag floats(uint16_t id, const std::vector<float> &values)
{
    Tag tag{id, Type::Float, uint32_t(values.size()), {}};
    for (const float v : values) {
        uint32_t word = 0;
        std::memcpy(&word, &v, 4);
        put(tag.data, word, 4);
    }
    return tag;
}

Bytes inOrder(const Tag &tag, const ByteOrder &order)
{
    Bytes data = tag.data;
    if (!order.isHighestFirst())
        return data;
    const auto turn = [&](size_t at, size_t size) {
        if (at + size <= data.size())
            std::reverse(data.begin() + ptrdiff_t(at), data.begin() + ptrdiff_t(at + size));
    };
    const size_t whole = sizeOf(tag.type);
    const size_t unit =
        tag.type == Type::Double ? whole : std::min<size_t>(4, whole); // of a rational each half
    for (size_t i = 0; unit > 1 && i < data.size(); i += unit)
        turn(i, unit);
    if (tag.type == Type::Undefined && data.size() == 18) {
        turn(0, 2);
        for (size_t i = 2; i < data.size(); i += 4)
            turn(i, 4);
    }
    return data;
}

Bytes fileOf(const Directory &directory, uint16_t magic, uint16_t imagePointer, const Bytes &image)
{
    auto tags = directory.tags;
    for (const auto &branch : directory.branches)
        tags.push_back(longs(branch.pointer, {0}));
    if (directory.picturePointer)
        tags.push_back(longs(directory.picturePointer, {0}));
    if (imagePointer)
        tags.push_back(longs(imagePointer, {0}));
    tags = sorted(tags);
    Bytes out{'I', 'I'};
    put(out, magic, 2);
    put(out, 8, 4);
    const auto fields = appendDirectory(out, tags);
    for (const auto &branch : directory.branches) {
        patch(out, fieldOf(tags, fields, branch.pointer), uint32_t(out.size()));
        appendDirectory(out, sorted(branch.tags));
    }
    if (directory.picturePointer) {
        constexpr uint16_t kStripOffsets = 273;
        patch(out, fieldOf(tags, fields, directory.picturePointer), uint32_t(out.size()));
        auto picture = directory.picture;
        picture.push_back(longs(kStripOffsets, {0}));
        picture = sorted(picture);
        const auto below = appendDirectory(out, picture);
        patch(out, fieldOf(picture, below, kStripOffsets), uint32_t(out.size()));
        out.insert(out.end(), directory.pictureBytes.begin(), directory.pictureBytes.end());
        out.resize((out.size() + 1) / 2 * 2); // what comes next begins at a word
    }
    if (imagePointer) {
        patch(out, fieldOf(tags, fields, imagePointer), uint32_t(out.size()));
        out.insert(out.end(), image.begin(), image.end());
    }
    return out;
}

Result<std::vector<Tag>> readDirectory(const Bytes &file, uint16_t magic, const std::string &name)
{
    const auto directory = tiffDirectoryOf(file);
    if (!directory || directory->magic != magic)
        return unusable("{file}: is not such a file, or is truncated", {{"file", name}});
    std::vector<Tag> out;
    size_t held = 0; // some thousand entries may all point at one large place
    for (const auto &entry : directory->entries) {
        Tag tag{entry.id, Type(entry.type), entry.count, {}};
        const size_t size = sizeOf(tag.type) * tag.count;
        if (size == 0)
            continue; // a type that we do not know, or nothing
        const size_t at = size <= 4 ? entry.at + 8 : directory->order.get(file, entry.at + 8, 4);
        if (at > file.size() || size > file.size() - at)
            return unusable("{file}: tag {tag} points outside the file",
                            {{"file", name}, {"tag", double(tag.id)}});
        held += size;
        if (held > 2 * file.size())
            return unusable("{file}: its tags hold more than the file", {{"file", name}});
        tag.data.assign(file.begin() + ptrdiff_t(at), file.begin() + ptrdiff_t(at + size));
        tag.data = inOrder(tag, directory->order);
        out.push_back(std::move(tag));
    }
    return out;
}

const Tag *find(const std::vector<Tag> &tags, uint16_t id)
{
    for (const auto &tag : tags)
        if (tag.id == id)
            return &tag;
    return nullptr;
}

std::optional<std::string> textOf(const std::vector<Tag> &tags, uint16_t id)
{
    const auto *tag = find(tags, id);
    if (!tag)
        return std::nullopt;
    return std::string(tag->data.begin(), std::find(tag->data.begin(), tag->data.end(), 0));
}

std::optional<std::vector<double>> numbersOf(const std::vector<Tag> &tags, uint16_t id)
{
    const auto *tag = find(tags, id);
    if (!tag)
        return std::nullopt;
    std::vector<double> out;
    for (size_t i = 0; i < tag->count; ++i)
        out.push_back(numberAt(*tag, i));
    return out;
}

} // namespace wavechroma::tags
