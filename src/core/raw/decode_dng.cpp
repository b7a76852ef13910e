#include "core/raw/decode_dng.h"

#include "core/raw/dng_color.h"
#include "core/raw/dng_levels.h"
#include "core/raw/dng_tags.h"

namespace wavechroma::raw {

namespace {

constexpr int kLeastSide = 16;

/// Samples as stored; where the raw library unpacked them, the layout loses the table that it applied.
SamplesOrFault samplesOf(DngLayout &layout, const std::string &name,
                         const std::function<SamplesOrFault()> &byLibrary)
{
    auto own = ownSamplesOf(layout);
    if (!own && !isSafeForLibrary(layout))
        return unusable(
            "{file}: its samples are compressed in a way that is not supported (compression {code})",
            {{"file", name}, {"code", double(layout.compression)}});
    if (!own) {
        auto samples = byLibrary();
        const auto needed = size_t(layout.width) * size_t(layout.height);
        if (samples && ((*samples)->unpacked.size() != needed || (*samples)->rowStride != layout.width))
            return unusable("{file}: is damaged", {{"file", name}});
        layout.linearization.clear();
        return samples;
    }
    if (own->isDamaged)
        return unusable("{file}: is truncated or damaged", {{"file", name}});
    return own;
}

void fillColor(RawFrame &frame, std::span<const uint8_t> file)
{
    const auto first = tiffDirectoryOf(file);
    if (!first)
        return;
    const DngDirectory directory(file, *first);
    auto color = dngColorOf(directory);
    if (color.matrices.empty() && !color.asShotNeutral)
        color = frame.fileColor; // the raw library looks in other directories too
    else if (color.matrices.empty())
        color.matrices = frame.fileColor.matrices; // and has a table of cameras
    frame.fileColor = std::move(color);
    const auto orientation = directory.whole(tag::Orientation, 1);
    frame.orientation = orientation >= 1 && orientation <= 8 ? int(orientation) : 1;
}

} // namespace

bool hasDngVersion(std::span<const uint8_t> file)
{
    const auto directory = tiffDirectoryOf(file);
    return directory && directory->find(tag::DngVersion);
}

Result<Done> fillFromDng(RawFrame &frame, const std::shared_ptr<const MappedFile> &file,
                         const std::function<SamplesOrFault()> &byLibrary)
{
    const std::string name = frame.path;
    auto layout = dngLayoutOf(file->bytes(), name);
    if (!layout)
        return layout.error();
    if (layout->visibleWidth < kLeastSide || layout->visibleHeight < kLeastSide)
        return unusable("{file}: has no usable picture size", {{"file", name}});
    if (size_t(layout->width) * size_t(layout->height) > kMostPixels)
        return unusable("{file}: is too large", {{"file", name}});
    const auto samples = samplesOf(*layout, name, byLibrary);
    if (!samples)
        return samples.error();
    auto gain = gainOf(*layout, name);
    if (!gain)
        return gain.error();
    frame.width = layout->visibleWidth;
    frame.height = layout->visibleHeight;
    frame.fileGain = *gain;
    if (layout->filterRows > 0) {
        frame.mosaic = std::make_shared<Mosaic>(mosaicOf(*layout, *samples));
        if (frame.mosaic->memory.empty())
            frame.memory = file;
    } else {
        frame.picture = std::make_shared<LinearPicture>(pictureOf(*layout, **samples));
    }
    fillColor(frame, file->bytes());
    return Done{};
}

} // namespace wavechroma::raw
