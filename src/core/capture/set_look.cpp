#include "core/capture/set_look.h"

#include "core/base/statistics.h"
#include "core/capture/compare_frames.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <string_view>
#include <vector>

namespace wavechroma {

namespace {

constexpr int kColumns = 16, kRows = 12, kCells = kColumns * kRows, kLetters = 6; // of a cell
constexpr int kSteps = 4095;                                                      // two letters; 0 is a mark
constexpr double kStops = 14;                                                     // below saturation
constexpr std::string_view kAlphabet = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_";

struct Cell
{
    double red = 0, green = 0, blue = 0; ///< logarithms to base 2
    bool isUsable = false;
};
using Cells = std::array<Cell, kCells>;

void write(std::string &out, double value)
{
    const int step =
        value > 0 ? std::clamp(int(std::lround((std::log2(value) / kStops + 1) * kSteps)), 1, kSteps) : 0;
    out += kAlphabet[size_t(step / 64)];
    out += kAlphabet[size_t(step % 64)];
}

/// What a letter stands for; −1 for one that stands for nothing.
constexpr auto kValueOf = [] {
    std::array<int8_t, 256> out{};
    out.fill(-1);
    for (size_t i = 0; i < kAlphabet.size(); ++i)
        out[uint8_t(kAlphabet[i])] = int8_t(i);
    return out;
}();

std::optional<double> read(const char *two)
{
    const int high = kValueOf[uint8_t(two[0])], low = kValueOf[uint8_t(two[1])];
    if (high < 0 || low < 0 || 64 * high + low == 0)
        return std::nullopt;
    return (double(64 * high + low) / kSteps - 1) * kStops;
}

std::optional<Cells> cellsOf(const std::string &look)
{
    if (look.size() != size_t(kCells * kLetters))
        return std::nullopt;
    Cells out;
    for (int i = 0; i < kCells; ++i) {
        const char *at = look.data() + i * kLetters;
        const auto r = read(at), g = read(at + 2), b = read(at + 4);
        if (r && g && b)
            out[size_t(i)] = {*r, *g, *b, true};
    }
    return out;
}

/// What a cell's light did: logarithms of level in green, and of red and blue against green.
struct Shift
{
    double level = 0, red = 0, blue = 0;
    int at = 0; ///< the cell
};

std::vector<Shift> shiftsOf(const Cells &before, const Cells &after, double settings)
{
    std::vector<Shift> out;
    for (int i = 0; i < kCells; ++i) {
        const auto &a = before[size_t(i)], &b = after[size_t(i)];
        if (a.isUsable && b.isUsable)
            out.push_back({b.green - a.green - settings, (b.red - b.green) - (a.red - a.green),
                           (b.blue - b.green) - (a.blue - a.green), i});
    }
    return out;
}

/// Cells whose light did the same as `centre`, within so many stops.
std::vector<const Shift *> alike(const std::vector<Shift> &all, const Shift &centre, double colour,
                                 double level)
{
    std::vector<const Shift *> out;
    for (const auto &one : all)
        if (std::abs(one.red - centre.red) < colour && std::abs(one.blue - centre.blue) < colour &&
            std::abs(one.level - centre.level) < level)
            out.push_back(&one);
    return out;
}

Shift meanOf(const std::vector<const Shift *> &some)
{
    Shift out;
    for (const auto *one : some) {
        out.level += one->level / double(some.size());
        out.red += one->red / double(some.size());
        out.blue += one->blue / double(some.size());
    }
    return out;
}

int quartersOf(const std::vector<const Shift *> &some)
{
    std::array<bool, 4> seen{};
    for (const auto *one : some)
        seen[size_t((one->at / kColumns >= kRows / 2) * 2 + (one->at % kColumns >= kColumns / 2))] = true;
    return int(std::count(seen.begin(), seen.end(), true));
}

/// Do the cells show surfaces of at least two colours? One thing that fills the frame in place of another
/// changes all of it alike too, but two of them that stand to each other as before are the same two, under
/// another light.
bool areOfTwoColours(const std::vector<const Shift *> &some, const Cells &before)
{
    std::vector<double> red, green, blue;
    for (const auto *one : some) {
        const auto &cell = before[size_t(one->at)];
        red.push_back(cell.red - cell.green);
        green.push_back(cell.green);
        blue.push_back(cell.blue - cell.green);
    }
    const double r = medianOf(red), g = medianOf(green), b = medianOf(blue);
    constexpr double kOtherColour = 0.1, kOtherLevel = 0.6,
                     kLeast = 0.08; // stops, more than a lamp falls off by
    size_t others = 0;
    for (size_t i = 0; i < some.size(); ++i)
        others += std::abs(red[i] - r) > kOtherColour || std::abs(blue[i] - b) > kOtherColour ||
                  std::abs(green[i] - g) > kOtherLevel;
    return double(others) >= kLeast * double(some.size());
}

/// Lamps of another colour move red and blue against each other, and a little together, as the green of tubes
/// does: how far from that does the shift go, as a share of its size? A change of level alone goes nowhere.
double offTheLamps(const Shift &shift)
{
    constexpr double kNone = 0.08, kGreenOfTubes = 0.65; // stops
    const double size = std::max(std::abs(shift.red), std::abs(shift.blue));
    if (size < kNone)
        return 0;
    if (shift.red * shift.blue > 0)
        return size < kGreenOfTubes ? 0.6 : 1;
    return std::abs(shift.red + shift.blue) / size;
}

/// Is it the light that did it? Two surfaces speak for it where lamps change so; where there is one only, it
/// has to be just what a lamp does, and the level about what it was.
bool isOfALight(const Shift &shift, bool hasTwoColours)
{
    constexpr double kMostOff = 0.9, kMostLevel = 2.2, kMostOffOfOne = 0.5, kMostLevelOfOne = 0.3;
    return offTheLamps(shift) < (hasTwoColours ? kMostOff : kMostOffOfOne) &&
           std::abs(shift.level) < (hasTwoColours ? kMostLevel : kMostLevelOfOne);
}

/// What most of the cells that agree did; nothing where too few do.
std::optional<Shift> common(const std::vector<Shift> &all, const Cells &before)
{
    constexpr double kColour = 0.035, kLevel = 0.08;          // stops: the light's own scatter over a set
    constexpr double kHeldColour = 0.05, kHeldLevel = 0.08;   // stops
    constexpr double kLeastHeld = 0.10, kLeastChanged = 0.15; // shares of the cells
    constexpr size_t kFewest = 20;
    if (all.size() < kFewest)
        return std::nullopt;
    // What stands still proves that the light held, however much else was exchanged for other things.
    const auto held = alike(all, {}, kHeldColour, kHeldLevel);
    if (double(held.size()) >= kLeastHeld * double(all.size()))
        return meanOf(held);
    std::vector<const Shift *> most;
    // surfaces of other colours answer a change of the light each a little in its own way, in proportion to
    // it
    constexpr double kOwnWay = 0.10;
    for (const auto &centre : all)
        if (auto some =
                alike(all, centre, kColour + kOwnWay * std::max(std::abs(centre.red), std::abs(centre.blue)),
                      kLevel + kOwnWay * std::abs(centre.level));
            some.size() > most.size())
            most = std::move(some);
    constexpr int kQuarters = 3;
    if (double(most.size()) < kLeastChanged * double(all.size()) || quartersOf(most) < kQuarters ||
        !isOfALight(meanOf(most), areOfTwoColours(most, before)))
        return std::nullopt;
    return meanOf(most);
}

} // namespace

std::string setLookOf(const RawFrame &frame)
{
    std::string out;
    const int block = std::max(1, std::min(frame.width / kColumns, frame.height / kRows) / 4);
    const auto small = overviewOf(frame, block);
    for (int row = 0; row < kRows; ++row)
        for (int column = 0; column < kColumns; ++column) {
            std::array<double, 3> sum{};
            int count = 0, clipped = 0;
            for (int y = row * small.height / kRows; y < (row + 1) * small.height / kRows; ++y)
                for (int x = column * small.width / kColumns; x < (column + 1) * small.width / kColumns;
                     ++x) {
                    const size_t at = size_t(y) * size_t(small.width) + size_t(x);
                    clipped += small.clipped[at];
                    ++count;
                    for (size_t c = 0; c < 3; ++c)
                        sum[c] += small.rgb[3 * at + c];
                }
            for (const double value : sum)
                write(out, count > 0 && clipped == 0 ? value / count : 0);
        }
    return out;
}

std::optional<LightChange> lightChange(const std::string &before, const std::string &after,
                                       std::optional<double> settings)
{
    const auto a = cellsOf(before), b = cellsOf(after);
    if (!a || !b)
        return std::nullopt;
    auto shifts = shiftsOf(*a, *b, settings.value_or(0));
    if (!settings)
        for (auto &one : shifts)
            one.level = 0;
    const auto shift = common(shifts, *a);
    if (!shift)
        return std::nullopt;
    LightChange out;
    if (settings)
        out.stops = shift->level;
    out.red = std::exp2(shift->red) - 1;
    out.blue = std::exp2(shift->blue) - 1;
    // A colour that fills the place of another tints the rest of the set by its reflection, more than what a
    // chart shows from one frame to the next.
    constexpr double kStopsWorthAWord = 0.1, kColourWorthAWord = 0.06;
    const double warmth = (1 + out.red) / (1 + out.blue) - 1, green = -(out.red + out.blue) / 2;
    if (out.stops && std::abs(*out.stops) > kStopsWorthAWord)
        out.visible.stops = *out.stops;
    if (std::abs(warmth) > kColourWorthAWord)
        out.visible.warmth = warmth;
    else if (std::abs(green) > kColourWorthAWord / 2)
        out.visible.green = green;
    return out;
}

double miredOf(const LightChange &change)
{
    constexpr double kStopsPerMired = 0.0108; // of red/blue
    return std::log2((1 + change.red) / (1 + change.blue)) / kStopsPerMired;
}

} // namespace wavechroma
