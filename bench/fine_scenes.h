// Scenes of fine detail with known colour, for judging a demosaic: linear balanced camera RGB, 0…1.
#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>
#include <string>
#include <vector>

namespace wavechroma::bench {

namespace scenes {

inline constexpr int kSide = 384, kFine = 4;
using Random = std::mt19937_64;
using Color = cv::Vec3f;

inline double uniform(Random &r, double a, double b)
{
    return std::uniform_real_distribution<double>(a, b)(r);
}

/// Surface colours as cameras see them: channels go together more than they go apart.
inline Color someColor(Random &r)
{
    const double level = std::pow(uniform(r, 0.15, 0.95), 1.6), tint = uniform(r, 0, 1);
    Color c;
    for (int k = 0; k < 3; ++k)
        c[k] = float(std::clamp(level * std::exp(tint * uniform(r, -1, 0.6)), 0.01, 0.92));
    return c;
}

inline cv::Mat3f edges(Random &r, int n)
{
    cv::Mat3f m(n, n, someColor(r));
    for (int i = 0; i < 40; ++i) {
        std::vector<cv::Point> p;
        const double cx = uniform(r, 0, n), cy = uniform(r, 0, n), s = uniform(r, n / 20.0, n / 4.0);
        const int k = int(uniform(r, 3, 7));
        const double turn = uniform(r, 0, 6.28);
        for (int j = 0; j < k; ++j)
            p.emplace_back(int(cx + s * std::cos(turn + j * 6.2832 / k)),
                           int(cy + s * std::sin(turn + j * 6.2832 / k)));
        cv::fillConvexPoly(m, p, cv::Scalar(someColor(r)));
    }
    const Color a = someColor(r), b = someColor(r);
    const cv::Point2d c(n * 0.75, n * 0.75);
    for (int y = n / 2; y < n; ++y)
        for (int x = n / 2; x < n; ++x) {
            const double d = std::hypot(x - c.x, y - c.y);
            if (d < n / 4.2)
                m(y, x) = std::sin(36 * std::atan2(y - c.y, x - c.x)) > 0 ? a : b;
        }
    return m;
}

inline cv::Mat3f text(Random &r, int n)
{
    cv::Mat3f m(n, n);
    for (int block = 0; block < 4; ++block) {
        cv::Mat3f part = m(cv::Rect((block % 2) * n / 2, (block / 2) * n / 2, n / 2, n / 2));
        const Color paper = block % 2 ? someColor(r) : Color(0.8F, 0.8F, 0.8F);
        const Color ink = block < 2 ? Color(0.03F, 0.03F, 0.03F) : someColor(r);
        part.setTo(cv::Scalar(paper));
        const double scale = uniform(r, 0.28, 0.6) * kFine;
        int y = int(24 * scale);
        while (y < n / 2) {
            std::string line;
            for (int i = 0; i < 60; ++i)
                line += char(uniform(r, 0, 1) < 0.15 ? ' ' : 'a' + int(uniform(r, 0, 26)));
            cv::putText(part, line, {4, y}, cv::FONT_HERSHEY_SIMPLEX, scale, cv::Scalar(ink),
                        std::max(1, int(scale * 2)), cv::LINE_AA);
            y += int(30 * scale);
        }
    }
    return m;
}

inline cv::Mat3f fabric(Random &r, int n)
{
    cv::Mat3f m(n, n);
    struct Weave
    {
        Color a, b;
        double period, turn, depth;
        bool twill;
    };
    std::array<Weave, 4> weaves;
    for (auto &w : weaves) {
        w.a = someColor(r);
        w.b = uniform(r, 0, 1) < 0.5 ? w.a * float(uniform(r, 0.4, 0.8)) : someColor(r);
        w.period = uniform(r, 2.8, 7) * kFine;
        w.turn = uniform(r, 0, 1.57);
        w.depth = uniform(r, 0.3, 0.8);
        w.twill = uniform(r, 0, 1) < 0.5;
    }
    for (int y = 0; y < n; ++y)
        for (int x = 0; x < n; ++x) {
            const auto &w = weaves[size_t((y >= n / 2) * 2 + (x >= n / 2))];
            const double bend = 3 * kFine * std::sin(x * 0.004 + y * 0.003);
            const double u = (std::cos(w.turn) * x + std::sin(w.turn) * y + bend) / w.period,
                         v = (-std::sin(w.turn) * x + std::cos(w.turn) * y + bend) / w.period;
            const bool over = w.twill ? (int(std::floor(u)) + 2 * int(std::floor(v))) % 4 < 2
                                      : (int(std::floor(u)) + int(std::floor(v))) % 2 == 0;
            const double along = over ? v : u,
                         shade = 1 - w.depth * std::pow(2 * std::abs(along - std::floor(along) - 0.5), 2.0);
            m(y, x) = (over ? w.a : w.b) * float(shade);
        }
    return m;
}

/// Dead leaves: discs and blades that cover each other, sizes as in nature.
inline cv::Mat3f foliage(Random &r, int n)
{
    cv::Mat3f m(n, n, Color(0.1F, 0.15F, 0.05F));
    for (int i = 0; i < 9000; ++i) {
        const double size = 1.2 * kFine / std::pow(uniform(r, 0.004, 1), 0.6);
        const double level = std::pow(uniform(r, 0.2, 0.9), 1.8);
        const Color c(float(level * uniform(r, 0.4, 1)), float(level), float(level * uniform(r, 0.15, 0.7)));
        cv::ellipse(m, cv::Point(int(uniform(r, 0, n)), int(uniform(r, 0, n))),
                    cv::Size(int(size), std::max(1, int(size * uniform(r, 0.2, 0.7)))), uniform(r, 0, 360), 0,
                    360, cv::Scalar(c), -1);
    }
    return m;
}

inline cv::Mat3f fineNoise(Random &r, int n)
{
    std::normal_distribution<float> normal;
    cv::Mat1f luma(n, n, 0.F);
    for (const double s : {0.5, 0.8, 1.5, 4.0, 12.0}) {
        cv::Mat1f one(n, n);
        for (auto &v : one)
            v = normal(r);
        cv::GaussianBlur(one, one, {}, s * kFine, s * kFine);
        cv::Scalar mean, sd;
        cv::meanStdDev(one, mean, sd);
        luma += one * (0.3 / sd[0]);
    }
    cv::Mat3f tint(n, n);
    for (auto &v : tint)
        v = Color(normal(r), normal(r), normal(r));
    cv::GaussianBlur(tint, tint, {}, 3.0 * kFine);
    cv::Scalar mean, sd;
    cv::meanStdDev(tint, mean, sd);
    const Color base = someColor(r);
    cv::Mat3f m(n, n);
    for (int y = 0; y < n; ++y)
        for (int x = 0; x < n; ++x)
            for (int k = 0; k < 3; ++k)
                m(y, x)[k] =
                    std::clamp(0.8F * base[k] * std::exp(luma(y, x) + 0.12F * tint(y, x)[k] / float(sd[0])),
                               0.003F, 0.93F);
    return m;
}

inline const std::array<const char *, 5> kKinds{"edges", "text", "fabric", "foliage", "fine noise"};
/// What a lens of good sharpness (a spread of 0.4 pixels) and square pixels make of it.
inline cv::Mat3f scene(size_t kind, uint64_t seed)
{
    Random r(seed * 5 + kind);
    const int n = kSide * kFine;
    cv::Mat3f fine = kind == 0   ? edges(r, n)
                     : kind == 1 ? text(r, n)
                     : kind == 2 ? fabric(r, n)
                     : kind == 3 ? foliage(r, n)
                                 : fineNoise(r, n);
    cv::GaussianBlur(fine, fine, {}, 0.4 * kFine);
    cv::Mat3f out;
    cv::resize(fine, out, {kSide, kSide}, 0, 0, cv::INTER_AREA);
    return out;
}

} // namespace scenes
} // namespace wavechroma::bench
