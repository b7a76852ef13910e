#pragma once
#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <map>
#include <stdexcept>
#include <utility>
#include <vector>
#include <zlib.h>

/// A slow reader of DNG files, written from the specifications alone (TIFF 6.0; Digital Negative
/// Specification 1.7.1.0; ITU-T T.81 annex H) and sharing no line with the program. It throws where it does
/// not understand.
namespace wavechroma::testing {

using FileBytes = std::vector<uint8_t>;

struct SpecPicture
{
    int width = 0, height = 0; ///< of the active area
    int channels = 1;          ///< a pixel: 1 behind a filter
    std::vector<double> light; ///< 0 black, 1 white, before gains
    std::vector<double> gain;  ///< what each is multiplied by
    std::vector<int> colour;   ///< 0 R, 1 G, 2 B of each
};

class SpecDng
{
public:
    explicit SpecDng(const FileBytes &file) : m_file(file) {}

    SpecPicture read()
    {
        m_big = m_file.at(0) == 'M';
        auto first = directory(number(4, 4));
        m_tags = first;
        if (!isRaw())
            for (const auto at : wholes(first, 330)) {
                m_tags = directory(at);
                if (isRaw())
                    break;
            }
        m_width = int(one(256));
        m_height = int(one(257));
        m_samples = int(one(277, 1));
        m_bits = int(wholes(m_tags, 258).at(0));
        m_isFloat = m_tags.count(339) && wholes(m_tags, 339).at(0) == 3;
        unpack();
        return levelled();
    }

private:
    struct Entry
    {
        uint16_t type = 0;
        uint32_t count = 0;
        size_t at = 0;
    };
    using Tags = std::map<uint16_t, Entry>;

    uint64_t number(size_t at, int size) const
    {
        uint64_t out = 0;
        for (int i = 0; i < size; ++i)
            out = out << 8 | m_file.at(at + size_t(m_big ? i : size - 1 - i));
        return out;
    }
    Tags directory(size_t at) const
    {
        static const int sizes[] = {0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4};
        Tags out;
        const auto count = number(at, 2);
        for (size_t i = 0; i < count; ++i) {
            const size_t e = at + 2 + 12 * i;
            Entry entry{uint16_t(number(e + 2, 2)), uint32_t(number(e + 4, 4)), e + 8};
            if (size_t(sizes[entry.type]) * entry.count > 4)
                entry.at = number(e + 8, 4);
            out[uint16_t(number(e, 2))] = entry;
        }
        return out;
    }
    std::vector<double> reals(const Tags &tags, uint16_t id) const
    {
        std::vector<double> out;
        const auto found = tags.find(id);
        if (found == tags.end())
            return out;
        const auto [type, count, at] = found->second;
        for (size_t i = 0; i < count; ++i)
            switch (type) {
            case 1:
            case 7:
                out.push_back(double(number(at + i, 1)));
                break;
            case 3:
                out.push_back(double(number(at + 2 * i, 2)));
                break;
            case 4:
                out.push_back(double(number(at + 4 * i, 4)));
                break;
            case 5:
                out.push_back(double(number(at + 8 * i, 4)) / double(number(at + 8 * i + 4, 4)));
                break;
            case 10:
                out.push_back(double(int32_t(number(at + 8 * i, 4))) /
                              double(int32_t(number(at + 8 * i + 4, 4))));
                break;
            default:
                throw std::runtime_error("type");
            }
        return out;
    }
    std::vector<size_t> wholes(const Tags &tags, uint16_t id) const
    {
        std::vector<size_t> out;
        for (const double v : reals(tags, id))
            out.push_back(size_t(v));
        return out;
    }
    size_t one(uint16_t id, int otherwise = -1) const
    {
        const auto all = wholes(m_tags, id);
        if (all.empty() && otherwise < 0)
            throw std::runtime_error("missing tag");
        return all.empty() ? size_t(otherwise) : all.at(0);
    }
    bool isRaw() const { return one(254, 0) == 0 && (one(262, 0) == 32803 || one(262, 0) == 34892); }

    // ---- samples -------------------------------------------------------------------------------------
    double &stored(int x, int y, int s)
    {
        return m_stored[(size_t(y) * size_t(m_width) + size_t(x)) * size_t(m_samples) + size_t(s)];
    }
    void unpack()
    {
        m_stored.assign(size_t(m_width) * size_t(m_height) * size_t(m_samples), 0);
        const bool tiled = m_tags.count(324) > 0, planar = m_samples > 1 && one(284, 1) == 2;
        const auto offsets = wholes(m_tags, tiled ? 324 : 273), sizes = wholes(m_tags, tiled ? 325 : 279);
        const int pw = tiled ? int(one(322)) : m_width, ph = tiled ? int(one(323)) : int(one(278, m_height));
        size_t piece = 0;
        for (int plane = 0; plane < (planar ? m_samples : 1); ++plane)
            for (int y0 = 0; y0 < m_height; y0 += ph)
                for (int x0 = 0; x0 < m_width; x0 += pw, ++piece) {
                    const int rows = tiled ? ph : std::min(ph, m_height - y0);
                    const int perPixel = planar ? 1 : m_samples;
                    const FileBytes bytes(m_file.begin() + long(offsets.at(piece)),
                                          m_file.begin() + long(offsets.at(piece) + sizes.at(piece)));
                    const auto values = pieceValues(bytes, pw * perPixel, rows, perPixel);
                    for (int y = 0; y < rows && y0 + y < m_height; ++y)
                        for (int x = 0; x < pw && x0 + x < m_width; ++x)
                            for (int s = 0; s < perPixel; ++s)
                                stored(x0 + x, y0 + y, planar ? plane : s) =
                                    values.at(size_t(y * pw + x) * size_t(perPixel) + size_t(s));
                }
    }
    std::vector<double> pieceValues(const FileBytes &bytes, int width, int rows, int perPixel) const
    {
        switch (one(259, 1)) {
        case 1:
            return plain(bytes, width, rows, m_big);
        case 7:
            return losslessJpeg(bytes, size_t(width) * size_t(rows));
        case 8:
            return deflated(bytes, width, rows, perPixel);
        default:
            throw std::runtime_error("compression");
        }
    }
    double valueOf(uint64_t bits) const
    {
        if (!m_isFloat)
            return double(bits);
        const int mantissa = m_bits == 16 ? 10 : m_bits == 24 ? 16 : 23, exponents = m_bits - 1 - mantissa;
        const uint64_t fraction = bits & ((uint64_t(1) << mantissa) - 1),
                       exponent = bits >> mantissa & ((uint64_t(1) << exponents) - 1);
        const int bias = (1 << (exponents - 1)) - 1;
        const double size = exponent == 0 ? std::ldexp(double(fraction), 1 - bias - mantissa)
                                          : std::ldexp(double(fraction + (uint64_t(1) << mantissa)),
                                                       int(exponent) - bias - mantissa);
        return bits >> (m_bits - 1) ? -size : size;
    }
    std::vector<double> plain(const FileBytes &bytes, int width, int rows, bool big) const
    {
        std::vector<double> out;
        const size_t rowBytes = (size_t(width) * size_t(m_bits) + 7) / 8;
        for (int y = 0; y < rows; ++y)
            for (int x = 0; x < width; ++x) {
                uint64_t bits = 0;
                if (m_bits % 8 == 0) {
                    const int size = m_bits / 8;
                    for (int b = 0; b < size; ++b)
                        bits = bits << 8 | bytes.at(size_t(y) * rowBytes + size_t(x * size) +
                                                    size_t(big ? b : size - 1 - b));
                } else {
                    for (int b = 0; b < m_bits; ++b) {
                        const size_t bit = size_t(x) * size_t(m_bits) + size_t(b);
                        bits = bits << 1 | (bytes.at(size_t(y) * rowBytes + bit / 8) >> (7 - bit % 8) & 1);
                    }
                }
                out.push_back(valueOf(bits));
            }
        return out;
    }
    std::vector<double> deflated(const FileBytes &bytes, int width, int rows, int perPixel) const
    {
        const size_t size = size_t(m_bits / 8), rowBytes = size_t(width) * size;
        FileBytes out(rowBytes * size_t(rows));
        uLongf length = uLongf(out.size());
        if (uncompress(out.data(), &length, bytes.data(), uLong(bytes.size())) != Z_OK)
            throw std::runtime_error("deflate");
        const auto predictor = one(317, 1);
        if (predictor == 1)
            return plain(out, width, rows, m_big);
        FileBytes sorted(out.size());
        for (int y = 0; y < rows; ++y) {
            uint8_t *row = out.data() + size_t(y) * rowBytes;
            if (predictor == 3)
                for (size_t i = size_t(perPixel); i < rowBytes; ++i)
                    row[i] = uint8_t(row[i] + row[i - size_t(perPixel)]);
            for (int x = 0; x < width; ++x) {
                uint64_t value = 0;
                for (size_t b = 0; b < size; ++b) {
                    uint8_t *at = sorted.data() + size_t(y) * rowBytes + size_t(x) * size + b;
                    if (predictor == 3)
                        *at = row[b * size_t(width) + size_t(x)];
                    else // differences of values, kept with the highest byte first here
                        *at = row[size_t(x) * size + (m_big ? b : size - 1 - b)];
                    value = value << 8 | *at;
                }
                if (predictor == 2 && x >= perPixel) {
                    uint64_t before = 0;
                    uint8_t *at = sorted.data() + size_t(y) * rowBytes + size_t(x) * size;
                    for (size_t b = 0; b < size; ++b)
                        before = before << 8 | at[long(b) - long(size) * perPixel];
                    value += before;
                    for (size_t b = 0; b < size; ++b)
                        at[b] = uint8_t(value >> (8 * (size - 1 - b)));
                }
            }
        }
        return plain(sorted, width, rows, true);
    }
    /// T.81 annex H, predictor 1 (the left neighbour; the one above at the row's beginning).
    std::vector<double> losslessJpeg(const FileBytes &b, size_t count) const
    {
        size_t at = 2, width = 0, components = 0;
        int precision = 0;
        std::map<int, std::map<std::pair<int, int>, int>> tables; // (length, code) → category
        std::vector<int> tableOf;
        for (;;) {
            const int marker = b.at(at + 1);
            const size_t length = size_t(b.at(at + 2)) << 8 | b.at(at + 3), body = at + 4;
            if (marker == 0xC3) {
                precision = b.at(body);
                width = size_t(b.at(body + 3)) << 8 | b.at(body + 4);
                components = b.at(body + 5);
            } else if (marker == 0xC4) {
                size_t p = body;
                while (p < at + 2 + length) {
                    const int id = b.at(p) & 15;
                    size_t symbol = p + 17;
                    int code = 0;
                    for (int bits = 1; bits <= 16; ++bits, code <<= 1)
                        for (int k = 0; k < b.at(p + size_t(bits)); ++k)
                            tables[id][{bits, code++}] = b.at(symbol++);
                    p = symbol;
                }
            } else if (marker == 0xDA) {
                for (size_t k = 0; k < components; ++k)
                    tableOf.push_back(b.at(body + 2 + 2 * k) >> 4);
                at += 2 + length;
                break;
            }
            at += 2 + length;
        }
        size_t bit = 0;
        const auto next = [&] {
            const int out = b.at(at) >> (7 - bit) & 1;
            if (++bit == 8) {
                bit = 0;
                at += b.at(at) == 0xFF ? 2 : 1;
            }
            return out;
        };
        std::vector<double> out;
        while (out.size() < count) {
            const size_t i = out.size(), pixel = i / components;
            int length = 0, code = 0, category = -1;
            while (category < 0) {
                code = code << 1 | next();
                const auto &table = tables.at(tableOf.at(i % components));
                const auto found = table.find({++length, code});
                if (found != table.end())
                    category = found->second;
            }
            int difference = category == 16 ? 32768 : 0;
            for (int k = 0; k < category && category < 16; ++k)
                difference = difference << 1 | next();
            if (category > 0 && category < 16 && difference < 1 << (category - 1))
                difference -= (1 << category) - 1;
            const double predicted = pixel == 0           ? double(1 << (precision - 1))
                                     : pixel % width == 0 ? out[i - width * components]
                                                          : out[i - components];
            out.push_back(double(uint16_t(int(predicted) + difference)));
        }
        return out;
    }

    // ---- levels --------------------------------------------------------------------------------------
    struct Step
    {
        uint32_t id = 0, top = 0, left = 0, bottom = 0, right = 0, plane = 0, planes = 0, rowPitch = 1,
                 columnPitch = 1;
        size_t at = 0; ///< of what follows the area
    };
    double realIn(size_t at) const
    {
        uint64_t bits = 0;
        for (int i = 0; i < 8; ++i)
            bits = bits << 8 | m_file.at(at + size_t(i));
        return std::bit_cast<double>(bits);
    }
    uint32_t wholeIn(size_t at) const
    {
        uint32_t out = 0;
        for (int i = 0; i < 4; ++i)
            out = out << 8 | m_file.at(at + size_t(i));
        return out;
    }
    double singleIn(size_t at) const { return double(std::bit_cast<float>(wholeIn(at))); }
    std::vector<Step> steps(uint16_t id) const
    {
        std::vector<Step> out;
        const auto found = m_tags.find(id);
        if (found == m_tags.end())
            return out;
        size_t at = found->second.at + 4;
        for (uint32_t i = 0; i < wholeIn(found->second.at); ++i) {
            Step s;
            s.id = wholeIn(at);
            const size_t size = wholeIn(at + 12);
            at += 16;
            s.at = at;
            if (s.id >= 7) {
                uint32_t *const fields[] = {&s.top,   &s.left,   &s.bottom,   &s.right,
                                            &s.plane, &s.planes, &s.rowPitch, &s.columnPitch};
                for (auto *field : fields) {
                    *field = wholeIn(s.at);
                    s.at += 4;
                }
            }
            at += size;
            out.push_back(s);
        }
        return out;
    }
    static bool covers(const Step &s, int x, int y, int plane)
    {
        return x >= int(s.left) && x < int(s.right) && y >= int(s.top) && y < int(s.bottom) &&
               plane >= int(s.plane) && plane < int(s.plane + s.planes) &&
               (x - int(s.left)) % int(s.columnPitch) == 0 && (y - int(s.top)) % int(s.rowPitch) == 0;
    }
    double changed(const Step &s, double v, int x, int y, bool ofCodes) const
    {
        const uint32_t row = (uint32_t(y) - s.top) / s.rowPitch,
                       column = (uint32_t(x) - s.left) / s.columnPitch;
        switch (s.id) {
        case 7: {
            const double code = std::clamp(ofCodes ? v : v * 65535, 0.0, 65535.0);
            const uint32_t count = wholeIn(s.at), i = std::min(uint32_t(std::lround(code)), count - 1);
            const double out = double(m_file.at(s.at + 4 + 2 * i) << 8 | m_file.at(s.at + 5 + 2 * i));
            return ofCodes ? out : out / 65535;
        }
        case 8: {
            double out = 0, power = 1;
            for (uint32_t i = 0; i <= wholeIn(s.at); ++i, power *= v)
                out += realIn(s.at + 4 + 8 * i) * power;
            return out;
        }
        case 10:
            return v + singleIn(s.at + 4 + 4 * row);
        case 11:
            return v + singleIn(s.at + 4 + 4 * column);
        case 12:
            return v * singleIn(s.at + 4 + 4 * row);
        case 13:
            return v * singleIn(s.at + 4 + 4 * column);
        default:
            throw std::runtime_error("opcode");
        }
    }
    double gainOf(const Step &s, int x, int y, int plane, int width, int height) const
    {
        const double u = (x + 0.5) / width, v = (y + 0.5) / height;
        if (s.id == 3) {
            const double cx = realIn(s.at + 40), cy = realIn(s.at + 48);
            const double mx = std::max(cx, 1 - cx) * width, my = std::max(cy, 1 - cy) * height;
            const double r2 =
                (std::pow((u - cx) * width, 2) + std::pow((v - cy) * height, 2)) / (mx * mx + my * my);
            double out = 1;
            for (int k = 0; k < 5; ++k)
                out += realIn(s.at + 8 * size_t(k)) * std::pow(r2, k + 1);
            return out;
        }
        const int down = int(wholeIn(s.at)), across = int(wholeIn(s.at + 4)),
                  planes = int(wholeIn(s.at + 40));
        const double y0 = std::clamp((v - realIn(s.at + 24)) / realIn(s.at + 8), 0.0, double(down - 1)),
                     x0 = std::clamp((u - realIn(s.at + 32)) / realIn(s.at + 16), 0.0, double(across - 1));
        const auto point = [&](int py, int px) {
            return singleIn(s.at + 44 +
                            4 * (size_t(py * across + px) * size_t(planes) +
                                 size_t(std::min(plane - int(s.plane), planes - 1))));
        };
        const int iy = std::min(int(y0), std::max(0, down - 2)),
                  ix = std::min(int(x0), std::max(0, across - 2));
        const int jy = std::min(iy + 1, down - 1), jx = std::min(ix + 1, across - 1);
        const double fy = y0 - iy, fx = x0 - ix;
        return (point(iy, ix) * (1 - fx) + point(iy, jx) * fx) * (1 - fy) +
               (point(jy, ix) * (1 - fx) + point(jy, jx) * fx) * fy;
    }
    SpecPicture levelled()
    {
        SpecPicture out;
        int top = 0, left = 0;
        out.width = m_width;
        out.height = m_height;
        out.channels = m_samples;
        if (const auto area = wholes(m_tags, 50829); area.size() == 4) {
            top = int(area[0]);
            left = int(area[1]);
            out.height = int(area[2] - area[0]);
            out.width = int(area[3] - area[1]);
        }
        const auto table = wholes(m_tags, 50712), repeat = wholes(m_tags, 50713), dim = wholes(m_tags, 33421),
                   filter = wholes(m_tags, 33422);
        const auto black = reals(m_tags, 50714), acrossBlack = reals(m_tags, 50715),
                   downBlack = reals(m_tags, 50716), white = reals(m_tags, 50717);
        const size_t blackRows = repeat.empty() ? 1 : repeat[0],
                     blackColumns = repeat.empty() ? 1 : repeat[1];
        const auto first = steps(51008), second = steps(51009), third = steps(51022);
        for (int y = 0; y < out.height; ++y)
            for (int x = 0; x < out.width; ++x)
                for (int s = 0; s < m_samples; ++s) {
                    const int colour =
                        m_samples == 1 ? int(filter[size_t(y) % dim[0] * dim[1] + size_t(x) % dim[1]]) : s;
                    double v = stored(x + left, y + top, s);
                    for (const auto &step : first)
                        if (covers(step, x + left, y + top, s))
                            v = changed(step, v, x + left, y + top, true);
                    if (!table.empty())
                        v = double(table[std::min(size_t(std::max(0.0, std::round(v))), table.size() - 1)]);
                    double b =
                        black.empty()
                            ? 0
                            : black.at((size_t(y) % blackRows * blackColumns + size_t(x) % blackColumns) *
                                           size_t(m_samples) +
                                       size_t(s));
                    b += acrossBlack.empty() ? 0 : acrossBlack.at(size_t(x));
                    b += downBlack.empty() ? 0 : downBlack.at(size_t(y));
                    const double w = white.empty()       ? (m_isFloat ? 1 : std::pow(2, m_bits) - 1)
                                     : white.size() == 1 ? white[0]
                                                         : white.at(size_t(s));
                    v = (v - b) / (w - b); // its own black, as the contract's camera RGB has it
                    double gain = 1;
                    const auto apply = [&](const Step &step, int plane) {
                        if (step.id == 3)
                            gain *= gainOf(step, x, y, plane, out.width, out.height);
                        else if (covers(step, x, y, plane)) {
                            if (step.id == 9)
                                gain *= gainOf(step, x, y, plane, out.width, out.height);
                            else
                                v = changed(step, v, x, y, false);
                        }
                    };
                    for (const auto &step : second)
                        apply(step, s);
                    for (const auto &step : third)
                        apply(step, colour);
                    out.light.push_back(v);
                    out.gain.push_back(gain);
                    out.colour.push_back(colour);
                }
        return out;
    }

    const FileBytes &m_file;
    bool m_big = false, m_isFloat = false;
    Tags m_tags;
    int m_width = 0, m_height = 0, m_samples = 1, m_bits = 16;
    std::vector<double> m_stored;
};

} // namespace wavechroma::testing
