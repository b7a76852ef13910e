#pragma once
#include "core/base/matrix3.h"
#include "core/formats/whole_file.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <vector>

/// Readers of the tests' own: written from the formats' specifications, sharing no code with the writers.
namespace wavechroma::testing {

/// A tag directory, straight from TIFF 6.0.
struct Tags
{
    std::map<int, std::vector<double>> numbers;

    static uint32_t word(const Bytes &f, size_t at, int n)
    {
        uint32_t v = 0;
        for (int i = n - 1; i >= 0; --i)
            v = v << 8 | f.at(at + size_t(i));
        return v;
    }
    explicit Tags(const Bytes &f)
    {
        const size_t start = word(f, 4, 4);
        for (size_t i = 0; i < word(f, start, 2); ++i) {
            const size_t entry = start + 2 + 12 * i;
            const auto type = word(f, entry + 2, 2), count = word(f, entry + 4, 4);
            const size_t size = type == 10 ? 8 : type == 11 || type == 4 ? 4 : type == 3 ? 2 : 1;
            const size_t at = size * count <= 4 ? entry + 8 : word(f, entry + 8, 4);
            auto &out = numbers[int(word(f, entry, 2))];
            for (size_t k = 0; k < count; ++k) {
                const size_t p = at + size * k;
                float single = 0;
                const uint32_t bits = size >= 4 ? word(f, p, 4) : 0;
                std::memcpy(&single, &bits, 4);
                out.push_back(type == 10   ? double(int32_t(bits)) / int32_t(word(f, p + 4, 4))
                              : type == 11 ? double(single)
                              : size == 4  ? bits
                              : size == 2  ? word(f, p, 2)
                                           : f.at(p));
            }
        }
    }
    Vector3 times(int tag, const Vector3 &v) const
    {
        const auto &m = numbers.at(tag);
        return {m[0] * v[0] + m[1] * v[1] + m[2] * v[2], m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
                m[6] * v[0] + m[7] * v[1] + m[8] * v[2]};
    }
};

// Linear ROMM (ISO 22028-2) to XYZ D50 and back, as the standard prints them.
inline const double kFromRomm[3][3] = {
    {0.7976749, 0.1351917, 0.0313534}, {0.2880402, 0.7118741, 0.0000857}, {0, 0, 0.8252100}};
inline const double kToRomm[3][3] = {
    {1.3459433, -0.2556075, -0.0511118}, {-0.5445989, 1.5081673, 0.0205351}, {0, 0, 1.2118128}};

inline Vector3 by(const double (&m)[3][3], const Vector3 &v)
{
    return {m[0][0] * v[0] + m[0][1] * v[1] + m[0][2] * v[2],
            m[1][0] * v[0] + m[1][1] * v[1] + m[1][2] * v[2],
            m[2][0] * v[0] + m[2][1] * v[1] + m[2][2] * v[2]};
}

/// DNG specification 1.4, chapter 6, "Mapping camera color space to CIE XYZ space" and "Hue/saturation/value
/// mapping table".
class ProfileReader
{
public:
    explicit ProfileReader(const Bytes &file) : m_tags(file) {}

    Vector3 xyz(const Vector3 &balanced) const
    {
        Vector3 rgb = by(kToRomm, m_tags.times(50964, balanced));
        for (auto &v : rgb)
            v = std::max(0.0, v);
        if (m_tags.numbers.count(50938))
            rgb = mapped(rgb);
        if (m_tags.numbers.count(50940))
            rgb = toned(rgb);
        return by(kFromRomm, rgb);
    }

private:
    Vector3 mapped(const Vector3 &rgb) const
    {
        const auto &size = m_tags.numbers.at(50937);
        const auto &data = m_tags.numbers.at(50938);
        const int hues = int(size[0]), saturations = int(size[1]), values = int(size[2]);
        const double most = std::max({rgb[0], rgb[1], rgb[2]}),
                     gap = most - std::min({rgb[0], rgb[1], rgb[2]});
        if (gap <= 0)
            return rgb;
        double h = rgb[0] == most   ? (rgb[1] - rgb[2]) / gap
                   : rgb[1] == most ? 2 + (rgb[2] - rgb[0]) / gap
                                    : 4 + (rgb[0] - rgb[1]) / gap;
        h = h < 0 ? h + 6 : h;
        double s = gap / most, v = most;
        const bool coded = m_tags.numbers.count(51107) && m_tags.numbers.at(51107)[0] == 1;
        const double vCode =
            coded ? (v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(std::min(v, 1.0), 1 / 2.4) - 0.055)
                  : std::min(v, 1.0);
        const double hAt = h / 6 * hues, sAt = s * (saturations - 1), vAt = vCode * (values - 1);
        double entry[3] = {0, 0, 0};
        for (int dh = 0; dh < 2; ++dh)
            for (int ds = 0; ds < 2; ++ds)
                for (int dv = 0; dv < 2; ++dv) {
                    const int hi = int(hAt) + dh, si = std::min(int(sAt), saturations - 2) + ds,
                              vi = std::min(int(vAt), std::max(0, values - 2)) + dv;
                    const double w = (1 - std::abs(hAt - hi)) * (1 - std::abs(sAt - si)) *
                                     (values == 1 ? 1 - dv : 1 - std::abs(vAt - vi));
                    for (size_t k = 0; k < 3 && w != 0; ++k)
                        entry[k] += w * data[3 * size_t((vi * hues + hi % hues) * saturations + si) + k];
                }
        h = std::fmod(h + entry[0] / 60 + 6, 6);
        s = std::min(1.0, s * entry[1]);
        if (coded) { // looked up and scaled as code, decoded after
            const double scaled = std::min(1.0, std::max(0.0, vCode * entry[2]));
            v = scaled <= 0.04045 ? scaled / 12.92 : std::pow((scaled + 0.055) / 1.055, 2.4);
        } else {
            v = std::min(1.0, v * entry[2]);
        }
        const double f = h - int(h), p = v * (1 - s), q = v * (1 - s * f), t = v * (1 - s * (1 - f));
        const Vector3 all[] = {{v, t, p}, {q, v, p}, {p, v, t}, {p, q, v}, {t, p, v}, {v, p, q}};
        return all[int(h)];
    }
    Vector3 toned(const Vector3 &rgb) const
    {
        const auto &points = m_tags.numbers.at(50940);
        const auto curve = [&](double x) {
            size_t i = 2;
            while (i + 2 < points.size() && points[i] < x)
                i += 2;
            return points[i - 1] +
                   (x - points[i - 2]) / (points[i] - points[i - 2]) * (points[i + 1] - points[i - 1]);
        };
        const double most = std::max({rgb[0], rgb[1], rgb[2]}), least = std::min({rgb[0], rgb[1], rgb[2]});
        Vector3 out{};
        for (size_t c = 0; c < 3; ++c)
            out[c] = most > least
                         ? curve(least) + (rgb[c] - least) / (most - least) * (curve(most) - curve(least))
                         : curve(most);
        return out;
    }
    Tags m_tags;
};

} // namespace wavechroma::testing
