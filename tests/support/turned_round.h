#pragma once
#include "core/formats/whole_file.h"

#include <algorithm>
#include <map>
#include <utility>

namespace wavechroma::testing {

/// A little-endian TIFF turned round, entry by entry (TIFF 6.0, section 2): directories, their values, and
/// the 16-bit samples of the strip.
class TurnedRound
{
public:
    static Bytes of(const Bytes &file)
    {
        TurnedRound turn(file);
        turn.directory(turn.number(4, 4));
        turn.swap(2, 2);
        turn.swap(4, 4);
        turn.m_out[0] = turn.m_out[1] = 'M';
        return turn.m_out;
    }

private:
    explicit TurnedRound(const Bytes &file) : m_in(file), m_out(file) {}
    uint32_t number(size_t at, int n) const
    {
        uint32_t v = 0;
        for (int i = n - 1; i >= 0; --i)
            v = v << 8 | m_in.at(at + size_t(i));
        return v;
    }
    void swap(size_t at, size_t n) { std::reverse(&m_out.at(at), &m_out.at(at) + n); }
    void directory(size_t at)
    {
        const size_t count = number(at, 2);
        uint32_t strip = 0, stripSize = 0, compression = 1;
        for (size_t i = 0; i < count; ++i) {
            const size_t entry = at + 2 + 12 * i;
            const uint32_t tag = number(entry, 2), values = number(entry + 4, 4);
            if (tag == 259)
                compression = number(entry + 8, 2);
            if (tag == 273)
                strip = number(entry + 8, 4);
            if (tag == 279)
                stripSize = number(entry + 8, 4);
            if (tag == 34665 || tag == 330)
                directory(number(entry + 8, 4));
            entryValues(entry, values);
            swap(entry, 2);
            swap(entry + 2, 2);
            swap(entry + 4, 4);
        }
        swap(at, 2);
        swap(at + 2 + 12 * count, 4);
        for (uint32_t i = 0; compression == 1 && i + 1 < stripSize; i += 2)
            swap(strip + i, 2);
    }
    void entryValues(size_t entry, size_t values)
    {
        static const std::map<uint32_t, std::pair<size_t, size_t>> kinds{
            // numbers of a value, bytes of each
            {3, {1, 2}}, {4, {1, 4}},  {5, {2, 4}},  {8, {1, 2}},
            {9, {1, 4}}, {10, {2, 4}}, {11, {1, 4}}, {12, {1, 8}}};
        const auto kind = kinds.find(number(entry + 2, 2));
        const auto [parts, size] = kind == kinds.end() ? std::pair<size_t, size_t>{1, 1} : kind->second;
        const bool inside = values * parts * size <= 4;
        const size_t from = inside ? entry + 8 : number(entry + 8, 4);
        for (size_t k = 0; size > 1 && k < values * parts; ++k)
            swap(from + k * size, size);
        if (!inside)
            swap(entry + 8, 4);
    }
    const Bytes &m_in;
    Bytes m_out;
};

} // namespace wavechroma::testing
