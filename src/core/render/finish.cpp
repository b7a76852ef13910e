#include "core/render/finish.h"

#include "core/base/statistics.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace wavechroma {

namespace {

constexpr float kOffset = 0.008F; ///< as the demosaic has it
constexpr int kSteps = 3;         ///< of the iteration
constexpr int kCalmReach = 2 + 4; ///< of both rings

float rootOf(float light)
{
    return std::sqrt(std::max(light + kOffset, 0.0F));
}

float lightOf(float root)
{
    const float r = std::max(root, 0.0F);
    return r * r - kOffset;
}

std::vector<float> gaussian(double spread)
{
    const int reach = int(std::ceil(3 * spread));
    std::vector<float> out;
    double sum = 0;
    for (int i = -reach; i <= reach; ++i)
        sum += std::exp(-0.5 * i * i / (spread * spread));
    for (int i = -reach; i <= reach; ++i)
        out.push_back(float(std::exp(-0.5 * i * i / (spread * spread)) / sum));
    return out;
}

/// A plane of values, the rim going on beyond itself.
struct Plane
{
    int width, height;
    std::vector<float> values;
    [[nodiscard]] float at(int x, int y) const
    {
        return values[size_t(std::clamp(y, 0, height - 1)) * size_t(width) +
                      size_t(std::clamp(x, 0, width - 1))];
    }
};

Plane blurred(const Plane &in, const std::vector<float> &kernel)
{
    const int reach = int(kernel.size()) / 2;
    Plane across = in, out = in;
    for (const auto &[from, to, dx, dy] :
         {std::tuple{&in, &across, 1, 0}, std::tuple<const Plane *, Plane *, int, int>{&across, &out, 0, 1}})
        for (int y = 0; y < in.height; ++y)
            for (int x = 0; x < in.width; ++x) {
                float sum = 0;
                for (int k = -reach; k <= reach; ++k)
                    sum += kernel[size_t(k + reach)] * from->at(x + k * dx, y + k * dy);
                to->values[size_t(y) * size_t(in.width) + size_t(x)] = sum;
            }
    return out;
}

/// Smallest and largest within `reach` each way.
std::pair<Plane, Plane> extremes(const Plane &in, int reach)
{
    Plane least = in, most = in;
    for (const auto &[dx, dy] : {std::pair{1, 0}, {0, 1}}) {
        const Plane low = least, high = most;
        for (int y = 0; y < in.height; ++y)
            for (int x = 0; x < in.width; ++x) {
                float a = low.at(x, y), b = high.at(x, y);
                for (int k = -reach; k <= reach; ++k) {
                    a = std::min(a, low.at(x + k * dx, y + k * dy));
                    b = std::max(b, high.at(x + k * dx, y + k * dy));
                }
                const size_t i = size_t(y) * size_t(in.width) + size_t(x);
                least.values[i] = a;
                most.values[i] = b;
            }
    }
    return {least, most};
}

int reachOfExtremes(double spread)
{
    return int(std::ceil(spread)) + 1;
}

int marginFor(const Finish &finish)
{
    const int calm = finish.calmColour ? kCalmReach : 0;
    const int sharp = finish.edgeSpread > 0 ? std::max(kSteps * int(std::ceil(3 * finish.edgeSpread)),
                                                       reachOfExtremes(finish.edgeSpread))
                                            : 0;
    return std::max(calm, sharp); // one works on green, the other on what is not
}

/// Scatter of one colour's samples in a block; nothing where it is clipped or in the dark.
std::optional<double> scatterIn(const RawFrame &frame, const Vector3 &gains, size_t channel, int x0, int y0,
                                int side)
{
    const auto &m = *frame.mosaic;
    const int px = m.periodX;
    std::vector<double> differences;
    const auto value = [&](int x, int y) { return double(m.value(x, y)) * gains[channel]; };
    for (int y = y0; y < y0 + side; ++y)
        for (int x = x0 + px; x < x0 + side - px; ++x) {
            if (m.channel[m.cell(x, y)] != channel)
                continue;
            if (m.value(x, y) > 0.9F || m.value(x, y) < 0.002F)
                return std::nullopt;
            const auto root = [&](double v) { return std::sqrt(std::max(v + double(kOffset), 0.0)); };
            differences.push_back(
                std::abs(root(value(x - px, y)) - 2 * root(value(x, y)) + root(value(x + px, y))));
        }
    if (differences.size() < 100)
        return std::nullopt;
    return 1.4826 * medianOf(differences) / std::sqrt(6.0);
}

} // namespace

Vector3 noiseOf(const RawFrame &frame, const Vector3 &gains)
{
    Vector3 out{};
    if (!frame.mosaic)
        return out;
    constexpr int kSide = 64;
    const int step = std::max(kSide, std::min(frame.width, frame.height) / 16 / 2 * 2);
    for (size_t c = 0; c < 3; ++c) {
        std::vector<double> scatters;
        for (int y = 0; y + kSide <= frame.height; y += step)
            for (int x = 0; x + kSide <= frame.width; x += step)
                if (const auto scatter = scatterIn(frame, gains, c, x, y, kSide))
                    scatters.push_back(*scatter);
        if (scatters.empty())
            continue;
        const auto at = scatters.begin() + ptrdiff_t(scatters.size() / 5);
        std::nth_element(scatters.begin(), at, scatters.end());
        out[c] = *at;
    }
    return out;
}

FinishedPixels::FinishedPixels(const RawFrame &frame, const Vector3 &gains, const Finish &finish)
    : m_frame(frame), m_finish(finish), m_pixels(frame, gains), m_margin(marginFor(finish))
{
}

void FinishedPixels::finish(const PixelArea &grown)
{
    m_pixels.read(grown, m_grown.taking(grown));
    for (size_t i = 0; i < m_grown.green.size(); ++i) {
        const float g = rootOf(m_grown.green[i]);
        m_grown.red[i] = rootOf(m_grown.red[i]) - g;
        m_grown.blue[i] = rootOf(m_grown.blue[i]) - g;
        m_grown.green[i] = g;
    }
    if (m_finish.calmColour)
        calm();
    if (m_finish.edgeSpread > 0)
        sharpen();
}

void FinishedPixels::read(const PixelArea &area, const PixelRowUse &use)
{
    if (m_finish.isNone())
        return m_pixels.read(area, use);
    const int x0 = std::max(0, area.x - m_margin), y0 = std::max(0, area.y - m_margin);
    const PixelArea grown{x0, y0, std::min(m_frame.width, area.x + area.width + m_margin) - x0,
                          std::min(m_frame.height, area.y + area.height + m_margin) - y0};
    finish(grown);
    for (auto &row : m_rows)
        row.resize(size_t(area.width));
    for (int y = 0; y < area.height; ++y) {
        for (size_t x = 0; x < size_t(area.width); ++x) {
            const size_t from = size_t(y + area.y - y0) * size_t(grown.width) + x + size_t(area.x - x0);
            const float g = m_grown.green[from];
            m_rows[0][x] = lightOf(g + m_grown.red[from]);
            m_rows[1][x] = lightOf(g);
            m_rows[2][x] = lightOf(g + m_grown.blue[from]);
        }
        use(y, m_rows[0].data(), m_rows[1].data(), m_rows[2].data());
    }
}

void FinishedPixels::calm()
{
    const float noise =
        std::max(1e-4F, float(std::max({m_finish.noise[0], m_finish.noise[1], m_finish.noise[2]})));
    const float perColour = 1 / (9 * noise * noise), perGreen = 1 / (16 * noise * noise);
    const Plane green{m_grown.width, m_grown.height, m_grown.green};
    for (const int ring : {1, 2}) {
        const Plane red{m_grown.width, m_grown.height, m_grown.red},
            blue{m_grown.width, m_grown.height, m_grown.blue};
        for (int y = 0; y < green.height; ++y)
            for (int x = 0; x < green.width; ++x) {
                const float r = red.at(x, y), b = blue.at(x, y), g = green.at(x, y);
                float sum = 0, sumRed = 0, sumBlue = 0;
                for (int dy = -2; dy <= 2; ++dy)
                    for (int dx = -2; dx <= 2; ++dx) {
                        const int px = x + dx * ring, py = y + dy * ring;
                        const float dr = red.at(px, py) - r, db = blue.at(px, py) - b,
                                    dg = green.at(px, py) - g;
                        const float unlike = 1 + (dr * dr + db * db) * perColour + dg * dg * perGreen;
                        const float weight = 1 / (unlike * unlike);
                        sum += weight;
                        sumRed += weight * red.at(px, py);
                        sumBlue += weight * blue.at(px, py);
                    }
                const size_t i = size_t(y) * size_t(green.width) + size_t(x);
                m_grown.red[i] = sumRed / sum;
                m_grown.blue[i] = sumBlue / sum;
            }
    }
}

void FinishedPixels::sharpen()
{
    const Plane seen{m_grown.width, m_grown.height, m_grown.green};
    const auto kernel = gaussian(m_finish.edgeSpread);
    Plane sharp = seen;
    for (int step = 0; step < kSteps; ++step) {
        const auto soft = blurred(sharp, kernel);
        for (size_t i = 0; i < sharp.values.size(); ++i)
            sharp.values[i] += seen.values[i] - soft.values[i];
    }
    const auto [least, most] = extremes(seen, reachOfExtremes(m_finish.edgeSpread));
    const float floor = 16 * float(m_finish.noise[1] * m_finish.noise[1]) + 1e-12F;
    for (size_t i = 0; i < sharp.values.size(); ++i) {
        const float step = sharp.values[i] - seen.values[i],
                    room = 0.05F * (most.values[i] - least.values[i]);
        const float held = seen.values[i] + step * (step * step / (step * step + floor));
        m_grown.green[i] = std::clamp(held, least.values[i] - room, most.values[i] + room);
    }
}

} // namespace wavechroma
