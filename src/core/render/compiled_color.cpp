#include "core/render/compiled_color.h"

#include "core/base/wide.h"

#include <Eigen/Dense>
#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>
#include <tbb/parallel_for.h>

namespace wavechroma {

namespace {

constexpr int kCurveNodes = 4096;
constexpr float kCurveTop = 2;       ///< light that curves reach to; straight beyond
constexpr float kAxisOffset = 1e-3F; ///< added to light before its root, so that noise at black costs nothing

WAVECHROMA_WIDE void multiplied(const float *__restrict m, float *__restrict r, float *__restrict g,
                                float *__restrict b, int n)
{
    for (int i = 0; i < n; ++i) {
        const float x = r[i], y = g[i], z = b[i];
        r[i] = m[0] * x + m[1] * y + m[2] * z;
        g[i] = m[3] * x + m[4] * y + m[5] * z;
        b[i] = m[6] * x + m[7] * y + m[8] * z;
    }
}

WAVECHROMA_WIDE void scaled(float scale, float *__restrict row, int n)
{
    for (int i = 0; i < n; ++i)
        row[i] *= scale;
}

float axisOf(float light)
{
    return std::sqrt(light + kAxisOffset) - std::sqrt(kAxisOffset);
}

/// Where light lies on the table's axis, in nodes.
WAVECHROMA_WIDE void places(const float *__restrict light, float *__restrict out, float begin, float perNode,
                            float last, int n)
{
    for (int i = 0; i < n; ++i) {
        const float place = (std::sqrt(positive(light[i]) + kAxisOffset) - begin) * perNode;
        out[i] = place < last ? place : last;
    }
}

float curved(const std::vector<float> &curve, float value, float scale)
{
    const float place = std::sqrt(value > 0 ? value : 0) * scale;
    const int i = std::min(int(place), kCurveNodes - 2);
    const float lower = curve[size_t(i)];
    return lower + (place - float(i)) * (curve[size_t(i) + 1] - lower);
}

using Four = Eigen::Array4f;
constexpr int kAtOnce = 256; ///< pixels of a row

/// Where the pixels of a row lie in a table: the node below, those on the way to the node above along the
/// axis of the largest fraction first and of the smallest last, and the four nodes' weights. That is the
/// tetrahedron of the six of a cell which holds the pixel, without a question that a processor could guess
/// wrong.
struct Cells
{
    int32_t first[kAtOnce], second[kAtOnce], third[kAtOnce];
    float weight[4][kAtOnce];
};

template <int n> inline void cellOf(float pr, float pg, float pb, int i, Cells &out)
{
    constexpr int kR = 4, kG = 4 * n, kB = 4 * n * n;
    const int ir = int(pr), ig = int(pg), ib = int(pb);
    const float r = pr - float(ir), g = pg - float(ig), b = pb - float(ib);
    const float more = r > g ? r : g, less = r > g ? g : r;
    const float high = more > b ? more : b, low = less < b ? less : b, rest = more > b ? b : more,
                middle = rest > less ? rest : less;
    const int ofMore = r > g ? kR : kG, ofLess = kR + kG - ofMore;
    const int first = ib * kB + ig * kG + ir * kR;
    out.first[i] = first;
    out.second[i] = first + (more > b ? ofMore : kB);
    out.third[i] = first + kR + kG + kB - (less < b ? ofLess : kB);
    out.weight[0][i] = 1 - high;
    out.weight[1][i] = high - middle;
    out.weight[2][i] = middle - low;
    out.weight[3][i] = low;
}

WAVECHROMA_WIDE void cellsOf(int side, const float *__restrict r, const float *__restrict g,
                             const float *__restrict b, Cells &out, int n)
{
    if (side == CompiledColor::kSide)
        for (int i = 0; i < n; ++i)
            cellOf<CompiledColor::kSide>(r[i], g[i], b[i], i, out);
    else
        for (int i = 0; i < n; ++i)
            cellOf<CompiledColor::kLeanedSide>(r[i], g[i], b[i], i, out);
}

/// What the table holds there, four values a pixel.
void lookUp(const float *table, int side, const Cells &cells, float *out, int n)
{
    const int toLast = 4 * (1 + side + side * side);
    const auto node = [&](int at) -> Four { return Eigen::Map<const Four>(table + at); };
    for (int i = 0; i < n; ++i) {
        const int first = cells.first[i];
        Eigen::Map<Four>(out + 4 * i) =
            (node(first) * cells.weight[0][i] + node(cells.second[i]) * cells.weight[1][i]) +
            (node(cells.third[i]) * cells.weight[2][i] + node(first + toLast) * cells.weight[3][i]);
    }
}

WAVECHROMA_WIDE void add(const float *__restrict fours, const float *__restrict factor, float *__restrict r,
                         float *__restrict g, float *__restrict b, int n)
{
    for (int i = 0; i < n; ++i) {
        r[i] += fours[4 * i] * factor[i];
        g[i] += fours[4 * i + 1] * factor[i];
        b[i] += fours[4 * i + 2] * factor[i];
    }
}

WAVECHROMA_WIDE void positiveMeans(const float *__restrict r, const float *__restrict g,
                                   const float *__restrict b, float *__restrict out, int n)
{
    for (int i = 0; i < n; ++i)
        out[i] = (positive(r[i]) + positive(g[i]) + positive(b[i])) * (1.0F / 3);
}

} // namespace

CompiledColor::CompiledColor(const ColorModel &model, const RgbSpace &space, double level,
                             const Vector3 &gains)
{
    for (size_t c = 0; c < 3; ++c)
        m_scale[c] = float(model.exposureScale * level * model.multipliers[c] / gains[c]);
    const auto toSpace = *inverse(xyzD50FromRgbMatrix(space));
    const auto matrix = toSpace * model.matrix;
    for (size_t i = 0; i < 9; ++i)
        m_matrix[i] = float(matrix(int(i) / 3, int(i) % 3));
    for (const auto &curve : model.curves) {
        auto &nodes = m_curves.emplace_back();
        for (int i = 0; i < kCurveNodes; ++i) {
            const double root = std::sqrt(double(kCurveTop)) * i / (kCurveNodes - 1);
            nodes.push_back(float(toned(curve, root * root)));
        }
    }
    if (!model.bends.empty() || model.lean != ColourLean{})
        makeTable(model, toSpace);
    m_isMatrix = m_table.empty() && m_curves.empty();
    for (size_t i = 0; i < 9 && m_isMatrix; ++i) // the scale goes with it
        m_matrix[i] *= m_scale[i % 3];
}

void CompiledColor::makeTable(const ColorModel &model, const Matrix3 &toSpace)
{
    const auto matrix = toSpace * model.matrix;
    m_side = model.lean == ColourLean{} ? kSide : kLeanedSide;
    const int n = m_side;
    m_table.resize(size_t(n) * size_t(n) * size_t(n) * 4);
    ColorModel behind = model; // the curves are applied before
    behind.curves.clear();
    std::vector<double> levels(size_t(n), 0.0);
    const double begin = std::sqrt(double(kAxisOffset)), end = double(axisOf(kTop));
    for (int i = 0; i < n; ++i)
        levels[size_t(i)] = std::pow(begin + end * i / (n - 1), 2) - double(kAxisOffset);
    levels[0] = 0;
    tbb::parallel_for(0, n, [&](int b) {
        for (int g = 0; g < n; ++g)
            for (int r = 0; r < n; ++r) {
                // At black there is no ratio to take: just above it.
                const BalancedRgb c{std::max(levels[size_t(r)], 1e-6), std::max(levels[size_t(g)], 1e-6),
                                    std::max(levels[size_t(b)], 1e-6)};
                const auto bent = toSpace * vectorOf(xyzFromBalanced(behind, c)),
                           plain = matrix * vectorOf(c);
                const double mean = (c.r + c.g + c.b) / 3;
                for (size_t k = 0; k < 3; ++k)
                    m_table[size_t((b * n + g) * n + r) * 4 + k] = float((bent[k] - plain[k]) / mean);
            }
    });
}

void CompiledColor::addBends(float *red, float *green, float *blue, int n) const
{
    const float begin = std::sqrt(kAxisOffset), perNode = float(m_side - 1) / axisOf(kTop),
                last = float(m_side - 1) * 0.999999F;
    float place[3][kAtOnce], mean[kAtOnce], added[4 * kAtOnce];
    Cells cells;
    for (int from = 0; from < n; from += kAtOnce) {
        const int count = std::min(kAtOnce, n - from);
        float *r = red + from, *g = green + from, *b = blue + from;
        places(r, place[0], begin, perNode, last, count);
        places(g, place[1], begin, perNode, last, count);
        places(b, place[2], begin, perNode, last, count);
        cellsOf(m_side, place[0], place[1], place[2], cells, count);
        positiveMeans(r, g, b, mean, count);
        multiplied(m_matrix, r, g, b, count);
        lookUp(m_table.data(), m_side, cells, added, count);
        add(added, mean, r, g, b, count);
    }
}

void CompiledColor::apply(float *red, float *green, float *blue, int n) const
{
    if (m_isMatrix)
        return multiplied(m_matrix, red, green, blue, n);
    float *channels[] = {red, green, blue};
    for (size_t c = 0; c < 3; ++c) {
        scaled(m_scale[c], channels[c], n);
        if (!m_curves.empty()) {
            const float scale = float(kCurveNodes - 1) / std::sqrt(kCurveTop);
            for (int i = 0; i < n; ++i)
                channels[c][i] = curved(m_curves[c], channels[c][i], scale);
        }
    }
    if (m_table.empty())
        multiplied(m_matrix, red, green, blue, n);
    else
        addBends(red, green, blue, n);
}

namespace {

/// By the series of the area hyperbolic tangent, to 4e-8, for v above 0 and finite.
inline float log2Of(float v)
{
    constexpr float kTwoOverLn2 = 2.885390082F;
    const uint32_t bits = std::bit_cast<uint32_t>(v);
    const uint32_t below = bits - 0x3F3504F3U; // of the root of one half
    const auto exponent = float(int32_t(below) >> 23);
    const float m = std::bit_cast<float>((below & 0x007FFFFFU) + 0x3F3504F3U);
    const float s = (m - 1) / (m + 1), q = s * s;
    return exponent + kTwoOverLn2 * s * (1 + q * (1 / 3.0F + q * (0.2F + q * (1 / 7.0F))));
}

/// By its Taylor series, to 2e-7, for v of -126 to 0.
inline float exp2Of(float v)
{
    const float whole = float(int32_t(v - 0.5F)), x = (v - whole) * 0.693147181F;
    const float e =
        1 + x * (1 + x * (1 / 2.0F + x * (1 / 6.0F + x * (1 / 24.0F + x * (1 / 120.0F + x * (1 / 720.0F))))));
    return e * std::bit_cast<float>(uint32_t(int32_t(whole) + 127) << 23);
}

constexpr float kLeastLight = 1e-12F;

WAVECHROMA_WIDE void byPower(Encoder::Curve curve, const float *__restrict light, uint16_t *__restrict out,
                             int n)
{
    for (int i = 0; i < n; ++i)
        out[i] = uint16_t(
            int32_t(exp2Of(curve.power * log2Of(clippedToOne(light[i], kLeastLight))) * 65535 + 0.5F));
}

/// What is bent as a polynomial of the root, which costs half of a power. The darker half of its range is
/// brought to the lighter one's place, since a power of a product is the product of the powers.
WAVECHROMA_WIDE void byRoot(Encoder::Curve curve, const float *__restrict light, uint16_t *__restrict out,
                            int n)
{
    const auto &t = curve.terms;
    for (int i = 0; i < n; ++i) {
        const float v = clippedToOne(light[i], kLeastLight), root = std::sqrt(v);
        const bool isDark = root < curve.darkTo;
        const float u = root * (isDark ? curve.stretch : 1.0F) - curve.middle;
        // Pairs of terms rather than one after the other (Estrin 1960): nothing waits for long.
        const float u2 = u * u, u4 = u2 * u2;
        const float low = (t[0] + t[1] * u) + (t[2] + t[3] * u) * u2,
                    high = (t[4] + t[5] * u) + (t[6] + t[7] * u) * u2;
        const float bent = (low + high * u4) * (isDark ? curve.shrink : 1.0F) - curve.offset;
        const float code = v > curve.straightTo ? bent : curve.slope * v;
        out[i] = uint16_t(int32_t(code + 0.5F));
    }
}

/// scale · v^power − offset from straightTo to 1: the power through eight places of the lighter half of the
/// roots, at the Chebyshev nodes.
Encoder::Curve rooted(Encoder::Curve curve, double scale, double offset)
{
    constexpr int kTerms = 8;
    const double dark = std::pow(double(curve.straightTo), 0.25), half = (1 - dark) / 2;
    curve.darkTo = float(dark);
    curve.stretch = float(1 / dark);
    curve.shrink = float(std::pow(dark, 2 * double(curve.power)));
    curve.middle = float((1 + dark) / 2);
    curve.offset = float(65535 * offset);
    Eigen::Matrix<double, kTerms, kTerms> powers;
    Eigen::Matrix<double, kTerms, 1> values;
    for (int k = 0; k < kTerms; ++k) {
        const double u = half * std::cos((2 * k + 1) * std::numbers::pi / (2 * kTerms));
        for (int i = 0; i < kTerms; ++i)
            powers(k, i) = std::pow(u, i);
        values[k] = scale * std::pow(double(curve.middle) + u, 2 * double(curve.power));
    }
    const Eigen::Matrix<double, kTerms, 1> terms = powers.partialPivLu().solve(values);
    for (int i = 0; i < kTerms; ++i)
        curve.terms[size_t(i)] = float(65535 * terms[i]);
    return curve;
}

Encoder::Curve curveOf(Transfer transfer)
{
    switch (transfer) {
    case Transfer::Srgb:
        return rooted({0.0031308F, 65535 * 12.92F, 1 / 2.4F}, 1.055, 0.055);
    case Transfer::OpRgb: // down to nothing, where no polynomial of a root goes
        return {0, 0, 256 / 563.0F};
    case Transfer::Romm:
        return rooted({1 / 512.0F, 65535 * 16, 1 / 1.8F}, 1, 0);
    default:
        return {1, 65535, 1};
    }
}

} // namespace

Encoder::Encoder(Transfer transfer) : m_curve(curveOf(transfer)) {}

uint16_t Encoder::code(float linear) const
{
    uint16_t out = 0;
    codes(&linear, &out, 1);
    return out;
}

void Encoder::codes(const float *linear, uint16_t *out, int n) const
{
    (m_curve.straightTo > 0 ? byRoot : byPower)(m_curve, linear, out, n);
}

} // namespace wavechroma
