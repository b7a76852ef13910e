#pragma once
#include <functional>
#include <vector>

namespace wavechroma {

/// A picture made smaller as its rows come in: Lanczos with three lobes, widened by the reduction (Turkowski
/// 1990, Graphics Gems I), the edge pixels going on beyond the edge. Rows of one channel, linear light.
class LanczosTaps
{
public:
    /// `to` ≤ `from`, both positive.
    LanczosTaps(int from, int to);
    struct Taps
    {
        int first = 0;              ///< may lie before 0, and run beyond the last
        std::vector<float> weights; ///< sum to 1
    };
    [[nodiscard]] const Taps &of(int out) const { return m_taps[size_t(out)]; }
    [[nodiscard]] int count() const { return int(m_taps.size()); }
    /// A whole row. `in` has `from` values.
    void reduce(const float *in, float *out) const;

private:
    int m_from = 0;
    std::vector<Taps> m_taps;
};

/// Rows that come in one after the other, reduced in number; as long as the result needs them they are kept.
class RowReducer
{
public:
    using Out = std::function<void(int row, const float *values)>;
    RowReducer(int from, int to, int valuesPerRow) : m_taps(from, to), m_from(from), m_values(valuesPerRow) {}
    /// The next row; calls `out` for each row that is done.
    void push(const float *row, const Out &out);

private:
    LanczosTaps m_taps;
    int m_from, m_values, m_next = 0, m_done = 0, m_kept = 0; ///< m_kept: number of the first one kept
    std::vector<std::vector<float>> m_rows;
    std::vector<float> m_sum;
};

} // namespace wavechroma
