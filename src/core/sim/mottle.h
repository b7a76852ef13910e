#pragma once
#include <array>
#include <cmath>
#include <complex>

namespace wavechroma::sim {

/// Mottled texture of a tile, −1…1: a few waves of pseudo-random direction, cheap and the same everywhere. A
/// wave goes on along a row by turning, so that each row costs one sine and cosine a wave.
template <int kSide> void mottle(int x0, int y0, double size, std::array<float, size_t(kSide) * kSide> &out)
{
    struct Wave
    {
        double x, y, phase;
    };
    constexpr Wave kWaves[] = {{1.9, 0.7, 0}, {-0.8, 2.3, 1.7}, {1.1, -1.6, 4.1}};
    out.fill(0);
    for (const auto &wave : kWaves) {
        const auto turn = std::complex<float>(std::polar(1.0, wave.x / size));
        for (int y = 0; y < kSide; ++y) {
            auto at = std::complex<float>(
                std::polar(1.0, (wave.x * (x0 + 0.5) + wave.y * (y0 + y + 0.5)) / size + wave.phase));
            for (int x = 0; x < kSide; ++x, at = {at.real() * turn.real() - at.imag() * turn.imag(),
                                                  at.real() * turn.imag() + at.imag() * turn.real()})
                out[size_t(y * kSide + x)] += at.imag() / 3;
        }
    }
}

} // namespace wavechroma::sim
