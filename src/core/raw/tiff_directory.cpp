#include "core/raw/tiff_directory.h"

namespace wavechroma {

const TiffDirectory::Entry *TiffDirectory::find(uint16_t id) const
{
    for (const auto &entry : entries)
        if (entry.id == id)
            return &entry;
    return nullptr;
}

std::optional<TiffDirectory> tiffDirectoryOf(std::span<const uint8_t> file)
{
    if (file.size() < 14 || file[0] != file[1] || (file[0] != 'I' && file[0] != 'M'))
        return std::nullopt;
    TiffDirectory out{ByteOrder(file[0] == 'M'), 0, {}, 0};
    out.magic = uint16_t(out.order.get(file, 2, 2));
    const size_t start = out.order.get(file, 4, 4);
    if (start + 2 > file.size())
        return std::nullopt;
    const size_t count = out.order.get(file, start, 2);
    out.end = start + 2 + 12 * count;
    if (out.end > file.size())
        return std::nullopt;
    for (size_t at = start + 2; at < out.end; at += 12)
        out.entries.push_back({uint16_t(out.order.get(file, at, 2)), uint16_t(out.order.get(file, at + 2, 2)),
                               out.order.get(file, at + 4, 4), at});
    return out;
}

} // namespace wavechroma
