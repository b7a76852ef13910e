#include "core/render/render.h"

#include "core/base/progress.h"
#include "core/base/wide.h"
#include "core/raw/overview.h"
#include "core/render/compiled_color.h"
#include "core/render/lanczos.h"
#include "core/render/upright_pixels.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>
#include <tbb/concurrent_queue.h>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

namespace wavechroma {

namespace {

/// Parts of a band. Taller ones would cost memory where a finish or a distortion keeps them whole.
constexpr int kPartWidth = 512, kPartHeight = 1024;

/// Rows of the upright picture: codes, or light that is still to be made smaller.
struct Band
{
    int from = 0, rows = 0;
    std::shared_ptr<uint16_t[]> codes; ///< every one is written
    std::vector<float> light;          ///< reduced rows: red, green and blue one after the other
};

/// What a thread works with.
struct BandBench
{
    StraightPixels pixels;
    std::vector<float> sum[3], part[3];
};

WAVECHROMA_WIDE void interleaved(const uint16_t *__restrict red, const uint16_t *__restrict green,
                                 const uint16_t *__restrict blue, uint16_t *__restrict out, int n)
{
    for (int x = 0; x < n; ++x) {
        out[3 * x] = red[x];
        out[3 * x + 1] = green[x];
        out[3 * x + 2] = blue[x];
    }
}

class Renderer
{
public:
    Renderer(const RawFrame &frame, const RenderPlan &plan)
        : m_frame(frame), m_plan(plan), m_cut(cutOf(frame, plan.crop)),
          m_upright(m_cut.width, m_cut.height, frame.orientation), m_size(sizeOf(frame, plan)),
          m_isSmaller(m_size.width < m_upright.width), m_encoder(plan.space.transfer),
          m_gains(plan.models.parts.front().second.multipliers), m_across(m_upright.width, m_size.width),
          m_finish(plan.finish), m_benches([this] {
              return BandBench{StraightPixels(m_frame, m_gains, m_finish, m_plan.distortion, m_cut), {}, {}};
          })
    {
        if (!m_finish.isNone())
            m_finish.noise = noiseOf(frame, m_gains);
        for (const auto &[weight, model] : plan.models.parts)
            if (weight > 0)
                m_colors.push_back({float(weight), CompiledColor(model, plan.space, plan.level, m_gains)});
    }

    Result<Done> run(const RowSink &sink, const Progress &progress)
    {
        const int step = std::clamp(m_plan.bandRows, 1, 1024);
        int next = 0;
        std::optional<Error> fault;
        RowReducer down(m_upright.height, m_size.height, 3 * m_size.width);
        tbb::parallel_pipeline(
            size_t(tbb::this_task_arena::max_concurrency()) + 1,
            tbb::make_filter<void, Band>(tbb::filter_mode::serial_in_order, [&](tbb::flow_control &flow) {
                Band band{next, std::min(step, m_upright.height - next), {}, {}};
                if (fault || progress.stopped() || band.rows <= 0)
                    flow.stop();
                next += band.rows;
                return band;
            }) & tbb::make_filter<Band, Band>(tbb::filter_mode::parallel, [&](Band band) {
                fill(band);
                return band;
            }) & tbb::make_filter<Band, void>(tbb::filter_mode::serial_in_order, [&](const Band &band) {
                if (fault || progress.stopped())
                    return;
                progress.at(double(band.from) / m_upright.height, "making the picture");
                if (const auto done = handOn(band, down, sink); !done)
                    fault = done.error();
                m_room.push(band.codes);
            }));
        if (fault)
            return *fault;
        if (progress.stopped())
            return unusable("{file}: stopped", {{"file", m_frame.path}});
        return Done{};
    }

private:
    /// Memory of a band that was handed on, where there is one: new one is laid out page by page. Only the
    /// last band is smaller than the first.
    std::shared_ptr<uint16_t[]> roomFor(size_t values)
    {
        std::shared_ptr<uint16_t[]> room;
        return m_room.try_pop(room) && room ? room : std::shared_ptr<uint16_t[]>(new uint16_t[values]);
    }

    void fill(Band &band)
    {
        const size_t values = size_t(band.rows) * size_t(m_upright.width) * 3;
        if (m_isSmaller)
            band.light.resize(values);
        else
            band.codes = roomFor(values);
        auto &bench = m_benches.local();
        const auto whole = m_upright.rows(band.from, band.from + band.rows);
        for (int y = 0; y < whole.height; y += kPartHeight)
            for (int x = 0; x < whole.width; x += kPartWidth)
                fillPart(band,
                         {whole.x + x, whole.y + y, std::min(kPartWidth, whole.width - x),
                          std::min(kPartHeight, whole.height - y)},
                         bench);
        if (m_isSmaller)
            narrow(band);
    }

    void fillPart(Band &band, const PixelArea &area, BandBench &bench)
    {
        const ptrdiff_t before = ptrdiff_t(band.from) * m_upright.width,
                        plane = ptrdiff_t(band.rows) * m_upright.width;
        bench.pixels.read(area, [&](int y, float *red, float *green, float *blue) {
            float *rgb[] = {red, green, blue};
            color(rgb, area.width, bench);
            const ptrdiff_t to =
                m_upright.first + (area.y + y) * m_upright.stepY + area.x * m_upright.stepX - before;
            if (m_isSmaller)
                putLight(band, plane, rgb, to, area.width);
            else
                putCodes(band, rgb, to, area.width);
        });
    }

    void putLight(Band &band, ptrdiff_t plane, float *const rgb[3], ptrdiff_t to, int n) const
    {
        for (ptrdiff_t c = 0; c < 3; ++c) {
            float *out = band.light.data() + c * plane + to;
            for (int x = 0; x < n; ++x) {
                const float v = positive(rgb[c][x]);
                out[x * m_upright.stepX] = v < 1 ? v : 1.0F;
            }
        }
    }

    void putCodes(Band &band, float *const rgb[3], ptrdiff_t to, int n) const
    {
        uint16_t codes[3][kPartWidth];
        for (size_t c = 0; c < 3; ++c)
            m_encoder.codes(rgb[c], codes[c], n);
        uint16_t *out = band.codes.get() + to * 3;
        if (m_upright.stepX == 1)
            return interleaved(codes[0], codes[1], codes[2], out, n);
        for (int x = 0; x < n; ++x, out += m_upright.stepX * 3) {
            out[0] = codes[0][x];
            out[1] = codes[1][x];
            out[2] = codes[2][x];
        }
    }

    void color(float *const rgb[3], int n, BandBench &bench) const
    {
        if (m_colors.size() == 1)
            return m_colors.front().color.apply(rgb[0], rgb[1], rgb[2], n);
        for (size_t c = 0; c < 3; ++c) {
            bench.sum[c].assign(size_t(n), 0);
            bench.part[c].resize(size_t(n));
        }
        for (const auto &one : m_colors) {
            for (size_t c = 0; c < 3; ++c)
                std::copy_n(rgb[c], n, bench.part[c].data());
            one.color.apply(bench.part[0].data(), bench.part[1].data(), bench.part[2].data(), n);
            for (size_t c = 0; c < 3; ++c)
                for (size_t x = 0; x < size_t(n); ++x)
                    bench.sum[c][x] += one.weight * bench.part[c][x];
        }
        for (size_t c = 0; c < 3; ++c)
            std::copy_n(bench.sum[c].data(), n, rgb[c]);
    }

    /// Each row to the result's width.
    void narrow(Band &band) const
    {
        std::vector<float> out(size_t(band.rows) * size_t(m_size.width) * 3);
        const size_t plane = size_t(band.rows) * size_t(m_upright.width);
        for (size_t y = 0; y < size_t(band.rows); ++y)
            for (size_t c = 0; c < 3; ++c)
                m_across.reduce(band.light.data() + c * plane + y * size_t(m_upright.width),
                                out.data() + (y * 3 + c) * size_t(m_size.width));
        band.light = std::move(out);
    }

    Result<Done> handOn(const Band &band, RowReducer &down, const RowSink &sink)
    {
        if (!m_isSmaller)
            return sink(band.codes.get(), band.rows);
        const size_t w = size_t(m_size.width);
        std::vector<uint16_t> codes;
        for (size_t y = 0; y < size_t(band.rows); ++y)
            down.push(band.light.data() + y * 3 * w, [&](int, const float *light) {
                for (size_t x = 0; x < w; ++x)
                    for (size_t c = 0; c < 3; ++c)
                        codes.push_back(m_encoder.code(light[c * w + x]));
            });
        const int rows = int(codes.size() / (3 * w));
        return rows ? sink(codes.data(), rows) : Result<Done>(Done{});
    }

    struct Weighted
    {
        float weight;
        CompiledColor color;
    };

    const RawFrame &m_frame;
    const RenderPlan &m_plan;
    FrameCut m_cut;
    UprightPixels m_upright; ///< of the cut
    PictureSize m_size;
    bool m_isSmaller;
    Encoder m_encoder;
    Vector3 m_gains;
    LanczosTaps m_across;
    Finish m_finish;
    std::vector<Weighted> m_colors;
    tbb::enumerable_thread_specific<BandBench> m_benches;
    tbb::concurrent_queue<std::shared_ptr<uint16_t[]>> m_room;
};

} // namespace

PictureSize wholeSizeOf(const RawFrame &frame, const RenderPlan &plan)
{
    const auto cut = cutOf(frame, plan.crop);
    const UprightPixels upright(cut.width, cut.height, frame.orientation);
    return {upright.width, upright.height};
}

PictureSize sizeOf(const RawFrame &frame, const RenderPlan &plan)
{
    const auto whole = wholeSizeOf(frame, plan);
    const int longest = std::max(whole.width, whole.height);
    if (plan.longSide <= 0 || plan.longSide >= longest)
        return whole;
    const auto scaled = [&](int side) {
        return std::max(1, int(std::lround(double(side) * plan.longSide / longest)));
    };
    return {scaled(whole.width), scaled(whole.height)};
}

Result<Done> render(const RawFrame &frame, const RenderPlan &plan, const RowSink &sink,
                    const Progress &progress)
{
    const auto own = withoutOtherMosaic(frame);
    if (!own)
        return own.error();
    return Renderer(*own, plan).run(sink, progress);
}

} // namespace wavechroma
