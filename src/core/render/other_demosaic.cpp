#include "core/render/other_demosaic.h"

#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr float kBlackCode = 2048, kWhiteCode = 65535; ///< codes of the result: noise lies below black too

struct NeighbourTap
{
    int dx = 0, dy = 0;
    float weight = 0;
};
using Taps = std::vector<NeighbourTap>;

/// For each cell of the filter: the photosites of a channel around it, weights adding up to 1.
class Neighbours
{
public:
    Neighbours(const Mosaic &m, uint8_t channel) : m_mosaic(m)
    {
        const int reach = std::max(2, std::max(m.periodX, m.periodY) / 2 + 1);
        // wide enough that the nearest photosite is always within two deviations
        const double sigma = std::max(0.8, reach / 2.5);
        for (int y = 0; y < m.periodY; ++y)
            for (int x = 0; x < m.periodX; ++x)
                m_taps.push_back(tapsAround(x, y, channel, reach, sigma));
    }
    [[nodiscard]] const Taps &at(int x, int y) const { return m_taps[m_mosaic.cell(x, y)]; }

private:
    [[nodiscard]] Taps tapsAround(int x, int y, uint8_t channel, int reach, double sigma) const
    {
        const auto &m = m_mosaic;
        Taps out;
        double sum = 0;
        for (int r = reach; out.empty(); r += reach) // a channel that is rare lies further off
            for (int dy = -r; dy <= r; ++dy)
                for (int dx = -r; dx <= r; ++dx) {
                    const int cx = (x + dx + 1024 * m.periodX) % m.periodX,
                              cy = (y + dy + 1024 * m.periodY) % m.periodY;
                    if (m.channel[m.cell(cx, cy)] != channel)
                        continue;
                    const double weight = std::exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
                    out.push_back({dx, dy, float(weight)});
                    sum += weight;
                }
        for (auto &tap : out)
            tap.weight = float(double(tap.weight) / sum);
        return out;
    }
    const Mosaic &m_mosaic;
    std::vector<Taps> m_taps;
};

/// The mean over taps of `value(x, y)`; those beyond the frame's edge are left out.
template <typename Value> float meanOver(const Taps &taps, int x, int y, int width, int height, Value value)
{
    float sum = 0, weights = 0;
    for (const auto &tap : taps) {
        const int tx = x + tap.dx, ty = y + tap.dy;
        if (tx < 0 || ty < 0 || tx >= width || ty >= height)
            continue;
        sum += tap.weight * value(tx, ty);
        weights += tap.weight;
    }
    return weights > 0 ? sum / weights : 0;
}

uint16_t codeOf(float light)
{
    return uint16_t(
        std::lround(std::clamp(kBlackCode + light * (kWhiteCode - kBlackCode), 0.0F, kWhiteCode)));
}

} // namespace

std::shared_ptr<const LinearPicture> demosaicedByMeans(const RawFrame &frame, const Progress &progress)
{
    const auto &m = *frame.mosaic;
    const int width = frame.width, height = frame.height;
    const auto green = std::make_unique<float[]>(size_t(width) * size_t(height));
    const auto greenAt = [&](int x, int y) -> float & {
        return green[size_t(y) * size_t(width) + size_t(x)];
    };
    const Neighbours of[] = {Neighbours(m, 0), Neighbours(m, 1), Neighbours(m, 2)};
    tbb::parallel_for(0, height, [&](int y) {
        for (int x = 0; x < width && !progress.stopped(); ++x)
            greenAt(x, y) = m.channel[m.cell(x, y)] == 1
                                ? m.value(x, y)
                                : meanOver(of[1].at(x, y), x, y, width, height,
                                           [&](int tx, int ty) { return m.value(tx, ty); });
    });
    auto out = std::make_shared<LinearPicture>();
    out->codes = Samples(size_t(width) * size_t(height) * 3);
    out->saturation = 0.998F;
    for (auto &light : out->light) {
        light.resize(65536);
        for (size_t code = 0; code < light.size(); ++code)
            light[code] = (float(code) - kBlackCode) / (kWhiteCode - kBlackCode);
    }
    tbb::parallel_for(0, height, [&](int y) {
        for (int x = 0; x < width && !progress.stopped(); ++x) {
            auto *to = out->codes.data() + (size_t(y) * size_t(width) + size_t(x)) * 3;
            const auto own = m.channel[m.cell(x, y)];
            to[1] = codeOf(greenAt(x, y));
            for (const uint8_t c : {0, 2})
                to[c] =
                    codeOf(own == c ? m.value(x, y)
                                    : greenAt(x, y) +
                                          meanOver(of[c].at(x, y), x, y, width, height, [&](int tx, int ty) {
                                              return m.value(tx, ty) - greenAt(tx, ty);
                                          }));
        }
    });
    return progress.stopped() ? nullptr : out;
}

} // namespace wavechroma
