#include "core/raw/dng_layout.h"

#include "core/raw/dng_tags.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::raw {

namespace {

constexpr uint32_t kCfa = 32803, kLinearRaw = 34892;
constexpr int kMostSide = 65535;

/// What the functions below fill, and how they refuse.
struct Maker
{
    std::span<const uint8_t> file;
    const std::string &name;
    DngDirectory directory;
    DngLayout layout;

    [[nodiscard]] Error refused(uint16_t id) const
    {
        const auto row = dngTag(id);
        return unusable("{file}: what tag {tag} says about the samples is not supported",
                        {{"file", name}, {"tag", std::string(row ? row->name : "?")}});
    }
    [[nodiscard]] Error broken(uint16_t id) const
    {
        const auto row = dngTag(id);
        return unusable("{file}: its tag {tag} is damaged",
                        {{"file", name}, {"tag", std::string(row ? row->name : "?")}});
    }
};

/// The first directory and those right below it.
std::vector<DngDirectory> directoriesOf(std::span<const uint8_t> file)
{
    constexpr size_t kMost = 64;
    const auto first = tiffDirectoryOf(file);
    if (!first || first->magic != 42)
        return {};
    std::vector<DngDirectory> out{{file, *first}};
    const auto below = out[0].wholes(tag::SubIfds);
    for (size_t i = 0; i < std::min(below.size(), kMost); ++i)
        if (const auto one = tiffDirectoryAt(file, first->order, below[i]))
            out.emplace_back(file, *one);
    return out;
}

/// The largest main picture of raw samples.
const DngDirectory *mainOf(const std::vector<DngDirectory> &all)
{
    const DngDirectory *best = nullptr;
    uint64_t most = 0;
    for (const auto &one : all) {
        const auto photometric = one.whole(tag::Photometric, 0);
        const uint64_t pixels = uint64_t(one.whole(tag::ImageWidth, 0)) * one.whole(tag::ImageLength, 0);
        if (one.whole(tag::NewSubfileType, 0) == 0 && (photometric == kCfa || photometric == kLinearRaw) &&
            pixels > most) {
            best = &one;
            most = pixels;
        }
    }
    return best;
}

/// Every tag has its row; what is refused has the value that changes nothing; what is honoured can be read
/// and stands there once.
Result<Done> checkTags(const Maker &m)
{
    std::vector<uint16_t> seen;
    for (const auto &entry : m.directory.entries()) {
        const auto row = dngTag(entry.id);
        if (!row)
            return unusable("{file}: tag {tag} of its raw samples is unknown, and so is its effect",
                            {{"file", m.name}, {"tag", double(entry.id)}});
        if (row->use == TagUse::Refused &&
            (row->harmlessValue < 0 || m.directory.wholes(entry.id).empty() ||
             std::ranges::any_of(m.directory.wholes(entry.id),
                                 [&](uint32_t v) { return int64_t(v) != row->harmlessValue; })))
            return m.refused(entry.id);
        if (row->use != TagUse::Honoured)
            continue;
        if (!m.directory.isReadable(entry.id) || std::ranges::find(seen, entry.id) != seen.end())
            return m.broken(entry.id);
        seen.push_back(entry.id);
    }
    return Done{};
}

Result<Done> readSize(Maker &m)
{
    auto &l = m.layout;
    const auto width = m.directory.whole(tag::ImageWidth, 0), height = m.directory.whole(tag::ImageLength, 0);
    if (width == 0 || height == 0 || width > kMostSide || height > kMostSide)
        return unusable("{file}: has no usable picture size", {{"file", m.name}});
    l.width = l.visibleWidth = int(width);
    l.height = l.visibleHeight = int(height);
    if (!m.directory.has(tag::ActiveArea))
        return Done{};
    const auto area = m.directory.wholes(tag::ActiveArea); // top, left, bottom, right
    if (area.size() != 4 || area[0] >= area[2] || area[1] >= area[3] || area[2] > height || area[3] > width)
        return m.broken(tag::ActiveArea);
    l.top = int(area[0]);
    l.left = int(area[1]);
    l.visibleHeight = int(area[2] - area[0]);
    l.visibleWidth = int(area[3] - area[1]);
    return Done{};
}

Result<Done> readFormat(Maker &m)
{
    const auto &d = m.directory;
    auto &l = m.layout;
    l.samples = int(d.whole(tag::SamplesPerPixel, 1));
    const auto bits = d.wholes(tag::BitsPerSample), formats = d.wholes(tag::SampleFormat);
    const bool areAlike = std::ranges::all_of(bits, [&](uint32_t b) { return b == bits[0]; }) &&
                          std::ranges::all_of(formats, [&](uint32_t f) { return f == formats[0]; });
    l.bits = bits.empty() ? 1 : int(bits[0]);
    const uint32_t format = formats.empty() ? 1 : formats[0];
    l.isFloat = format == 3;
    if (!areAlike || l.bits < 8 || l.bits > 32 || (l.isFloat && l.bits != 16 && l.bits != 24 && l.bits != 32))
        return m.refused(tag::BitsPerSample);
    if (format != 1 && format != 3)
        return m.refused(tag::SampleFormat);
    const auto planes = d.whole(tag::PlanarConfiguration, 1);
    if (planes != 1 && planes != 2)
        return m.broken(tag::PlanarConfiguration);
    l.isPlanar = planes == 2 && l.samples > 1;
    l.compression = d.whole(tag::Compression, 1);
    l.predictor = d.whole(tag::Predictor, 1);
    return Done{};
}

Result<Done> readFilter(Maker &m)
{
    const auto &d = m.directory;
    auto &l = m.layout;
    const auto unusual = [&] {
        return unusable("{file}: its colour filter pattern is not red, green and blue", {{"file", m.name}});
    };
    if (d.whole(tag::Photometric, 0) == kLinearRaw)
        return l.samples == 3 ? Result<Done>(Done{}) : unusual();
    if (l.samples != 1)
        return unusual();
    const auto size = d.wholes(tag::CfaRepeatPatternDim), colours = d.wholes(tag::CfaPattern);
    if (size.size() != 2 || size[0] == 0 || size[1] == 0 || size[0] > 16 || size[1] > 16)
        return m.refused(tag::CfaRepeatPatternDim);
    if (colours.size() != size_t(size[0]) * size[1])
        return m.broken(tag::CfaPattern);
    const auto planes = d.wholes(tag::CfaPlaneColor);
    if (!planes.empty() && planes != std::vector<uint32_t>{0, 1, 2})
        return unusual();
    l.filterRows = int(size[0]);
    l.filterColumns = int(size[1]);
    l.filter.assign(colours.begin(), colours.end());
    for (const uint32_t colour : {0U, 1U, 2U})
        if (std::ranges::find(colours, colour) == colours.end())
            return unusual();
    return std::ranges::any_of(colours, [](uint32_t c) { return c > 2; }) ? unusual() : Result<Done>(Done{});
}

/// BlackLevel is the linearised code of black, WhiteLevel that of saturation.
Result<Done> readLevels(Maker &m)
{
    const auto &d = m.directory;
    auto &l = m.layout;
    const auto samples = size_t(l.samples);
    const auto table = d.wholes(tag::LinearizationTable);
    if (table.size() > 65536 || std::ranges::any_of(table, [](uint32_t v) { return v > 65535; }))
        return m.broken(tag::LinearizationTable);
    l.linearization.assign(table.begin(), table.end());
    if (!table.empty() && (l.isFloat || l.bits > 16))
        return m.refused(tag::LinearizationTable);

    const auto repeat = d.wholes(tag::BlackLevelRepeatDim);
    if (!repeat.empty() &&
        (repeat.size() != 2 || repeat[0] == 0 || repeat[1] == 0 || repeat[0] > 65535 || repeat[1] > 65535))
        return m.broken(tag::BlackLevelRepeatDim);
    l.blackRows = repeat.empty() ? 1 : int(repeat[0]);
    l.blackColumns = repeat.empty() ? 1 : int(repeat[1]);
    const size_t cells = size_t(l.blackRows) * size_t(l.blackColumns) * samples;
    l.black = d.reals(tag::BlackLevel);
    if (!d.has(tag::BlackLevel))
        l.black.assign(cells, 0);
    if (l.black.size() == 1) // one for all, which some writers leave beside a larger pattern
        l.black.assign(cells, l.black[0]);
    if (l.black.size() != cells)
        return m.broken(tag::BlackLevel);

    l.blackColumn = d.reals(tag::BlackLevelDeltaH);
    if (!l.blackColumn.empty() && l.blackColumn.size() != size_t(l.visibleWidth))
        return m.broken(tag::BlackLevelDeltaH);
    l.blackByRow = d.reals(tag::BlackLevelDeltaV);
    if (!l.blackByRow.empty() && l.blackByRow.size() != size_t(l.visibleHeight))
        return m.broken(tag::BlackLevelDeltaV);
    for (auto *deltas : {&l.blackColumn, &l.blackByRow})
        if (std::ranges::all_of(*deltas, [](double v) { return v == 0; }))
            deltas->clear();

    l.white = d.reals(tag::WhiteLevel);
    if (!d.has(tag::WhiteLevel))
        l.white = {l.isFloat ? 1.0 : std::exp2(l.bits) - 1};
    if (l.white.size() == 1)
        l.white.assign(samples, l.white[0]);
    return l.white.size() == samples ? Result<Done>(Done{}) : m.broken(tag::WhiteLevel);
}

/// The least light of saturation above black, which has to be some.
Result<Done> checkLevels(const Maker &m)
{
    const auto &l = m.layout;
    const auto most = [](const std::vector<double> &v) { return v.empty() ? 0.0 : std::ranges::max(v); };
    for (size_t s = 0; s < size_t(l.samples); ++s) {
        double black = -1e300;
        for (size_t i = s; i < l.black.size(); i += size_t(l.samples))
            black = std::max(black, l.black[i]);
        if (!(black + most(l.blackColumn) + most(l.blackByRow) < l.white[s]))
            return unusable("{file}: its black level is not below its white level", {{"file", m.name}});
    }
    return Done{};
}

Result<Done> readPieces(Maker &m)
{
    const auto &d = m.directory;
    auto &l = m.layout;
    l.isTiled = d.has(tag::TileOffsets);
    const auto offsets = d.wholes(l.isTiled ? tag::TileOffsets : tag::StripOffsets),
               sizes = d.wholes(l.isTiled ? tag::TileByteCounts : tag::StripByteCounts);
    const uint32_t width = l.isTiled ? d.whole(tag::TileWidth, 0) : uint32_t(l.width),
                   height = l.isTiled ? d.whole(tag::TileLength, 0)
                                      : std::min(d.whole(tag::RowsPerStrip, ~0U), uint32_t(l.height));
    const auto placesTag = l.isTiled ? tag::TileOffsets : tag::StripOffsets;
    if (offsets.empty() || offsets.size() != sizes.size() || width == 0 || height == 0 || width > kMostSide ||
        height > kMostSide || (l.isTiled && d.has(tag::StripOffsets)))
        return m.broken(placesTag);
    const size_t across = (size_t(l.width) + width - 1) / width,
                 down = (size_t(l.height) + height - 1) / height;
    const size_t planes = l.isPlanar ? size_t(l.samples) : 1;
    if (offsets.size() != across * down * planes)
        return m.broken(placesTag);
    for (size_t i = 0; i < offsets.size(); ++i) {
        if (offsets[i] >= m.file.size() || sizes[i] > m.file.size() - offsets[i])
            return unusable("{file}: is truncated or damaged", {{"file", m.name}});
        const size_t place = i % (across * down);
        DngPiece piece{m.file.subspan(offsets[i], sizes[i]),
                       int(place % across * width),
                       int(place / across * height),
                       0,
                       0,
                       int(width),
                       int(height),
                       int(i / (across * down))};
        piece.width = std::min(int(width), l.width - piece.x);
        piece.height = std::min(int(height), l.height - piece.y);
        if (!l.isTiled)
            piece.packedHeight = piece.height;
        l.pieces.push_back(piece);
    }
    return Done{};
}

/// Which steps come in an order, or in a list, where they cannot be applied to samples behind a filter.
Result<Done> checkSteps(const Maker &m)
{
    using K = DngOpcode::Kind;
    const auto &l = m.layout;
    const auto canFollowGain = [](const DngOpcode &s) {
        return s.isGain() || s.kind == K::ScalePerRow || s.kind == K::ScalePerColumn;
    };
    if (std::ranges::any_of(l.ofCodes, &DngOpcode::isGain))
        return m.refused(tag::OpcodeList1);
    const auto gain = std::ranges::find_if(l.ofLight, &DngOpcode::isGain);
    if (!std::all_of(gain, l.ofLight.end(), canFollowGain))
        return m.refused(tag::OpcodeList2);
    const bool isFiltered = l.filterRows > 0;
    const bool isAfterGain = gain != l.ofLight.end();
    const auto isSparse = [](const DngOpcode &s) { return s.rowPitch > 1 || s.columnPitch > 1; };
    for (const auto &step : l.ofPicture) // of a whole picture: some pixels only cannot be told from a mosaic
        if (isFiltered ? !step.isGain() || isSparse(step) : (isAfterGain && !canFollowGain(step)))
            return m.refused(tag::OpcodeList3);
    return Done{};
}

Result<Done> readSteps(Maker &m)
{
    const std::pair<uint16_t, std::vector<DngOpcode> *> lists[] = {{tag::OpcodeList1, &m.layout.ofCodes},
                                                                   {tag::OpcodeList2, &m.layout.ofLight},
                                                                   {tag::OpcodeList3, &m.layout.ofPicture}};
    for (const auto &[id, to] : lists) {
        if (!m.directory.has(id))
            continue;
        auto steps = dngOpcodesOf(m.directory.bytes(id), dngTag(id)->name, m.name);
        if (!steps)
            return steps.error();
        *to = std::move(*steps);
    }
    return checkSteps(m);
}

} // namespace

Result<DngLayout> dngLayoutOf(std::span<const uint8_t> file, const std::string &name)
{
    const auto all = directoriesOf(file);
    const auto *main = mainOf(all);
    if (!main)
        return unusable("{file}: holds no raw picture", {{"file", name}});
    Maker m{file, name, *main, DngLayout()};
    m.layout.order = main->order();
    for (const auto v : all.front().wholes(tag::DngVersion))
        m.layout.version = m.layout.version << 8 | (v & 0xFF);
    if (const auto done = checkTags(m); !done)
        return done.error();
    for (const auto step : {readSize, readFormat, readFilter, readLevels, readPieces, readSteps})
        if (const auto done = step(m); !done)
            return done.error();
    if (const auto done = checkLevels(m); !done)
        return done.error();
    return std::move(m.layout);
}

} // namespace wavechroma::raw
