#pragma once
#include <algorithm>
#include <array>
#include <cstddef>

namespace wavechroma {

/// A place on one axis of a lattice: the nodes on both sides, and how far it is from the lower to the upper.
template <class T> struct Between
{
    size_t lower = 0, upper = 0;
    T share = 0;
};
/// `at` in nodes, held to 0…nodes − 1. An axis of one node is that node everywhere.
template <class T> [[nodiscard]] Between<T> between(T at, size_t nodes)
{
    if (nodes < 2)
        return {};
    at = std::clamp(at, T(0), T(nodes - 1));
    const auto lower = std::min(size_t(at), nodes - 2);
    return {lower, lower + 1, at - T(lower)};
}

/// The eight nodes around a place, each weighted by the box across from it. `node(x, y, z)` gives something
/// with N values that can be indexed.
template <size_t N, class T, class Node>
[[nodiscard]] std::array<T, N> trilinear(const Between<T> &x, const Between<T> &y, const Between<T> &z,
                                         const Node &node)
{
    std::array<T, N> out{};
    for (int corner = 0; corner < 8; ++corner) {
        const bool right = corner & 1, below = corner & 2, behind = corner & 4;
        const T weight = (right ? x.share : 1 - x.share) * (below ? y.share : 1 - y.share) *
                         (behind ? z.share : 1 - z.share);
        const auto &value =
            node(right ? x.upper : x.lower, below ? y.upper : y.lower, behind ? z.upper : z.lower);
        for (size_t i = 0; i < N; ++i)
            out[i] += weight * T(value[i]);
    }
    return out;
}

} // namespace wavechroma
