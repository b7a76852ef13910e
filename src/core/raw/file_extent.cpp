#include "core/raw/file_extent.h"

#include "core/raw/tiff_directory.h"

#include <algorithm>
#include <fstream>
#include <set>
#include <string_view>

namespace wavechroma {

namespace {

constexpr size_t kMostDirectories = 64, kMostParts = 1 << 20, kLooked = 4096;

class File
{
public:
    explicit File(const std::filesystem::path &path) : m_in(path, std::ios::binary | std::ios::ate)
    {
        m_size = m_in ? size_t(m_in.tellg()) : 0;
    }
    [[nodiscard]] size_t size() const { return m_size; }
    /// Fewer where the file ends.
    std::vector<uint8_t> at(size_t from, size_t count)
    {
        std::vector<uint8_t> out(from < m_size ? std::min(count, m_size - from) : 0);
        m_in.clear();
        m_in.seekg(std::streamoff(from));
        m_in.read(reinterpret_cast<char *>(out.data()), std::streamsize(out.size()));
        out.resize(size_t(std::max<std::streamsize>(0, m_in.gcount())));
        return out;
    }

private:
    std::ifstream m_in;
    size_t m_size = 0;
};

size_t sizeOf(uint32_t type)
{
    constexpr size_t kSizes[] = {0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4};
    return type < std::size(kSizes) ? kSizes[type] : 0;
}

/// The parts of one TIFF or DNG, directory by directory.
class TiffParts
{
public:
    TiffParts(File &file, const ByteOrder &order) : m_file(file), m_order(order) {}

    bool isWhole(size_t first)
    {
        m_waiting = {first};
        while (!m_waiting.empty()) {
            const size_t at = m_waiting.back();
            m_waiting.pop_back();
            if (at == 0 || !m_seen.insert(at).second)
                continue;
            if (m_seen.size() > kMostDirectories || !directory(at))
                return false;
        }
        return m_hasPicture; // else its directory is still to come
    }

private:
    bool directory(size_t at)
    {
        const auto head = m_file.at(at, 2);
        if (head.size() < 2)
            return false;
        const size_t count = m_order.get(head, 0, 2);
        const auto body = m_file.at(at + 2, 12 * count + 4);
        if (body.size() < 12 * count + 4)
            return false;
        m_waiting.push_back(m_order.get(body, 12 * count, 4));
        std::vector<size_t> places, sizes;
        for (size_t i = 0; i < count; ++i) {
            const auto id = m_order.get(body, 12 * i, 2);
            const auto values = numbers(std::span(body).subspan(12 * i, 12));
            if (!values)
                return false;
            if (id == 273 || id == 324 || id == 513) // StripOffsets, TileOffsets, JPEGInterchangeFormat
                places.insert(places.end(), values->begin(), values->end());
            else if (id == 279 || id == 325 || id == 514)
                sizes.insert(sizes.end(), values->begin(), values->end());
            else if (id == 330 || id == 34665) // SubIFDs, the Exif directory
                m_waiting.insert(m_waiting.end(), values->begin(), values->end());
        }
        m_hasPicture = m_hasPicture || !places.empty();
        for (size_t i = 0; i < std::min(places.size(), sizes.size()); ++i)
            if (places[i] + sizes[i] > m_file.size())
                return false;
        return places.empty() || sizes.empty() || holdsSomething(places.back(), sizes.back());
    }

    /// What an entry holds, where that is whole numbers; nothing when it lies outside the file.
    std::optional<std::vector<size_t>> numbers(std::span<const uint8_t> entry)
    {
        const auto type = m_order.get(entry, 2, 2), count = m_order.get(entry, 4, 4);
        const size_t each = sizeOf(type), all = each * count;
        const bool isInside = all <= 4;
        const size_t at = isInside ? 0 : m_order.get(entry, 8, 4);
        if (!isInside && at + all > m_file.size())
            return std::nullopt;
        std::vector<size_t> out;
        if ((type != 3 && type != 4 && type != 13) || count > kMostParts)
            return out;
        const auto data =
            isInside ? std::vector<uint8_t>(entry.begin() + 8, entry.end()) : m_file.at(at, all);
        if (data.size() < all)
            return std::nullopt;
        for (size_t i = 0; i < count; ++i)
            out.push_back(m_order.get(data, i * each, int(each)));
        return out;
    }

    /// A place that a program keeps free for what is to come is all zeros.
    bool holdsSomething(size_t place, size_t size)
    {
        const size_t looked = std::min(size, kLooked);
        const auto end = m_file.at(place + size - looked, looked);
        return size == 0 || std::any_of(end.begin(), end.end(), [](uint8_t b) { return b != 0; });
    }

    File &m_file;
    ByteOrder m_order;
    std::vector<size_t> m_waiting;
    std::set<size_t> m_seen;
    bool m_hasPicture = false;
};

bool holds(const std::vector<uint8_t> &bytes, std::string_view mark)
{
    return std::search(bytes.begin(), bytes.end(), mark.begin(), mark.end(),
                       [](uint8_t a, char b) { return a == uint8_t(b); }) != bytes.end();
}

} // namespace

Extent extentOf(const std::filesystem::path &path)
{
    File file(path);
    const auto head = file.at(0, 16);
    const auto starts = [&](std::string_view mark) {
        return head.size() >= mark.size() && std::equal(mark.begin(), mark.end(), head.begin(),
                                                        [](char a, uint8_t b) { return uint8_t(a) == b; });
    };
    const auto said = [](bool isWhole) { return isWhole ? Extent::Whole : Extent::Short; };
    if (head.size() < 14 || std::all_of(head.begin(), head.end(), [](uint8_t b) { return b == 0; }))
        return Extent::Short;
    const size_t tail = std::min<size_t>(file.size(), kLooked);
    if (starts("\xFF\xD8"))
        return said(holds(file.at(file.size() - tail, tail), "\xFF\xD9"));
    if (starts("\x89PNG"))
        return said(holds(file.at(file.size() - tail, tail), "IEND"));
    const ByteOrder order(head[0] == 'M');
    if ((starts("II") || starts("MM")) && order.get(head, 2, 2) == 42)
        return said(TiffParts(file, order).isWhole(order.get(head, 4, 4)));
    return Extent::Unknown;
}

} // namespace wavechroma
