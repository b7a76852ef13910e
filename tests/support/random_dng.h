#pragma once
#include "core/formats/lossless_jpeg.h"
#include "core/sim/random.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <initializer_list>
#include <map>
#include <string>
#include <zlib.h>

/// DNG files of random layouts, valid by the specification: what cameras, telephones and converters write,
/// and what they might.
namespace wavechroma::testing {

class RandomDng
{
public:
    explicit RandomDng(uint64_t seed) : m_random(seed) { make(); }

    Bytes bytes;
    std::string words;    ///< what it has, for a test that fails
    uint16_t refused = 0; ///< the tag that a reader must refuse; 0: none

private:
    struct Value
    {
        uint16_t type = 3;
        uint32_t count = 0;
        Bytes data;
    };
    bool chance(double share) { return m_random.unit() < share; }
    int between(int least, int most) { return least + int(m_random.next() % uint64_t(most - least + 1)); }
    template <typename T> T oneOf(std::initializer_list<T> all)
    {
        return *(all.begin() + long(m_random.next() % all.size()));
    }
    void put(Bytes &to, uint64_t value, int size) const
    {
        for (int i = 0; i < size; ++i)
            to.push_back(uint8_t(value >> (8 * (m_big ? size - 1 - i : i))));
    }
    static void putBig(Bytes &to, uint64_t value, int size)
    {
        for (int i = size - 1; i >= 0; --i)
            to.push_back(uint8_t(value >> (8 * i)));
    }
    static void putReal(Bytes &to, double v) { putBig(to, std::bit_cast<uint64_t>(v), 8); }
    static void putSingle(Bytes &to, float v) { putBig(to, std::bit_cast<uint32_t>(v), 4); }
    void set(uint16_t id, uint16_t type, const std::vector<double> &values)
    {
        Value out{type, uint32_t(values.size()), {}};
        for (const double v : values)
            switch (type) {
            case 1:
                out.data.push_back(uint8_t(v));
                break;
            case 3:
                put(out.data, uint64_t(v), 2);
                break;
            case 5:
            case 10:
                put(out.data, uint32_t(int32_t(std::lround(v * 64))), 4);
                put(out.data, 64, 4);
                break;
            default:
                put(out.data, uint64_t(v), 4);
            }
        m_tags[id] = out;
    }

    void make()
    {
        m_big = chance(0.4);
        m_linear = chance(0.25);
        m_samples = m_linear ? 3 : 1;
        m_width = between(40, 90);
        m_height = between(36, 80);
        chooseFormat();
        set(254, 4, {0});
        set(256, 4, {double(m_width)});
        set(257, 4, {double(m_height)});
        set(258, 3, std::vector<double>(size_t(m_samples), m_bits));
        set(262, 3, {m_linear ? 34892.0 : 32803.0});
        set(277, 3, {double(m_samples)});
        if (m_isFloat)
            set(339, 3, std::vector<double>(size_t(m_samples), 3));
        chooseArea();
        chooseFilter();
        chooseLevels();
        chooseSteps();
        fillSamples();
        pack();
        maybeSpoil();
        write();
    }
    void chooseFormat()
    {
        m_compression = oneOf({1, 1, 7, 7, 8});
        m_isFloat = m_compression != 7 && chance(0.25);
        m_bits = m_isFloat            ? oneOf({16, 24, 32})
                 : m_compression == 7 ? oneOf({8, 10, 12, 14, 16})
                 : m_compression == 8 ? oneOf({8, 16})
                 : chance(0.1)        ? 32
                                      : between(8, 16);
        if (m_compression == 7)
            m_width += m_width % 2; // what the packer of the tests asks for
        m_planar = m_linear && chance(0.3);
        words += std::to_string(m_bits) + (m_isFloat ? " bits float" : " bits") + ", compression " +
                 std::to_string(m_compression);
    }
    void chooseArea()
    {
        m_areaWidth = m_width;
        m_areaHeight = m_height;
        if (chance(0.4))
            return;
        m_top = between(0, 7);
        m_left = between(0, 7);
        m_areaHeight = m_height - m_top - between(0, 7);
        m_areaWidth = m_width - m_left - between(0, 7);
        set(50829, chance(0.5) ? 3 : 4,
            {double(m_top), double(m_left), double(m_top + m_areaHeight), double(m_left + m_areaWidth)});
        words += ", area from " + std::to_string(m_left) + "," + std::to_string(m_top);
    }
    void chooseFilter()
    {
        if (m_linear)
            return;
        using Rows = std::vector<std::string>;
        const Rows filter = oneOf<Rows>({{"RG", "GB"},
                                         {"BG", "GR"},
                                         {"GR", "BG"},
                                         {"GB", "RG"},
                                         {"RRGG", "RRGG", "GGBB", "GGBB"},
                                         {"RGBG", "GRGB"},
                                         {"RGB", "BRG", "GBR"},
                                         {"GBGGRG", "RGRBGB", "GBGGRG", "GRGGBG", "BGBRGR", "GRGGBG"}});
        std::vector<double> colours;
        for (const auto &row : filter)
            for (const char c : row)
                colours.push_back(c == 'R' ? 0 : c == 'G' ? 1 : 2);
        set(33421, 3, {double(filter.size()), double(filter[0].size())});
        set(33422, 1, colours);
        m_isBayer = filter.size() == 2 && filter[0].size() == 2;
        m_colours = colours;
        words += ", filter " + filter[0];
    }
    /// The span of stored values that light takes.
    double top() const { return m_isFloat ? 1 : std::exp2(std::min(m_bits, 20)) - 1; }
    void chooseLevels()
    {
        double most = top();
        if (!m_isFloat && m_bits <= 14 && chance(0.25)) { // a table that opens codes up
            std::vector<double> table;
            const auto entries = size_t(std::exp2(m_bits)) - (chance(0.3) ? 20 : 0);
            for (size_t i = 0; i < entries; ++i)
                table.push_back(std::floor(65535 * std::pow(double(i) / double(entries - 1), 1.7)));
            set(50712, 3, table);
            most = 65535;
            words += ", table";
        }
        const double unit = most / 64;
        const auto few = [&] {
            return m_isFloat ? m_random.unit() * 0.03 : std::floor(m_random.unit() * 3 * unit);
        };
        double rows = 1, columns = 1;
        if (chance(0.75)) {
            if (chance(0.7)) {
                rows = oneOf({1, 2, 2, 4, 3, 20});
                columns = oneOf({1, 2, 2, 4, 5, 20});
                set(50713, 3, {rows, columns});
            }
            std::vector<double> black;
            for (int i = 0; i < int(rows) * int(columns) * m_samples; ++i)
                black.push_back(few());
            set(50714, m_isFloat || chance(0.3) ? 5 : 4, black);
            words += ", black " + std::to_string(int(rows)) + "x" + std::to_string(int(columns));
        }
        const auto deltas = [&](uint16_t id, int count) {
            std::vector<double> out;
            for (int i = 0; i < count; ++i)
                out.push_back((m_random.unit() - 0.5) * unit);
            set(id, 10, out);
        };
        if (chance(0.15)) {
            deltas(50715, m_areaWidth);
            words += ", DeltaH";
        }
        if (chance(0.15)) {
            deltas(50716, m_areaHeight);
            words += ", DeltaV";
        }
        if (chance(0.7) || m_bits == 32 || most == 65535) {
            std::vector<double> white;
            const bool each = m_samples == 3 && chance(0.7);
            for (int i = 0; i < (each ? 3 : 1); ++i)
                white.push_back(m_isFloat ? 1 : std::floor(most * (0.8 + 0.2 * m_random.unit())));
            set(50717, m_isFloat ? 5 : 4, white);
        }
    }

    Bytes area(int channelPitch)
    {
        Bytes out;
        for (const double v :
             {double(m_stepTop), double(m_stepLeft), double(m_stepHeight), double(m_stepWidth), 0.0,
              double(m_stepPlanes), double(channelPitch), double(channelPitch)})
            putBig(out, uint64_t(v), 4);
        return out;
    }
    Bytes gainMap(int x, int y, int pitch)
    {
        m_stepTop = y;
        m_stepLeft = x;
        auto out = area(pitch);
        const int down = between(2, 9), across = between(2, 13),
                  planes = m_stepPlanes == 1 ? 1 : oneOf({1, 3});
        putBig(out, uint64_t(down), 4);
        putBig(out, uint64_t(across), 4);
        putReal(out, 1.0 / (down - 1));
        putReal(out, 1.0 / (across - 1));
        putReal(out, 0);
        putReal(out, 0);
        putBig(out, uint64_t(planes), 4);
        for (int i = 0; i < down * across * planes; ++i)
            putSingle(out, float(1 + 0.1 * (i / planes % across) + 0.02 * m_random.unit())); // as lenses are
        m_stepTop = m_stepLeft = 0;
        return out;
    }
    Bytes vignette()
    {
        Bytes out;
        for (const double k : {0.3, -0.05, 0.02, 0.0, 0.01})
            putReal(out, k * (0.5 + m_random.unit()));
        putReal(out, 0.4 + 0.2 * m_random.unit());
        putReal(out, 0.4 + 0.2 * m_random.unit());
        return out;
    }
    Bytes rows(int id, double least, double most)
    {
        auto out = area(1);
        const int count = id == 10 || id == 12 ? m_stepHeight : m_stepWidth;
        putBig(out, uint64_t(count), 4);
        for (int i = 0; i < count; ++i)
            putSingle(out, float(least + (most - least) * m_random.unit()));
        return out;
    }
    Bytes polynomial()
    {
        auto out = area(1);
        putBig(out, 2, 4);
        for (const double term : {0.01, 0.8, 0.15})
            putReal(out, term);
        return out;
    }
    Bytes table()
    {
        auto out = area(1);
        const int count = oneOf({65536, 50000});
        putBig(out, uint64_t(count), 4);
        for (int i = 0; i < count; ++i)
            putBig(out, uint64_t(65535 * std::pow(i / 65535.0, 0.9)), 2);
        return out;
    }
    void setSteps(uint16_t id, const std::vector<std::pair<int, Bytes>> &steps)
    {
        if (steps.empty())
            return;
        Bytes all;
        putBig(all, steps.size(), 4);
        for (const auto &[step, parameters] : steps) {
            putBig(all, uint64_t(step), 4);
            putBig(all, 0x01030000, 4);
            putBig(all, uint64_t(between(0, 1)), 4); // whether a reader may leave it out: ours does not
            putBig(all, parameters.size(), 4);
            all.insert(all.end(), parameters.begin(), parameters.end());
            words += ", step " + std::to_string(step) + " of " + std::to_string(id);
        }
        m_tags[id] = {7, uint32_t(all.size()), all};
    }
    void chooseSteps()
    {
        m_stepHeight = m_areaHeight;
        m_stepWidth = m_areaWidth;
        m_stepPlanes = m_samples;
        std::vector<std::pair<int, Bytes>> second, third;
        if (chance(0.08))
            second.emplace_back(8, polynomial());
        if (chance(0.06))
            second.emplace_back(7, table());
        if (chance(0.08))
            second.emplace_back(10, rows(10, -0.01, 0.01));
        if (chance(0.1))
            second.emplace_back(13, rows(13, 0.9, 1));
        if (chance(0.25)) {
            if (m_linear || chance(0.3))
                second.emplace_back(9, gainMap(0, 0, 1));
            else if (m_isBayer) {
                const Bytes green = gainMap(0, 0, 2);
                for (int i = 0; i < 4; ++i) {
                    auto map = m_colours[size_t(i)] == 1 ? green : gainMap(0, 0, 2); // both greens have one
                    map[3] = uint8_t(i / 2);
                    map[7] = uint8_t(i % 2);
                    second.emplace_back(9, map);
                }
            }
        }
        m_stepPlanes = 3;
        if (chance(0.08)) {
            const bool isSparse = !m_linear && chance(0.3); // on every second pixel of a whole picture
            third.emplace_back(9, gainMap(0, 0, isSparse ? 2 : 1));
            if (isSparse)
                refused = 51022;
        }
        if (chance(0.1))
            third.emplace_back(3, vignette());
        setSteps(51009, second);
        setSteps(51022, third);
        if (!m_isFloat && m_bits <= 16 && chance(0.08)) {
            m_stepHeight = m_height;
            m_stepWidth = m_width;
            m_stepPlanes = m_samples;
            setSteps(51008, {{11, rows(11, -3, 3)}});
        }
    }
    void fillSamples()
    {
        for (int i = 0; i < m_width * m_height * m_samples; ++i)
            m_codes.push_back(m_isFloat ? m_random.unit() * 1.02
                                        : std::floor((chance(0.02) ? 1.0 : m_random.unit()) * top()));
    }
    uint64_t bitsOf(double v) const
    {
        if (!m_isFloat)
            return uint64_t(v);
        const int mantissa = m_bits == 16   ? 10
                             : m_bits == 24 ? 16
                                            : 23,
                  bias = m_bits == 16   ? 15
                         : m_bits == 24 ? 63
                                        : 127;
        if (v < std::ldexp(1.0, 1 - bias))
            return 0;
        const int exponent = std::ilogb(v);
        const auto fraction =
            uint64_t(std::floor((v / std::ldexp(1.0, exponent) - 1) * double(1 << mantissa)));
        return uint64_t(exponent + bias) << mantissa | fraction;
    }
    Bytes pieceOf(int x0, int y0, int width, int rows, int plane)
    {
        const int perPixel = m_planar ? 1 : m_samples;
        std::vector<uint64_t> values;
        for (int y = y0; y < y0 + rows; ++y)
            for (int x = x0; x < x0 + width; ++x)
                for (int s = 0; s < perPixel; ++s) {
                    const auto at = size_t(std::min(y, m_height - 1)) * size_t(m_width) +
                                    size_t(std::min(x, m_width - 1));
                    values.push_back(bitsOf(m_codes[at * size_t(m_samples) + size_t(m_planar ? plane : s)]));
                }
        if (m_compression == 7)
            return losslessJpeg(std::vector<uint16_t>(values.begin(), values.end()), width * perPixel, rows,
                                m_bits);
        if (m_compression == 8)
            return deflated(values, width * perPixel, rows, perPixel);
        Bytes out;
        for (int y = 0; y < rows; ++y) {
            int bit = 0;
            for (int x = 0; x < width * perPixel; ++x) {
                const auto v = values[size_t(y) * size_t(width * perPixel) + size_t(x)];
                if (m_bits % 8 == 0) {
                    put(out, v, m_bits / 8);
                    continue;
                }
                for (int b = m_bits - 1; b >= 0; --b, ++bit) {
                    if (bit % 8 == 0)
                        out.push_back(0);
                    out.back() = uint8_t(out.back() | (v >> b & 1) << (7 - bit % 8));
                }
            }
        }
        return out;
    }
    Bytes deflated(const std::vector<uint64_t> &values, int width, int rows, int perPixel)
    {
        const int size = m_bits / 8;
        Bytes raw;
        for (int y = 0; y < rows; ++y) {
            const auto *row = values.data() + size_t(y) * size_t(width);
            if (m_predictor == 3) {
                Bytes sorted;
                for (int b = size - 1; b >= 0; --b)
                    for (int x = 0; x < width; ++x)
                        sorted.push_back(uint8_t(row[x] >> (8 * b)));
                for (size_t i = sorted.size() - 1; i >= size_t(perPixel); --i)
                    sorted[i] = uint8_t(sorted[i] - sorted[i - size_t(perPixel)]);
                raw.insert(raw.end(), sorted.begin(), sorted.end());
                continue;
            }
            for (int x = 0; x < width; ++x)
                put(raw, m_predictor == 2 && x >= perPixel ? row[x] - row[x - perPixel] : row[x], size);
        }
        Bytes out(compressBound(uLong(raw.size())));
        uLongf length = uLongf(out.size());
        compress(out.data(), &length, raw.data(), uLong(raw.size()));
        out.resize(length);
        return out;
    }
    void pack()
    {
        m_predictor = m_compression != 8 ? 1 : m_isFloat ? oneOf({1, 3}) : oneOf({1, 2});
        const bool tiled = chance(0.4);
        const int pw = tiled ? oneOf({16, 32, 48, 128}) : m_width, ph = tiled         ? oneOf({16, 32, 128})
                                                                        : chance(0.5) ? m_height
                                                                                      : between(5, m_height);
        set(259, 3, {double(m_compression)});
        if (m_predictor > 1)
            set(317, 3, {double(m_predictor)});
        if (m_samples > 1)
            set(284, 3, {m_planar ? 2.0 : 1.0});
        for (int plane = 0; plane < (m_planar ? m_samples : 1); ++plane)
            for (int y = 0; y < m_height; y += ph)
                for (int x = 0; x < m_width; x += pw) {
                    m_pieces.push_back(pieceOf(x, y, pw, tiled ? ph : std::min(ph, m_height - y), plane));
                }
        if (tiled) {
            set(322, 3, {double(pw)});
            set(323, 3, {double(ph)});
        } else {
            set(278, 4, {double(ph)});
        }
        m_offsetsTag = tiled ? 324 : 273;
        std::vector<double> sizes;
        for (const auto &piece : m_pieces)
            sizes.push_back(double(piece.size()));
        set(tiled ? 325 : 279, 4, sizes);
        set(m_offsetsTag, 4, sizes); // places follow
        words += tiled ? ", tiles" : ", strips";
    }
    void maybeSpoil()
    {
        if (!chance(0.08))
            return;
        refused = oneOf<uint16_t>({266, 50975, 52547, 50974, 50711, 65000});
        if (refused == 50974)
            set(refused, 3, {2, 2});
        else
            set(refused, 3, {refused == 50711 ? 3.0 : 2.0});
        words += ", spoilt by " + std::to_string(refused);
    }
    using Tags = std::map<uint16_t, Value>;
    /// A directory and what it points to, from `at` on.
    Bytes directory(const Tags &tags, size_t at) const
    {
        Bytes out, rest;
        size_t after = at + 2 + 12 * tags.size() + 4;
        put(out, tags.size(), 2);
        for (const auto &[id, value] : tags) {
            put(out, id, 2);
            put(out, value.type, 2);
            put(out, value.count, 4);
            if (value.data.size() <= 4) {
                auto inside = value.data;
                inside.resize(4);
                out.insert(out.end(), inside.begin(), inside.end());
            } else {
                put(out, after + rest.size(), 4);
                rest.insert(rest.end(), value.data.begin(), value.data.end());
                rest.resize((rest.size() + 1) / 2 * 2);
            }
        }
        put(out, 0, 4);
        out.insert(out.end(), rest.begin(), rest.end());
        return out;
    }
    void write()
    {
        Tags first;
        const auto text = [](const std::string &s) {
            Bytes out(s.begin(), s.end());
            out.push_back(0);
            return Value{2, uint32_t(out.size()), out};
        };
        const auto raw = m_tags;
        m_tags.clear();
        set(50706, 1, {1, 6, 0, 0});
        set(50721, 10, {0.8, -0.2, -0.1, -0.4, 1.2, 0.2, -0.1, 0.3, 0.6});
        set(50728, 5, {0.5, 1, 0.75});
        set(50778, 3, {21});
        first = m_tags;
        first[271] = text("Skerrow");
        first[272] = text("Tarn 2");
        first[50708] = text("Skerrow Tarn 2");
        auto rawTags = raw;
        const bool below = chance(0.5);
        if (!below)
            first.insert(raw.begin(), raw.end());
        for (int round = 0; round < 2; ++round) { // places are known after the first
            put(bytes = Bytes{uint8_t(m_big ? 'M' : 'I'), uint8_t(m_big ? 'M' : 'I')}, 42, 2);
            put(bytes, 8, 4);
            auto main = directory(first, 8);
            Bytes sub;
            if (below) {
                const size_t at = 8 + main.size() + (first.count(330) ? 0 : 12);
                m_tags = first;
                set(330, 4, {double(at)});
                first = m_tags;
                main = directory(first, 8);
                sub = directory(rawTags, 8 + main.size());
            }
            bytes.insert(bytes.end(), main.begin(), main.end());
            bytes.insert(bytes.end(), sub.begin(), sub.end());
            bytes.resize((bytes.size() + 3) / 4 * 4);
            std::vector<double> places;
            for (const auto &piece : m_pieces) {
                places.push_back(double(bytes.size()));
                bytes.insert(bytes.end(), piece.begin(), piece.end());
                bytes.resize((bytes.size() + 1) / 2 * 2);
            }
            m_tags = below ? rawTags : first;
            set(m_offsetsTag, 4, places);
            (below ? rawTags : first) = m_tags;
        }
    }

    sim::Random m_random;
    bool m_big = false, m_linear = false, m_isFloat = false, m_planar = false;
    int m_width = 0, m_height = 0, m_samples = 1, m_bits = 16, m_compression = 1, m_predictor = 1;
    int m_top = 0, m_left = 0, m_areaWidth = 0, m_areaHeight = 0;
    int m_stepTop = 0, m_stepLeft = 0, m_stepHeight = 0, m_stepWidth = 0, m_stepPlanes = 1;
    uint16_t m_offsetsTag = 273;
    std::map<uint16_t, Value> m_tags;
    std::vector<double> m_codes, m_colours;
    bool m_isBayer = false;
    std::vector<Bytes> m_pieces;
};

} // namespace wavechroma::testing
