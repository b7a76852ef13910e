#pragma once
#include "core/sim/expose.h"

#include <string>
#include <vector>

/// The simulated studio as a photographer sets it: stands in for lamps, a table and a tethered camera.
namespace wavechroma::sim {

/// What is put before a lamp.
struct Modifier
{
    std::string name;
    double stops = 0;    ///< what it takes (negative) or gives
    double gradient = 0; ///< relative change of light across the frame
    double flare = 0;    ///< veil it throws into the lens, share of a perfect diffuser
};
[[nodiscard]] const std::vector<Modifier> &modifiers(); ///< "softbox", "umbrella", "scrim", "bare reflector"

enum class Subject { Chart, Skeins, Board, GreyCard };

struct StudioSettings
{
    std::string lamp = "strobe", modifier = "softbox";
    double powerStops = 0; ///< of the lamp against the one that the studio was metered for
    double drift = 0;      ///< 0 a true lamp … 1 a tired one: a quarter weaker and some 7 % redder

    std::string camera = "Tarn 2";
    int lens = 0;
    double iso = 100, exposureSeconds = 1 / 100.0, fNumber = 8; ///< a strobe does not care for the time
    int shrink = 2;                                             ///< divides the frame's width and height
    int orientation = 1;

    Subject subject = Subject::Chart;
    std::string chart = "classic-24";
    double chartWidth = 0.46;            ///< in frame widths
    double chartX = 0.46, chartY = 0.47; ///< its middle, in frame widths and heights
    double chartTurn = 4;                ///< degrees
    int firstYarn = 0;

    // mishaps
    bool finger = false, glare = false, tipped = false, outOfFocus = false, shaken = false, veiled = false;
    int fingerColumn = 2; ///< the finger comes from below, onto the last row
    int glareRow = 2, glareColumn = 3;
    bool shadow = false;                          ///< its edge lies across the chart
    double shadowAngle = 0.35, shadowShift = 0.1; ///< radians into it; from the chart's middle, chart widths

    std::string capturedAt = "2026-10-14T09:22:10";
    uint64_t seed = 1;
};

/// A hank of yarn on the table, as the studio lays it for `Subject::Skeins`.
struct LaidYarn
{
    std::string name;
    PixelPoint centre;
    double radius = 0; ///< of a disc well inside it, pixels
    Lab color;         ///< D50, of what the disc shows: the yarn with its roundness and strands
};
[[nodiscard]] std::vector<LaidYarn> laidYarns(const StudioSettings &settings);

/// Green value of a perfect diffuser in the frame's middle, 1 being saturation. The studio is metered for ISO
/// 100, 1/100 s, f/8 at power 0 so that a diffuser's strongest channel comes to 0.76.
[[nodiscard]] double exposureOf(const StudioSettings &settings);

/// Takes the picture. Throws std::exception for a lamp, modifier, camera, lens or chart that is not there.
[[nodiscard]] SimFrame shootStudio(const StudioSettings &settings, const Progress &progress = {});

} // namespace wavechroma::sim
