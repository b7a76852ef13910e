#pragma once
#include "core/color/colors.h"

#include <array>
#include <optional>
#include <string>
#include <variant>
#include <vector>

/// Pictures of figures as shapes, made once for every place that shows them: a painter of a front end, a page
/// of a report. Lengths are points (1/72 inch), x right, y down, (0, 0) the upper left corner.
namespace wavechroma {

/// A grey, or the colour of a thing, which a screen shows by its own profile.
struct Ink
{
    double grey = 0; ///< sRGB-coded, 0…1
    std::optional<Lab> color = {};
};
inline const Ink kInk{0.04}, kSoftInk{0.45}, kFaintInk{0.62}, kBand{0.92};

/// sRGB codes, 0…1; a colour outside is clipped.
[[nodiscard]] std::array<double, 3> srgbCodesOf(const Ink &ink);

struct FigurePoint
{
    double x = 0, y = 0;
};

struct Box
{
    double x = 0, y = 0, width = 0, height = 0;
    Ink fill;
};
struct Disc
{
    double x = 0, y = 0, radius = 0;
    Ink fill;
    std::optional<Ink> line = {}; ///< a hairline round it
};
struct Stroke
{
    std::vector<FigurePoint> points;
    double width = 0.5;
    Ink ink = kInk;
    bool isDashed = false;
};
struct Label
{
    enum class From { Left, Middle, Right };
    double x = 0, y = 0; ///< on the baseline
    std::string text;
    double size = 8;
    bool isBold = false;
    From from = From::Left; ///< which end of the text `x` is
    Ink ink = kInk;
};
using Shape = std::variant<Box, Disc, Stroke, Label>;

struct Figure
{
    double width = 0, height = 0;
    std::vector<Shape> shapes;
    std::string said; ///< what it shows, for readers who do not see it
};

} // namespace wavechroma
