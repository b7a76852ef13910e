#include "core/fit/hue_sectors.h"

#include "core/color/lab.h"
#include "core/fit/part_balance.h"

#include <cmath>

namespace wavechroma {

std::vector<HueSector> hueSectorsOf(const Calibration &c)
{
    std::vector<HueSector> out;
    const auto back = inverse(fileMatrix(c.fileColor, {1 / c.multipliers[0], 1, 1 / c.multipliers[2]}));
    for (int sector = 0; sector < 8; ++sector) {
        HueSector s{45.0 * sector, 45.0 * (sector + 1)};
        double weights = 0, chroma = 0, count = 0, hue = 0, lightness = 0;
        for (int h = 0; h < 5; ++h)
            for (double l = 30; l <= 80; l += 10)
                for (double strength = 15; strength <= 50; strength += 7) {
                    const double angle = s.from + 9 * h + 4.5;
                    const Lab plain = labFromLch({l, strength, angle});
                    const auto rgb = back ? *back * vectorOf(xyzFromLab(plain)) : Vector3{};
                    if (!(rgb[0] > 0 && rgb[1] > 0 && rgb[2] > 0))
                        continue;
                    const Lch got = lchFromLab(labFromXyz(xyzFromBalanced(c, {rgb[0], rgb[1], rgb[2]})));
                    hue += strength * std::remainder(got.h - angle, 360);
                    chroma += std::log(got.c / strength);
                    lightness += got.l - l;
                    weights += strength;
                    ++count;
                }
        if (count > 0) {
            s.hueShift = hue / weights;
            s.chromaRatio = std::exp(chroma / count);
            s.lightnessShift = lightness / count;
        }
        out.push_back(s);
    }
    return out;
}

} // namespace wavechroma
