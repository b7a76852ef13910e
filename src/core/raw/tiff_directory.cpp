#include "core/raw/tiff_directory.h"

namespace wavechroma {

const TiffDirectory::Entry *TiffDirectory::find(uint16_t id) const
{
    for (const auto &entry : entries)
        if (entry.id == id)
            return &entry;
    return nullptr;
}

std::optional<TiffDirectory> tiffDirectoryAt(std::span<const uint8_t> file, ByteOrder order, size_t start)
{
    TiffDirectory out{order, 0, {}, 0};
    if (file.size() < 2 || start > file.size() - 2)
        return std::nullopt;
    const size_t count = order.get(file, start, 2);
    out.end = start + 2 + 12 * count;
    if (out.end > file.size())
        return std::nullopt;
    for (size_t at = start + 2; at < out.end; at += 12)
        out.entries.push_back({uint16_t(order.get(file, at, 2)), uint16_t(order.get(file, at + 2, 2)),
                               order.get(file, at + 4, 4), at});
    return out;
}

std::optional<TiffDirectory> tiffDirectoryOf(std::span<const uint8_t> file)
{
    if (file.size() < 14 || file[0] != file[1] || (file[0] != 'I' && file[0] != 'M'))
        return std::nullopt;
    const ByteOrder order(file[0] == 'M');
    auto out = tiffDirectoryAt(file, order, order.get(file, 4, 4));
    if (out)
        out->magic = uint16_t(order.get(file, 2, 2));
    return out;
}

} // namespace wavechroma
