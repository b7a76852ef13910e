#include "core/measure/candidates.h"

#include "core/base/wide.h"
#include "core/raw/overview.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <tbb/parallel_for.h>

namespace wavechroma::measure {

namespace {

float brightEnd(const Overview &overview, size_t channel)
{
    std::vector<float> some;
    const size_t count = overview.rgb.size() / 3, step = std::max<size_t>(1, count / 20000);
    for (size_t i = 0; i < count; i += step)
        some.push_back(overview.rgb[i * 3 + channel]);
    const auto at = some.begin() + ptrdiff_t(some.size() * 99 / 100);
    std::nth_element(some.begin(), at, some.end());
    return std::max(*at, 1e-4F);
}

/// `scale`: of each of the row's numbers.
WAVECHROMA_WIDE void encodeRow(const float *__restrict light, const float *__restrict scale, int count,
                               uint8_t *__restrict codes)
{
    for (int i = 0; i < count; ++i) {
        const float v = light[i] * scale[i];
        const float within = v > 0 ? (v < 1 ? v : 1.0F) : 0.0F;
        codes[i] = uint8_t(int(255 * std::sqrt(within) + 0.5F));
    }
}

cv::Mat encodedPicture(const Overview &overview)
{
    // Bright ends above 1 are let through to 1.3 so that whites keep an edge.
    std::vector<float> scale(size_t(overview.width) * 3);
    for (size_t c = 0; c < 3; ++c) {
        const float one = 1 / (1.3F * brightEnd(overview, c));
        for (size_t i = c; i < scale.size(); i += 3)
            scale[i] = one;
    }
    cv::Mat picture(overview.height, overview.width, CV_8UC3);
    tbb::parallel_for(0, overview.height, [&](int y) {
        encodeRow(overview.rgb.data() + size_t(y) * scale.size(), scale.data(), int(scale.size()),
                  picture.ptr<uint8_t>(y));
    });
    return picture;
}

/// What each neighbourhood spans in its worst channel.
cv::Mat spansOf(const cv::Mat &picture)
{
    const cv::Mat kernel = cv::getStructuringElement(cv::MORPH_RECT, {3, 3});
    cv::Mat gradient, channels[3], worst;
    cv::morphologyEx(picture, gradient, cv::MORPH_GRADIENT, kernel);
    cv::split(gradient, channels);
    worst = cv::max(cv::max(channels[0], channels[1]), channels[2]);
    return worst;
}

struct Sums
{
    double n = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;
};

std::vector<Sums> momentsOf(const cv::Mat &labels, int count)
{
    std::vector<Sums> sums(static_cast<size_t>(count));
    for (int y = 0; y < labels.rows; ++y) {
        const int *line = labels.ptr<int>(y);
        int x = 0;
        while (x < labels.cols) {
            const int label = line[x];
            int end = x + 1;
            while (end < labels.cols && line[end] == label)
                ++end;
            if (label > 0) { // a run from x to end − 1 in closed form
                auto &s = sums[size_t(label)];
                const double n = end - x, middle = (x + end - 1) / 2.0;
                s.n += n;
                s.x += n * middle;
                s.y += n * y;
                s.xx += n * middle * middle + n * (n * n - 1) / 12;
                s.xy += n * middle * y;
                s.yy += n * double(y) * y;
            }
            x = end;
        }
    }
    return sums;
}

} // namespace

const cv::Mat &FlatRegions::spans(const FlatRule &rule)
{
    const auto [at, isNew] = m_spans.try_emplace({rule.median, rule.smoothed});
    if (!isNew)
        return at->second;
    if (m_codes.empty())
        m_codes = encodedPicture(m_overview);
    cv::Mat picture = m_codes;
    if (rule.median > 0) {
        cv::Mat quiet;
        cv::medianBlur(picture, quiet, rule.median);
        picture = quiet;
    }
    if (rule.smoothed) {
        cv::Mat quiet;
        cv::blur(picture, quiet, {3, 3});
        picture = quiet;
    }
    at->second = spansOf(picture);
    return at->second;
}

FlatRegions::Labels FlatRegions::labels(const FlatRule &rule)
{
    Labels labels;
    labels.count = cv::connectedComponents(spans(rule) < rule.threshold, labels.of, 4, CV_32S);
    return labels;
}

std::vector<Candidate> FlatRegions::candidates(const FlatRule &rule)
{
    std::vector<Candidate> out;
    if (m_overview.width < 16 || m_overview.height < 16)
        return out;
    const auto regions = labels(rule);
    const double most = double(m_overview.width) * m_overview.height / 8;
    for (const auto &s : momentsOf(regions.of, regions.count)) {
        if (s.n < 12 || s.n > most)
            continue;
        Candidate c;
        c.centre = {s.x / s.n + 0.5, s.y / s.n + 0.5};
        // 1/12 a pixel is the moment of a pixel itself, which the sums over centres leave out
        const double mx = s.x / s.n, my = s.y / s.n;
        c.sxx = s.xx / s.n - mx * mx + 1.0 / 12;
        c.syy = s.yy / s.n - my * my + 1.0 / 12;
        c.sxy = s.xy / s.n - mx * my;
        c.area = s.n;
        const double det = c.sxx * c.syy - c.sxy * c.sxy, trace = c.sxx + c.syy;
        if (det <= 0)
            continue;
        const double fill = c.area / (12 * std::sqrt(det));
        const double slack = c.area < 60 ? 0.22 : 0.13;
        if (fill < 1 - slack || fill > 1.06 || trace * trace > 16 * 4 * det / 4)
            continue;
        out.push_back(c);
    }
    return out;
}

Overview halved(const Overview &overview)
{
    Overview out;
    out.block = overview.block * 2;
    out.width = overview.width / 2;
    out.height = overview.height / 2;
    out.rgb.resize(size_t(out.width) * size_t(out.height) * 3);
    out.clipped.resize(size_t(out.width) * size_t(out.height));
    const size_t below = size_t(overview.width);
    tbb::parallel_for(0, out.height, [&](int y) {
        const size_t from = size_t(2 * y) * below, to = size_t(y) * size_t(out.width);
        for (size_t x = 0; x < size_t(out.width); ++x) {
            const size_t f = from + 2 * x;
            const float *upper = overview.rgb.data() + 3 * f, *lower = upper + 3 * below;
            for (size_t c = 0; c < 3; ++c)
                out.rgb[3 * (to + x) + c] = (upper[c] + upper[c + 3] + lower[c] + lower[c + 3]) * 0.25F;
            const auto *clipped = overview.clipped.data() + f;
            out.clipped[to + x] = clipped[0] | clipped[1] | clipped[below] | clipped[below + 1];
        }
    });
    return out;
}

} // namespace wavechroma::measure
