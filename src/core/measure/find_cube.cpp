#include "core/measure/find_cube.h"

#include "core/measure/candidates.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <vector>

namespace wavechroma::measure {

namespace {

using Eigen::Matrix2d;
using Eigen::Vector2d;

constexpr double kLeastArea = 1 / 1000.0;             ///< of the frame, for a field
constexpr double kStepOfWhite[] = {1.6, 3.4};         ///< from the white to the grey field: 2.4 as printed
constexpr double kLeastOfBurnt = 1.1;                 ///< the same of a white that is clipped
constexpr double kMostOfDark = 0.35;                  ///< of the grey one's level
constexpr double kOneColour = 0.12, kAnyLight = 0.55; ///< of log red/green and blue/green
constexpr double kNextField[] = {10.5, 21};           ///< of d S⁻¹ d; 12 for fields that touch
constexpr double kMostApart = 0.3;                    ///< of a shared edge's middles, in fields' heights
constexpr double kAnother = 0.6;                      ///< fits as well: which of two is it?

/// A parallelogram of one colour.
struct Field
{
    Vector2d middle;
    Matrix2d spread; ///< second central moments over its area: (u uᵀ + v vᵀ) / 12 for sides u and v
    double area = 0;
    Vector3 rgb{};
    bool isBurnt = false;
};

/// The white and the grey field of a face.
struct Face
{
    const Field *white = nullptr, *grey = nullptr;
    Vector2d down;  ///< from the middle of a field to the next
    Vector2d right; ///< side of the grey field, to the right of who looks down
};

Vector3 colourRound(const Overview &overview, const Vector2d &at)
{
    constexpr int kReach = 2;
    Vector3 sum{};
    int count = 0;
    const int x0 = int(at.x()), y0 = int(at.y());
    for (int y = std::max(0, y0 - kReach); y <= std::min(overview.height - 1, y0 + kReach); ++y)
        for (int x = std::max(0, x0 - kReach); x <= std::min(overview.width - 1, x0 + kReach); ++x) {
            for (size_t c = 0; c < 3; ++c)
                sum[c] += double(overview.rgb[(size_t(y) * size_t(overview.width) + size_t(x)) * 3 + c]);
            ++count;
        }
    return count ? Vector3{sum[0] / count, sum[1] / count, sum[2] / count} : Vector3{};
}

bool isWithin(double value, const double (&range)[2])
{
    return value >= range[0] && value <= range[1];
}

bool isOneColour(const Vector3 &a, const Vector3 &b, double most)
{
    return std::abs(std::log(a[0] / a[1] * b[1] / b[0])) < most &&
           std::abs(std::log(a[2] / a[1] * b[1] / b[2])) < most;
}

bool isBurntAt(const Overview &overview, const Vector2d &at)
{
    return overview.clipped[size_t(at.y()) * size_t(overview.width) + size_t(at.x())] != 0;
}

/// A white and a grey of one face, by their levels and colours.
bool mayBeWhiteAndGrey(const Field &white, const Field &grey)
{
    const double step = white.rgb[1] / grey.rgb[1];
    if (grey.isBurnt)
        return false;
    return white.isBurnt ? step >= kLeastOfBurnt && step <= kStepOfWhite[1]
                         : isWithin(step, kStepOfWhite) && isOneColour(white.rgb, grey.rgb, kOneColour);
}

std::vector<Field> fieldsOf(const Overview &overview, const RawFrame &frame, FlatRegions &regions,
                            const FlatRule &rule)
{
    const Vector3 white = frame.fileColor.asShotNeutral.value_or(Vector3{1, 1, 1});
    const bool isKnown = frame.fileColor.asShotNeutral || !frame.mosaic;
    std::vector<Field> out;
    for (const auto &c : regions.candidates(rule)) {
        Field field{{c.centre.x, c.centre.y}, Matrix2d::Zero(), c.area};
        field.spread << c.sxx, c.sxy, c.sxy, c.syy;
        field.rgb = colourRound(overview, field.middle);
        field.isBurnt = isBurntAt(overview, field.middle);
        const bool isLit = field.rgb[0] > 0 && field.rgb[1] > 0 && field.rgb[2] > 0;
        if (c.area >= kLeastArea * overview.width * overview.height && isLit &&
            (!isKnown || field.isBurnt || isOneColour(field.rgb, white, kAnyLight)))
            out.push_back(field);
    }
    return out;
}

/// The side that is not along `down`, to the right of it.
Vector2d sideOf(const Field &field, const Vector2d &down)
{
    const Matrix2d rest = 12 * field.spread - down * down.transpose() / (1.0625 * 1.0625);
    const Eigen::SelfAdjointEigenSolver<Matrix2d> solver(rest);
    const Vector2d side = solver.eigenvectors().col(1) * std::sqrt(std::max(0.0, solver.eigenvalues()(1)));
    const Vector2d right(down.y(), -down.x());
    return side.dot(right) < 0 ? Vector2d(-side) : side;
}

bool isDarkBeyond(const Overview &overview, const Face &face)
{
    const Vector2d at = face.grey->middle + face.down;
    const bool isInside = at.x() >= 0 && at.y() >= 0 && at.x() < overview.width && at.y() < overview.height;
    return isInside && colourRound(overview, at)[1] < kMostOfDark * face.grey->rgb[1];
}

std::vector<Face> facesOf(const Overview &overview, const std::vector<Field> &fields)
{
    std::vector<Face> out;
    for (const auto &white : fields)
        for (const auto &grey : fields) {
            const double size = white.area / grey.area;
            if (size < 0.55 || size > 1.8 || !mayBeWhiteAndGrey(white, grey))
                continue;
            const Vector2d down = grey.middle - white.middle;
            const Matrix2d spread = (white.spread + grey.spread) / 2;
            if (!isWithin(down.dot(spread.inverse() * down), kNextField))
                continue;
            const Face face{&white, &grey, down, sideOf(grey, down)};
            if (face.right.norm() > 0 && isDarkBeyond(overview, face))
                out.push_back(face);
        }
    return out;
}

/// How far two faces are from sharing an edge, in fields' heights; huge for those that are no neighbours.
double apart(const Face &left, const Face &right)
{
    const double heights = left.down.norm() / right.down.norm(),
                 along = left.down.normalized().dot(right.down.normalized());
    if (heights < 0.6 || heights > 1.7 || along < 0.85 || left.white == right.white ||
        left.grey == right.grey)
        return 1e9;
    const auto gap = [&](const Field &a, const Field &b) {
        return (a.middle + left.right / 2 - (b.middle - right.right / 2)).norm();
    };
    return (gap(*left.white, *right.white) + gap(*left.grey, *right.grey)) /
           (left.down.norm() + right.down.norm());
}

/// One perspective for the middles of all six fields.
std::optional<Corners> cornersOf(const Face &left, const Face &right, const ChartDefinition &chart,
                                 double block)
{
    std::vector<ChartPoint> printed;
    std::vector<PixelPoint> seen;
    for (int column = 0; column < 2; ++column) {
        const auto &face = column == 0 ? left : right;
        const Vector2d middles[] = {face.white->middle, face.grey->middle, face.grey->middle + face.down};
        for (int row = 0; row < 3; ++row) {
            printed.push_back(patchCentre(chart, row, column));
            seen.push_back({middles[row].x() * block, middles[row].y() * block});
        }
    }
    const auto homography = homographyFrom(printed, seen);
    if (!homography)
        return std::nullopt;
    for (size_t i = 0; i < seen.size(); ++i) { // windows have to stay on their fields
        const auto at = homography->at(printed[i]);
        const auto &face = i < 3 ? left : right;
        const double reach = std::min(face.down.norm(), face.right.norm()) * block;
        if (std::hypot(at.x - seen[i].x, at.y - seen[i].y) > 0.2 * reach)
            return std::nullopt;
    }
    return cornersFrom(chart, *homography);
}

} // namespace

/// In one overview, by one rule of what is flat.
static std::optional<Corners> cubeIn(const Overview &overview, FlatRegions &regions, const RawFrame &frame,
                                     const ChartDefinition &chart, const FlatRule &rule)
{
    const auto fields = fieldsOf(overview, frame, regions, rule);
    const auto faces = facesOf(overview, fields);
    const Face *left = nullptr, *right = nullptr;
    double least = kMostApart, second = 1e9;
    for (const auto &a : faces)
        for (const auto &b : faces) {
            const double gap = apart(a, b);
            if (gap >= least) {
                second = std::min(second, gap);
                continue;
            }
            second = left ? least : second;
            least = gap;
            left = &a;
            right = &b;
        }
    const bool isSure = left && least < kAnother * second;
    return isSure ? cornersOf(*left, *right, chart, overview.block) : std::nullopt;
}

std::optional<Corners> findCube(const RawFrame &frame, const ChartDefinition &chart)
{
    const Overview fine = overviewOf(frame, std::max(1, std::max(frame.width, frame.height) / 1500));
    for (const auto &overview : {halved(fine), fine}) { // near and far
        FlatRegions regions(overview);
        for (const FlatRule &rule :
             {FlatRule{14, true, 0}, FlatRule{10, false, 0}, FlatRule{14, true, 5}, FlatRule{24, true, 5}})
            if (const auto corners = cubeIn(overview, regions, frame, chart, rule))
                return corners;
    }
    return std::nullopt;
}

} // namespace wavechroma::measure
