#include "core/raw/dng_opcodes.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <optional>
#include <string_view>

namespace wavechroma::raw {

namespace {

constexpr size_t kMostValues = 4'000'000; ///< of one step

/// Numbers of an opcode list, which has the highest byte first whatever the file's order is.
class Reader
{
public:
    explicit Reader(std::span<const uint8_t> bytes) : m_bytes(bytes) {}
    [[nodiscard]] bool isSound() const { return m_isSound; }
    uint32_t whole(size_t size = 4)
    {
        uint32_t out = 0;
        for (const auto byte : take(size))
            out = out << 8 | byte;
        return out;
    }
    float single()
    {
        const float out = std::bit_cast<float>(whole());
        m_isSound = m_isSound && std::isfinite(out);
        return out;
    }
    double real()
    {
        const uint64_t high = whole(), low = whole();
        const double out = std::bit_cast<double>(high << 32 | low);
        m_isSound = m_isSound && std::isfinite(out);
        return out;
    }
    std::span<const uint8_t> take(size_t size)
    {
        if (size > m_bytes.size() - m_at) {
            m_isSound = false;
            return {};
        }
        m_at += size;
        return m_bytes.subspan(m_at - size, size);
    }
    std::vector<float> singles(size_t count)
    {
        m_isSound = m_isSound && count <= kMostValues;
        std::vector<float> out;
        for (size_t i = 0; m_isSound && i < count; ++i)
            out.push_back(single());
        return out;
    }

private:
    std::span<const uint8_t> m_bytes;
    size_t m_at = 0;
    bool m_isSound = true;
};

void readArea(Reader &from, DngOpcode &to)
{
    for (auto *number :
         {&to.top, &to.left, &to.bottom, &to.right, &to.plane, &to.planes, &to.rowPitch, &to.columnPitch})
        *number = from.whole();
}

size_t stepsOver(uint32_t from, uint32_t to, uint32_t pitch)
{
    return to > from && pitch > 0 ? (size_t(to) - from + pitch - 1) / pitch : 0;
}

void readGainMap(Reader &from, DngOpcode &to)
{
    to.pointsDown = from.whole();
    to.pointsAcross = from.whole();
    to.spacingDown = from.real();
    to.spacingAcross = from.real();
    to.originDown = from.real();
    to.originAcross = from.real();
    to.mapPlanes = from.whole();
    const bool isSane = to.pointsDown > 0 && to.pointsAcross > 0 && to.pointsDown <= 10000 &&
                        to.pointsAcross <= 10000 && to.mapPlanes > 0 && to.mapPlanes <= 4 &&
                        (to.pointsDown == 1 || to.spacingDown > 0) &&
                        (to.pointsAcross == 1 || to.spacingAcross > 0);
    to.values =
        from.singles(isSane ? size_t(to.pointsDown) * to.pointsAcross * to.mapPlanes : kMostValues + 1);
}

/// The parameters of a step that changes values; nothing where they are not sound.
std::optional<DngOpcode> stepOf(DngOpcode::Kind kind, std::span<const uint8_t> parameters)
{
    using K = DngOpcode::Kind;
    Reader from(parameters);
    DngOpcode to;
    to.kind = kind;
    if (kind == K::FixVignetteRadial) {
        for (int i = 0; i < 7; ++i) // k0 to k4, and the centre
            to.terms.push_back(from.real());
        to.bottom = to.right = ~0U;
        to.planes = ~0U;
    } else {
        readArea(from, to);
    }
    switch (kind) {
    case K::MapTable: {
        const size_t count = from.whole();
        for (size_t i = 0; from.isSound() && i < std::min<size_t>(count, 65536); ++i)
            to.values.push_back(float(from.whole(2)));
        break;
    }
    case K::MapPolynomial: {
        const size_t degree = from.whole();
        for (size_t i = 0; from.isSound() && i <= std::min<size_t>(degree, 8); ++i)
            to.terms.push_back(from.real());
        break;
    }
    case K::GainMap:
        readGainMap(from, to);
        break;
    case K::FixVignetteRadial:
        break;
    default: {
        const bool byRow = kind == K::DeltaPerRow || kind == K::ScalePerRow;
        const size_t needed =
            byRow ? stepsOver(to.top, to.bottom, to.rowPitch) : stepsOver(to.left, to.right, to.columnPitch);
        const size_t count = from.whole();
        if (count != needed)
            return std::nullopt;
        to.values = from.singles(count);
    }
    }
    const bool isEmpty = to.values.empty() && to.terms.empty();
    return from.isSound() && !isEmpty && to.rowPitch > 0 && to.columnPitch > 0 ? std::optional(to)
                                                                               : std::nullopt;
}

/// Steps that change no value of a photosite: they move pixels, or say which are defective.
bool isLeftOut(uint32_t id)
{
    constexpr uint32_t kWarpRectilinear = 1, kWarpFisheye = 2, kFixBadPixelsConstant = 4,
                       kFixBadPixelsList = 5, kWarpRectilinear2 = 14;
    return id == kWarpRectilinear || id == kWarpFisheye || id == kFixBadPixelsConstant ||
           id == kFixBadPixelsList || id == kWarpRectilinear2;
}

bool changesValues(uint32_t id)
{
    return id == 3 || (id >= 7 && id <= 13);
}

} // namespace

Result<std::vector<DngOpcode>> dngOpcodesOf(std::span<const uint8_t> list, std::string_view tagName,
                                            const std::string &name)
{
    const auto broken = [&] {
        return unusable("{file}: its tag {tag} is damaged", {{"file", name}, {"tag", std::string(tagName)}});
    };
    constexpr uint32_t kMostSteps = 1000, kOptional = 1;
    std::vector<DngOpcode> out;
    Reader from(list);
    const uint32_t count = from.whole();
    if (!from.isSound() || count > kMostSteps)
        return broken();
    for (uint32_t i = 0; i < count; ++i) {
        const uint32_t id = from.whole();
        (void)from.whole(); // the version of DNG that has it
        const uint32_t flags = from.whole();
        const auto parameters = from.take(from.whole());
        if (!from.isSound())
            return broken();
        if (isLeftOut(id))
            continue;
        if (!changesValues(id)) {
            if (flags & kOptional)
                continue;
            return unusable("{file}: step {step} of tag {tag} is not supported",
                            {{"file", name}, {"step", double(id)}, {"tag", std::string(tagName)}});
        }
        auto step = stepOf(DngOpcode::Kind(id), parameters);
        if (!step)
            return broken();
        out.push_back(std::move(*step));
    }
    return out;
}

double appliedTo(const DngOpcode &step, double value, int x, int y, double unit)
{
    using K = DngOpcode::Kind;
    const auto row = (uint32_t(y) - step.top) / step.rowPitch,
               column = (uint32_t(x) - step.left) / step.columnPitch;
    switch (step.kind) {
    case K::MapTable: {
        const double code = std::clamp(value / unit, 0.0, 1.0) * 65535;
        const auto last = step.values.size() - 1;
        return double(step.values[std::min(size_t(std::lround(code)), last)]) / 65535 * unit;
    }
    case K::MapPolynomial: {
        double out = 0;
        for (auto term = step.terms.rbegin(); term != step.terms.rend(); ++term)
            out = out * value + *term;
        return out;
    }
    case K::DeltaPerRow:
        return value + double(step.values[row]);
    case K::DeltaPerColumn:
        return value + double(step.values[column]);
    case K::ScalePerRow:
        return value * double(step.values[row]);
    case K::ScalePerColumn:
        return value * double(step.values[column]);
    default:
        return value;
    }
}

static double vignetteAt(const DngOpcode &step, double u, double v, double width, double height)
{
    const double cx = step.terms[5] * width, cy = step.terms[6] * height;
    const double farX = std::max(std::abs(cx), std::abs(width - cx)),
                 farY = std::max(std::abs(cy), std::abs(height - cy));
    const double dx = u * width - cx, dy = v * height - cy;
    const double r2 = (dx * dx + dy * dy) / std::max(1e-12, farX * farX + farY * farY);
    double out = 0;
    for (int i = 4; i >= 0; --i)
        out = (out + step.terms[size_t(i)]) * r2;
    return 1 + out;
}

double gainAt(const DngOpcode &step, double u, double v, int sample, double width, double height)
{
    if (step.kind == DngOpcode::Kind::FixVignetteRadial)
        return vignetteAt(step, u, v, width, height);
    const auto along = [](double at, double origin, double spacing, uint32_t points) {
        return points == 1 ? 0.0 : std::clamp((at - origin) / spacing, 0.0, double(points - 1));
    };
    const double x = along(u, step.originAcross, step.spacingAcross, step.pointsAcross),
                 y = along(v, step.originDown, step.spacingDown, step.pointsDown);
    const auto x0 = uint32_t(x), y0 = uint32_t(y);
    const auto x1 = std::min(x0 + 1, step.pointsAcross - 1), y1 = std::min(y0 + 1, step.pointsDown - 1);
    const auto plane = std::min(uint32_t(sample) - step.plane, step.mapPlanes - 1);
    const auto point = [&](uint32_t px, uint32_t py) {
        return double(step.values[(size_t(py) * step.pointsAcross + px) * step.mapPlanes + plane]);
    };
    const double fx = x - x0, fy = y - y0;
    return (point(x0, y0) * (1 - fx) + point(x1, y0) * fx) * (1 - fy) +
           (point(x0, y1) * (1 - fx) + point(x1, y1) * fx) * fy;
}

} // namespace wavechroma::raw
