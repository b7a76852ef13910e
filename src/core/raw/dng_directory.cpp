#include "core/raw/dng_directory.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace wavechroma::raw {

namespace {

/// Bytes of a value by TIFF type, 0 for an unknown one.
size_t sizeOfType(uint16_t type)
{
    constexpr size_t kSizes[] = {0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4};
    return type < std::size(kSizes) ? kSizes[type] : 0;
}

double realAt(std::span<const uint8_t> bytes, size_t at, uint16_t type, ByteOrder order)
{
    const auto whole = [&](size_t from, int size) { return order.get(bytes, from, size); };
    switch (type) {
    case 5:
        return double(whole(at, 4)) / double(whole(at + 4, 4));
    case 6:
        return double(int8_t(whole(at, 1)));
    case 8:
        return double(int16_t(whole(at, 2)));
    case 9:
        return double(int32_t(whole(at, 4)));
    case 10:
        return double(int32_t(whole(at, 4))) / double(int32_t(whole(at + 4, 4)));
    case 11:
        return double(std::bit_cast<float>(whole(at, 4)));
    case 12: {
        const uint64_t first = whole(at, 4), second = whole(at + 4, 4);
        return std::bit_cast<double>(order.isHighestFirst() ? first << 32 | second : second << 32 | first);
    }
    default:
        return double(whole(at, int(sizeOfType(type))));
    }
}

} // namespace

std::optional<std::span<const uint8_t>> DngDirectory::valuesOf(const TiffDirectory::Entry &entry) const
{
    const size_t total = sizeOfType(entry.type) * entry.count;
    if (total == 0)
        return std::nullopt;
    const size_t from = total <= 4 ? entry.at + 8 : m_directory.order.get(m_file, entry.at + 8, 4);
    if (total > m_file.size() || from > m_file.size() - total)
        return std::nullopt;
    return m_file.subspan(from, total);
}

std::vector<uint32_t> DngDirectory::wholes(uint16_t id) const
{
    const auto *entry = m_directory.find(id);
    const bool isWhole = entry && (entry->type == 1 || entry->type == 3 || entry->type == 4 ||
                                   entry->type == 7 || entry->type == 13);
    const auto values = isWhole ? valuesOf(*entry) : std::nullopt;
    if (!values)
        return {};
    const size_t size = sizeOfType(entry->type);
    std::vector<uint32_t> out(entry->count);
    for (size_t i = 0; i < out.size(); ++i)
        out[i] = m_directory.order.get(*values, i * size, int(size));
    return out;
}

uint32_t DngDirectory::whole(uint16_t id, uint32_t otherwise) const
{
    const auto all = wholes(id);
    return all.size() == 1 ? all[0] : otherwise;
}

std::vector<double> DngDirectory::reals(uint16_t id) const
{
    const auto *entry = m_directory.find(id);
    const auto values = entry && entry->type != 2 ? valuesOf(*entry) : std::nullopt;
    if (!values)
        return {};
    std::vector<double> out(entry->count);
    for (size_t i = 0; i < out.size(); ++i) {
        out[i] = realAt(*values, i * sizeOfType(entry->type), entry->type, m_directory.order);
        if (!std::isfinite(out[i]))
            return {};
    }
    return out;
}

std::span<const uint8_t> DngDirectory::bytes(uint16_t id) const
{
    const auto *entry = m_directory.find(id);
    const bool isBytes = entry && (entry->type == 1 || entry->type == 2 || entry->type == 7);
    return isBytes ? valuesOf(*entry).value_or(std::span<const uint8_t>()) : std::span<const uint8_t>();
}

std::string DngDirectory::text(uint16_t id) const
{
    const auto all = bytes(id);
    return {all.begin(), std::find(all.begin(), all.end(), uint8_t(0))};
}

bool DngDirectory::isReadable(uint16_t id) const
{
    const auto *entry = m_directory.find(id);
    return !entry || (valuesOf(*entry) && (entry->type == 2 || entry->type == 7 || !reals(id).empty()));
}

} // namespace wavechroma::raw
