#include "core/formats/dng_embed.h"

#include <algorithm>

namespace wavechroma {

using namespace tags;

namespace {

constexpr uint16_t kDngVersion = 50706, kDngBackwardVersion = 50707, kUniqueModel = 50708,
                   kAsShotNeutral = 50728;

/// Tags of colour that the profile replaces or that would change what it means.
bool isColour(uint16_t id)
{
    constexpr uint16_t kOfColour[] = {50721, 50722, 50723, 50724, 50725, 50726, 50727, 50728, 50729, 50778,
                                      50779, 50931, 50932, 50936, 50937, 50938, 50939, 50940, 50941, 50942,
                                      50964, 50965, 50981, 50982, 51107, 51108, 51109, 51110, 52529, 52530,
                                      52531, 52532, 52533, 52534, 52535, 52537, 52538};
    return std::find(std::begin(kOfColour), std::end(kOfColour), id) != std::end(kOfColour);
}

struct Entry
{
    uint16_t id = 0;
    Bytes head; ///< the 12 bytes as they were; else `tag`
    Tag tag;
};

} // namespace

bool isReplacedByProfile(uint16_t tag)
{
    return isColour(tag) || tag == kDngVersion || tag == kDngBackwardVersion;
}

Result<Bytes> withProfile(const Bytes &dng, const CameraProfile &profile, const Vector3 &asShotNeutral,
                          const std::string &name)
{
    const auto directoryBefore = tiffDirectoryOf(dng);
    if (!directoryBefore || directoryBefore->magic != 42 || directoryBefore->end + 4 > dng.size())
        return unusable("{file}: is not a DNG file, or is cut short", {{"file", name}});
    const auto &order = directoryBefore->order;
    std::vector<Entry> entries;
    bool isDng = false;
    Bytes version{1, 1, 0, 0}, backward{1, 1, 0, 0}; // as the file has them; never lowered
    for (const auto &[id, type, count, at] : directoryBefore->entries) {
        isDng = isDng || id == kDngVersion;
        if (id == kDngVersion || id == kDngBackwardVersion)
            (id == kDngVersion ? version : backward)
                .assign(dng.begin() + ptrdiff_t(at + 8), dng.begin() + ptrdiff_t(at + 12));
        if (!isReplacedByProfile(id))
            entries.push_back({id, Bytes(dng.begin() + ptrdiff_t(at), dng.begin() + ptrdiff_t(at + 12)), {}});
    }
    if (!isDng)
        return unusable("{file}: is not a DNG file", {{"file", name}});
    for (const auto &tag : tagsOf(profile))
        if (tag.id != kUniqueModel) // the file keeps its own
            entries.push_back({tag.id, {}, tag});
    const double most = *std::max_element(asShotNeutral.begin(), asShotNeutral.end());
    entries.push_back({kAsShotNeutral,
                       {},
                       rationals(kAsShotNeutral, {asShotNeutral[0] / most, asShotNeutral[1] / most,
                                                  asShotNeutral[2] / most})});
    const bool needs16 = std::any_of(profile.lights.begin(), profile.lights.end(),
                                     [](const auto &l) { return l.illuminant.has_value(); }) ||
                         profile.lights.size() > 2;
    entries.push_back(
        {kDngVersion, {}, bytes(kDngVersion, std::max(version, Bytes{1, uint8_t(needs16 ? 6 : 4), 0, 0}))});
    entries.push_back(
        {kDngBackwardVersion,
         {},
         bytes(kDngBackwardVersion,
               std::max(backward, Bytes{1, uint8_t(profile.lights.size() > 2 ? 6 : 1), 0, 0}))});
    std::stable_sort(entries.begin(), entries.end(),
                     [](const Entry &a, const Entry &b) { return a.id < b.id; });

    Bytes out = dng;
    while (out.size() % 4)
        out.push_back(0);
    const size_t directory = out.size();
    if (directory > 0xFFF00000U)
        return unusable("{file}: is too large for a second directory", {{"file", name}});
    size_t values = directory + 2 + 12 * entries.size() + 4;
    Bytes tail;
    order.put(out, uint32_t(entries.size()), 2);
    for (const auto &entry : entries) {
        if (!entry.head.empty()) {
            out.insert(out.end(), entry.head.begin(), entry.head.end());
            continue;
        }
        auto data = inOrder(entry.tag, order);
        order.put(out, entry.id, 2);
        order.put(out, uint32_t(entry.tag.type), 2);
        order.put(out, entry.tag.count, 4);
        if (data.size() <= 4) {
            data.resize(4);
            out.insert(out.end(), data.begin(), data.end());
            continue;
        }
        order.put(out, uint32_t(values + tail.size()), 4);
        tail.insert(tail.end(), data.begin(), data.end());
        while ((values + tail.size()) % 2)
            tail.push_back(0);
    }
    order.put(out, order.get(dng, directoryBefore->end, 4), 4); // the directories that follow
    out.insert(out.end(), tail.begin(), tail.end());
    Bytes pointer;
    order.put(pointer, uint32_t(directory), 4);
    std::copy(pointer.begin(), pointer.end(), out.begin() + 4);
    return out;
}

} // namespace wavechroma
